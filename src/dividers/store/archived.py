"""Rows of a job that go into its archive as they are, and come out of it again under another job."""

import sqlite3
import zlib
from collections.abc import Iterable, Iterator, Mapping
from typing import Any

from dividers.store.jobs import Revision, list_revisions

# By the name in the archive: the table, and its columns but for the job's own number.
PLAIN = {
    "ticks": ("mark_ticks", ("piece", "mark", "ticked_at")),
    "drafts": ("drafts", ("piece", "station", "typed", "faults")),
    "settled": ("settled_proposals", ("proposal", "taken", "settled_at")),
    "previews": ("previews", ("piece", "photo_id", "corners")),
    "refused": ("refused", ("base", "document", "label", "made_at", "settled_at")),
}
AT_ONCE = 100


def rows_of(connection: sqlite3.Connection, name: str, job_id: int) -> list[dict[str, Any]]:
    """All rows of a job of one of the PLAIN kinds, in a fixed order."""
    table, columns = PLAIN[name]
    query = f"select {', '.join(columns)} from {table} where job_id = ? order by {', '.join(columns)}"
    return [dict(row) for row in connection.execute(query, (job_id,))]


def insert_rows(connection: sqlite3.Connection, name: str, job_id: int, rows: Iterable[Mapping[str, Any]]) -> None:
    """Put rows of one of the PLAIN kinds to a job."""
    table, columns = PLAIN[name]
    query = f"insert into {table} (job_id, {', '.join(columns)}) values (?, {', '.join('?' * len(columns))})"
    connection.executemany(query, [(job_id, *(row.get(column) for column in columns)) for row in rows])


def newest_first(connection: sqlite3.Connection, job_id: int) -> Iterator[Revision]:
    """Every state of a job, read a few at a time."""
    before = 2**31
    while found := list_revisions(connection, job_id, before, AT_ONCE):
        yield from found
        before = found[-1].number


def replace_revisions(connection: sqlite3.Connection, job_id: int, states: Iterable[Revision], head: int) -> None:
    """Give a job these states, parents before their children, in place of the one that it came in with."""
    connection.execute("delete from revisions where job_id = ?", (job_id,))
    connection.executemany(
        """insert into revisions (job_id, number, parent, title, document, packed, label, made_at, made_by)
           values (?, ?, ?, ?, '', ?, ?, ?, ?)""",
        (
            (job_id, s.number, s.parent, s.title, zlib.compress(s.document.encode()), s.label, s.made_at, s.made_by)
            for s in states
        ),
    )
    connection.execute("update jobs set head = ? where id = ?", (head, job_id))
