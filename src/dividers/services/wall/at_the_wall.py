"""A job being painted: begun, recorded step by step, replanned. Every entry is kept; plans are made from the entries and can be made again."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

from dividers.core.base.dates import day_and_time
from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.quantities import spoken
from dividers.core.base.whole import whole
from dividers.core.job_file.as_begun import stamped
from dividers.core.order.schedule import Schedule, start_of
from dividers.core.order.task_key import TaskKey
from dividers.core.wall.changes import change_said
from dividers.core.wall.facts import OPEN
from dividers.core.wall.replan import Replan, replan, replan_when_dry
from dividers.services import clock
from dividers.services.jobs import editing, evidence
from dividers.services.jobs.job_list import dump
from dividers.services.jobs.planning import job_of
from dividers.services.stations import scheduling
from dividers.services.wall import recorded
from dividers.services.wall.progress import (
    PlanInForce,
    Progress,
    kept_of,
    mark_names,
    plan_in_force,
    planned_work,
    progress_from,
    progress_of,
    work_in_air,
)
from dividers.store import ticks, wall_runs
from dividers.store.database import transaction

MOST_AT_ONCE = 500
LONGEST_WAIT = timedelta(minutes=10)  # for the first plan; later it is begun anew


def find_run(connection: sqlite3.Connection, run_id: int) -> wall_runs.WallRun | None:
    return wall_runs.find_run(connection, run_id)


def open_run(connection: sqlite3.Connection, job_id: int) -> wall_runs.WallRun | None:
    """The run of a job that goes on, if there is one."""
    return wall_runs.find_open(connection, job_id)


def runs_of(connection: sqlite3.Connection, job_id: int) -> list[wall_runs.WallRun]:
    """All runs of a job, the latest first."""
    return wall_runs.list_runs(connection, job_id)


def require_run(connection: sqlite3.Connection, job_id: int) -> wall_runs.WallRun:
    """The run of a job that goes on. Raises NotFound."""
    run = wall_runs.find_open(connection, job_id)
    if run is None:
        raise NotFound("This job isn't being painted: begin it at “At the wall”.")
    return run


def begin(
    connection: sqlite3.Connection, job_id: int, wait_s: float | None = None, since: str = ""
) -> wall_runs.WallRun | None:
    """Begin a job at the wall: its plan starts now, whatever day was planned. None while that is still being worked out.

    `since` is when it was first asked for (UTC ISO text), so that asking again asks for the same plan. Raises BadInput where there is no schedule.
    """
    present = wall_runs.find_open(connection, job_id)
    if present:
        return present
    opened = editing.open_job(connection, job_id)
    here = clock.on_site(_asked_since(since)).replace(second=0, microsecond=0, tzinfo=None)
    document = stamped(json.loads(opened.revision.document))
    document["crew"] = (document.get("crew") or {}) | {"start": here.isoformat(timespec="minutes")}
    text = evidence.informed(connection, dump(document))
    schedule = scheduling.schedule_for(f"begin {job_id}", text, wait_s)
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
    _keep_timers(connection, progress_of(connection, run))
    return run


def _asked_since(since: str) -> datetime:
    """When it was first asked for, where that is a moment of the last minutes; else now."""
    now = clock.moment()
    try:
        asked = datetime.fromisoformat(since)
    except ValueError:
        return now
    return asked if asked.tzinfo and now - LONGEST_WAIT <= asked <= now else now


def _first_plan(schedule: Schedule) -> str:
    times = schedule.solution.times
    assert times is not None
    keys = [task.key for task in times.tasks]
    return json.dumps(
        {
            "starts": {key: times.start(n) for n, key in enumerate(keys)},
            "ends": {key: times.end(n) for n, key in enumerate(keys)},
            "painters": {key: schedule.painters[n] + 1 for n, key in enumerate(keys)},
            "whys": {key: why for key, why in zip(keys, schedule.whys, strict=True) if why},
            "missed": [],
            "possible": True,
        }
    )


def dry_now_said(progress: Progress, key: str) -> str:
    """What the plan would gain if the paint that a step waits for were dry now; "" where it waits for none."""
    wait, now = progress.waits.get(key), progress.live.wall(progress.now)
    if wait is None or wait.blocked or wait.ready <= now:
        return ""
    before = progress.in_force
    painters = progress.job.crew.painters
    found = replan_when_dry(progress.live, progress.facts, progress.calendar, painters, now, key, before.starts, before.finish)
    if not found.possible:
        return ""
    gained = before.finish - found.finish
    end = day_and_time(progress.live.moment(found.finish), progress.now)
    return f"Then it goes on now, and all of it is done {end}" + (
        f": {spoken(gained)} sooner." if gained > 0 else ", as before."
    )


def plans(connection: sqlite3.Connection, run: wall_runs.WallRun) -> list[PlanInForce]:
    """Every plan of a run, the first one first."""
    return [plan_in_force(row, run) for row in wall_runs.list_plans(connection, run.id)]


def catch_up(connection: sqlite3.Connection, run: wall_runs.WallRun) -> Progress:
    """How a run is getting on, with its plan made again first where that is behind."""
    rows = wall_runs.list_events(connection, run.id)
    progress = progress_from(connection, run, rows)
    return _replan(connection, progress, rows) if progress.behind else progress


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
    after = progress_from(connection, progress.run, rows)
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
        {
            "starts": dict(starts),
            "ends": dict(ends),
            "painters": dict(painters),
            "whys": dict(found.whys),
            "midnight": progress.live.midnight.replace(tzinfo=None).isoformat(timespec="minutes"),
            "missed": missed,
            "possible": found.possible,
        }
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


def record(
    connection: sqlite3.Connection, run: wall_runs.WallRun, events: Sequence[Mapping[str, Any]], by: str = ""
) -> Progress:
    """Record what a phone sends, in its order; what came before already counts once. `by` is the phone's name, "" for the workshop's own.

    Raises BadInput for what can't be read.
    """
    if len(events) > MOST_AT_ONCE:
        raise BadInput(f"At most {MOST_AT_ONCE} entries can be recorded at once; these are {len(events)}.", "events")
    rows = [recorded.read(run, each, by) for each in events]
    with transaction(connection):
        for row in rows:
            if wall_runs.insert_event(connection, run.id, row) and row.kind in ("tick", "untick"):
                _tick_mark(connection, run, row)
    return catch_up(connection, run)


def _tick_mark(connection: sqlite3.Connection, run: wall_runs.WallRun, row: wall_runs.EventRow) -> None:
    """Keep a mark's tick where the Marks station keeps its own."""
    try:
        key = TaskKey.read(row.task)
    except ValueError:
        return  # a task of no plan
    item = json.loads(row.body)["item"]
    if key.kind != "mark":
        return
    kept = kept_of(connection, run)
    names = (kept.marks if kept else mark_names(planned_work(run.document)[0])).get(key.piece, ())
    number = (whole(item[1:]) or 0) if item[:1] == "m" else 0
    if 0 < number <= len(names):
        if row.kind == "tick":
            ticks.put_tick(connection, run.job_id, key.piece, names[number - 1], clock.now())
        else:
            ticks.drop_tick(connection, run.job_id, key.piece, names[number - 1])


def end(connection: sqlite3.Connection, run: wall_runs.WallRun) -> None:
    """Close a run: its record stays."""
    with transaction(connection):
        wall_runs.end_run(connection, run.id, clock.now())


def rebase(connection: sqlite3.Connection, run: wall_runs.WallRun) -> None:
    """Go by the job as it is now. Raises BadInput where something begun isn't in it any more."""
    opened = editing.open_job(connection, run.job_id)
    document = stamped(json.loads(opened.revision.document))
    document["crew"] = (document.get("crew") or {}) | {"start": run.start}
    go_by(connection, run, opened.revision.number, evidence.informed(connection, dump(document)))


def go_by(connection: sqlite3.Connection, run: wall_runs.WallRun, revision: int, text: str) -> None:
    """Go by another document from now on. Raises BadInput where something begun isn't in it any more."""
    progress = progress_of(connection, run)
    keys = {task.key for task in work_in_air(text)[1].tasks}
    lost = [task for task in progress.tasks if progress.facts.of(task.key).state != OPEN and task.key not in keys]
    if lost:
        raise BadInput(
            f"{lost[0].piece}, {lost[0].words}: that was started but is not in the updated job. Undo the change, or close this run and start again.",
            "job",
        )
    with transaction(connection):
        wall_runs.rebase_run(connection, run.id, revision, text)
        wall_runs.drop_steps(connection, run.id)
    rows = wall_runs.list_events(connection, run.id)
    _replan(connection, progress_from(connection, replace(run, document=text), rows), rows)


def changed_since(connection: sqlite3.Connection, run: wall_runs.WallRun) -> bool:
    """Whether the job was changed since the run went by it."""
    return editing.open_job(connection, run.job_id).revision.number != run.revision
