"""Points, paths and fills as lines of text and in the job file."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import sixteenths, wall

from dividers.core.base.errors import BadInput
from dividers.core.job_file.first_values import first_document, first_value
from dividers.core.job_file.job_reader import read_job
from dividers.core.job_file.unit_change import in_units
from dividers.core.patterns import PATTERNS
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.free.points import (
    Place,
    fill_from,
    fill_text,
    place_from,
    place_text,
    read_fill,
    read_path,
    read_place,
)
from dividers.core.plan.plan import plan_job
from dividers.core.survey.sheet import sheets_of

NAMES = st.sampled_from(["A", "B", "C1", "top_2"])
LENGTHS = sixteenths(0, 600)
PLACES = st.one_of(
    st.tuples(LENGTHS, LENGTHS).map(list),
    st.fixed_dictionaries({"left": LENGTHS, "bottom": LENGTHS}) | st.fixed_dictionaries({"right": LENGTHS, "top": LENGTHS}),
    st.fixed_dictionaries({"on": st.tuples(NAMES, NAMES).map(list), "at": LENGTHS}),
    st.tuples(NAMES, NAMES, NAMES, NAMES).map(lambda n: {"cross": [[n[0], n[1]], [n[2], n[3]]]}),
)
COLOR = st.sampled_from(["ink", "madder", None])
FILLS = st.fixed_dictionaries({"at": st.tuples(LENGTHS, LENGTHS).map(list)}).flatmap(
    lambda at: st.one_of(
        COLOR.map(lambda color: {**at, "color": color}),
        st.lists(COLOR, min_size=1, max_size=3).map(
            lambda c: {**at, "stripes": {"width": "2 1/2", "direction": "45", "colors": c}}
        ),
    )
)


@given(NAMES, PLACES)
def test_points_read_back_from_their_line_of_text(name, place):
    assert place_from(place_text(name, place)) == (name, place)
    assert isinstance(read_place(place, "in"), Place)


@given(FILLS)
def test_fills_read_back_from_their_line_of_text(fill):
    assert fill_from(fill_text(fill), {"ink": "ink", "madder": "madder"}) == fill
    read = read_fill(fill, "in", str, lambda written: written)
    assert read.colors == tuple(fill["stripes"]["colors"] if "stripes" in fill else [fill["color"]])


def test_colours_are_taken_by_name_and_decimal_commas_part_no_point():
    assert fill_from("3, 4: Night Blue", {"night blue": "night"}) == {"at": ["3", "4"], "color": "night"}
    assert place_from("A: 75,5 cm, 20,25 cm") == ("A", ["75,5 cm", "20,25 cm"])


@pytest.mark.parametrize(
    ("read", "written"),
    [
        (lambda w: read_place(w, "in"), "over there"),
        (lambda w: read_place(w, "in"), ["1", "2", "3"]),
        (lambda w: read_place(w, "in"), {"left": "1", "right": "2"}),
        (lambda w: read_place(w, "in"), {"on": ["A"], "at": "3"}),
        (lambda w: read_place(w, "in"), {"cross": [["A", "B"], ["C"]]}),
        (lambda w: read_place(w, "in"), ["1", "5 apples"]),
        (read_path, ["A"]),
        (read_path, "A B"),
        (lambda w: read_fill(w, "in", str, str), {"color": "ink"}),
        (lambda w: read_fill(w, "in", str, str), {"at": ["1", "2"], "stripes": {"width": "2"}}),
        (lambda w: read_fill(w, "in", str, str), {"at": ["1", "2"], "stripes": {"width": "0", "colors": ["ink"]}}),
    ],
)
def test_what_cannot_be_read_is_refused(read, written):
    with pytest.raises(BadInput):
        read(written)


def started(pattern, units, width, height):
    """A job with a pattern as it starts on a panel of that size in `units`."""
    document = wall(job={"units": units}, panel={"width": width, "height": height})
    ground = Ground.of(sheets_of(read_job(document).pieces[0].surface)[0], 24.0)
    document["pieces"][0]["pattern"] = first_document(pattern.key, ground, units, ["ink", None, "madder"])
    return document, ground


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.key)
@pytest.mark.parametrize(("units", "width", "height"), [("in", "31 5/8", "7 7/8"), ("cm", "410", "243"), ("mm", "297", "420")])
def test_every_pattern_starts_soundly_on_any_panel(pattern, units, width, height):
    document, ground = started(pattern, units, width, height)
    plan = plan_job(read_job(document)).pieces[0]
    assert plan.layouts[0].painted.any()
    assert plan.taping.chosen.rounds
    for members in pattern.groups().values():
        for one in members:
            chosen = {
                key: value for key, value in document["pieces"][0]["pattern"].items() if key not in {m.key for m in members}
            }
            document["pieces"][0]["pattern"] = chosen | {one.key: first_value(one, ground, units)}
            assert plan_job(read_job(document)).pieces[0].cell_count > 0


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.key)
def test_other_units_move_nothing(pattern):
    document, _ = started(pattern, "in", "119 1/4", "95 3/8")
    if pattern.key == "facets":
        document["pieces"][0]["pattern"]["points"]["Z"] = {"right": "3 1/3", "bottom": "7"}
    there = in_units(document, "mm")
    back = in_units(there, "in")
    plans = [plan_job(read_job(each)).pieces[0] for each in (document, there, back)]
    assert (plans[0].layouts[0].cells.points == plans[1].layouts[0].cells.points).all()
    assert (plans[0].layouts[0].cells.points == plans[2].layouts[0].cells.points).all()


def test_two_fills_in_one_region_are_said():
    job = wall()
    job["pieces"][0]["pattern"] = {
        "kind": "facets",
        "points": {"A": ["60", "0"], "B": ["60", "96"]},
        "lines": [["A", "B"]],
        "fills": [{"at": ["10", "10"], "color": "ink"}, {"at": ["20", "50"], "color": "madder"}],
    }
    plan = plan_job(read_job(job))
    assert [w.code for w in plan.warnings] == ["two-fills"]
    assert "Fill 2 is in a region that another fill colours already" in plan.warnings[0].message
