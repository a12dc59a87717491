"""The demo job: "The Lantern Cart", a travelling puppet theatre that is being repainted."""

import json
import sqlite3
from datetime import timedelta
from importlib.resources import files

from dividers.core.job.document import Document
from dividers.services.clock import moment, now, on_site
from dividers.services.jobs.job_list import add_job
from dividers.store import archived, jobs, logbook, photos, wall_runs
from dividers.store.database import transaction

ADDED = "Sample job added"


def demo_document(start: str = "") -> Document:
    """The sample job; it starts on a day of its own unless another is given."""
    document: Document = json.loads((files("dividers.demo") / "lantern-cart.json").read_text("utf-8"))
    if start:
        document["crew"]["start"] = start
    return document


def next_monday() -> str:
    """08:00 of the next Monday on site, never a day that is over."""
    today = on_site(moment()).date()
    return f"{today + timedelta(days=7 - today.weekday())}T08:00"


def load_demo(connection: sqlite3.Connection, fresh: bool = False, start: str = "") -> int:
    """Add the sample job unless it is there; `fresh` deletes the present one and adds a new one. Its id.

    It starts next Monday; one that nobody changed is moved on when that is over.
    """
    document = demo_document(start or next_monday())
    present = [row for row in jobs.list_jobs(connection) if row.title == document["title"]]
    if present and not fresh and not _is_over(connection, present[0]):
        return present[0].id
    with transaction(connection):
        for row in present:
            jobs.set_deleted(connection, row.id, now())
    return add_job(connection, document, ADDED)


def _is_over(connection: sqlite3.Connection, row: jobs.JobRow) -> bool:
    """Whether the sample job is as it came, without anything that somebody did with it, and begins on a day that is over."""
    head = jobs.head_revision(connection, row.id)
    begins = str(json.loads(head.document).get("crew", {}).get("start", "")) if head and head.number == 1 else ""
    return bool(begins) and begins < on_site(moment()).isoformat()[:16] and not _is_used(connection, row.id)


def _is_used(connection: sqlite3.Connection, job_id: int) -> bool:
    rows = (archived.rows_of(connection, name, job_id) for name in archived.PLAIN)
    lists = (logbook.list_findings, logbook.list_touch_ups, logbook.list_sign_offs, logbook.list_used, logbook.list_measured)
    return (
        any(rows)
        or bool(wall_runs.list_runs(connection, job_id) or photos.list_photos(connection, job_id))
        or any(found(connection, job_id) for found in lists)
    )
