"""Opening the data folder: the database, brought up to date."""

import sqlite3
from pathlib import Path

from dividers.store.database import connect as connect
from dividers.store.migrate import migrate

DATABASE = "dividers.sqlite"


def open_data(folder: Path) -> sqlite3.Connection:
    """A connection to the database in a folder, made and migrated where needed. The caller closes it."""
    folder.mkdir(parents=True, exist_ok=True)
    connection = connect(folder / DATABASE)
    migrate(connection, backup_to=folder / "backups")
    return connection
