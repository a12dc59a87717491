"""A level line to measure from: it is struck first, all that lies above and below is read from it, rounded once."""

from fractions import Fraction

import pytest
from jobs import readings_of, wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

CROOKED = [(0, 0), (120, 0.5), (120.75, 96.25), (0.25, 96)]


def marks_of(down, survey=None, **more):
    job = wall(panel={"survey": survey} if survey else {}, pattern={"direction": "horizontal", "count": 5, **more})
    job["pieces"][0]["method"]["level_line"] = down
    return plan_job(read_job(job)).pieces[0].marks


def test_stripes_are_read_up_and_down_by_hand():
    """96 in in five stripes: lines at 19 1/5, 38 2/5, 57 3/5 and 76 4/5; from 48 down that is 28 4/5 and 9 3/5 either way."""
    line, *others = marks_of("48")
    assert (line.line, line.datum, line.reading.text, line.what) == ("level line", "top left", "48 in", "level line")
    for side in ("left edge", "right edge"):
        own = [(mark.datum, mark.reading.text) for mark in others if mark.line == side]
        up, down = "level line, upward", "level line, downward"
        assert own == [(up, "9 5/8 in"), (up, "28 13/16 in"), (down, "9 5/8 in"), (down, "28 13/16 in")]


def test_what_lies_on_the_line_needs_no_measuring():
    assert [mark.reading.rounded_mm for mark in marks_of("48", count=2) if mark.datum == "level line"] == [0, 0]


@pytest.mark.parametrize("down", ["30", "48", "60 1/8", "90"])
@pytest.mark.parametrize("fit", ["square", "follow"])
def test_on_a_crooked_wall_each_mark_lies_as_far_from_the_level_line_as_it_reads(down, fit):
    job = wall(panel={"survey": readings_of(CROOKED, "in")}, pattern={"direction": "horizontal", "count": 7})
    job["pieces"][0]["method"] |= {"level_line": down, "fit": fit}
    line, *others = plan_job(read_job(job)).pieces[0].marks
    length = (96**2 + 0.25**2) ** 0.5  # of the left side
    parts = down.split()
    struck = float(Fraction(parts[0]) + (Fraction(parts[1]) if len(parts) > 1 else 0)) / length * 96 * 25.4
    assert line.y == pytest.approx(struck, abs=0.2)
    read = [mark for mark in others if mark.datum.startswith("level line")]
    assert {mark.line for mark in read} >= {"left edge", "right edge"}
    assert not [mark for mark in others if mark.line in ("left edge", "right edge") and mark not in read]
    for mark in read:
        signed = float(mark.reading.rounded_mm) * (-1 if mark.datum.endswith("upward") else 1)
        assert mark.y - struck == pytest.approx(signed, abs=25.4 / 32 + 0.25)
