"""Opening the data folder: the database, brought up to date."""

import sqlite3
from pathlib import Path

from dividers.core.job_file.as_begun import as_begun
from dividers.services import clock, hashing, time_zone
from dividers.store import devices, wall_runs
from dividers.store.database import connect as connect
from dividers.store.database import transaction
from dividers.store.migrate import migrate

DATABASE = "dividers.sqlite"


def _keep_choices(connection: sqlite3.Connection) -> None:
    """Runs begun by an earlier version keep its choices. Nothing is written where there are none."""
    earlier = wall_runs.documents_without(connection, "as_of")
    if not earlier:
        return
    with transaction(connection):
        for run_id, text in earlier:
            wall_runs.keep_document(connection, run_id, as_begun(text))


def _hash_old_token(connection: sqlite3.Connection) -> None:
    """Hash a device token that an earlier version kept as it was."""
    known = devices.find_token(connection)
    if known and len(known) != hashing.DIGITS:
        with transaction(connection):
            devices.put_token(connection, hashing.hashed(known), clock.now())


def open_data(folder: Path) -> sqlite3.Connection:
    """A connection to the database in a folder, made and migrated where needed. The caller closes it."""
    folder.mkdir(parents=True, exist_ok=True)
    connection = connect(folder / DATABASE)
    migrate(connection, backup_to=folder / "backups")
    _keep_choices(connection)
    _hash_old_token(connection)
    time_zone.load(connection)
    (folder / DATABASE).chmod(0o600)  # of nobody else's business
    return connection
