"""Begins of tasks: none later than something asks for, and each that doesn't follow at once has its reason."""

from datetime import datetime

import pytest
from budget import examples
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.solve import quick_schedule
from dividers.core.order.starts import moved_up, why_starts
from dividers.core.order.task_key import TaskKey
from dividers.core.order.times import Times, broken

MIDNIGHT = datetime(2027, 3, 1)
HOURS = Calendar(MIDNIGHT, ((480, 720), (750, 1050), (1920, 2160), (2190, 2490)))


def task(number, minutes, split=False, **more):
    return Task(TaskKey("p", "coat", number + 1, 1, color="ink"), "Piece", minutes, f"Coat {number}", split=split, **more)


def times(*starts_and_minutes, **more):
    return Times(
        HOURS, tuple(task(n, m, **more) for n, (_, m) in enumerate(starts_and_minutes)), tuple(s for s, _ in starts_and_minutes)
    )


def test_idle_minutes_close_and_the_first_task_begins_with_the_hours():
    stood = times((42, 20), (70, 10))
    assert moved_up(stood, [], 1).starts == (0, 20)


def test_a_wait_keeps_its_task_where_it_is_and_says_so():
    lags = [Lag(0, 1, 60, "it must dry, 1 h", "recoat")]
    stood = times((0, 20), (80, 10))
    assert moved_up(stood, lags, 1) == stood
    assert why_starts(stood, lags, 1) == ["", "it must dry, 1 h"]


def test_paint_that_was_there_keeps_tape_off_until_it_may_go_on():
    stood = times((42, 20), not_before=522, not_before_why="the base must be tape-safe")
    assert moved_up(stood, [], 1) == stood
    assert why_starts(stood, [], 1) == ["the base must be tape-safe"]


def test_what_must_come_soon_after_is_not_torn_from_what_comes_before():
    """The second must end within 40 min of the first's begin and waits for a third: the first stays behind."""
    lags = [Lag(0, 1, 0, "pull wet", "pull", 40, START, END), Lag(2, 1, 0, "once it is off", "order")]
    stood = times((100, 20), (120, 10), (0, 90))
    assert moved_up(stood, lags, 1).starts == (90, 110, 0)


def test_a_task_in_one_go_goes_behind_lunch():
    stood = times((0, 230), (240, 30))
    assert moved_up(stood, [], 1) == stood
    assert why_starts(stood, [], 1) == ["", ""]


def test_nothing_moves_to_another_day():
    stood = times((0, 10), (540, 30))
    assert moved_up(stood, [], 1) == stood


@st.composite
def networks(draw):
    tasks = tuple(task(n, draw(st.integers(1, 120)), draw(st.booleans())) for n in range(draw(st.integers(1, 7))))
    lags = [
        Lag(
            a,
            b,
            draw(st.sampled_from([0, 30, 120])),
            f"{a} before {b}",
            "order",
            draw(st.sampled_from([None, None, 400])),
            START,
            END,
        )
        for a in range(len(tasks))
        for b in range(a + 1, len(tasks))
        if draw(st.integers(0, 3)) == 0
    ]
    return tasks, lags, draw(st.integers(1, 2))


@examples(30)
@given(networks())
def test_no_rule_breaks_nothing_ends_later_and_every_gap_has_its_reason(network):
    tasks, lags, painters = network
    stood = quick_schedule(tasks, lags, HOURS, painters)
    if stood is None:
        return
    found = moved_up(stood, lags, painters)
    assert not broken(found, lags, painters)
    assert found.finish <= stood.finish and found.days <= stood.days
    assert all(a <= b for a, b in zip(found.starts, stood.starts, strict=True))
    for number, why in enumerate(why_starts(found, lags, painters)):
        begin = found.starts[number]
        at_once = begin == 0 or HOURS.span_of(begin) != HOURS.span_of(begin - 1)
        at_once |= sum(s < begin <= s + t.minutes for s, t in zip(found.starts, tasks, strict=True)) >= painters
        assert why or at_once


@pytest.mark.parametrize("painters", [1, 2])
def test_two_painters_use_both_hands(painters):
    stood = times((0, 60), (90, 30))
    assert moved_up(stood, [], painters).starts == (0, 60 if painters == 1 else 0)


def test_a_day_that_begins_with_what_goes_on_from_the_day_before_says_so():
    stood = Times(HOURS, (task(0, 100, True), task(1, 10)), (500, 600))
    assert why_starts(stood, [], 1)[1] == "Piece goes on until then"
    assert stood.by_day(0) == [(1010, 1050), (1920, 1980)]
