"""How far a job is painted, in a sentence for the pages that plan it: from what was recorded alone, without planning anything."""

import json
import sqlite3
from datetime import datetime

from dividers.core.base.dates import day_and_time
from dividers.core.wall.facts import Event, taken_back
from dividers.services import clock
from dividers.store import wall_runs


def painted_said(connection: sqlite3.Connection, job_id: int) -> str:
    """That a job is being painted, or was, and how far; "" where nobody began it."""
    runs = wall_runs.list_runs(connection, job_id)
    latest = wall_runs.last_plan(connection, runs[0].id) if runs else None
    if latest is None:
        return ""
    run = runs[0]
    events = [
        Event(row.kind, datetime.fromisoformat(row.at), row.task, row.painter, row.uid, json.loads(row.body))
        for row in wall_runs.list_events(connection, run.id)
    ]
    undone = taken_back(events)
    done = {event.task for event in events if event.kind in ("done", "skip") and event.uid not in undone}
    steps = len(done | set(json.loads(latest.plan)["starts"]))  # a plan made on the way has what was left then
    many = "all" if len(done) >= steps else f"{len(done)} of"
    count = f"{many} {steps} steps are done"
    if run.ended_at:
        when = day_and_time(clock.on_site(datetime.fromisoformat(run.ended_at)), clock.on_site(clock.moment()))
        return f"Painted: {count}; closed {when}." if len(done) >= steps else f"Painted in part: {count}; closed {when}."
    if len(done) >= steps:
        return f"Painted: {count}. What is left: the edges, a photo, and closing it."
    return f"Being painted: {count}."
