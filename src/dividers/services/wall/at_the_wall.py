"""A job being painted: begun, told what was done, planned anew. Everything told is kept; plans are made from it and can be made again."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import UTC, datetime
from fractions import Fraction
from functools import cached_property, lru_cache
from typing import Any

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.job.model import Job
from dividers.core.order.calendar import Calendar
from dividers.core.order.network import Task
from dividers.core.order.schedule import Schedule, calendar_from, start_of
from dividers.core.order.tasks import Work, work_of
from dividers.core.plan.plan import Plan
from dividers.core.wall.changes import change_said
from dividers.core.wall.facts import OPEN, Event, Facts, fold
from dividers.core.wall.replan import Missed, Replan, replan
from dividers.core.wall.timers import Timer, timers_of
from dividers.core.wall.waits import LiveWork, live_work
from dividers.devices.hygrometer import air_at
from dividers.services import clock
from dividers.services.jobs import editing, evidence
from dividers.services.jobs.job_list import dump
from dividers.services.jobs.planning import job_of
from dividers.services.stations import mark_ticks, scheduling
from dividers.services.supplies import devices
from dividers.services.wall import recorded
from dividers.store import ticks, wall_runs
from dividers.store.database import transaction

LATE_MIN = 10  # a step not begun so long after its time moves the plan by itself
MOVES = ("start", "done", "skip", "undo", "touch", "air")
MOST_AT_ONCE = 500


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

    @property
    def finish(self) -> int:
        return max(self.ends.values(), default=0)


@dataclass(frozen=True)
class Progress:
    """How a run stands at a moment: what is known, the plan in force, what falls due. `now` is on the site's clock."""

    run: wall_runs.WallRun
    job: Job
    plan: Plan
    live: LiveWork
    calendar: Calendar
    facts: Facts
    events: tuple[Event, ...]
    in_force: PlanInForce
    now: datetime

    @property
    def tasks(self) -> tuple[Task, ...]:
        return self.live.tasks

    def task(self, key: str) -> Task:
        return self.by_key[key]

    @cached_property
    def by_key(self) -> dict[str, Task]:
        return {task.key: task for task in self.tasks}

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
    def left(self) -> list[Task]:
        return [task for task in self.in_turn if task.key in self.in_force.starts]


@lru_cache(maxsize=16)
def _work(document: str, temperature: float | None, humidity: float | None, whole: bool) -> tuple[Plan, Work]:
    plan = scheduling.planned(document)
    climate = plan.job.climate
    if temperature is not None and humidity is not None:
        climate = replace(
            climate, temperature_c=Fraction(str(temperature)), humidity_percent=Fraction(str(humidity)), surface_c=None
        )
    return plan, work_of(plan, start_of(plan.job), climate, whole)


def planned_work(document: str) -> tuple[Plan, Work]:
    """The plan of a run's document, and its tasks as planned."""
    return _work(document, None, None, False)


def require_run(connection: sqlite3.Connection, job_id: int) -> wall_runs.WallRun:
    """The run of a job that goes on. Raises NotFound."""
    run = wall_runs.find_open(connection, job_id)
    if run is None:
        raise NotFound("This job isn't being painted: begin it at “At the wall”.")
    return run


def begin(connection: sqlite3.Connection, job_id: int, wait_s: float = scheduling.WAIT_S) -> wall_runs.WallRun | None:
    """Begin a job at the wall; None while its order of work is still being worked out. Raises BadInput where it has none."""
    present = wall_runs.find_open(connection, job_id)
    if present:
        return present
    opened = editing.open_job(connection, job_id)
    here = clock.on_site(clock.moment()).replace(second=0, microsecond=0)
    document = json.loads(opened.revision.document)
    planned = opened.job.crew.start
    if planned is None or start_of(opened.job) < here:
        document["crew"] = (document.get("crew") or {}) | {"start": here.isoformat(timespec="minutes")}
    text = evidence.informed(connection, dump(document))
    schedule = scheduling.schedule_for(text, wait_s)
    if schedule is None:
        return None
    if schedule.solution.times is None:
        raise BadInput(f"There is no schedule yet. {schedule.said[0]}", "order")
    with transaction(connection):
        start = start_of(job_of(text)).isoformat(timespec="minutes")
        run_id = wall_runs.insert_run(connection, job_id, opened.revision.number, text, start, clock.now())
        wall_runs.insert_plan(connection, run_id, 0, "As planned.", _first_plan(schedule), clock.now())
    run = wall_runs.find_run(connection, run_id)
    assert run is not None
    progress_of(connection, run)
    return run


def _first_plan(schedule: Schedule) -> str:
    times = schedule.solution.times
    assert times is not None
    keys = [task.key for task in times.tasks]
    return json.dumps(
        {
            "starts": {key: times.start(n) for n, key in enumerate(keys)},
            "ends": {key: times.end(n) for n, key in enumerate(keys)},
            "hands": {key: schedule.painters[n] + 1 for n, key in enumerate(keys)},
            "missed": [],
            "possible": True,
        }
    )


def progress_of(connection: sqlite3.Connection, run: wall_runs.WallRun) -> Progress:
    """How a run stands now; the plan is made anew first where something was told since, or a step should have begun long ago."""
    rows = wall_runs.list_events(connection, run.id)
    found = _progress(connection, run, rows)
    wall = found.live.wall(found.now)
    late = [
        start
        for key, start in found.in_force.starts.items()
        if start < wall - LATE_MIN and found.facts.of(key).state == OPEN and not run.ended_at
    ]
    if late or any(row.kind in MOVES for row in rows[found.in_force.events :]):
        found = _replan(connection, found, rows)
    elif found.in_force.number == 1 and not rows:
        _keep_timers(connection, found)
    return found


def _progress(connection: sqlite3.Connection, run: wall_runs.WallRun, rows: Sequence[wall_runs.EventRow]) -> Progress:
    plan, planned = _work(run.document, None, None, False)
    events = tuple(_event(row) for row in rows)
    facts = fold(events, planned.tasks)
    facts = replace(facts, ticks=facts.ticks | _marks_made(connection, run, plan))
    calendar = calendar_from(plan.job, start_of(plan.job))
    works = [(0.0, _work(run.document, None, None, True)[1])]
    for at, temperature, humidity in facts.airs:
        wall = (at - calendar.midnight).total_seconds() / 60
        works.append((wall, _work(run.document, temperature, humidity, True)[1]))
        planned = _work(run.document, temperature, humidity, False)[1]
    live = live_work(calendar.midnight, works, planned, facts)
    row = wall_runs.last_plan(connection, run.id)
    assert row is not None
    now = clock.on_site(clock.moment())
    return Progress(run, plan.job, plan, live, calendar, facts, events, _in_force(row), now)


def _marks_made(connection: sqlite3.Connection, run: wall_runs.WallRun, plan: Plan) -> frozenset[tuple[str, str]]:
    """The marks ticked off at the Marks station, as ticks of their tasks."""
    found = set()
    for piece in plan.pieces:
        made = mark_ticks.ticked(connection, run.job_id, piece.piece.key)
        if made:
            task = f"{piece.piece.key}/mark/-/-/-/-"
            found |= {(task, f"m{n}") for n, mark in enumerate(piece.marks, 1) if mark_ticks.name_of(mark) in made}
    return frozenset(found)


def _event(row: wall_runs.EventRow) -> Event:
    at = clock.on_site(datetime.fromisoformat(row.at))
    return Event(row.kind, at, row.task, row.painter, row.uid, json.loads(row.body))


def _in_force(row: wall_runs.PlanRow) -> PlanInForce:
    plan = json.loads(row.plan)
    missed = tuple(Missed(**each) for each in plan["missed"])
    return PlanInForce(
        row.number, row.events, row.made_at, row.said, plan["starts"], plan["ends"], plan["hands"], missed, plan["possible"]
    )


def plans(connection: sqlite3.Connection, run: wall_runs.WallRun) -> list[PlanInForce]:
    """Every plan of a run, the first one first."""
    return [_in_force(row) for row in wall_runs.list_plans(connection, run.id)]


def _replan(connection: sqlite3.Connection, progress: Progress, rows: Sequence[wall_runs.EventRow]) -> Progress:
    before = progress.in_force
    wall = progress.live.wall(progress.now)
    found = replan(
        progress.live,
        progress.facts,
        progress.calendar,
        progress.job.crew.painters,
        wall,
        before.starts or None,
        before.finish or None,
    )
    said = change_said(progress.live, progress.facts, before.starts, before.finish, found, before.missed)
    with transaction(connection):
        latest = wall_runs.last_plan(connection, progress.run.id)
        if latest is not None and latest.number == before.number:  # else another request was quicker
            wall_runs.insert_plan(connection, progress.run.id, len(rows), said, _written(found, progress), clock.now())
    after = _progress(connection, progress.run, rows)
    _keep_timers(connection, after)
    return after


def _written(found: Replan, progress: Progress) -> str:
    """A plan as it is stored. Where nothing is possible, what stood stays to be seen."""
    before = progress.in_force
    starts = found.starts if found.possible else {k: v for k, v in before.starts.items() if progress.facts.of(k).state == OPEN}
    ends = found.ends if found.possible else {key: before.ends[key] for key in starts}
    missed = [{"task": m.task, "by": m.by, "advice": m.advice} for m in found.missed]
    painters = found.painters if found.possible else before.painters
    return json.dumps(
        {"starts": dict(starts), "ends": dict(ends), "hands": dict(painters), "missed": missed, "possible": found.possible}
    )


def _keep_timers(connection: sqlite3.Connection, progress: Progress) -> None:
    timers = [] if progress.run.ended_at else progress.timers
    with transaction(connection):
        wall_runs.put_timers(
            connection,
            progress.run.id,
            [(t.kind, t.task, in_utc(progress.live.moment(t.at)), t.words, t.why) for t in timers],
        )


def in_utc(on_site: datetime) -> str:
    """A moment on the site's clock as UTC ISO text."""
    return on_site.astimezone(UTC).isoformat(timespec="seconds")


def record(connection: sqlite3.Connection, run: wall_runs.WallRun, events: Sequence[Mapping[str, Any]]) -> Progress:
    """Take what a phone tells, in its order; what came before already counts once. Raises BadInput for what can't be read."""
    if len(events) > MOST_AT_ONCE:
        raise BadInput(f"At most {MOST_AT_ONCE} entries can be recorded at once; these are {len(events)}.", "events")
    rows = [recorded.read(run, each) for each in events]
    with transaction(connection):
        for row in rows:
            if wall_runs.insert_event(connection, run.id, row) and row.kind in ("tick", "untick"):
                _tick_mark(connection, run, row)
    return progress_of(connection, run)


def _tick_mark(connection: sqlite3.Connection, run: wall_runs.WallRun, row: wall_runs.EventRow) -> None:
    """Keep a mark's tick where the Marks station keeps its own."""
    piece_key, _, kind = row.task.partition("/")
    item = json.loads(row.body)["item"]
    if not kind.startswith("mark/"):
        return
    for piece in planned_work(run.document)[0].pieces:
        number = int(item[1:]) if item[:1] == "m" and item[1:].isdigit() else 0
        if piece.piece.key == piece_key and 0 < number <= len(piece.marks):
            name = mark_ticks.name_of(piece.marks[number - 1])
            if row.kind == "tick":
                ticks.put_tick(connection, run.job_id, piece_key, name, clock.now())
            else:
                ticks.drop_tick(connection, run.job_id, piece_key, name)


def sensed(connection: sqlite3.Connection) -> tuple[float, float, bool]:
    """The air now, °C and percent: as a device sent it lately, else by the stand-in, which is `simulated`."""
    found = devices.air(connection)
    return (*found, False) if found else (*air_at(clock.on_site(clock.moment())), True)


def end(connection: sqlite3.Connection, run: wall_runs.WallRun) -> None:
    """Close a run: its record stays."""
    with transaction(connection):
        wall_runs.end_run(connection, run.id, clock.now())


def rebase(connection: sqlite3.Connection, run: wall_runs.WallRun) -> None:
    """Go by the job as it is now. Raises BadInput where something begun isn't in it any more."""
    opened = editing.open_job(connection, run.job_id)
    document = json.loads(opened.revision.document)
    document["crew"] = (document.get("crew") or {}) | {"start": run.start}
    text = evidence.informed(connection, dump(document))
    progress = progress_of(connection, run)
    keys = {task.key for task in _work(text, None, None, False)[1].tasks}
    lost = [task for task in progress.tasks if progress.facts.of(task.key).state != OPEN and task.key not in keys]
    if lost:
        raise BadInput(
            f"{lost[0].piece}, {lost[0].words}: that was started but is not in the updated job. Undo the change, or close this run and start again.",
            "job",
        )
    with transaction(connection):
        wall_runs.rebase_run(connection, run.id, opened.revision.number, text)
    rows = wall_runs.list_events(connection, run.id)
    _replan(connection, _progress(connection, replace(run, document=text), rows), rows)


def changed_since(connection: sqlite3.Connection, run: wall_runs.WallRun) -> bool:
    """Whether the job was changed since the run went by it."""
    return editing.open_job(connection, run.job_id).revision.number != run.revision
