"""The list of jobs: new, copy, rename, delete and restore, import and export."""

import json
import sqlite3
from datetime import datetime, timedelta
from pathlib import Path

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.job.document import Document, with_piece_ids
from dividers.core.job.model import Job
from dividers.core.job.reader import LONGEST_NAME
from dividers.core.job_file.job_reader import parse_document, read_job
from dividers.services.actor import actor
from dividers.services.clock import now
from dividers.services.jobs.planning import check_plans
from dividers.store import jobs, photos
from dividers.store.database import transaction

KEPT_DAYS = 30  # so long is a deleted job in the bin


def dump(document: Document) -> str:
    """A document as it is stored."""
    return json.dumps(document, ensure_ascii=False, separators=(",", ":"))


def read_title(title: str) -> str:
    """Check a title. Raises BadInput."""
    title = title.strip()
    if not 0 < len(title) <= LONGEST_NAME:
        raise BadInput(f"Give the job a title of 1 to {LONGEST_NAME} characters; this has {len(title)}.", "title", title)
    return title


def import_job(connection: sqlite3.Connection, content: bytes) -> tuple[int, Job]:
    """Import a job file; returns its id and the job, whose warnings say what was odd. Raises BadJob."""
    document = read_import(content)
    return add_job(connection, document, "Imported"), read_job(document)


def read_import(content: bytes) -> Document:
    """The document of a job file, once it has been checked whole. Raises BadJob."""
    document = parse_document(content)
    check_plans(read_job(document))
    return document


def add_job(connection: sqlite3.Connection, document: Document, label: str) -> int:
    """Store a document as a new job, once it has been checked. Raises BadJob."""
    with transaction(connection):
        return insert_job(connection, document, label)


def insert_job(connection: sqlite3.Connection, document: Document, label: str) -> int:
    """The same inside a transaction that is going on."""
    document = with_piece_ids(document)
    job = read_job(document)
    return jobs.insert_job(connection, job.title, dump(document), label, now(), actor())


def export_job(connection: sqlite3.Connection, job_id: int) -> str:
    """The job file of the revision in force."""
    return json.dumps(json.loads(require_head(connection, job_id).document), ensure_ascii=False, indent=2) + "\n"


def list_jobs(connection: sqlite3.Connection, deleted: bool = False) -> list[jobs.JobRow]:
    """The jobs, last changed first; or the deleted ones."""
    return jobs.list_jobs(connection, deleted)


def copy_job(connection: sqlite3.Connection, job_id: int) -> int:
    document = json.loads(require_head(connection, job_id).document)
    document["title"] = f"{document['title'][: LONGEST_NAME - 7]} (copy)"
    return add_job(connection, document, "Copied")


def rename_job(connection: sqlite3.Connection, job_id: int, title: str) -> None:
    """Give a job another title, as a new revision. Raises BadInput."""
    title = read_title(title)
    with transaction(connection):
        head = require_head(connection, job_id)
        document = json.loads(head.document) | {"title": title}
        if title != head.title:
            jobs.insert_revision(connection, job_id, title, dump(document), "Renamed", now(), actor())


def delete_job(connection: sqlite3.Connection, job_id: int) -> jobs.JobRow:
    """Delete a job; `restore_job` brings it back."""
    with transaction(connection):
        row = require_job(connection, job_id)
        jobs.set_deleted(connection, job_id, now())
    return row


def restore_job(connection: sqlite3.Connection, job_id: int) -> None:
    with transaction(connection):
        require_job(connection, job_id)
        jobs.set_deleted(connection, job_id, None)


def gone_on(row: jobs.JobRow) -> str:
    """When a deleted job is taken out for good, as UTC ISO text."""
    return (datetime.fromisoformat(row.deleted_at or row.changed_at) + timedelta(days=KEPT_DAYS)).isoformat()


def purge(connection: sqlite3.Connection, folder: Path, before: datetime) -> None:
    """Take out for good what was deleted before a moment, with its photos."""
    for row in jobs.list_jobs(connection, deleted=True):
        if row.deleted_at and datetime.fromisoformat(row.deleted_at) < before:
            files = photos.files_of(connection, row.id)
            with transaction(connection):
                jobs.drop_job(connection, row.id)
            for file in files:
                (folder / file).unlink(missing_ok=True)


def require_kept(connection: sqlite3.Connection, job_id: int) -> jobs.JobRow:
    """A job that is there and not deleted. Raises NotFound."""
    row = require_job(connection, job_id)
    if row.deleted_at:
        raise NotFound(f"“{row.title}” was deleted. Restore it from Jobs.")
    return row


def require_job(connection: sqlite3.Connection, job_id: int) -> jobs.JobRow:
    row = jobs.find_job(connection, job_id)
    if row is None:
        raise NotFound("There is no such job.")
    return row


def require_head(connection: sqlite3.Connection, job_id: int) -> jobs.Revision:
    revision = jobs.head_revision(connection, job_id)
    if revision is None:
        raise NotFound("There is no such job.")
    return revision
