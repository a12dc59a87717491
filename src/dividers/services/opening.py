"""Opening the data folder: the database, brought up to date."""

import errno
import sqlite3
from pathlib import Path

from dividers.core.base.errors import DividersError
from dividers.core.job_file.as_begun import as_begun
from dividers.services import clock, hashing, time_zone
from dividers.services.one_at_a_time import alone
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
    try:
        folder.mkdir(parents=True, exist_ok=True)
        _check_not_emptied(folder)
        with alone(folder, "migrating", wait=True):
            connection = connect(folder / DATABASE)
            try:
                migrate(connection, backup_to=folder / "backups")
                _keep_choices(connection)
                _hash_old_token(connection)
                time_zone.load(connection)
                (folder / DATABASE).chmod(0o600)  # of nobody else's business
            except BaseException:
                connection.close()
                raise
    except (OSError, sqlite3.Error) as fault:
        raise DividersError(_said(fault, folder)) from fault
    return connection


def _check_not_emptied(folder: Path) -> None:
    """A database that was emptied isn't begun anew while there are copies of it."""
    file = folder / DATABASE
    copies = [path for kind in ("*.sqlite", "*.zip") for path in (folder / "backups").glob(kind)]
    if file.exists() and file.stat().st_size == 0 and copies:
        raise DividersError(
            f"{file} is empty, but there are copies of it. With Dividers stopped, put the newest in its place: "
            f"dividers restore {max(copies, key=_age)} --data {folder}  To begin anew, remove the empty file."
        )


def _age(path: Path) -> float:
    return path.stat().st_mtime


def _said(fault: OSError | sqlite3.Error, folder: Path) -> str:
    """What went wrong when a folder was opened, and what to do."""
    text = str(fault).lower()
    if "full" in text or getattr(fault, "errno", None) in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG):
        return f"There is no room left where {folder} lies. Make room, then start again: nothing was lost."
    if "not a database" in text or "malformed" in text:
        return (
            f"The database in {folder} is damaged ({fault}). Its copies of the last days are in {folder / 'backups'}: with Dividers stopped, "
            f"put one in its place: dividers restore FILE --data {folder}  What is there now is kept."
        )
    if isinstance(fault, OSError) or "readonly" in text or "unable to open" in text:
        return f"{folder} can't be written ({fault}). Let this user write there, or choose other data with --data."
    return f"The database in {folder} can't be opened ({fault}). dividers check --data {folder} looks closer."
