"""Lines left in the base colour: their width, their area, the tape on them."""

import math

import numpy as np
import pytest
from budget import examples
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

INCH = 25.4


def planned(panel=None, method=None, **pattern):
    return plan_job(
        read_job(wall(panel=panel or {}, method=method or {}, pattern={"direction": None, "count": None, **pattern}))
    ).pieces[0]


@examples(40)
@given(st.integers(2, 9), st.integers(2, 9), st.integers(1, 12))
def test_slats_lose_half_a_line_on_every_inner_side(columns, rows, sixteenths):
    """Blocks of one slat are squares: an inner one loses the whole width both ways, in closed form."""
    width, line = 10 * columns, sixteenths / 16
    plan = planned(
        {"width": str(width), "height": str(10 * rows)}, kind="basket", block="10", slats=1, reserve=f"{sixteenths}/16"
    )
    layout = plan.layouts[0]
    area = layout.cells.areas()[layout.reserved].sum() / INCH**2
    upright, level = (columns - 1) * line * 10 * rows, (rows - 1) * line * width
    assert area == pytest.approx(upright + level - (columns - 1) * (rows - 1) * line**2)
    assert int((~layout.reserved).sum()) == columns * rows


def test_a_zigzag_line_is_as_wide_as_its_tape_and_mitred():
    """Between two bands: its area is its length times its width, kinks being mitred, less what the sides cut off slanting."""
    plan = planned(kind="chevron", columns=6, rise="15", band="40", reserve="2", colors=["ink", "madder"])
    layout = plan.layouts[0]
    leg = math.hypot(20, 15)
    shapes = layout.cells.areas()[layout.reserved] / INCH**2
    whole = [area for area in shapes if area == pytest.approx(6 * leg * 2, rel=1e-3)]
    assert len(whole) >= 1


@pytest.mark.parametrize("way", ["reserve", "strips", "pieces"])
def test_all_colours_go_on_at_once_only_with_reserve_tape(way):
    plan = planned(kind="triangles", columns=6, reserve="1/2", colors=["ink", "madder", None], method={"taping": way})
    chosen = plan.taping.chosen
    assert chosen.taping == way
    assert (len(chosen.rounds) == 1) == (way == "reserve")
    kinds = {strips.kind(k) for each in chosen.rounds for strips in each.strips for k in range(len(strips))}
    assert ("reserve" in kinds) == (way == "reserve")


def test_reserve_tape_is_not_offered_where_colours_meet():
    plan = planned(kind="diamonds", columns=3, rows=2, reserve="1/2", overlay="2", overlay_color="madder", colors=["ink", None])
    assert {option.taping for option in plan.taping.options} == {"strips", "pieces"}


def test_tape_runs_the_whole_line_and_ends_at_openings():
    door = {"name": "door", "left": "50", "top": "30", "width": "20", "height": "66"}
    plan = planned({"openings": [door]}, kind="brick", course="24", length="60", joint="1", colors=["ink"])
    [strips] = plan.taping.chosen.rounds[0].strips
    level = [
        (round(float(strips.start[k][1]) / INCH, 6), round(float(strips.lengths[k]) / INCH, 6))
        for k in np.flatnonzero(strips.reserve)
        if abs(strips.start[k][1] - strips.end[k][1]) < 1e-6
    ]
    assert level == [(24.0, 120.0), (48.0, 50.0), (48.0, 50.0), (72.0, 50.0), (72.0, 50.0)]


def test_marks_are_made_on_the_middle_of_reserved_lines():
    """Common practice, no source: with reserve tape distances are from line middle to line middle."""
    plan = planned(kind="brick", course="12", length="30", joint="1/2", colors=["ink", "madder"])
    left = [mark for mark in plan.marks if mark.line == "left edge"]
    assert sorted(mark.reading.text for mark in left) == sorted(f"{12 * n} in" for n in range(1, 8))
    assert {mark.side for mark in left} == {"under the tape, to erase"}
    joints = {mark.reading.text for mark in plan.marks if mark.line == "top edge"}  # struck through every second course
    assert joints == {f"{15 * n} in" for n in range(1, 8)}


@pytest.mark.parametrize("by", ["bands", "legs"])
def test_a_line_between_columns_and_reserve_lines_share_one_strip(by):
    """Both 15/16 in: one strip along each seam, and no more than that stays bare beside it."""
    pattern = {
        "columns": 3,
        "rise": "20",
        "band": "16",
        "upright": "15/16",
        "reserve": "15/16",
        "by": by,
        "colors": ["ink", "madder"],
    }
    plan = planned(None, {"taping": "reserve"}, kind="chevron", **pattern)
    [strips] = plan.taping.chosen.rounds[0].strips
    seams = [
        strips.start[k][0] / INCH for k in np.flatnonzero(strips.reserve) if abs(strips.start[k][0] - strips.end[k][0]) < 1e-6
    ]
    assert sorted(round(x, 6) for x in seams) == [40, 80]
    bounds = plan.layouts[0].cells.bounds()[~plan.layouts[0].reserved] / INCH
    first = bounds[bounds[:, 2] < 41]
    assert first[:, 2].max() == pytest.approx(40 - 15 / 32)
