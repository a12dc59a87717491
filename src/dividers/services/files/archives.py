"""A whole job as one file, with its history, its logbook and its photos."""

import sqlite3
from dataclasses import asdict, dataclass
from pathlib import Path
from typing import Any

from dividers.core.job.document import free_key
from dividers.formats.archive import MOST_BYTES, write_archive
from dividers.formats.archive_history import ArchivedState, write_history
from dividers.formats.photos import looks_whole
from dividers.services.jobs import job_list
from dividers.services.jobs.editing import open_job
from dividers.store import archived, logbook, photos, wall_runs

ROOM_FOR_PHOTOS = MOST_BYTES - 50_000_000


@dataclass(frozen=True)
class Packed:
    """An archive with its file name, and in words what it doesn't hold."""

    name: str
    content: bytes
    left_out: tuple[str, ...]


def pack(connection: sqlite3.Connection, job_id: int, folder: Path) -> Packed:
    """A job with everything that belongs to it, as zip. The same job gives the same bytes. Raises NotFound."""
    opened = open_job(connection, job_id)
    pictures, kept, left_out = _pictures(connection, job_id, folder)
    history, older = write_history(_states(connection, job_id), opened.revision.number)
    if older:
        left_out.append(f"the oldest {older} states of the history, for which there is no room")
    book = {
        "format": "dividers-logbook/1",
        "findings": [
            _without(asdict(f), "id", "job_id") | {"photo_id": f.photo_id if f.photo_id in pictures else None}
            for f in logbook.list_findings(connection, job_id)
        ],
        "touch_ups": [_without(asdict(each), "id") for each in logbook.list_touch_ups(connection, job_id)],
        "sign_offs": [asdict(each) for each in logbook.list_sign_offs(connection, job_id)],
        "used": [_without(asdict(each), "id") for each in logbook.list_used(connection, job_id)],
        "measured": [_without(asdict(each), "id") for each in logbook.list_measured(connection, job_id)],
        "photos": [
            {"id": p.id, "file": f"{p.id}.jpg", "caption": p.caption, **({"edge": p.edge} if p.edge else {})}
            for p in pictures.values()
        ],
        "runs": [_run(connection, run) for run in wall_runs.list_runs(connection, job_id)[::-1]],
        **{name: archived.rows_of(connection, name, job_id) for name in archived.PLAIN if name != "previews"},
        "previews": [row for row in archived.rows_of(connection, "previews", job_id) if row["photo_id"] in pictures],
        "left_out": left_out,
    }
    content = write_archive(job_list.export_job(connection, job_id), book, history, kept)
    return Packed(f"{free_key(opened.job.title, set())}.zip", content, tuple(left_out))


def _pictures(
    connection: sqlite3.Connection, job_id: int, folder: Path
) -> tuple[dict[int, photos.Photo], dict[str, bytes], list[str]]:
    """The photos that are there and whole, what they hold by their names in the archive, and which others there are."""
    pictures: dict[int, photos.Photo] = {}
    kept: dict[str, bytes] = {}
    left_out: list[str] = []
    room = ROOM_FOR_PHOTOS
    for photo in photos.list_photos(connection, job_id):
        content, wrong = _picture(folder / photo.file, room)
        if wrong:
            left_out.append(f"{photo_words(photo.id, photo.caption)}: {wrong}")
            continue
        pictures[photo.id] = photo
        kept[f"{photo.id}.jpg"] = content
        room -= len(content)
    return pictures, kept, left_out


def _picture(path: Path, room: int) -> tuple[bytes, str]:
    try:
        content = path.read_bytes()
    except FileNotFoundError:
        return b"", "its file is missing"
    except OSError as fault:
        return b"", f"its file can't be read ({fault.strerror})"
    if not looks_whole(content):
        return b"", "its file is damaged"
    return content, "" if len(content) <= room else "no room for it is left in one archive"


def photo_words(number: int, caption: str) -> str:
    """A photo as it is named to a person."""
    return f"photo {number}" + (f" (“{caption}”)" if caption else "")


def _states(connection: sqlite3.Connection, job_id: int) -> Any:
    for each in archived.newest_first(connection, job_id):
        yield ArchivedState(**_without(asdict(each), "job_id"))


def _without(values: dict[str, Any], *names: str) -> dict[str, Any]:
    return {key: value for key, value in values.items() if key not in names}


def _run(connection: sqlite3.Connection, run: wall_runs.WallRun) -> dict[str, Any]:
    return _without(asdict(run), "id", "job_id") | {
        "events": [_without(asdict(event), "number") for event in wall_runs.list_events(connection, run.id)],
        "plans": [_without(asdict(plan), "number") for plan in wall_runs.list_plans(connection, run.id)],
    }
