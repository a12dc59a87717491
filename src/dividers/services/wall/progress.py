"""How a run at the wall is getting on: what was recorded, the plan in use, what falls due. Nothing here writes."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from fractions import Fraction
from functools import cached_property, lru_cache

from dividers.core.base.dates import after, minutes_between
from dividers.core.job.model import Job
from dividers.core.job_file.as_begun import begun_with
from dividers.core.order.calendar import Calendar
from dividers.core.order.network import Task
from dividers.core.order.schedule import calendar_from, start_of
from dividers.core.order.task_key import TaskKey
from dividers.core.order.tasks import Work, work_of
from dividers.core.plan.plan import Plan
from dividers.core.wall.facts import OPEN, Event, Facts, fold
from dividers.core.wall.kept_work import KeptWork, differences, differences_in_keys, read, written
from dividers.core.wall.replan import Missed
from dividers.core.wall.timers import Timer, timers_of
from dividers.core.wall.waits import ALWAYS, LiveWork, Wait, live_work, waits_of
from dividers.services import clock
from dividers.services.stations import mark_ticks, scheduling
from dividers.store import wall_runs
from dividers.store.wall_runs import WallRun as WallRun

LATE_MIN = 10  # a step not begun so long after its time asks for another plan
MOVES = ("start", "done", "skip", "undo", "touch", "air", "here")


@dataclass(frozen=True)
class PlanInForce:
    """A plan made on the way: starts, ends (wall minutes) and painters by key of the task, and what it couldn't keep."""

    number: int
    events: int
    made_at: str
    said: str
    starts: Mapping[str, int]
    ends: Mapping[str, int]
    painters: Mapping[str, int]
    missed: tuple[Missed, ...]
    possible: bool
    whys: Mapping[str, str]

    @property
    def finish(self) -> int:
        return max(self.ends.values(), default=0)


@dataclass(frozen=True)
class Progress:
    """How a run is getting on at a moment: what is known, the plan in use, what falls due. `now` is on the site's clock."""

    run: wall_runs.WallRun
    job: Job
    plan: Plan
    live: LiveWork
    calendar: Calendar
    facts: Facts
    events: tuple[Event, ...]
    in_force: PlanInForce
    now: datetime
    first: PlanInForce
    kept: bool = False  # by steps of its own, as the same job would be planned otherwise today
    differs: tuple[str, ...] = ()  # in what

    @property
    def tasks(self) -> tuple[Task, ...]:
        return self.live.tasks

    def task(self, key: str) -> Task:
        return self.by_key[key]

    @cached_property
    def by_key(self) -> dict[str, Task]:
        return {task.key: task for task in self.tasks}

    @cached_property
    def waits(self) -> dict[str, Wait]:
        """What every step that isn't done waits for, by its key."""
        return {self.tasks[number].key: wait for number, wait in waits_of(self.live, self.facts).items()}

    @cached_property
    def timers(self) -> list[Timer]:
        return timers_of(self.live, self.facts, self.in_force.starts, self.live.wall(self.now))

    @cached_property
    def in_turn(self) -> list[Task]:
        """All tasks: done ones as they were done, then what is left as it is planned."""

        def turn(task: Task) -> tuple[float, int]:
            fact = self.facts.of(task.key)
            moment = fact.ended or fact.started
            if moment:
                return self.live.wall(moment), 0
            return float(self.in_force.starts.get(task.key, 10**9)), 1

        return sorted(self.tasks, key=turn)

    @cached_property
    def numbers(self) -> dict[str, int]:
        """The number of every step: its place in the first plan, which it keeps however the plan moves."""
        last = len(self.tasks)
        turns = sorted((self.first.starts.get(task.key, 10**9), turn) for turn, task in enumerate(self.tasks))
        return {self.tasks[turn].key: number for number, (_, turn) in zip(range(1, last + 1), turns, strict=True)}

    @property
    def here_until(self) -> datetime | None:
        """Until when somebody said to be at work outside the hours, where that is so now."""
        ends = [after(at, minutes) for at, minutes in self.facts.here]
        return max((end for end in ends if end > self.now), default=None)

    @property
    def in_hours(self) -> bool:
        """Whether now lies in the stated hours."""
        wall = self.live.wall(self.now)
        return any(begin <= wall < end for begin, end in self.calendar.spans)

    @property
    def behind(self) -> bool:
        """Whether the plan in use is to be made again: something was recorded since, or a step should have begun long ago."""
        if self.run.ended_at:
            return False
        latest = self.live.wall(self.now) - LATE_MIN
        late = any(start < latest and self.facts.of(key).state == OPEN for key, start in self.in_force.starts.items())
        return late or any(event.kind in MOVES for event in self.events[self.in_force.events :])

    @cached_property
    def left(self) -> list[Task]:
        return [task for task in self.in_turn if task.key in self.in_force.starts]


@lru_cache(maxsize=16)
def work_in_air(
    document: str, temperature: float | None = None, humidity: float | None = None, whole: bool = False
) -> tuple[Plan, Work]:
    """The plan of a run's document and its tasks, in the job's climate or in another air; windows as planned with, or whole."""
    plan = scheduling.planned(document)
    climate = plan.job.climate
    if temperature is not None and humidity is not None:
        climate = replace(
            climate, temperature_c=Fraction(str(temperature)), humidity_percent=Fraction(str(humidity)), surface_c=None
        )
    return plan, work_of(plan, start_of(plan.job), climate, whole)


def planned_work(document: str) -> tuple[Plan, Work]:
    """The plan of a run's document, and its tasks as planned."""
    return work_in_air(document)


def progress_of(connection: sqlite3.Connection, run: wall_runs.WallRun) -> Progress:
    """How a run is getting on, by the plan in use; `behind` says whether that needs to be made again."""
    return progress_from(connection, run, wall_runs.list_events(connection, run.id))


def progress_from(connection: sqlite3.Connection, run: wall_runs.WallRun, rows: Sequence[wall_runs.EventRow]) -> Progress:
    """The same from events already read."""
    plan = work_in_air(run.document)[0]
    midnight = midnight_of(run)
    events = tuple(event_of(row) for row in rows)

    kept = kept_of(connection, run)

    def work(temperature: float | None = None, humidity: float | None = None, whole: bool = False) -> Work:
        air = None if temperature is None or humidity is None else (temperature, humidity)
        found = kept.in_air(plan.job, air, whole) if kept else work_in_air(run.document, temperature, humidity, whole)[1]
        return _counted_from(found, midnight, start_of(plan.job))

    planned = work()
    facts = fold(events, planned.tasks, clock.on_site(datetime.fromisoformat(run.begun_at)))
    named_only = begun_with(run.document) == "0.1.0"  # its marks may have had other numbers: they are known by their names
    ticked = frozenset(tick for tick in facts.ticks if not (named_only and "/mark/" in tick[0]))
    facts = replace(facts, ticks=ticked | _marks_made(connection, run, kept.marks if kept else mark_names(plan)))
    works = [(ALWAYS, work(None, None, True))]
    for at, temperature, humidity in facts.airs:
        works.append((minutes_between(midnight, at), work(temperature, humidity, True)))
        planned = work(temperature, humidity)
    live = live_work(midnight, works, planned, facts)
    row, first = wall_runs.last_plan(connection, run.id), wall_runs.first_plan(connection, run.id)
    assert row is not None and first is not None
    now = clock.on_site(clock.moment())
    calendar = _hours(plan.job, events, midnight)
    in_force, first_plan = plan_in_force(row, run), plan_in_force(first, run)
    differs = differences(kept.tasks, work_in_air(run.document)[1].tasks) if kept else ()
    if named_only and not kept:
        differs = differences_in_keys(first_plan.starts, planned.tasks)
    return Progress(run, plan.job, plan, live, calendar, facts, events, in_force, now, first_plan, bool(kept), differs)


def kept_of(connection: sqlite3.Connection, run: wall_runs.WallRun) -> KeptWork | None:
    """The work that a run was begun with, where the same job would be planned otherwise today."""
    text = wall_runs.find_kept_work(connection, run.id)
    return _kept(text) if text is not None and text != work_text(run.document) else None


@lru_cache(maxsize=16)
def _kept(text: str) -> KeptWork:
    return read(json.loads(text))


@lru_cache(maxsize=16)
def work_text(document: str) -> str:
    """The work of a document's job as it is planned today, as it is kept with a run."""
    plan, work = work_in_air(document)
    return json.dumps(written(work, work_in_air(document, None, None, True)[1], mark_names(plan)), ensure_ascii=False)


def mark_names(plan: Plan) -> dict[str, tuple[str, ...]]:
    """The names of each piece's marks, by which their ticks are kept, in the order of their numbers."""
    return {piece.piece.key: tuple(mark_ticks.name_of(mark) for mark in piece.marks) for piece in plan.pieces}


def midnight_of(run: wall_runs.WallRun) -> datetime:
    """What a run's wall minutes are counted from: midnight before it was begun, or before its planned start where that is earlier."""
    start = clock.placed(datetime.fromisoformat(run.start))
    begun = clock.on_site(datetime.fromisoformat(run.begun_at))
    return _midnight(min(start, begun))


def _midnight(moment: datetime) -> datetime:
    return moment.replace(hour=0, minute=0, second=0, microsecond=0)


def _counted_from(work: Work, midnight: datetime, start: datetime) -> Work:
    """Work of a job that starts then, with its tasks' own times in wall minutes from a run's midnight."""
    later = round(minutes_between(midnight, _midnight(clock.placed(start))))
    if not later:
        return work
    tasks = [replace(task, not_before=task.not_before + later) if task.not_before_why else task for task in work.tasks]
    return replace(work, tasks=tuple(tasks))


def _hours(job: Job, events: Sequence[Event], midnight: datetime) -> Calendar:
    """The crew's hours from the planned start on, or from the first entry on where somebody began earlier."""
    start = clock.placed(start_of(job))
    first = min((event.at for event in events if event.kind in MOVES), default=start)
    return calendar_from(job, min(start, first).replace(second=0, microsecond=0)).counted_from(midnight)


def _marks_made(
    connection: sqlite3.Connection, run: wall_runs.WallRun, marks: Mapping[str, Sequence[str]]
) -> frozenset[tuple[str, str]]:
    """The marks ticked off at the Marks station, as ticks of their tasks."""
    found = set()
    for piece, names in marks.items():
        made = mark_ticks.ticked(connection, run.job_id, piece)
        if made:
            task = str(TaskKey(piece, "mark"))
            found |= {(task, f"m{n}") for n, name in enumerate(names, 1) if name in made}
    return frozenset(found)


def event_of(row: wall_runs.EventRow) -> Event:
    """An entry as it was stored, on the site's clock."""
    at = clock.on_site(datetime.fromisoformat(row.at))
    return Event(row.kind, at, row.task, row.painter, row.uid, json.loads(row.body))


def plan_in_force(row: wall_runs.PlanRow, run: wall_runs.WallRun) -> PlanInForce:
    """A plan as it was stored, in the run's wall minutes; those without a midnight count from that of the planned start."""
    plan = json.loads(row.plan)
    counted = datetime.fromisoformat(plan["midnight"]) if "midnight" in plan else _midnight(datetime.fromisoformat(run.start))
    later = round(minutes_between(midnight_of(run), clock.placed(counted)))
    missed = tuple(Missed(each["task"], each["by"] + later, each["advice"]) for each in plan["missed"])
    painters = plan["painters"] if "painters" in plan else plan["hands"]  # as it was called up to 0.1.0
    return PlanInForce(
        row.number,
        row.events,
        row.made_at,
        row.said,
        {key: start + later for key, start in plan["starts"].items()},
        {key: end + later for key, end in plan["ends"].items()},
        painters,
        missed,
        plan["possible"],
        plan.get("whys", {}),
    )
