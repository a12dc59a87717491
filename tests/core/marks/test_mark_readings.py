"""What the painter reads and where the pencil goes: margins, datums, the drawn tape measure."""

import math
from fractions import Fraction
from itertools import pairwise

import numpy as np
import pytest
from budget import examples
from hypothesis import given
from hypothesis import strategies as st
from jobs import PALETTE, readings_of, surveyed_jobs, wall
from shapely import Point, Polygon

from dividers.core.base.errors import BadJob
from dividers.core.base.lengths import GRADUATIONS
from dividers.core.base.units import INCH_MM
from dividers.core.job_file.job_reader import read_job
from dividers.core.marks.tape_measure import draw_tape
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document


def planned(**changes):
    return plan_job(read_job(wall(**changes))).pieces[0]


def test_each_margin_is_left_on_its_own_side():
    plan = planned(panel={"margin": {"left": "10", "right": "4", "top": "3", "bottom": "7"}})
    bounds = plan.layouts[0].cells.bounds() / 25.4
    assert bounds[:, :2].min(axis=0) == pytest.approx([10, 3])
    assert bounds[:, 2:].max(axis=0) == pytest.approx([120 - 4, 96 - 7])


@pytest.mark.parametrize("datum", ["left", "right"])
def test_marks_are_read_from_the_side_that_was_chosen(datum):
    """The same stripes either way: 10 in of margin on the left, so that the two sides differ."""
    plan = planned(panel={"margin": {"left": "10"}}, method={"datum": datum})
    level = [mark for mark in plan.marks if mark.line in ("top edge", "bottom edge")]
    assert level
    for mark in level:
        expected = mark.x / 25.4 if datum == "left" else 120 - mark.x / 25.4
        assert float(mark.reading.rounded_mm / INCH_MM) == pytest.approx(expected, abs=1 / 32)
        assert mark.datum.endswith(datum)


def test_read_from_the_nearer_end_no_reading_is_longer_than_half_the_wall():
    plan = planned(panel={"margin": {"left": "10"}}, method={"datum": "nearer"})
    level = [mark for mark in plan.marks if mark.line in ("top edge", "bottom edge")]
    assert {mark.datum.rpartition(" ")[2] for mark in level} == {"left", "right"}
    for mark in level:
        near = min(mark.x / 25.4, 120 - mark.x / 25.4)
        assert float(mark.reading.rounded_mm / INCH_MM) == pytest.approx(near, abs=1 / 32)


def test_read_from_the_middle_a_mark_says_to_which_side_it_lies():
    plan = planned(method={"datum": "centre"})
    for mark in plan.marks:
        if mark.line == "top edge" and mark.datum != "centre":
            assert mark.datum == f"centre, to the {'right' if mark.x > 60 * 25.4 else 'left'}"


def test_the_pencil_goes_where_dark_paint_hides_it():
    """Stripes of 20 in, the first, third and fifth dark: right of an even line lies dark paint, left of an odd one."""
    plan = planned()
    for mark in plan.marks:
        if mark.line == "top edge":
            stripe = round(mark.x / 25.4 / 20)
            assert mark.side == f"{'right' if stripe % 2 == 0 else 'left'} of the line, under the paint"


def test_the_pencil_goes_under_the_tape_where_that_is_wished():
    plan = planned(method={"marks": "tape-side"})
    for mark in plan.marks:
        if mark.line == "top edge":
            stripe = round(mark.x / 25.4 / 20)
            assert mark.side == f"{'left' if stripe % 2 == 0 else 'right'} of the line, to erase"


@pytest.mark.parametrize(("name", "mm", "many"), [("1/16 in", 40 * INCH_MM, 16), ("1 mm", Fraction(1000), 10)])
def test_the_drawn_tape_measure_has_the_longest_ticks_at_the_whole_and_shorter_ones_between(name, mm, many):
    """Common practice, no source: on every tape measure halves are longer than quarters, quarters than eighths, and so on."""
    ticks = draw_tape(mm, GRADUATIONS[name]).ticks
    labelled = [n for n, tick in enumerate(ticks) if tick.label]
    between = [tick.height for tick in ticks[labelled[0] : labelled[1] + 1]]
    assert len(between) == many + 1
    rank = {16: [0, 4, 3, 4, 2, 4, 3, 4, 1, 4, 3, 4, 2, 4, 3, 4, 0], 10: [0, 2, 2, 2, 2, 1, 2, 2, 2, 2, 0]}[many]
    heights = sorted(set(between), reverse=True)
    assert [heights.index(height) for height in between] == rank


def test_the_drawn_tape_measure_begins_at_its_zero():
    drawn = draw_tape(INCH_MM / 2, GRADUATIONS["1/16 in"])
    assert (drawn.starts_at_mm, drawn.ticks[0].label) == (-12.7, "0")
    assert min(tick.at_mm for tick in drawn.ticks) == -12.7


def test_on_a_crooked_panel_both_sides_together_give_the_line_itself():
    """Read from the left and from the right, a mark's two readings add up to the length of the line it lies on: 120 in at the top."""
    corners = [(0, 0), (120, 0.5), (120.75, 96.25), (0.25, 96)]
    read = {}
    for datum in ("left", "right"):
        plan = planned(panel={"survey": readings_of(corners, "in")}, method={"datum": datum})
        tops = [mark for mark in plan.marks if mark.line == "top edge"]
        assert all(mark.datum == f"top {datum}" for mark in tops)
        read[datum] = [float(mark.reading.rounded_mm) / 25.4 for mark in tops]
    assert len(read["left"]) == len(read["right"]) > 2
    for one, other in zip(sorted(read["left"]), sorted(read["right"], reverse=True), strict=True):
        assert one + other == pytest.approx(math.hypot(120, 0.5), abs=1 / 8)


def test_the_fields_own_sides_are_marked_from_the_panels_edge_and_it_says_so():
    """10 in of margin on the left, 4 below: both lines of the field by two readings each, along the sides that they cross."""
    plan = planned(panel={"margin": {"left": "10", "bottom": "4"}}, pattern={"count": 4})
    read = {(mark.line, mark.reading.text, round(mark.x / 25.4), round(mark.y / 25.4)) for mark in plan.marks}
    assert {("left edge", "92 in", 10, 92), ("right edge", "92 in", 120, 92)} <= read
    assert {("top edge", "10 in", 10, 0), ("bottom edge", "10 in", 10, 92)} <= read
    assert all(mark.from_where.startswith("the panel's ") for mark in plan.marks)
    assert all("of the field, inside the margins" in check.what for check in plan.checks)
    assert not any(mark.from_where.startswith("the panel's") for mark in planned().marks)


@pytest.mark.parametrize("taping", ["strips", "pieces", "reserve"])
def test_lines_left_in_the_base_colour_are_marked_where_the_tape_goes(taping):
    """Reserve tape goes on a line's middle; other tape lies with its edge half the line's width beside it."""
    pattern = {"kind": "diamonds", "columns": 3, "rows": 2, "count": None, "direction": None, "reserve": "1/2"}
    plan = planned(pattern=pattern | {"colors": ["ink", "madder"]}, method={"taping": taping})
    chosen = plan.taping.chosen
    assert chosen.taping == taping
    marks = [(mark.x, mark.y) for mark in plan.marks if mark.line in ("top edge", "bottom edge")]
    lines = [
        (start, (end - start) / np.hypot(*(end - start)))
        for each in chosen.rounds
        for strips in each.strips
        for start, end, reserve in zip(strips.start, strips.end, strips.reserve, strict=True)
        if reserve == (taping == "reserve")
    ]
    assert marks
    for mark in marks:
        away = (np.array(mark) - start for start, _ in lines)
        assert min(abs(way[0] * off[1] - way[1] * off[0]) for off, (_, way) in zip(away, lines, strict=True)) < 0.5


@pytest.mark.parametrize("kind", ["checker", "triangles", "chevron"])
def test_each_mark_has_its_pencil_on_the_side_that_dark_paint_covers_there(kind):
    """From the plan's cells by shapely: 3 mm to the told side of the mark's line, a little into the field, lies dark paint."""
    size = {"chevron": {"columns": 6, "rise": "10", "band": "10"}}.get(kind, {"columns": 4})
    job = wall(pattern={"kind": kind, **size, "count": None, "direction": None, "start": None, "colors": ["ink", None]})
    plan = plan_job(read_job(job))
    cells = [(Polygon(c["rings"][0], c["rings"][1:]), c["color"]) for c in plan_document(plan)["pieces"][0]["cells"]]
    inward = {"top edge": (0, 2), "bottom edge": (0, -2), "left edge": (2, 0), "right edge": (-2, 0)}
    told = {"right of": (4, 0), "left of": (-4, 0), "below": (0, 4), "above": (0, -4)}
    seen = 0
    for mark in plan.pieces[0].marks:
        if mark.line not in inward or "under the paint" not in mark.side:
            continue
        (dx, dy), (ax, ay) = inward[mark.line], next(way for words, way in told.items() if mark.side.startswith(words))
        if (dx and ax) or (dy and ay):
            continue  # a line nearly along the edge: both ways say the same
        here = Point(mark.x + dx + ax, mark.y + dy + ay)
        there = Point(mark.x + dx - ax, mark.y + dy - ay)
        colors = [next((color for shape, color in cells if shape.contains(at)), "off") for at in (here, there)]
        if set(colors) == {"ink", None}:
            seen += 1
            assert colors[0] == "ink", (mark.line, mark.reading.text, mark.side)
    assert seen > 2


def test_a_cube_over_the_fold_is_two_squares_with_two_triangles_read_from_the_fold():
    """24 in squares set off by 9 in: closed form of the faces, and on the ceiling every reading is the way up from the wall."""
    panels = [{"name": "wall", "width": "96", "height": "84"}, {"name": "ceiling", "width": "96", "height": "48"}]
    cube = {"kind": "cube", "size": "24", "depth": "9", "form": "squared", "left": "30", "colors": ["ink", "madder", "sand"]}
    sand = {"palette": {**PALETTE, "sand": {"name": "Sand", "hex": "#cdb38b"}}}
    surface = {"kind": "wall", "panels": panels, "folds": [["wall", "top", "ceiling", "bottom"]]}
    plan = planned(pattern={"direction": None, "count": None, **cube}, surface=surface, job=sand)
    [layout] = plan.layouts
    areas = {}
    for cell, slot in zip(layout.polygons, layout.slots, strict=True):
        color = layout.colors[slot]
        areas[color] = areas.get(color, 0) + cell.area / 25.4**2
    assert [areas[color] for color in ("ink", "madder", "sand")] == pytest.approx([576, 576, 2 * 24 * 9 / 2])
    upward = [mark for mark in plan.marks if mark.panel == "ceiling" and mark.datum.startswith("bottom") and mark.on_fold]
    assert upward
    for mark in upward:
        assert float(mark.reading.rounded_mm) == pytest.approx(48 * 25.4 - mark.y, abs=25.4 / 32)
        assert mark.from_where.endswith("at the fold")
    assert max(float(mark.reading.rounded_mm) for mark in upward) == pytest.approx(24 * 25.4, abs=25.4 / 32)
    assert all(mark.y <= 24.1 * 25.4 for mark in plan.marks if mark.panel == "wall" and mark.line != "bottom edge")


@examples(30)
@given(surveyed_jobs(), st.sampled_from(["left", "right"]))
def test_along_a_line_marks_ascend_from_where_the_tape_hooks(job, datum):
    job["pieces"][0].setdefault("method", {})["datum"] = datum
    try:
        [piece] = plan_job(read_job(job)).pieces
    except BadJob:
        return
    lines = {}
    for mark in piece.marks:
        lines.setdefault((mark.panel, mark.line), []).append(mark)
    for marks in lines.values():
        assert [mark.order for mark in marks] == list(range(1, len(marks) + 1))
        datums = [mark.datum for mark in marks]
        assert sum(one != other for one, other in pairwise(datums)) == len(set(datums)) - 1  # each datum in one go
        for one, other in pairwise(marks):
            if one.datum == other.datum:
                assert one.reading.rounded_mm <= other.reading.rounded_mm
