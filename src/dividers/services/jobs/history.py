"""The states that a job has been in: when each came about, by whom, and what it changed; and bringing one back."""

import json
import sqlite3
from dataclasses import dataclass

from dividers.core.base.errors import NotFound
from dividers.core.job.changes_said import changes_said
from dividers.services.actor import actor
from dividers.services.clock import now
from dividers.services.jobs.job_list import require_head
from dividers.services.jobs.planning import job_of
from dividers.store import jobs
from dividers.store.database import transaction

AT_ONCE = 40


@dataclass(frozen=True)
class State:
    """A revision of a job; `changed` says in a sentence what it changed in the one it was made from."""

    revision: jobs.Revision
    changed: str
    in_force: bool


def states(connection: sqlite3.Connection, job_id: int, before: int | None = None) -> list[State]:
    """The states of a job, the latest first, from below a number on; so many at once. Raises NotFound."""
    head = require_head(connection, job_id)
    found = jobs.list_revisions(connection, job_id, before or 2**31, AT_ONCE)
    documents = {each.number: each.document for each in found}
    made = []
    for each in found:
        parent = documents.get(each.parent or 0) or _document(connection, job_id, each.parent)
        changed = changes_said(json.loads(parent), json.loads(each.document)) if parent else ""
        made.append(State(each, changed, each.number == head.number))
    return made


def _document(connection: sqlite3.Connection, job_id: int, number: int | None) -> str:
    found = jobs.find_revision(connection, job_id, number) if number else None
    return found.document if found else ""


def state_of_job(connection: sqlite3.Connection, job_id: int, number: int) -> State:
    """One state, and how it differs from the one in force. Raises NotFound."""
    head, found = require_head(connection, job_id), jobs.find_revision(connection, job_id, number)
    if found is None:
        raise NotFound("This job has no such state.")
    return State(found, changes_said(json.loads(head.document), json.loads(found.document)), found.number == head.number)


def bring_back(connection: sqlite3.Connection, job_id: int, number: int) -> None:
    """Let the job be as it was in an earlier state, as a new revision: undo takes it back. Raises NotFound, BadJob."""
    found = state_of_job(connection, job_id, number)
    if found.revision.document == require_head(connection, job_id).document:
        return  # also where a button was pressed twice
    title = job_of(found.revision.document).title
    with transaction(connection):
        jobs.insert_revision(connection, job_id, title, found.revision.document, f"Brought back state {number}", now(), actor())
