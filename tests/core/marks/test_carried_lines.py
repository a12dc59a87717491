"""Marks for lines that a level or a laser carries: each line is determined, and none has a mark too many."""

from collections import Counter

import pytest
from budget import examples
from hypothesis import given
from jobs import any_jobs, wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

SAME_MM = 0.2


def planned(job):
    return plan_document(plan_job(read_job(job)))["pieces"][0]


def lines_of(piece):
    """The lines that tape is laid along inside the field, as (panel, kind, where): level lines at a y, plumb ones at an x."""
    found = set()
    for each in piece["rounds"]:
        for strip in each["strips"]:
            (ax, ay), (bx, by) = strip["line"]
            if strip["kind"] != "perimeter":
                kind = "level" if abs(ay - by) < SAME_MM else "plumb" if abs(ax - bx) < SAME_MM else "slant"
                found.add((strip["panel"], kind, round(ay if kind == "level" else ax if kind == "plumb" else 0, 1)))
    return found


@given(any_jobs())
@examples(15)
def test_every_level_and_plumb_line_has_a_mark_to_be_carried_from(document):
    document["pieces"][0]["method"]["mark_way"] = "laser"
    pattern = document["pieces"][0]["pattern"]
    if pattern.get("unevenness") or pattern.get("spacer") or pattern.get("edge") == "torn":
        return
    try:
        piece = planned(document)
    except BadJob:
        return
    outer = {panel["name"]: panel["field"] for panel in piece["panels"]}
    for panel, kind, at in lines_of(piece):
        marks = [mark for mark in piece["marks"] if mark["panel"] == panel]
        corners = [{"x": x, "y": y} for x, y in outer[panel]]
        axis = {"level": "y", "plumb": "x"}.get(kind)
        if axis:
            assert any(abs(mark[axis] - at) < SAME_MM + 0.05 for mark in [*marks, *corners]), (panel, kind, at)


@pytest.mark.parametrize(
    ("pattern", "panel", "many"),
    [
        ({"kind": "stripes", "direction": "horizontal", "count": 9, "colors": ["ink", None]}, {}, 8),
        ({"kind": "checker", "columns": 6, "rows": 4, "colors": ["ink", None]}, {}, 5 + 3),
        # courses of 9 cm on 2.4 m, the upright joints of a half bond at 11 places
        ({"kind": "brick", "course": "9 cm", "length": "24 cm", "joint": "1 cm", "colors": ["ink"]}, {"width": "1.44 m", "height": "2.4 m"}, 26 + 11),
        ({"kind": "brick", "course": "9 cm", "length": "24 cm", "joint": "1 cm", "unevenness": "5 mm", "seed": 3, "colors": ["ink"]}, {"width": "1.44 m", "height": "2.4 m"}, 26 + 11),
    ],
)  # fmt: skip
def test_each_line_has_one_mark(pattern, panel, many):
    job = wall(panel=panel, method={"mark_way": "laser"})
    job["pieces"][0]["pattern"] = pattern
    piece = planned(job)
    assert len(piece["marks"]) == many
    assert set(Counter((mark["line"], mark["reading"]) for mark in piece["marks"]).values()) == {1}
    if "unevenness" in pattern:
        assert any("even grid" in fact for fact in piece["facts"])


@pytest.mark.parametrize(("way", "many"), [("auto", 4), ("laser", 2)])
def test_checks_spaced_by_the_tape_are_measured_at_the_first_corner_only(way, many):
    """Both lines beside the corner, a tape's width of 36 mm from the top and from the left; the rest is laid edge to edge."""
    job = wall(panel={"width": "1800 mm", "height": "900 mm"}, method={"mark_way": way})
    job["pieces"][0]["pattern"] = {"kind": "checker", "spacer": True, "colors": ["ink", None]}
    piece = planned(job)
    assert len(piece["marks"]) == many
    assert {round(min(mark["x"], mark["y"])) for mark in piece["marks"]} <= {0, 36, 864}
    assert {mark["what"] for mark in piece["marks"]} == {"start line"}
    assert len(piece["cells"]) == 50 * 25
    assert {line["how"] for line in piece["lines"]} <= {"beside", "struck", "level", "plumb"}
    assert any("edge to edge" in fact for fact in piece["facts"])
