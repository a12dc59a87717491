"""A whole job as one file, with its logbook and photos: exported, and imported again."""

import sqlite3
from collections.abc import Iterable, Mapping
from dataclasses import asdict, fields
from datetime import datetime
from pathlib import Path
from typing import Any, TypeVar
from uuid import uuid4

from dividers.core.base.errors import BadInput, DividersError
from dividers.core.job.document import free_key
from dividers.core.job_file.as_begun import as_begun
from dividers.core.job_file.job_reader import parse_document, read_job
from dividers.formats.archive import read_archive, write_archive
from dividers.formats.archive_logbook import check_logbook
from dividers.formats.photos import cleaned
from dividers.services import clock
from dividers.services.careful import carefully
from dividers.services.jobs import job_list
from dividers.services.jobs.editing import open_job
from dividers.services.jobs.evidence import counts
from dividers.services.jobs.planning import check_plans
from dividers.services.logbook.proposals import proposals
from dividers.services.logbook.record import record_of
from dividers.services.private_files import put_private
from dividers.store import logbook, photos, wall_runs
from dividers.store.database import transaction

T = TypeVar("T")


def pack(connection: sqlite3.Connection, job_id: int, folder: Path) -> tuple[str, bytes]:
    """A job with everything that belongs to it: (file name, zip)."""
    opened = open_job(connection, job_id)
    pictures = {photo.id: photo for photo in photos.list_photos(connection, job_id) if (folder / photo.file).is_file()}
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
        "photos": [{"id": p.id, "file": f"{p.id}.jpg", "caption": p.caption} for p in pictures.values()],
        "runs": [_run(connection, run) for run in wall_runs.list_runs(connection, job_id)[::-1]],
    }
    content = write_archive(
        job_list.export_job(connection, job_id),
        book,
        {f"{p.id}.jpg": (folder / p.file).read_bytes() for p in pictures.values()},
    )
    return f"{free_key(opened.job.title, set())}.zip", content


def _without(values: dict[str, Any], *names: str) -> dict[str, Any]:
    return {key: value for key, value in values.items() if key not in names}


def _run(connection: sqlite3.Connection, run: wall_runs.WallRun) -> dict[str, Any]:
    return _without(asdict(run), "id", "job_id") | {
        "events": [_without(asdict(event), "number") for event in wall_runs.list_events(connection, run.id)],
        "plans": [_without(asdict(plan), "number") for plan in wall_runs.list_plans(connection, run.id)],
    }


def unpack(connection: sqlite3.Connection, content: bytes, folder: Path) -> int:
    """Import a job from an archive, as a new one; its id. All of it or nothing. Raises BadInput, BadJob."""
    job, book, pictures = read_archive(content)
    check_logbook(book)
    document = job_list.read_import(job)
    for run in book.get("runs", []):
        _check_run(run)
    kept = {name: carefully(cleaned, picture) for name, picture in pictures.items() if _wanted(book, name)}
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    written: list[Path] = []
    try:
        with transaction(connection):
            job_id = job_list.insert_job(connection, document, "Imported")
            places = _photos(connection, job_id, book, kept, folder, written)
            _rows(connection, job_id, book, places)
            for run in book.get("runs", []):
                _bring_run(connection, job_id, run)
            record_of(connection, job_id)  # what is kept can be shown
            proposals(connection, job_id)
            counts(connection)
    except BaseException as fault:
        for path in written:
            path.unlink(missing_ok=True)
        if isinstance(fault, (TypeError, ValueError, KeyError, ArithmeticError, DividersError, sqlite3.Error)):
            raise BadInput("The logbook in this archive doesn't fit its job; nothing was imported.", "file") from fault
        raise
    return job_id


def _check_run(run: Mapping[str, Any]) -> None:
    """A run's own job file is a job, and its times are times."""
    try:
        document = parse_document(run["document"].encode())
        check_plans(read_job(document))
        for moment in (run["start"], run["begun_at"], *(event["at"] for event in run["events"])):
            datetime.fromisoformat(moment)
    except (BadInput, ValueError) as fault:
        raise BadInput(f"A run at the wall in this archive can't be read ({fault}). Nothing was imported.", "file") from fault


def _wanted(book: Mapping[str, Any], name: str) -> bool:
    return any(photo.get("file") == name for photo in book.get("photos", []))


def _photos(
    connection: sqlite3.Connection,
    job_id: int,
    book: Mapping[str, Any],
    kept: Mapping[str, tuple[bytes, tuple[int, int]]],
    folder: Path,
    written: list[Path],
) -> dict[int, int]:
    """Keep the photos under names of their own, noted in `written`; where each old number went."""
    places: dict[int, int] = {}
    for photo in book.get("photos", []):
        if photo["file"] in kept:
            content, size = kept[photo["file"]]
            file = f"{uuid4().hex}.jpg"
            written.append(folder / file)
            put_private(written[-1], content)
            places[int(photo["id"])] = photos.insert_photo(
                connection, job_id, file, size, str(photo.get("caption", ""))[:200], clock.now()
            )
    return places


def _rows(connection: sqlite3.Connection, job_id: int, book: Mapping[str, Any], places: Mapping[int, int]) -> None:
    for row in book.get("findings", []):
        finding = _made(logbook.Finding, row | {"job_id": job_id, "photo_id": places.get(row.get("photo_id") or 0)})
        logbook.insert_finding(connection, finding)
    for row in book.get("touch_ups", []):
        touch_up = _made(logbook.TouchUp, row | {"id": 0})
        number = logbook.insert_touch_up(connection, job_id, touch_up)
        logbook.settle_touch_up(connection, job_id, number, touch_up.done_at, touch_up.minutes)
    for row in book.get("sign_offs", []):
        logbook.put_sign_off(connection, job_id, _made(logbook.SignOff, row))
    for row in book.get("used", []):
        logbook.insert_used(connection, job_id, _made(logbook.Used, row | {"id": 0}))
    for row in book.get("measured", []):
        logbook.insert_measured(connection, job_id, _made(logbook.MeasuredTape, row | {"id": 0}))


def _made(kind: type[T], row: Mapping[str, Any]) -> T:
    """A row as a class; keys that it doesn't know are left out, missing ones are an error."""
    names = {field.name for field in fields(kind)}  # type: ignore[arg-type]
    return kind(**{name: value for name, value in row.items() if name in names})


def _bring_run(connection: sqlite3.Connection, job_id: int, row: Mapping[str, Any]) -> None:
    """A run as it was; one that was going on is closed, as its clocks belong to where it was begun."""
    run_id = wall_runs.insert_run(
        connection, job_id, 1, as_begun(str(row["document"])), str(row["start"]), str(row["begun_at"])
    )
    for event in _made_all(wall_runs.EventRow, row.get("events", [])):
        wall_runs.insert_event(connection, run_id, event)
    for plan in _made_all(wall_runs.PlanRow, row.get("plans", [])):
        wall_runs.insert_plan(connection, run_id, plan.events, plan.said, plan.plan, plan.made_at)
    wall_runs.end_run(connection, run_id, str(row.get("ended_at") or clock.now()))


def _made_all(kind: type[T], rows: Iterable[Mapping[str, Any]]) -> list[T]:
    return [_made(kind, {"number": 0, **row}) for row in rows]
