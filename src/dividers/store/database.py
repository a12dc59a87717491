"""The one door to SQLite: how a connection is set up, and what a transaction is."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

BUSY_MS = 5000


def connect(path: Path | str) -> sqlite3.Connection:
    """Open a database file (or ``:memory:``) with foreign keys, WAL and rows by name. Transactions are explicit."""
    connection = sqlite3.connect(path, isolation_level=None)
    connection.row_factory = sqlite3.Row
    connection.execute("pragma foreign_keys = on")
    connection.execute("pragma journal_mode = wal")
    connection.execute("pragma synchronous = full")  # nothing acknowledged is lost when the machine stops
    connection.execute(f"pragma busy_timeout = {BUSY_MS}")
    return connection


@contextmanager
def transaction(connection: sqlite3.Connection) -> Iterator[sqlite3.Connection]:
    """Everything inside happens, or nothing."""
    connection.execute("begin immediate")
    try:
        yield connection
    except BaseException:
        connection.execute("rollback")
        raise
    connection.execute("commit")
