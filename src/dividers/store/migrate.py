"""Forward-only migrations: each numbered SQL file once, in one transaction, after a backup of what was there."""

import sqlite3
from importlib.resources import files
from pathlib import Path

from dividers.core.base.errors import DividersError


def migrations() -> list[tuple[int, str]]:
    """The migrations that ship with the program: (number, SQL), in order."""
    folder = files("dividers.store") / "migrations"
    found = [(int(entry.name[:4]), entry.read_text("utf-8")) for entry in folder.iterdir() if entry.name.endswith(".sql")]
    return sorted(found)


def migrate(connection: sqlite3.Connection, backup_to: Path | None = None) -> int:
    """Bring a database to the newest state and return its number. Raises DividersError for a database from a newer program.

    Each script begins, sets user_version and commits by itself, as `executescript` would commit an open transaction first.
    """
    (present,) = connection.execute("pragma user_version").fetchone()
    steps = migrations()
    newest = steps[-1][0]
    if present > newest:
        raise DividersError(
            f"This data was written by a newer version (state {present}; this program knows {newest}). Start the newer one."
        )
    for number, script in steps:
        if number > present:
            if present and backup_to:
                back_up(connection, backup_to / f"before-{number:04}.sqlite")
            connection.executescript(script)
    return newest


def back_up(connection: sqlite3.Connection, path: Path) -> None:
    """Copy a database that may be in use to a new file."""
    path.parent.mkdir(parents=True, exist_ok=True)
    target = sqlite3.connect(path)
    try:
        connection.backup(target)
    finally:
        target.close()
