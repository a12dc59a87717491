"""Handles lie where the length in their field says, on folded sheets too."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.advice.fit.counts import runs_of
from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import read_job
from dividers.core.output import handles
from dividers.core.survey.sheet import sheets_of

INCHES = st.integers(1, 12)


def written(document, field):
    found = document
    for key in field.split("."):
        found = found[int(key)] if isinstance(found, list) else found.get(key, "0")
    return found


@given(st.lists(INCHES, min_size=4, max_size=4), INCHES, INCHES)
def test_a_handle_lies_as_far_from_its_zero_as_its_field_says(margins, left, top):
    panel = {
        "name": "front",
        "width": "96",
        "height": "80",
        "margin": dict(zip(("top", "right", "bottom", "left"), map(str, margins), strict=True)),
        "openings": [{"name": "door", "left": str(left + 20), "top": str(top + 20), "width": "30", "height": "25 1/2"}],
    }
    side = {"name": "side", "width": "40", "height": "80", "margin": {"left": "2"}}
    surface = {"kind": "wall", "panels": [panel, side], "folds": [["front", "right", "side", "left"]]}
    job = wall(piece={"surface": surface})
    piece = read_job(job).pieces[0]
    found = handles.of_surface(sheets_of(piece.surface))
    assert len(found) == 4 + 4 + 4
    for handle in found:
        mm = float(read_length(written(job["pieces"][0], handle.field), "in").mm)
        assert ((handle.y if handle.axis else handle.x) - handle.zero) * handle.way == pytest.approx(mm)
        assert handle.least <= mm <= handle.most
        beside = 96 * 25.4 if handle.field.startswith("surface.panels.1") else 0
        assert beside - 1e-6 <= handle.x <= beside + (40 if beside else 96) * 25.4 + 1e-6


@pytest.mark.parametrize(
    ("pattern", "places"),
    [
        ({"kind": "horizon", "drop": "24", "colors": ["ink"]}, {("pattern.drop", None): 24}),
        ({"kind": "frame", "widths": ["2", "3"], "colors": ["ink"]}, {("pattern.widths", 0): 2, ("pattern.widths", 1): 5}),
        ({"kind": "stripes", "direction": "vertical", "count": 5, "colors": ["ink"]}, {}),
    ],
)
def test_horizons_and_borders_are_dragged_from_where_they_are(pattern, places):
    job = wall()
    job["pieces"][0]["pattern"] = pattern
    piece = read_job(job).pieces[0]
    found = handles.of_pattern(piece, 0, sheets_of(piece.surface))
    assert {(each.field, each.turn): each.y for each in found} == {
        key: pytest.approx(float(Fraction(inches) * Fraction(127, 5))) for key, inches in places.items()
    }


@pytest.mark.parametrize(("field", "at"), [("zone.left", 12), ("zone.top", 20), ("zone.width", 60), ("zone.height", 50)])
def test_the_rectangle_of_a_layer_is_dragged_by_its_sides(field, at):
    job = wall()
    pattern = job["pieces"][0].pop("pattern")
    rect = {"left": "12", "top": "20", "width": "48", "height": "30"}
    job["pieces"][0]["layers"] = [
        {"name": "below", "pattern": pattern},
        {"name": "inlay", "zone": {"rect": rect}, "pattern": pattern},
    ]
    piece = read_job(job).pieces[0]
    found = {each.field: each for each in handles.of_zone(piece, 1, sheets_of(piece.surface))}
    assert (found[field].y if found[field].axis else found[field].x) == pytest.approx(at * 25.4)
    assert handles.of_zone(piece, 0, sheets_of(piece.surface)) == []


@given(st.integers(2, 60), st.integers(40, 400))
def test_a_line_comes_to_rest_at_counts_that_divide_the_run_and_at_the_one_there_is(count, eighths):
    surface = {"kind": "wall", "panels": [{"name": "front", "width": f"{20 + eighths / 8}", "height": "80"}]}
    stripes = {"kind": "stripes", "direction": "vertical", "count": count, "colors": ["ink", None]}
    job = read_job(wall(piece={"surface": surface, "pattern": stripes}))
    piece, [sheet] = job.pieces[0], sheets_of(job.pieces[0].surface)
    [handle] = handles.of_counts(piece, 0, sheet, runs_of(piece, sheet), job.graduation)
    width = float(sheet.area.width)
    assert handle.x - handle.zero == pytest.approx(width / count)
    assert count in dict(handle.counts) and len(handle.counts) > 1
    assert all(each * size == pytest.approx(width) for each, size in handle.counts)
    sixteenth = 25.4 / 16
    marked = {
        n for n in range((count + 1) // 2, 2 * count + 1) if abs(width / n / sixteenth - round(width / n / sixteenth)) < 1e-6
    }
    assert marked <= set(dict(handle.counts))
