"""Zigzags with lines left between their columns, and with colours by legs: areas and slopes by hand."""

from itertools import pairwise

import pytest
from jobs import wall
from shapely import Point

from dividers.core.base.errors import BadInput
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

ZIGZAG = {"kind": "chevron", "direction": None, "count": None, "columns": 4, "rise": "10", "band": "8", "colors": ["ink", None]}
INCH = 25.4


def planned(**changes):
    [plan] = plan_job(read_job(wall(pattern=ZIGZAG | changes))).pieces  # on 120 x 96 in
    return plan


def areas(plan):
    [layout] = plan.layouts
    found = {}
    for cell in range(len(layout.cells)):
        found.setdefault(layout.color(cell), []).append(layout.polygons[cell].area / INCH**2)
    return {color: sum(own) for color, own in found.items()}


def test_lines_between_columns_take_their_width_from_both_and_the_legs_keep_their_slope():
    plain, lined = areas(planned()), areas(planned(upright="2"))
    assert sum(lined.values()) == pytest.approx(120 * 96)
    strips = 3 * 2 * 96
    assert lined["ink"] == pytest.approx(plain["ink"] * (120 - 6) / 120, rel=0.02)
    assert lined[None] > strips
    [layout] = planned(upright="2").layouts
    for cell in range(len(layout.cells)):
        around = list(layout.polygons[cell].exterior.coords)
        for (ax, ay), (bx, by) in pairwise(around):
            if abs(bx - ax) > 5 and abs(by - ay) > 5 and layout.color(cell) == "ink":
                assert abs((by - ay) / (bx - ax)) == pytest.approx(10 / 30)  # 10 in over a column of 30


def test_by_legs_every_second_leg_has_the_next_colour():
    def color_at(plan, x, y):
        [layout] = plan.layouts
        return next(layout.color(n) for n in range(len(layout.cells)) if layout.polygons[n].contains(Point(x * INCH, y * INCH)))

    for x, y in ((15, 40), (45, 40), (15, 49), (75, 57)):  # in the middle of a leg the line stands half way
        same, other = (color_at(planned(**how), x, y) for how in ({}, {"by": "legs"}))
        assert (same == other) == (int(x // 30) % 2 == 0)
    bands = areas(planned(by="legs"))
    assert bands["ink"] == pytest.approx(120 * 96 / 2, rel=0.05)
    assert planned(by="legs").cell_count == planned().cell_count


def test_a_line_as_wide_as_a_column_is_refused():
    with pytest.raises(BadInput, match="nothing of a column"):
        planned(upright="30")
