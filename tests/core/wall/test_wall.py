from dataclasses import dataclass, replace
from datetime import datetime, timedelta

import pytest

from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.task_key import TaskKey
from dividers.core.order.tasks import Work
from dividers.core.wall.changes import change_said
from dividers.core.wall.facts import Event, fold
from dividers.core.wall.questions import same_press
from dividers.core.wall.replan import replan
from dividers.core.wall.timers import timers_of
from dividers.core.wall.waits import live_work, waits_of

DAY = datetime(2026, 10, 13)
HOURS = Calendar(DAY, ((480, 720), (750, 1050), (1920, 2160)))  # 8 to 12, 12:30 to 17:30; 8 to 12 the day after


@dataclass(frozen=True)
class Called(TaskKey):
    """A name that reads as one word, for short tests."""

    word: str = ""

    def __str__(self):
        return self.word


def task(kind, key, minutes, split=False, **more):
    return Task(Called("wall", kind, 1, **more, word=key), "Wall", minutes, f"{kind} {key}", split=split)


TAPE, COAT, AGAIN, PULL, TOUCH, OTHER = (
    task("tape", "tape", 20, True),
    task("coat", "coat1", 6, coat=1, color="ink"),
    task("coat", "coat2", 6, coat=2, color="ink"),
    task("pull", "pull", 4),
    task("touch-up", "touch", 10),
    task("mark", "other", 40, True),
)
TASKS = (TAPE, COAT, AGAIN, PULL, TOUCH, OTHER)


def work(recoat=60, wet=15, touch_dry=40):
    return Work(
        TASKS,
        (
            Lag(0, 1, 0, "tape first", "order"),
            Lag(1, 2, recoat, "recoat", "recoat"),
            Lag(2, 3, 0, "pull wet", "pull"),
            Lag(2, 3, 0, "pull wet", "pull", most=wet, of=START, to=END),
            Lag(3, 4, 0, "tape off first", "order"),
            Lag(2, 4, touch_dry, "dry beside", "touch-dry"),
        ),
    )


def at(clock):
    hours, minutes = map(int, clock.split(":"))
    return DAY + timedelta(hours=hours, minutes=minutes)


def told(*events):
    """(kind, key, clock, body) as events, each with a uid of its own."""
    return [
        Event(kind, at(clock), key, int(body.pop("by", 1)), f"u{n}", body)
        for n, (kind, key, clock, *more) in enumerate(events)
        for body in [dict(more[0]) if more else {}]
    ]


def stood(events, airs=(), calm=None):
    """The facts and the ground after some events; `airs` are works from a wall minute on."""
    facts = fold(told(*events), TASKS)
    works = [(0.0, calm or work()), *airs]
    return facts, live_work(DAY, works, works[-1][1], facts)


def plan(events, now, before=None, painters=1, **more):
    facts, live = stood(events, **more)
    return replan(live, facts, HOURS, painters, now, before), facts, live


COATED = (("done", "tape", "8:20"), ("done", "coat1", "8:26"), ("start", "coat2", "9:30"), ("done", "coat2", "9:36"))


def test_one_thing_told_twice_counts_once_and_what_is_undone_counts_not():
    events = told(
        ("start", "tape", "8:00"), ("done", "tape", "8:20"), ("undo", "", "8:21", {"of": "u1"}), ("done", "tape", "8:30")
    )
    fact = fold([*events, *events], TASKS).of("tape")
    assert (fact.state, fact.ended, fact.worked_min) == ("done", at("8:30"), 30.0)
    undo_undone = [*events[:3], Event("undo", at("8:22"), uid="u9", body={"of": "u2"})]
    assert fold(undo_undone, TASKS).of("tape").ended == at("8:20")


def test_what_another_did_first_stands_and_is_said():
    facts = fold(
        told(("done", "tape", "8:20"), ("done", "tape", "8:40", {"by": 2}), ("skip", "tape", "8:41", {"reason": "x"})), TASKS
    )
    assert facts.of("tape").ended == at("8:20")
    assert facts.refused["u1"] == "It was done already at 08:20, by painter 1; that entry is kept."
    assert set(facts.refused) == {"u1", "u2"}
    assert fold(told(("done", "gone", "8:20")), TASKS).refused["u0"] == "This step isn't in the plan any more."


def test_hands_do_one_thing_at_a_time():
    events = told(
        ("start", "other", "8:00"),
        ("start", "tape", "8:10"),
        ("done", "tape", "8:30"),
        ("start", "other", "8:30"),
        ("done", "other", "9:00"),
    )
    facts = fold(events, TASKS)
    assert facts.of("other").worked_min == pytest.approx(40)
    assert facts.of("tape").worked_min == pytest.approx(20)
    both = fold(told(("start", "other", "8:00"), ("start", "tape", "8:10", {"by": 2})), TASKS)
    assert {both.of("other").state, both.of("tape").state} == {"running"}


def test_work_told_only_when_done_began_when_the_hands_were_free():
    facts = fold(told(("done", "tape", "8:20"), ("done", "coat1", "8:30"), ("done", "other", "12:00")), TASKS)
    assert (facts.of("coat1").started, facts.of("coat1").guessed) == (at("8:20"), True)
    assert facts.of("other").started == at("10:40")  # no longer than twice what was planned


def test_waits_are_counted_from_what_was_done():
    facts, live = stood(COATED)
    waits = waits_of(live, facts)
    assert waits[3].by == 9 * 60 + 30 + 15
    assert waits[3].pull_method == "wet"
    assert waits[4].blocked == (3,)
    facts, live = stood(COATED[:2])
    assert (waits_of(live, facts)[2].ready, waits_of(live, facts)[3].blocked) == (8 * 60 + 26 + 60, (2,))


@pytest.mark.parametrize(
    ("moved_at", "ready"), [("8:56", 8 * 60 + 26 + 30 + 60), ("9:30", 8 * 60 + 26 + 60), ("8:00", 8 * 60 + 26 + 120)]
)
def test_a_wait_goes_on_in_new_air_at_the_new_pace(moved_at, ready):
    slower = work(recoat=120)
    facts, live = stood(COATED[:2], airs=[(ground_minutes(moved_at), slower)])
    assert waits_of(live, facts)[2].ready == pytest.approx(ready)


def ground_minutes(clock):
    return (at(clock) - DAY).total_seconds() / 60


def test_a_coat_left_out_keeps_the_waits_of_the_coat_before_it():
    facts, live = stood(
        (
            ("done", "tape", "8:20"),
            ("start", "coat1", "8:20"),
            ("done", "coat1", "8:26"),
            ("skip", "coat2", "8:27", {"reason": "covers"}),
        )
    )
    wait = waits_of(live, facts)[3]
    assert wait.by == 8 * 60 + 20 + 15
    assert not wait.blocked


def test_a_pull_with_little_time_left_comes_before_what_was_planned_first():
    found, *_ = plan(COATED, 577.0, before={"other": 576, "pull": 640, "touch": 650})
    assert found.starts["pull"] == 577
    assert found.ends["pull"] <= 585
    assert not found.missed


def test_a_wet_window_that_is_over_is_told_and_the_pull_waits_for_touch_dry():
    found, facts, live = plan(COATED, 590.0)
    assert [(m.task, m.by) for m in found.missed] == [("pull", 585.0)]
    assert found.starts["pull"] == 576 + 40
    assert "touch-dry, about 10:16" in found.missed[0].advice
    said = change_said(live, facts, {"pull": 577}, 600, found, ())
    assert said.startswith("Wall, round 1: pull the tape can't be done by 09:45. The wet time is over")
    assert "can't" not in change_said(live, facts, {"pull": 577}, 600, found, found.missed)


@pytest.mark.parametrize(
    ("result", "now", "missed", "start"),
    [("wet", 583.0, False, 583), ("tacky", 578.0, True, 616), ("dry", 578.0, True, 578)],
)
def test_a_finger_moves_a_wet_window(result, now, missed, start):
    found, *_ = plan(
        (
            *COATED,
            ("touch", "pull", "9:38", {"result": result}) if result != "wet" else ("touch", "pull", "9:43", {"result": result}),
        ),
        now,
    )
    assert bool(found.missed) == missed
    assert start <= found.starts["pull"] <= start + 5


def test_paint_found_wet_is_as_old_as_the_colour_painted_first():
    calm = work(recoat=0)
    calm = replace(calm, lags=(*calm.lags, Lag(1, 3, 0, "pull wet", "pull", most=15, of=START, to=END)))
    painted = [(kind, key, clock) for key, *both in (("coat1", "9:20", "9:26"), ("coat2", "9:30", "9:36")) for kind, clock in zip(("start", "done"), both, strict=True)]  # fmt: skip
    facts, live = stood((("done", "tape", "8:20"), *painted, ("touch", "pull", "9:43", {"result": "wet"})), calm=calm)
    assert waits_of(live, facts)[3].by == 9 * 60 + 43 + 23 / 4


@pytest.mark.parametrize(("painter", "seconds", "same"), [(1, 1, True), (2, 1, False), (1, 30, False), (1, -1, False)])
def test_a_press_soon_after_one_of_another_step_by_the_same_painter_is_likely_the_same(painter, seconds, same):
    first = Event("done", at("9:00"), "coat1", 1, "u1", {})
    second = Event("start", at("9:00") + timedelta(seconds=seconds), "coat2", painter, "u2", {})
    assert (same_press([first], second) is first) == same


def test_a_finger_moves_touch_dry():
    calm = Work(
        TASKS,
        tuple(
            lag
            if lag.group != "pull"
            else Lag(2, 3, 40, "touch-dry", "pull")
            if lag.most is None
            else Lag(2, 3, 0, "touch-dry", "pull", most=280, of=START, to=END)
            for lag in work().lags
        ),
    )
    found, *_ = plan((*COATED, ("touch", "pull", "10:00", {"result": "dry"})), 600.0, calm=calm)
    assert found.starts["pull"] == 600
    later, facts, live = plan((*COATED, ("touch", "pull", "10:18", {"result": "tacky"})), 618.0, calm=calm)
    wait = waits_of(live, facts)[3]
    assert (wait.ready, wait.by) == (618 + 48 / 4, 618 + 12 + 240)
    assert later.starts["pull"] >= wait.ready
    assert not later.missed


def test_who_is_there_stays_on_for_what_must_be_off():
    late = (("done", "tape", "16:50"), ("done", "coat1", "16:56"), ("start", "coat2", "17:58"), ("done", "coat2", "18:04"))
    found, *_ = plan(late, 1084.0)
    assert (found.starts["pull"], found.missed) == (1084, ())
    assert min(found.starts["touch"], found.starts["other"]) == 1920
    gone, *_ = plan(late, 1200.0)
    assert gone.starts["pull"] == 1920
    assert [m.task for m in gone.missed] == ["pull"]


def test_two_painters_share_what_is_left():
    found, *_ = plan((("start", "tape", "8:00", {"by": 2}),), 485.0, painters=2)
    assert found.painters["tape"] == 2
    assert (found.starts["other"], found.painters["other"]) == (485, 1)
    assert found.ends["tape"] == 500


def test_a_plan_that_still_holds_stays_as_it_is():
    before = {"tape": 480, "coat1": 500, "coat2": 566, "pull": 572, "touch": 612, "other": 506}
    found, *_ = plan((), 480.0, before=before)
    assert (found.starts, found.kept) == (before, True)
    ahead, *_ = plan((("start", "tape", "8:00"), ("done", "tape", "8:05")), 485.0, before={**before, "coat1": 540})
    assert min(ahead.starts.values()) == 485  # who is ahead goes on at once


def test_what_finds_no_place_is_said():
    facts, live = stood(COATED)
    found = replan(live, facts, Calendar(DAY, ((480, 600),)), 1, 700.0)
    assert not found.possible
    assert "don't fit into the working hours" in change_said(live, facts, {}, 0, found, ())


def test_the_nearest_clock_comes_first_and_overdue_before_it():
    facts, live = stood(COATED)
    kinds = [(t.kind, t.task, t.at) for t in timers_of(live, facts, {"other": 700, "pull": 577}, 580.0)]
    assert kinds == [("closes", "pull", 585.0), ("planned", "other", 700.0)]
    assert timers_of(live, facts, {}, 586.0)[0].kind == "overdue"
    assert timers_of(live, facts, {"other": 400}, 580.0)[-1].at == 580.0  # what should have begun is next now
    facts, live = stood(COATED[:2])
    assert [(t.kind, t.task) for t in timers_of(live, facts, {}, 520.0)] == [("dry", "coat2")]


def test_one_sentence_says_what_moves():
    facts, live = stood(())
    before = {"tape": 480, "coat1": 500, "coat2": 566, "pull": 572, "touch": 612, "other": 520}
    found = replan(live, facts, HOURS, 1, 500.0, before, 622)
    said = change_said(live, facts, before, 622, found, ())
    assert said.startswith("Done 20 min later, Tuesday 10:42; Wall, round 1: tape and ")
    assert said.endswith(" more move: 08:20 instead of 08:00.")
    assert change_said(live, facts, found.starts, found.finish, found, ()) == "Nothing else moves: done Tuesday 10:42."


def test_what_is_sent_twice_counts_once():
    """As when an answer got lost: the same uid comes again."""
    once = told(("start", "coat1", "9:00"), ("touch", "coat1", "9:05", {"result": "wet"}))
    facts = fold([*once, *once], TASKS)
    assert len(facts.touches) == 1


def test_what_was_gone_on_with_early_is_in_the_record_until_it_is_taken_back():
    facts, _ = stood(
        (("done", "tape", "8:20"), ("start", "coat1", "8:26", {"early": "the seal must dry, 40 min: 39 min more"}))
    )
    assert facts.of("coat1").reason == "gone on early: the seal must dry, 40 min: 39 min more"
    done, _ = stood((("start", "coat1", "8:26", {"early": "wet"}), ("done", "coat1", "8:30")))
    assert done.of("coat1").reason == "gone on early: wet"


def test_out_of_hours_who_opens_a_window_stays_until_its_end():
    """A coat begun at 20:00, its pull within 15 min of its first stroke: pulled in the evening, nobody is missing."""
    found, *_ = plan((("done", "tape", "16:50"), ("done", "coat1", "16:56"), ("start", "coat2", "20:00")), 1200.0)
    assert found.missed == ()
    assert found.starts["pull"] <= 1200 + 15 - 4
    assert found.starts["other"] == 1920  # the rest waits for the hours


def test_who_is_here_outside_the_hours_works_now():
    alone, *_ = plan((("done", "tape", "8:20"),), 1190.0)
    assert min(alone.starts.values()) == 1920
    here, *_ = plan((("done", "tape", "8:20"), ("here", "", "19:50", {"minutes": 120})), 1190.0)
    assert here.starts["coat1"] == 1190
    assert max(end for end in here.ends.values() if end < 1440) <= 1190 + 120


def test_a_gap_left_by_work_done_sooner_is_closed():
    """The plan stood at 8:42 behind work that is done: it begins with the hours, and no step begins late without a word why."""
    before = {"coat1": 1962, "coat2": 2100, "pull": 2106, "touch": 2200, "other": 1980}
    found, *_ = plan((("done", "tape", "16:50"),), 1080.0, before=before)
    assert min(found.starts.values()) == 1920
    assert found.whys["coat2"] == "recoat"
    assert "coat1" not in found.whys


def test_paper_that_is_dry_to_the_back_of_a_finger_waits_no_longer():
    coat = (("done", "tape", "8:20"), ("start", "coat1", "8:20"), ("done", "coat1", "8:26"))
    before, _, _ = plan(coat, 510.0)
    after, _, _ = plan((*coat, ("touch", "coat2", "8:30", {"result": "dry"})), 510.0)
    assert before.starts["coat2"] == 506 + 60 and after.starts["coat2"] == 510
    wet, _, _ = plan((*coat, ("touch", "coat2", "8:30", {"result": "wet"})), 510.0)
    assert wet.starts["coat2"] == before.starts["coat2"]
