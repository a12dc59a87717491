"""Whether what is kept is sound: the database as SQLite sees it, every job as it is read, every photo with its row."""

import json
import sqlite3
import zlib
from contextlib import closing
from pathlib import Path

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.services.opening import DATABASE
from dividers.store.jobs import unpacked

MOST_NAMED = 20


def faults_in(folder: Path) -> list[str]:
    """What is wrong in a data folder, each in a sentence; nothing is changed."""
    if not (folder / DATABASE).is_file():
        return [f"{folder} holds no {DATABASE}."]
    try:
        with closing(sqlite3.connect(f"file:{folder / DATABASE}?mode=ro", uri=True)) as connection:
            connection.row_factory = sqlite3.Row
            faults = _database_faults(connection)
            return faults or [*_job_faults(connection), *_photo_faults(connection, folder)]
    except sqlite3.Error as fault:
        return [f"The database can't be read ({fault})."]


def damage_in(folder: Path) -> list[str]:
    """What is wrong with the database itself."""
    try:
        with closing(sqlite3.connect(f"file:{folder / DATABASE}?mode=ro", uri=True)) as connection:
            return _database_faults(connection)
    except sqlite3.Error as fault:
        return [f"The database can't be read ({fault})."]


def set_loose_aside(folder: Path) -> int:
    """Move photos that belong to nothing out of the way: what a save left that was cut off. Only while no server runs; how many."""
    with closing(sqlite3.connect(folder / DATABASE)) as connection:
        named = {str(file) for (file,) in connection.execute("select file from photos")}
    loose = [path for path in (folder / "photos").glob("*") if path.is_file() and path.name not in named]
    for path in loose:
        aside = folder / "backups" / "loose-photos"
        aside.mkdir(parents=True, exist_ok=True)
        path.replace(aside / path.name)
    return len(loose)


def _database_faults(connection: sqlite3.Connection) -> list[str]:
    said = [str(row[0]) for row in connection.execute(f"pragma integrity_check({MOST_NAMED})")]
    if said != ["ok"]:
        return [f"The database is damaged: {each}." for each in said]
    loose = connection.execute("pragma foreign_key_check").fetchmany(MOST_NAMED)
    return [f"A row of {row[0]} belongs to nothing in {row[2]}." for row in loose]


def _job_faults(connection: sqlite3.Connection) -> list[str]:
    faults = []
    rows = connection.execute(
        "select jobs.id, title, document, packed from jobs join revisions on job_id = jobs.id and number = head"
    )
    for row in rows:
        try:
            read_job(json.loads(unpacked(row["document"], row["packed"])))
        except (BadJob, ValueError, zlib.error) as bad:
            faults.append(f"Job {row['id']}, “{row['title']}”, can't be read: {bad}")
    return faults[:MOST_NAMED]


def _photo_faults(connection: sqlite3.Connection, folder: Path) -> list[str]:
    named = {str(row["file"]) for row in connection.execute("select file from photos")}
    there = {path.name for path in (folder / "photos").glob("*") if path.is_file()}
    missing = [f"The file of a photo is missing: photos/{name}." for name in sorted(named - there)]
    loose = [f"A photo belongs to nothing: photos/{name}." for name in sorted(there - named)]
    return [*missing, *loose][:MOST_NAMED]
