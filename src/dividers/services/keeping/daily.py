"""What is done once a day while the program runs: a copy of the database, and emptying the bin of what was deleted long ago."""

import sqlite3
from contextlib import closing
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from dividers.core.base.errors import DividersError
from dividers.services import clock
from dividers.services.jobs.job_list import KEPT_DAYS, purge
from dividers.services.opening import DATABASE, open_data
from dividers.store.migrate import back_up

COPIES_KEPT = 14
WARN_AFTER = timedelta(days=7)
COPY = "day-????-??-??.sqlite"


@dataclass(frozen=True)
class LastCopy:
    """When the database was copied last, as UTC ISO text, "" for never; and what went wrong at the last try, "" for nothing."""

    at: str
    failed: str

    @property
    def overdue(self) -> bool:
        return bool(self.at) and clock.moment() - datetime.fromisoformat(self.at) > WARN_AFTER


_failed: dict[Path, str] = {}


def last_copy(folder: Path) -> LastCopy:
    made = [path.stat().st_mtime for path in (folder / "backups").glob(COPY)]
    return LastCopy(datetime.fromtimestamp(max(made), UTC).isoformat() if made else "", _failed.get(folder, ""))


def do_daily(folder: Path) -> bool:
    """Do what is due today, once; whether anything was done. A copy that fails is said on the page Jobs."""
    target = folder / "backups" / f"day-{clock.moment():%Y-%m-%d}.sqlite"
    if target.exists():
        return False
    try:
        with closing(open_data(folder)) as connection:
            purge(connection, folder / "photos", clock.moment() - timedelta(days=KEPT_DAYS))
        made = target.with_suffix(".new")
        made.unlink(missing_ok=True)
        with closing(sqlite3.connect(folder / DATABASE)) as connection:
            back_up(connection, made)
        made.chmod(0o600)
        made.replace(target)
        for old in sorted((folder / "backups").glob(COPY))[:-COPIES_KEPT]:
            old.unlink()
    except (OSError, sqlite3.Error, DividersError) as fault:
        _failed[folder] = str(fault)
        return False
    _failed.pop(folder, None)
    return True
