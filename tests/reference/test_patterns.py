"""Patterns against closed forms, handbook tables and common practice."""

import math
from fractions import Fraction

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

INCH = 25.4
# Length of a common rafter per foot of run, by unit rise in inches: the framing-square rafter table, from memory.
RAFTERS = {
    2: 12.16, 3: 12.37, 4: 12.65, 5: 13.00, 6: 13.42, 7: 13.89, 8: 14.42, 9: 15.00, 10: 15.62, 11: 16.28, 12: 16.97,
    13: 17.69, 14: 18.44, 15: 19.21, 16: 20.00, 17: 20.81, 18: 21.63,
}  # fmt: skip


def planned(panel=None, **pattern):
    changes = {"direction": None, "count": None, **pattern}
    return plan_job(read_job(wall(panel=panel or {}, pattern=changes))).pieces[0]


@pytest.mark.parametrize(("rise", "length"), RAFTERS.items())
def test_chevron_legs_are_as_long_as_rafters(rise, length):
    plan = planned(kind="chevron", column="12", rise=str(rise), band="16")
    borders = plan.layouts[0].borders
    slanting = (borders.lines.directions[borders.line] != 0).all(axis=1)
    whole = borders.lengths[slanting].max() / INCH
    assert whole == pytest.approx(length, abs=0.006)


def test_a_chevron_cut_4_in_into_a_column_has_moved_2_in():
    """Common practice, no source: 12 in columns, 6 in bands and rise."""
    plan = planned({"width": "40"}, kind="chevron", column="12", rise="6", band="6", start="high")
    right = sorted(mark.y / INCH for mark in plan.marks if mark.line == "right edge")
    # The fourth column climbs from low (6 in below the line's high points); 4 in of 12 in take it up by 2 in.
    assert [y % 6 for y in right] == pytest.approx([4] * len(right))


def test_four_diamonds_in_42_in():
    """Common practice, no source: 10 1/2 in point to point, side 7.42 in; square on point."""
    plan = planned({"width": "42", "height": "42"}, kind="diamonds", columns=4, rows=4)
    cells = plan.layouts[0].cells
    bounds = cells.bounds() / INCH
    sizes = sorted({round(float(right - left), 6) for left, _, right, _ in bounds})
    assert sizes == [5.25, 10.5]
    side = math.hypot(5.25, 5.25)
    assert side == pytest.approx(7.42, abs=0.005)
    assert cells.areas().max() == pytest.approx((side * INCH) ** 2)


@pytest.mark.parametrize(("columns", "rows"), [(1, 1), (3, 2), (5, 4)])
def test_diamond_lattices_have_as_many_parts_and_as_much_area_as_they_should(columns, rows):
    plan = planned(kind="diamonds", columns=columns, rows=rows)
    layout = plan.layouts[0]
    whole = columns * rows
    assert len(layout.cells) == whole + (columns + 1) * (rows + 1)
    assert layout.cells.areas()[layout.in_color("ink")].sum() == pytest.approx(120 * 96 * INCH**2 / 2)


@pytest.mark.parametrize(("columns", "rows"), [(2, 2), (8, 5), (9, 9)])
def test_chequers_have_as_many_dark_ones_as_they_should(columns, rows):
    layout = planned(kind="checker", columns=columns, rows=rows).layouts[0]
    dark = layout.in_color("ink")
    assert dark.sum() == math.ceil(columns * rows / 2)
    assert layout.cells.areas()[dark].sum() == pytest.approx(120 * 96 * INCH**2 * dark.sum() / (columns * rows))


@pytest.mark.parametrize(
    "pattern",
    [
        {"kind": "checker", "columns": 6, "rows": 4},
        {"kind": "diamonds", "columns": 3, "rows": 2},
        {"kind": "chevron", "columns": 4, "rise": "9", "band": "13"},
        {"kind": "frame", "widths": ["3", "5"]},
    ],
)
def test_euler_holds_for_the_partition(pattern):
    """V - E + F = 2 with the outside as a face (Euler); vertices and edges are counted from the ledger."""
    layout = planned(**pattern).layouts[0]
    borders = layout.borders
    ends = [
        borders.lines.point(int(borders.line[k]), float(t)) for k in range(len(borders)) for t in (borders.t0[k], borders.t1[k])
    ]
    vertices = {(round(x, 3), round(y, 3)) for x, y in ends}
    assert len(vertices) - len(borders) + len(layout.cells) + 1 == 2


@pytest.mark.parametrize(("opening", "count"), [((10, 20, 30, 40), 6), ((0, 0, 13, 96), 7), ((33, 5, 50, 60), 9)])
def test_areas_of_stripes_are_exact(opening, count):
    """Area per colour in exact fractions, stripe by stripe, less what the opening takes."""
    left, _, width, height = opening
    box = dict(zip(("left", "top", "width", "height"), map(str, opening), strict=True))
    layout = plan_job(read_job(wall(panel={"openings": [box]}, pattern={"count": count}))).pieces[0].layouts[0]
    stripe = Fraction(120, count)
    painted = Fraction(0)
    for number in range(0, count, 2):
        shared = min(stripe * (number + 1), left + width) - max(stripe * number, left)
        painted += stripe * 96 - max(shared, 0) * height
    assert layout.cells.areas()[layout.in_color("ink")].sum() / INCH**2 == pytest.approx(float(painted), rel=1e-9)


def test_marks_keep_off_doorways_and_lie_on_their_heads():
    door = {"name": "door", "left": "50", "top": "20", "width": "30", "height": "76"}
    plan = plan_job(read_job(wall(panel={"openings": [door]}, pattern={"count": 6}))).pieces[0]
    below = [mark for mark in plan.marks if mark.line == "bottom edge" and 50 < mark.x / INCH < 80]
    assert below == []
    assert [mark.reading.text for mark in plan.marks if mark.line == "door, top"] == ["10 in"]
