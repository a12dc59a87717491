"""What stale pages tried to save."""

import sqlite3
from dataclasses import dataclass


@dataclass(frozen=True)
class Refused:
    """A whole document that was refused since its page showed revision `base`, which was no longer the head."""

    id: int
    job_id: int
    base: int
    document: str
    label: str
    made_at: str
    settled_at: str | None


def insert_refused(connection: sqlite3.Connection, job_id: int, base: int, document: str, label: str, now: str) -> int:
    cursor = connection.execute(
        """insert into refused (job_id, base, document, label, made_at)
           values (:job, :base, :document, :label, :now)""",
        {"job": job_id, "base": base, "document": document, "label": label, "now": now},
    )
    return int(cursor.lastrowid or 0)


def find_refused(connection: sqlite3.Connection, job_id: int, refused_id: int) -> Refused | None:
    row = connection.execute(
        "select * from refused where id = :id and job_id = :job", {"id": refused_id, "job": job_id}
    ).fetchone()
    return Refused(**row) if row else None


def list_open(connection: sqlite3.Connection, job_id: int) -> list[Refused]:
    """Refused versions that nobody has settled yet, newest first."""
    rows = connection.execute(
        "select * from refused where job_id = :job and settled_at is null order by id desc", {"job": job_id}
    )
    return [Refused(**row) for row in rows]


def settle(connection: sqlite3.Connection, refused_id: int, now: str) -> None:
    connection.execute("update refused set settled_at = :now where id = :id", {"id": refused_id, "now": now})
