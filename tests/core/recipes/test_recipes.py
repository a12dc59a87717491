"""Recipes on other surfaces: always valid, always said what was changed, in the recipe's own colours and proportions."""

import pytest
from budget import examples
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import read_job
from dividers.core.patterns import BY_KEY
from dividers.core.plan.plan import plan_job
from dividers.core.recipes.recipe import fit, laid, recipe_of
from dividers.core.recipes.starters import STARTERS

UNITS = {"in": (8, 400), "cm": (20, 1000), "mm": (200, 10_000)}


@st.composite
def surfaces(draw):
    unit = draw(st.sampled_from(sorted(UNITS)))
    width, height = (draw(st.integers(*UNITS[unit])) for _ in range(2))
    document = wall()
    document["units"] = unit
    document["pieces"][0]["surface"]["panels"] = [{"name": "wall", "width": str(width), "height": str(height)}]
    document["pieces"][0]["pattern"] = {"kind": "stripes", "direction": "vertical", "count": 3, "colors": ["ink", None]}
    document["pieces"][0].pop("method", None)
    return document


@pytest.mark.parametrize("recipe", STARTERS, ids=[each.name for each in STARTERS])
@examples(8)
@given(document=surfaces())
def test_a_recipe_is_valid_on_every_surface_and_says_what_it_changed(recipe, document):
    job = read_job(document)
    fitted = fit(recipe, document, job, job.pieces[0])
    made = read_job(laid(fitted, document, 0))
    [plan] = plan_job(made).pieces
    assert any(layout.painted.any() for layout in plan.layouts)
    assert {colour["name"] for colour in recipe.colors.values()} <= {colour.name for colour in made.palette.values()}
    assert made.palette[made.pieces[0].base].name == recipe.colors[recipe.base]["name"]
    differs = [key for key, value in recipe.pattern.items() if "color" not in key and fitted.pattern.get(key) != value]
    assert bool(fitted.changed) == bool(differs), (fitted.changed, differs)
    for key in differs:
        title = next((p.title for p in BY_KEY[fitted.pattern["kind"]].parameters if p.key == key), "")
        assert any(each.startswith(f"{title}:") or "begins anew" in each for each in fitted.changed), (key, fitted.changed)


def test_a_look_that_was_kept_is_the_same_where_it_came_from_and_half_as_large_on_half_the_wall():
    document = wall(
        pattern={
            "kind": "chevron",
            "direction": None,
            "count": None,
            "columns": 6,
            "rise": "12",
            "band": "8",
            "colors": ["ink", None],
        }
    )
    job = read_job(document)
    recipe = recipe_of(document, job, job.pieces[0], "mine")
    again = fit(recipe, document, job, job.pieces[0])
    assert (again.pattern, again.changed, again.palette) == (document["pieces"][0]["pattern"], (), document["palette"])
    half = wall(panel={"width": "60", "height": "48"})
    small = fit(recipe, half, read_job(half), read_job(half).pieces[0])
    assert small.pattern["columns"] == 6
    assert [read_length(small.pattern[key], "in").mm / 25.4 for key in ("rise", "band")] == pytest.approx([6, 4])
    wide = wall(panel={"width": "240", "height": "96"})
    stretched = fit(recipe, wide, read_job(wide), read_job(wide).pieces[0])
    assert (stretched.pattern["columns"], stretched.pattern["rise"]) == (12, "12")
    assert stretched.changed == ("Equal columns: 12 instead of 6.",)
