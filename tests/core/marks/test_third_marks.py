"""The third mark of a long line: where it is asked for, in the middle, read like any other."""

import math

import pytest
from jobs import wall

from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job


def marks(pattern, third="90", panel=None):
    job = wall(method={"third_mark": third}, panel=panel or {})
    job["pieces"][0]["pattern"] = pattern
    return plan_job(read_job(job)).pieces[0].marks


def stripes(direction, count=4):
    return {"kind": "stripes", "direction": direction, "count": count, "colors": ["ink", None]}


def test_level_lines_get_theirs_down_one_vertical():
    found = [mark for mark in marks(stripes("horizontal")) if mark.what == "middle"]
    assert [(mark.x, mark.line) for mark in found] == [(60 * 25.4, "vertical at 60 in")] * 3
    assert {mark.reading.text for mark in found} == {"24 in", "48 in", "72 in"}
    ends = [mark for mark in marks(stripes("horizontal")) if mark.what == "vertical"]
    assert {mark.line for mark in ends} == {"top edge", "bottom edge"}


def test_plumb_lines_get_theirs_across_one_level():
    made = marks(stripes("vertical"))
    found = [mark for mark in made if mark.what == "middle"]
    assert {(mark.y, mark.line, mark.datum) for mark in found} == {(48 * 25.4, "across at 48 in", "left")}
    assert {mark.reading.text for mark in found} == {"30 in", "60 in", "90 in"}
    assert {(mark.line, mark.reading.text) for mark in made if mark.what == "level"} == {
        ("left edge", "48 in"),
        ("right edge", "48 in"),
    }


@pytest.mark.parametrize(("third", "many"), [("96", 0), ("95", 3), (None, 0)])
def test_only_lines_longer_than_that_get_one(third, many):
    assert sum(mark.what == "middle" for mark in marks(stripes("vertical"), third)) == many


def test_slanting_lines_get_theirs_between_their_marks():
    """In the middle third of each line, on it, and read from the top along its vertical."""
    made = marks(stripes(30, 6), "60")
    found = [mark for mark in made if mark.what == "middle"]
    assert len(found) >= 3
    for mark in found:
        assert read_length(mark.reading.text, "in").mm == pytest.approx(mark.y, abs=25.4 / 32 + 1e-6)
        slope = math.tan(math.radians(30))
        on = [other for other in made if abs(other.y - mark.y + slope * (other.x - mark.x)) < 1 and other.what == ""]
        assert len(on) == 2
        shares = sorted((mark.x - on[0].x) / (on[1].x - on[0].x) for _ in (0,))
        assert 1 / 3 < shares[0] < 2 / 3


def test_none_is_made_in_a_doorway():
    door = {"openings": [{"name": "door", "left": "50", "top": "16", "width": "20", "height": "80"}]}
    found = [mark for mark in marks(stripes("horizontal"), panel=door) if mark.what == "middle"]
    assert all(not (50 < mark.x / 25.4 < 70 and mark.y / 25.4 > 16) for mark in found)
