"""Four walls that close in a ring: where the sheet is left open, and whether a pattern comes out round the room."""

from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.advice.fit.counts import divisions_of
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

WALLS = ("north", "east", "south", "west")


def room(across, **pattern):
    panels = [{"name": name, "width": str(width), "height": "96"} for name, width in zip(WALLS, across, strict=True)]
    folds = [[WALLS[n], "right", WALLS[(n + 1) % 4], "left"] for n in range(4)]
    return plan_job(read_job(wall(surface={"panels": panels, "folds": folds}, pattern={"count": None, **pattern}))).pieces[0]


def said(plan):
    return {fact.code: fact.message for fact in plan.facts if fact.code.startswith("ring")}


@given(st.lists(st.integers(30, 200), min_size=4, max_size=4), st.integers(4, 20))
def test_what_is_left_at_the_last_corner_is_the_rest_of_the_whole_way_round(widths, size):
    """Two bands of half the size each: closed form by whole division of the girth."""
    plan = room(widths, widths=[str(size / 2)] * 2)
    [sheet] = plan.sheets
    assert [placed.panel.name for placed in sheet.placed] == list(WALLS)  # open where the list of folds closes
    rest = Fraction(sum(widths)) % size
    [(code, words)] = said(plan).items()
    assert code == ("ring" if rest == 0 else "ring-open")
    if rest:
        assert f"{sum(widths)} in round" in words and "corner of west and north" in words


@pytest.mark.parametrize(("count", "code"), [(12, "ring"), (13, "ring-open")])
def test_bands_in_two_colours_come_out_round_a_room_only_in_even_numbers(count, code):
    plan = room((120, 90, 120, 90), count=count)
    assert list(said(plan)) == [code]
    [division] = divisions_of(plan.job, plan.piece, plan.sheets[0])
    assert all(each.meets == (each.count % 2 == 0) for each in division.candidates)
    assert division.candidates[0].meets


def test_walls_that_do_not_close_say_nothing_of_a_ring():
    panels = [{"name": name, "width": "50", "height": "96"} for name in WALLS]
    folds = [[WALLS[n], "right", WALLS[n + 1], "left"] for n in range(3)]
    assert said(plan_job(read_job(wall(surface={"panels": panels, "folds": folds}))).pieces[0]) == {}
