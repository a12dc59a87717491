"""What to look at the clock for: paint that dries, windows that open and close, what is overdue, what the plan has next."""

from collections.abc import Mapping
from dataclasses import dataclass

from dividers.core.base.units import DAY_MIN
from dividers.core.order.network import Task
from dividers.core.wall.facts import OPEN, RUNNING, Facts
from dividers.core.wall.waits import LiveWork, waits_of

DRY, OPENS, CLOSES, OVERDUE, PLANNED = "dry", "opens", "closes", "overdue", "planned"


@dataclass(frozen=True)
class Timer:
    """Something that falls due at a wall minute: its kind, its task, in words, and why then."""

    kind: str
    task: str
    at: float
    words: str
    why: str = ""


def timers_of(live: LiveWork, facts: Facts, starts: Mapping[str, int], now: float) -> list[Timer]:
    """All that runs, the nearest first; overdue ones before the rest, the plan's next step behind it. `starts` are the plan's, by key of the task."""
    found: list[Timer] = []
    for number, wait in waits_of(live, facts).items():
        task = live.tasks[number]
        if not wait.blocked and wait.ready > now and wait.ready_why and facts.of(task.key).state != RUNNING:
            kind = OPENS if task.kind == "pull" else DRY
            found.append(Timer(kind, task.key, wait.ready, _ready_said(task), wait.ready_why))
        if wait.by is not None and (wait.by - now <= DAY_MIN):
            late = now > wait.by
            found.append(Timer(OVERDUE if late else CLOSES, task.key, wait.by, _by_said(task, late), wait.by_why))
    timed = {timer.task for timer in found}
    coming = [(start, key) for key, start in starts.items() if facts.of(key).state == OPEN and key not in timed]
    if coming:
        start, key = min(coming)
        task = next(task for task in live.tasks if task.key == key)
        found.append(Timer(PLANNED, key, float(max(start, int(now))), f"Next: {task.piece}, {short(task)}"))
    return sorted(found, key=lambda timer: ({OVERDUE: 0, PLANNED: 2}.get(timer.kind, 1), timer.at))


def short(task: Task) -> str:
    """A task in few words: round 1, batch 2: coat 1."""
    return f"{_round(task)}: {_what(task)}" if task.number else _what(task)


def _round(task: Task) -> str:
    return f"round {task.number}" + (f", batch {task.batch}" if task.batch else "")


def _what(task: Task) -> str:
    named = {"mark": "marks", "tape": "tape", "seal": "seal", "pull": "pull the tape", "prep": task.words.lower()}
    counted = {"coat": "coat", "base": "base coat", "clear-coat": "clear coat"}
    return f"{counted[task.kind]} {task.coat}" if task.kind in counted else named.get(task.kind, task.kind)


def _ready_said(task: Task) -> str:
    if task.kind == "pull":
        return f"Window opens: {task.piece}, {_round(task)}"
    return f"Dry for {_what(task)}: {task.piece}" + (f", {_round(task)}" if task.number else "")


def _by_said(task: Task, late: bool) -> str:
    return f"{'Window over' if late else 'Window closes'}: {task.piece}, {_round(task)}"
