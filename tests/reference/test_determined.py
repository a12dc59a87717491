"""That every line can be found from the plan: an independent check of what each strip's line has on it, from the plan document alone.

A line in the plane has two degrees of freedom. Each mark, and each corner of a panel or an opening, takes one where it lies on the line; a level
or plumb direction takes one; an edge of the surface takes both.
"""

import math

import pytest
from budget import examples
from hypothesis import assume, given
from hypothesis import strategies as st
from jobs import any_jobs, surveyed_jobs, wall
from plan_checker import Shape, shows

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

ON_MM = 0.3
APART = 0.3  # of a line's length lie the places that it is struck through at least
SHORT_MM = 25.0  # tape that short is laid through any two places
MOST_STRIPS = 400
TURN = 0.002  # a line that turns from level or plumb by less is laid by it


def corners(panel):
    return [tuple(point) for ring in [panel["outline"], *panel["openings"]] for point in ring]


def edges(panel):
    for ring in [panel["outline"], *panel["openings"]]:
        yield from zip(ring, ring[1:] + ring[:1], strict=True)


def off(line, point):
    """How far a point lies from a line through two."""
    (ax, ay), (bx, by) = line
    return abs((bx - ax) * (point[1] - ay) - (by - ay) * (point[0] - ax)) / math.dist(*line)


def along(line, point):
    (ax, ay), (bx, by) = line
    return ((bx - ax) * (point[0] - ax) + (by - ay) * (point[1] - ay)) / math.dist(*line)


def freedom_left(line, panel, marks, carried):
    """How many degrees of freedom a line has left: 0 is found, more is not."""
    if any(off(edge, line[0]) < ON_MM and off(edge, line[1]) < ON_MM for edge in edges(panel)):
        return 0
    own = [place for place in marks if off(line, place) < ON_MM]
    known = own + [place for place in corners(panel) if off(line, place) < ON_MM]
    places = [along(line, place) for place in known]
    spread = max(places) - min(places) if places else 0.0
    apart = spread >= APART * math.dist(*line) or (math.dist(*line) < SHORT_MM and spread > 1)
    (ax, ay), (bx, by) = line
    true = carried and min(abs(bx - ax), abs(by - ay)) < TURN * math.dist(*line)
    return 0 if apart or (true and own) else 1 if own else 2


def check_told(lines, marks, panels):
    """What the plan says of each line is so: its marks and corners lie on it, apart; what is carried is level or plumb; an edge is one."""
    for told in lines:
        line, panel = told["line"], panels[told["panel"]]
        (ax, ay), (bx, by) = line
        places = [marks[key][1] for key in told["marks"]] + [tuple(corner) for corner in told["corners"]]
        assert all(marks[key][0] == told["panel"] for key in told["marks"])
        assert all(off(line, place) < ON_MM for place in places)
        assert all(any(math.dist(corner, c) < 0.01 for c in corners(panel)) for corner in told["corners"])
        spread = max((along(line, place) for place in places), default=0) - min(
            (along(line, place) for place in places), default=0
        )
        if told["how"] == "struck":
            assert spread >= APART * math.dist(*line) - 0.01 or (math.dist(*line) < SHORT_MM and spread > 1)
        elif told["how"] == "edge":
            assert any(off(edge, line[0]) < ON_MM and off(edge, line[1]) < ON_MM for edge in edges(panel))
        else:
            assert told["how"] == {True: "level", False: "plumb"}[abs(ay - by) < abs(ax - bx)] and places
            assert min(abs(ax - bx), abs(ay - by)) < TURN * math.dist(*line)


def check_hosts(planned, panels):
    """A mark that is read along a line inside: that line has two places apart that are not read so, and begins at one of them."""
    for mark in (mark for mark in planned["marks"] if "origin" in mark):
        panel = panels[mark["panel"]]
        first = [(m["x"], m["y"]) for m in planned["marks"] if m["panel"] == mark["panel"] and "origin" not in m] + corners(
            panel
        )
        line = (tuple(mark["origin"]), (mark["x"], mark["y"]))
        places = sorted(along(line, place) for place in first if off(line, place) < ON_MM)
        assert any(math.dist(line[0], place) < ON_MM for place in first)
        assert places[-1] - places[0] >= math.dist(*line) - ON_MM, "a line is read along that is not found by itself"


def undetermined(planned, carried):
    panels = {panel["name"]: panel for panel in planned["panels"]}
    marks = {name: [(m["x"], m["y"]) for m in planned["marks"] if m["panel"] == name] for name in panels}
    cells = {name: [Shape(c) for c in planned["cells"] if c["panel"] == name] for name in panels}
    check_told(planned["lines"], {mark["id"]: (mark["panel"], (mark["x"], mark["y"])) for mark in planned["marks"]}, panels)
    check_hosts(planned, panels)
    for each in planned["rounds"]:
        for strip in each["strips"]:
            name = strip["panel"]
            if freedom_left(strip["line"], panels[name], marks[name], carried) and shows(strip["line"], cells[name]):
                yield strip["id"], strip["kind"], strip["line"]


@examples(25)
@given(any_jobs() | surveyed_jobs(), st.sampled_from(["auto", "perimeter", "verticals", "laser"]))
def test_every_line_of_tape_is_determined(document, way):
    piece = document["pieces"][0]
    piece["method"]["mark_way"] = way
    pattern = piece["pattern"]
    assume(not pattern.get("spacer") and pattern.get("edge") != "torn" and not pattern.get("unevenness"))
    try:
        [planned] = plan_document(plan_job(read_job(document)))["pieces"]
    except BadJob:
        assume(False)
    assume(sum(len(each["strips"]) for each in planned["rounds"]) <= MOST_STRIPS)
    assert list(undetermined(planned, way == "laser")) == []


# Four slanting lines, each from a side of the wall to a place on the next one: none is found before all the others.
PINWHEEL = {
    "kind": "facets",
    "points": {"n0": ["40", "0"], "n1": ["47 33/65", "60 4/65"], "w0": ["0", "66"], "w1": ["75 1/13", "56 8/13"], "s0": ["80", "96"], "s1": ["72 32/65", "35 61/65"], "e0": ["120", "30"], "e1": ["44 12/13", "39 5/13"]},
    "lines": [["n0", "n1"], ["w0", "w1"], ["s0", "s1"], ["e0", "e1"]],
    "fills": [{"at": ["60", "48"], "color": "ink"}, {"at": ["20", "30"], "color": "madder"}, {"at": ["100", "70"], "color": "madder"}],
}  # fmt: skip
PLAIN = {"kind": "stripes", "direction": "vertical", "count": 5, "colors": ["ink", None]}
CHECKS = {"kind": "checker", "columns": 4, "rows": 3, "colors": ["ink", None]}


@pytest.mark.parametrize("way", ["auto", "perimeter", "verticals", "laser"])
@pytest.mark.parametrize("pattern", [PLAIN, CHECKS, PINWHEEL], ids=["stripes", "checks", "pinwheel"])
def test_what_is_told_of_plain_lines_is_so(pattern, way):
    document = wall(method={"mark_way": way})
    document["pieces"][0]["pattern"] = pattern
    [planned] = plan_document(plan_job(read_job(document)))["pieces"]
    assert list(undetermined(planned, way == "laser")) == []
