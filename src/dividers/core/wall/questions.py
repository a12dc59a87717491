"""What is asked before an entry is taken, all of it at once. `static/wall-ask.js` asks the same on a phone without a connection."""

from collections.abc import Iterable
from datetime import datetime

from dividers.core.base.dates import minutes_between
from dividers.core.base.quantities import spoken
from dividers.core.order.network import Task
from dividers.core.wall.facts import BEGUN, OPEN, RUNNING, Event, TaskFact

SAME_PRESS_S = 1.5  # an entry of another step so soon after the last one was the same press, or one meant for the step before
QUICK_SHARE = 0.1  # a step that is done after less of its planned time is asked about
QUICK_LEAST_MIN = 5  # shorter steps may well be done at once


def how_long_asked(task: Task, fact: TaskFact, at: datetime) -> str:
    """What is asked of a step that is recorded as done: nobody began it, or only just now; "" where its minutes are known.

    >>> from dividers.core.order.task_key import TaskKey
    >>> marks = Task(TaskKey("wall", "mark"), "Wall", 28, "make 18 marks")
    >>> noon = datetime(2027, 3, 6, 12)
    >>> how_long_asked(marks, TaskFact(RUNNING, started=noon), datetime(2027, 3, 6, 12, 0, 4))
    'It was begun 4 s ago, and about 28 min are planned. Is it done?'
    >>> how_long_asked(marks, TaskFact(), noon)
    'Nobody recorded when it was begun. How many minutes did it take? About 28 min are planned.'
    """
    if task.minutes < QUICK_LEAST_MIN or fact.state not in (OPEN, RUNNING, BEGUN):
        return ""
    if fact.started is None:
        return f"Nobody recorded when it was begun. How many minutes did it take? About {spoken(task.minutes)} are planned."
    since = minutes_between(fact.started, at)
    if since >= QUICK_SHARE * task.minutes:
        return ""
    ago = f"{max(round(since * 60), 0)} s" if since < 1 else spoken(since)
    return f"It was begun {ago} ago, and about {spoken(task.minutes)} are planned. Is it done?"


def same_press(before: Iterable[Event], event: Event) -> Event | None:
    """The entry just before this one, where both are likely one press: of another step, by the same phone, too soon after it.

    To skip a step takes a typed reason, so it is never the second press of something else.
    """
    if event.kind not in ("start", "done") or event.body.get("sure"):
        return None
    for other in before:
        own = other.kind in ("done", "skip") and other.task != event.task and other.painter == event.painter
        if own and other.body.get("by", "") == event.body.get("by", "") and other.uid != event.uid:
            seconds = minutes_between(other.at, event.at) * 60
            if 0 <= seconds < SAME_PRESS_S:
                return other
    return None
