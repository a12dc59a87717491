"""The cases of waits that the phone's script must pass as well, run against the program."""

from datetime import datetime

import pytest
from wait_cases import CASES, NAMES, events_of, keys_of, moment

from dividers.core.order.network import Lag, Task
from dividers.core.order.task_key import TaskKey
from dividers.core.order.tasks import Work
from dividers.core.wall.facts import Event, fold
from dividers.core.wall.timers import PLANNED, timers_of
from dividers.core.wall.waits import ALWAYS, early_of, live_work, waits_of

MIDNIGHT = datetime.fromisoformat(moment("00:00"))


def minute(clock):
    return round((datetime.fromisoformat(moment(clock)) - MIDNIGHT).total_seconds() / 60)


def lags_of(case, keys, amounts):
    """The waits of a case, with so many minutes each."""
    return tuple(
        Lag(keys.index(first), keys.index(then), least, why, "pull" if "pull" in why else why, most, of, to)
        for (first, then, _, _, of, to, why), (least, most) in zip(case["lags"], amounts, strict=True)
    )


@pytest.mark.parametrize("case", CASES, ids=NAMES)
def test_what_is_waited_for(case):
    keys = keys_of(case)
    named = [TaskKey.read(key) for key in keys]
    since = {key: minute(clock) for key, clock in case.get("from", {}).items()}
    tasks = tuple(
        Task(
            name,
            name.piece,
            10,
            str(name),
            not_before=since.get(str(name), 0),
            not_before_why="it was painted before" if str(name) in since else "",
        )
        for name in named
    )
    lags = lags_of(case, keys, [lag[2:4] for lag in case["lags"]])
    facts = fold(
        [
            Event(e["kind"], datetime.fromisoformat(e["at"]), e["task"], e["painter"], e["uid"], e["body"])
            for e in events_of(case)
        ],
        tasks,
    )
    airs = [(float(minute(at)), Work(tasks, lags_of(case, keys, amounts))) for at, amounts in case.get("airs", ())]
    works = [(ALWAYS, Work(tasks, lags)), *airs]
    live = live_work(MIDNIGHT, works, works[-1][1], facts)
    now = live.wall(datetime.fromisoformat(moment(case["now"])))
    assert {key: facts.of(key).state for key in case["states"]} == case["states"]
    timers = [(t.kind, t.task, live.moment(t.at)) for t in timers_of(live, facts, {}, now) if t.kind != PLANNED]
    assert timers == [(kind, task, datetime.fromisoformat(moment(at))) for kind, task, at in case["timers"]]
    for key, clock, minutes, first in case.get("early", ()):
        early = early_of(waits_of(live, facts)[keys.index(key)], minute(clock))
        told = early and (early.minutes or None, [keys[number] for number in early.first])
        assert told == ((minutes, first) if minutes or first else None)
