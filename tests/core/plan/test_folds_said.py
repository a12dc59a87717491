"""Panels out of square that are joined: what is said of their folds, from corners that lean by known amounts."""

import re

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

LEVEL = {"kind": "stripes", "direction": "horizontal", "count": 4, "colors": ["ink", None]}


def facts(survey, code="fold-misfit", other=None, pattern=LEVEL, **method):
    panels = [
        {"name": "front", "width": "2000", "height": "2400", "survey": survey},
        {"name": "side", "width": "1000", "height": "2400", **({"survey": other} if other else {})},
    ]
    job = wall(surface={"kind": "wall", "panels": panels, "folds": [["front", "right", "side", "left"]]}, job={"units": "mm"})
    job["pieces"][0]["pattern"] = pattern
    job["pieces"][0]["method"] |= method
    plan = plan_job(read_job(job)).pieces[0]
    return [fact.message for fact in plan.facts if fact.code == code]


def leaning(top):
    """Plumb at the left; so wide at the top, 2000 at the bottom."""
    return {
        "widths": [{"length": str(top), "at": "0"}, {"length": "2000", "at": "2400"}],
        "heights": ["2400", "2400"],
        "plumb": [{"side": "left", "off": "0", "at": "2400"}],
    }


@pytest.mark.parametrize(("top", "words"), [(1988, "12 mm inside"), (2015, "15 mm beyond")])
def test_a_corner_that_leans_is_told_at_the_fold_with_its_figure(top, words):
    """Plumb readings at the left, widths at top and bottom: the right side is off by what the widths differ from the stated one."""
    [right] = facts(leaning(top))
    assert "front: its right side, the fold to side," in right and words in right and "most at the top" in right
    [how] = facts(leaning(top), "survey-folds")
    assert "front, side" in how and "level ones run on" in how


def test_level_lines_meet_over_a_fold_that_leans_and_slanting_ones_say_by_how_much_they_miss():
    """Stripes that rise as far as they run: each is as far from the next panel's as the corner lies off its middle there, 6 mm
    at most, and some line meets it within 200 mm of an end, where it is 5 mm off."""
    assert facts(leaning(1988), "fold-break") == []
    slanting = LEVEL | {"direction": 45, "count": 40}
    [words] = facts(leaning(1988), "fold-break", pattern=slanting)
    assert "front and side" in words and re.search(r"up to [56] mm apart", words) and "Follow the outline" in words
    assert facts(leaning(1988), "fold-break", pattern=slanting, fit="follow") == []


def test_a_fold_read_to_two_lengths_gets_the_mean_and_says_so():
    other = {"widths": ["1000", "1000"], "heights": [{"length": "2410", "at": "0"}, {"length": "2400", "at": "1000"}]}
    [words] = facts(leaning(1988), "fold-length", other)
    assert "2400 mm long by the readings of front, 2410 mm by those of side: 2405 mm is used" in words


def test_true_panels_say_nothing():
    assert facts({"widths": ["2000", "2000"], "heights": ["2400", "2400"]}, "survey-folds") == []
