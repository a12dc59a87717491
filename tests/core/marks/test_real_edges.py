"""Marks are read along edges that are there, and say where no paint covers them."""

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.lines_found import lines_found
from dividers.core.plan.plan import plan_job

EIGHTH = "146.4466"  # of the rise of a quarter of a round of 1000 over its chord
ROUND = [{"at": at, "bulge": EIGHTH} for at in (["500", "0"], ["1000", "500"], ["500", "1000"], ["0", "500"])]
STAIR = [["0", "84"], ["110", "0"], ["110", "12"], ["0", "96"]]
DOOR = {"name": "door", "left": "40", "width": "30", "top": "16", "height": "80"}


def planned(units="in", **changes):
    document = wall(**changes) | {"units": units}
    return plan_job(read_job(document)).pieces[0]


def said(plan):
    return [(mark.line, mark.datum, mark.reading.text) for mark in plan.marks]


def test_upright_stripes_of_a_round_are_carried_plumb_from_its_widest_line():
    plan = planned("mm", panel={"outline": ROUND, "width": None, "height": None}, pattern={"count": 4})
    assert {(mark.line, mark.reading.text) for mark in plan.marks} == {
        ("level centre line", f"{mm} mm") for mm in (0, 250, 500, 750, 1000)
    }
    assert {(each.line.how, len(each.marks)) for each in lines_found(plan)} == {("plumb", 1)}


def test_a_stair_wall_is_read_along_its_slopes():
    """Seven stripes of 110 in; along a slope of 84 in 110 a run of 15.714 in is 19.772 in long."""
    plan = planned(panel={"outline": STAIR, "width": None, "height": None}, pattern={"count": 7})
    lower = [(datum, reading) for line, datum, reading in said(plan) if line == "lower right slope"]
    assert lower[0] == ("bottom left", "19 3/4 in") and len(lower) == 6
    assert {line for line, *_ in said(plan)} == {"upper left slope", "lower right slope"}


def test_beyond_a_door_the_floor_is_read_from_the_other_corner():
    plan = planned(panel={"openings": [DOOR]}, pattern={"count": 12})
    floor = {(datum, reading) for line, datum, reading in said(plan) if line == "bottom edge"}
    assert {("bottom left", "30 in"), ("bottom right", "10 in"), ("bottom right", "40 in")} <= floor
    assert ("bottom left", "110 in") not in floor
    assert ("door, top", "door, top left", "20 in") in said(plan)


BAND = {"name": "band", "zone": {"rect": {"left": "40", "top": "30", "width": "40", "height": "30"}}, "pattern": {"kind": "stripes", "direction": "vertical", "count": 4, "colors": ["ink", None]}}  # fmt: skip


def test_marks_beside_no_paint_are_made_in_chalk():
    """A band in the middle of a wall: the marks on the wall's edges lie 30 in from any paint, and lines snapped between them cross bare base."""
    document = wall(method={"mark_way": "perimeter"})
    document["pieces"][0] = {**document["pieces"][0], "layers": [BAND]}
    del document["pieces"][0]["pattern"]
    [plan] = plan_job(read_job(document)).pieces
    outer = [mark for mark in plan.marks if mark.line.endswith("edge") and not mark.what]
    assert outer and all("in chalk, to wipe off" in mark.side for mark in outer)
    assert all(each.line.chalk for each in lines_found(plan))
    assert not any(each.line.chalk for each in lines_found(planned(method={"mark_way": "perimeter"})))


@pytest.mark.parametrize("lower", [[None, "ink", None], ["ink", None, "ink"]], ids=["bare ends", "painted ends"])
def test_the_edge_of_a_part_that_no_layer_paints_is_found(lower):
    """Three parts of 20 in, a layer in those without colour: the outer edges of bare ones show nowhere, so they are marked."""
    stripes = {"kind": "stripes", "direction": "vertical", "widths": ["20"], "colors": lower}
    first = {"name": "A", "zone": {"rect": {"left": "20", "top": "30", "width": "60", "height": "40"}}, "pattern": stripes}
    second = {"name": "B", "zone": {"cells": "A", "color": None, "each": True}, "pattern": {"kind": "stripes", "direction": "horizontal", "count": 2, "colors": ["madder", None]}}  # fmt: skip
    document = wall()
    document["pieces"][0] = {**document["pieces"][0], "layers": [first, second]}
    del document["pieces"][0]["pattern"]
    [plan] = plan_job(read_job(document)).pieces
    upright = {
        round(each.line.start[0] / 25.4)
        for each in lines_found(plan)
        if each.layer == 1 and each.line.start[0] == each.line.end[0]
    }
    assert upright >= {20, 80} if lower[0] is None else not upright
    assert all(each.marks or each.line.corners for each in lines_found(plan) if each.line.how == "struck")
