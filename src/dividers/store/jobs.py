"""Jobs and their revisions."""

import sqlite3
import zlib
from dataclasses import dataclass


@dataclass(frozen=True)
class JobRow:
    id: int
    title: str
    head: int
    created_at: str
    changed_at: str
    deleted_at: str | None


@dataclass(frozen=True)
class Revision:
    """One state of a job; `document` is the job file's JSON text."""

    job_id: int
    number: int
    parent: int | None
    title: str
    document: str
    label: str
    made_at: str
    made_by: str


def unpacked(document: str, packed: bytes | None) -> str:
    """The text of a revision's document, however it is kept."""
    return document if packed is None else zlib.decompress(packed).decode()


def _revision(row: sqlite3.Row) -> Revision:
    values = dict(row)
    return Revision(**values | {"document": unpacked(values["document"], values.pop("packed"))})


def drop_job(connection: sqlite3.Connection, job_id: int) -> None:
    """Take a job out for good, with everything that belongs to it: for one that never quite came in, or was deleted long ago."""
    connection.execute("delete from jobs where id = :id", {"id": job_id})


def insert_job(connection: sqlite3.Connection, title: str, document: str, label: str, now: str, by: str) -> int:
    """A new job with its first revision, made by somebody; returns its id."""
    cursor = connection.execute("insert into jobs (head, created_at, changed_at) values (1, :now, :now)", {"now": now})
    job_id = int(cursor.lastrowid or 0)
    connection.execute(
        """insert into revisions (job_id, number, parent, title, document, packed, label, made_at, made_by)
           values (:job, 1, null, :title, '', :packed, :label, :now, :by)""",
        {"job": job_id, "title": title, "packed": zlib.compress(document.encode()), "label": label, "now": now, "by": by},
    )
    return job_id


def find_job(connection: sqlite3.Connection, job_id: int) -> JobRow | None:
    row = connection.execute(
        """select jobs.id, title, head, created_at, changed_at, deleted_at
           from jobs join revisions on job_id = jobs.id and number = head
           where jobs.id = :id""",
        {"id": job_id},
    ).fetchone()
    return JobRow(**row) if row else None


def list_jobs(connection: sqlite3.Connection, deleted: bool = False) -> list[JobRow]:
    """The jobs, last changed first; or the deleted ones."""
    rows = connection.execute(
        """select jobs.id, title, head, created_at, changed_at, deleted_at
           from jobs join revisions on job_id = jobs.id and number = head
           where (deleted_at is not null) = :deleted
           order by coalesce(deleted_at, changed_at) desc, jobs.id desc""",
        {"deleted": deleted},
    )
    return [JobRow(**row) for row in rows]


def set_deleted(connection: sqlite3.Connection, job_id: int, deleted_at: str | None) -> None:
    connection.execute("update jobs set deleted_at = :at where id = :id", {"at": deleted_at, "id": job_id})


def head_revision(connection: sqlite3.Connection, job_id: int) -> Revision | None:
    row = connection.execute(
        """select revisions.* from revisions join jobs on jobs.id = job_id and head = number where job_id = :id""",
        {"id": job_id},
    ).fetchone()
    return _revision(row) if row else None


def find_revision(connection: sqlite3.Connection, job_id: int, number: int) -> Revision | None:
    row = connection.execute(
        "select * from revisions where job_id = :id and number = :number", {"id": job_id, "number": number}
    ).fetchone()
    return _revision(row) if row else None


def list_revisions(connection: sqlite3.Connection, job_id: int, before: int, most: int) -> list[Revision]:
    """Revisions with lower numbers than one, the latest first."""
    rows = connection.execute(
        "select * from revisions where job_id = :id and number < :before order by number desc limit :most",
        {"id": job_id, "before": before, "most": most},
    )
    return [_revision(row) for row in rows]


def newest_child(connection: sqlite3.Connection, job_id: int, parent: int) -> int | None:
    """The latest revision made from one: what redo goes to."""
    (number,) = connection.execute(
        "select max(number) from revisions where job_id = :id and parent = :parent", {"id": job_id, "parent": parent}
    ).fetchone()
    return None if number is None else int(number)


def insert_revision(
    connection: sqlite3.Connection, job_id: int, title: str, document: str, label: str, now: str, by: str
) -> int:
    """A new revision made by somebody from the head, which it becomes; returns its number."""
    (number,) = connection.execute("select max(number) + 1 from revisions where job_id = :id", {"id": job_id}).fetchone()
    connection.execute(
        """insert into revisions (job_id, number, parent, title, document, packed, label, made_at, made_by)
           select id, :number, head, :title, '', :packed, :label, :now, :by from jobs where id = :id""",
        {
            "id": job_id,
            "number": number,
            "title": title,
            "packed": zlib.compress(document.encode()),
            "label": label,
            "now": now,
            "by": by,
        },
    )
    set_head(connection, job_id, number, now)
    return int(number)


def set_head(connection: sqlite3.Connection, job_id: int, number: int, now: str) -> None:
    connection.execute(
        "update jobs set head = :number, changed_at = :now where id = :id", {"id": job_id, "number": number, "now": now}
    )
