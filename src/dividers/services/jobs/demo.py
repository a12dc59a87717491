"""The demo job: "The Lantern Cart", a travelling puppet theatre that is being repainted."""

import json
import sqlite3
from importlib.resources import files

from dividers.core.job.document import Document
from dividers.services.clock import now
from dividers.services.jobs.job_list import add_job
from dividers.store import jobs
from dividers.store.database import transaction


def demo_document() -> Document:
    document: Document = json.loads((files("dividers.demo") / "lantern-cart.json").read_text("utf-8"))
    return document


def load_demo(connection: sqlite3.Connection, fresh: bool = False) -> None:
    """Add the sample job unless it is there; `fresh` deletes the present one and adds a new one."""
    document = demo_document()
    present = [row for row in jobs.list_jobs(connection) if row.title == document["title"]]
    if present and not fresh:
        return
    with transaction(connection):
        for row in present:
            jobs.set_deleted(connection, row.id, now())
    add_job(connection, document, "Sample job added")
