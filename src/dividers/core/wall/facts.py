"""What happened at the wall: a line of events, folded into what is known of each task. Nothing here looks at a clock.

Events come from phones, in the order in which they arrived. One that can't be, because another came first, changes nothing and is
reported with its reason. An undone event counts as if it had never come.
"""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime
from typing import Any

from dividers.core.base.dates import after, minutes_between
from dividers.core.order.network import Task

KINDS = ("start", "done", "skip", "undo", "tick", "untick", "touch", "air", "here")
OPEN, RUNNING, BEGUN, DONE, SKIPPED = "open", "running", "begun", "done", "skipped"
TOUCHES = ("wet", "tacky", "dry")
SLOWEST = 2  # for windows, work of which only the end was recorded began at most so many times its planned minutes before
LONGEST_MIN = 2880  # what is recorded as done took at most two days


@dataclass(frozen=True)
class Event:
    """An entry that a painter recorded: `task` by its key, `at` on the painter's clock; `uid` is the phone's own name for it.

    `here` says that somebody is at work for so many `minutes` from then on, whatever the hours say. `body` has a skip's reason; what was still waited for when it was begun (`early`); how many minutes it `took`, where only its end was recorded; a tick's item; a touch's result; the air's temperature (°C) and humidity (%); the uid that an undo takes back.
    """

    kind: str
    at: datetime
    task: str = ""
    painter: int = 1
    uid: str = ""
    body: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class TaskFact:
    """What is known of one task. `last` is the uid of what made it so, `by` the phone that sent it.

    `guessed` where nobody said when it began: it has no minutes then, and `started` is the earliest moment that it may have been, for windows.
    """

    state: str = OPEN
    started: datetime | None = None
    ended: datetime | None = None
    worked_min: float = 0.0
    resumed: datetime | None = None
    painter: int = 0
    guessed: bool = False
    reason: str = ""
    last: str = ""
    by: str = ""


@dataclass(frozen=True)
class Touch:
    """A touch of the fresh paint of a pull's batch: wet, tacky or dry at a moment."""

    task: str
    at: datetime
    result: str
    uid: str


@dataclass(frozen=True)
class Facts:
    """All that is known: tasks by key, ticked (task, item) pairs, touches and airs in order; what was refused, by uid, and why."""

    tasks: Mapping[str, TaskFact]
    ticks: frozenset[tuple[str, str]] = frozenset()
    touches: tuple[Touch, ...] = ()
    airs: tuple[tuple[datetime, float, float], ...] = ()
    refused: Mapping[str, str] = field(default_factory=dict)
    last_at: datetime | None = None
    here: tuple[tuple[datetime, int], ...] = ()

    def of(self, task: str) -> TaskFact:
        return self.tasks.get(task, TaskFact())


def fold(events: Iterable[Event], tasks: Iterable[Task], begun: datetime | None = None) -> Facts:
    """Everything that the events say, each counted once. Nothing lies before the moment at which the run was `begun`."""
    folding = _Folding({task.key: task for task in tasks}, begun)
    recorded = list(events)
    undone = taken_back(recorded)
    seen: set[str] = set()
    for event in recorded:
        if event.uid and event.uid in seen:
            continue  # sent twice, as when an answer got lost
        seen.add(event.uid)
        if event.uid not in undone:
            folding.take(event)
    return folding.facts()


def taken_back(events: list[Event]) -> set[str]:
    """The uids of what was undone; an undo that was itself undone leaves what it took back."""
    found: set[str] = set()
    for event in reversed(events):
        if event.kind == "undo" and event.uid not in found:
            found.add(str(event.body.get("of", "")))
    return found - {""}


class _Folding:
    def __init__(self, tasks: Mapping[str, Task], begun: datetime | None) -> None:
        self.planned, self.begun = tasks, begun
        self.tasks: dict[str, TaskFact] = {}
        self.ticks: set[tuple[str, str]] = set()
        self.touches: list[Touch] = []
        self.airs: list[tuple[datetime, float, float]] = []
        self.refused: dict[str, str] = {}
        self.last_at: datetime | None = None
        self.here: list[tuple[datetime, int]] = []
        self.free_at: dict[int, datetime] = {}

    def facts(self) -> Facts:
        return Facts(
            self.tasks, frozenset(self.ticks), tuple(self.touches), tuple(self.airs), self.refused, self.last_at,
            tuple(self.here),
        )  # fmt: skip

    def take(self, event: Event) -> None:
        if event.kind in ("start", "done", "skip", "touch") and event.task not in self.planned:
            self.refused[event.uid] = "This step isn't in the plan any more."
            return
        self.last_at = max(self.last_at or event.at, event.at)
        match event.kind:
            case "start":
                self._start(event)
            case "done":
                self._done(event)
            case "skip":
                self._skip(event)
            case "tick":
                self.ticks.add((event.task, str(event.body.get("item", ""))))
            case "untick":
                self.ticks.discard((event.task, str(event.body.get("item", ""))))
            case "touch":
                self.touches.append(Touch(event.task, event.at, str(event.body["result"]), event.uid))
            case "here":
                self.here.append((event.at, int(event.body["minutes"])))
            case "air":
                self.airs.append((event.at, float(event.body["temperature"]), float(event.body["humidity"])))

    def _refuse(self, event: Event, fact: TaskFact) -> None:
        was = {DONE: "done", SKIPPED: "skipped", RUNNING: "begun"}[fact.state]
        moment = fact.ended or fact.started
        at = f" at {moment:%H:%M}" if moment else ""
        self.refused[event.uid] = f"It was {was} already{at}, by painter {fact.painter}; that entry is kept."

    def _start(self, event: Event) -> None:
        fact = self.tasks.get(event.task, TaskFact())
        if fact.state in (DONE, SKIPPED, RUNNING):
            self._refuse(event, fact)
            return
        for key, other in list(self.tasks.items()):  # one painter does one task at a time: a running one is interrupted
            if other.state == RUNNING and other.painter == event.painter:
                self.tasks[key] = replace(
                    other, state=BEGUN, worked_min=other.worked_min + _minutes(other.resumed, event.at), resumed=None
                )
        self.tasks[event.task] = replace(
            fact, state=RUNNING, started=fact.started or event.at, resumed=event.at, painter=event.painter, last=event.uid,
            reason=_early(event) or fact.reason, by=str(event.body.get("by", "")),
        )  # fmt: skip

    def _done(self, event: Event) -> None:
        fact = self.tasks.get(event.task, TaskFact())
        if fact.state in (DONE, SKIPPED):
            self._refuse(event, fact)
            return
        took = event.body.get("took")
        guessed = fact.started is None and took is None
        if took is not None:
            begun = self._not_before_the_run(after(event.at, -float(took)), event)
            started, worked = min(begun, fact.started or begun), _minutes(begun, event.at)
        elif fact.started is not None:
            started, worked = fact.started, fact.worked_min + _minutes(fact.resumed, event.at)
        else:
            started, worked = self._earliest(event), 0.0
        self.free_at[event.painter] = max(self.free_at.get(event.painter, event.at), event.at)
        self.tasks[event.task] = replace(
            fact,
            state=DONE,
            started=min(started, event.at),
            ended=event.at,
            worked_min=worked,
            resumed=None,
            painter=event.painter,
            guessed=guessed,
            reason=_early(event) or fact.reason,
            last=event.uid,
            by=str(event.body.get("by", "")),
        )

    def _earliest(self, event: Event) -> datetime:
        """The earliest that work may have begun of which only the end was recorded: when that painter was free, but not ages ago."""
        earliest = after(event.at, -SLOWEST * self.planned[event.task].minutes)
        return self._not_before_the_run(max(self.free_at.get(event.painter, earliest), earliest), event)

    def _not_before_the_run(self, moment: datetime, event: Event) -> datetime:
        return min(max(moment, self.begun or moment), event.at)

    def _skip(self, event: Event) -> None:
        fact = self.tasks.get(event.task, TaskFact())
        if fact.state in (DONE, SKIPPED):
            self._refuse(event, fact)
            return
        self.tasks[event.task] = replace(
            fact, state=SKIPPED, ended=event.at, resumed=None, painter=event.painter,
            reason=str(event.body.get("reason", "")), last=event.uid, by=str(event.body.get("by", "")),
        )  # fmt: skip


def _early(event: Event) -> str:
    """What a painter went on in spite of, in words; "" where nothing held the step."""
    said = str(event.body.get("early", ""))
    return f"gone on early: {said}" if said else ""


def _minutes(start: datetime | None, end: datetime) -> float:
    return max(minutes_between(start, end), 0.0) if start else 0.0
