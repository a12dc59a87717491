"""Panels out of square that are joined: which side lies how far off what is planned, from a corner that leans by a known amount."""

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job


def facts(survey):
    panels = [
        {"name": "front", "width": "2000", "height": "2400", "survey": survey},
        {"name": "side", "width": "1000", "height": "2400"},
    ]
    job = wall(surface={"kind": "wall", "panels": panels, "folds": [["front", "right", "side", "left"]]}, job={"units": "mm"})
    plan = plan_job(read_job(job)).pieces[0]
    return [fact.message for fact in plan.facts if fact.code == "fold-misfit"]


@pytest.mark.parametrize(("top", "words"), [(1988, "12 mm inside"), (2015, "15 mm beyond")])
def test_a_corner_that_leans_is_told_at_the_fold_with_its_figure(top, words):
    """Plumb readings at the left, widths at top and bottom: the right side is off by what the widths differ from the stated one."""
    survey = {
        "widths": [{"length": str(top), "at": "0"}, {"length": "2000", "at": "2400"}],
        "plumb": [{"side": "left", "off": "0", "at": "2400"}],
    }
    told = facts(survey)
    [right] = [each for each in told if "its right side" in each]
    assert words in right and "the fold to side" in right and "most at the top" in right
    assert not any("left side" in each for each in told)


def test_the_end_at_which_a_side_is_off_is_named_going_up_too():
    survey = {
        "widths": [{"length": "2000", "at": "0"}, {"length": "1988", "at": "2400"}],
        "plumb": [{"side": "left", "off": "12", "at": "2400"}],
    }
    [left] = facts(survey)
    assert "its left side lies" in left and "12 mm inside" in left and "most at the bottom" in left


def test_true_panels_say_nothing():
    assert facts({"widths": ["2000", "2000"], "heights": ["2400", "2400"]}) == []
