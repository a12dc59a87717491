"""A job out of an archive, as a new one: checked whole before anything of it is kept; what can't be read of it is named."""

import json
import sqlite3
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, fields
from datetime import datetime
from pathlib import Path
from time import monotonic
from typing import Any, TypeVar
from uuid import uuid4

from dividers.core.base.errors import BadInput, DividersError
from dividers.core.job_file.as_begun import as_begun
from dividers.core.job_file.job_reader import parse_document, read_job
from dividers.formats.archive import Archive, read_archive
from dividers.formats.archive_history import document_of, read_history, unreadable
from dividers.formats.archive_logbook import check_logbook
from dividers.formats.photos import cleaned_each
from dividers.services import clock
from dividers.services.careful import SECONDS, carefully
from dividers.services.files.archives import photo_words
from dividers.services.jobs import job_list
from dividers.services.jobs.editing import faults_of, open_job
from dividers.services.jobs.evidence import counts
from dividers.services.jobs.planning import check_plans, job_of
from dividers.services.logbook.photo_edges import readable_edge
from dividers.services.logbook.proposals import proposals
from dividers.services.logbook.record import record_of
from dividers.services.private_files import put_private
from dividers.store import archived, jobs, logbook, photos, wall_runs
from dividers.store.database import transaction

T = TypeVar("T")
HISTORY_SECONDS = 200  # 20 ms for a state of a job of 20 pieces
PHOTOS_AT_ONCE = 16
PHOTOS_WITHIN_S = 180  # of all photos of an archive; one saved by this program takes about 20 s for 500


@dataclass(frozen=True)
class Brought:
    """The job that came in, and in words what of the archive did not."""

    job_id: int
    left_out: tuple[str, ...]


@dataclass(frozen=True)
class _Picture:
    """A photo that was kept: its number in the archive, its file, its size in dots, its caption."""

    number: int
    file: str
    size: tuple[int, int]
    caption: str
    edge: str = ""


def unpack(connection: sqlite3.Connection, content: bytes, folder: Path) -> Brought:
    """Import a job from an archive, as a new one. All that can be read of it, or nothing. Raises BadInput, BadJob."""
    archive = read_archive(content)
    book = archive.logbook
    check_logbook(book)
    document = job_list.read_import(archive.job)
    for run in book.get("runs", []):
        _check_run(run)
    head, states, left_out = _history(archive, document)
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    written: list[Path] = []
    try:
        pictures = _pictures(archive, folder, written, left_out)
        with transaction(connection):
            job_id = job_list.insert_job(connection, document, "Imported")
            if states:
                archived.replace_revisions(connection, job_id, states, head)
            places = _photos(connection, job_id, pictures)
            _rows(connection, job_id, book, places, {state.number for state in states} or {1})
            for run in book.get("runs", []):
                _bring_run(connection, job_id, run, {state.number for state in states})
            _read_back(connection, job_id, book)
    except BaseException as fault:
        for path in written:
            path.unlink(missing_ok=True)
        if isinstance(fault, (TypeError, ValueError, KeyError, IndexError, ArithmeticError, DividersError, sqlite3.Error)):
            raise BadInput("The logbook in this archive doesn't fit its job; nothing was imported.", "file") from fault
        raise
    return Brought(job_id, tuple(left_out))


def _check_run(run: Mapping[str, Any]) -> None:
    """A run's own job file is a job, and its times are times."""
    try:
        document = parse_document(run["document"].encode())
        check_plans(read_job(document))
        for moment in (run["start"], run["begun_at"], *(event["at"] for event in run["events"])):
            datetime.fromisoformat(moment)
    except (BadInput, ValueError) as fault:
        raise BadInput(f"A run at the wall in this archive can't be read ({fault}). Nothing was imported.", "file") from fault


def _history(archive: Archive, document: Mapping[str, Any]) -> tuple[int, list[jobs.Revision], list[str]]:
    """The number of the state in force, the states that can be read, and what can't; nothing where it is of another job."""
    if not archive.history:
        return 1, [], []
    bad = set(carefully(unreadable, archive.history, seconds=HISTORY_SECONDS))
    head, found, parts = read_history(archive.history)
    by_number = {state["number"]: state for state in found}
    if head in bad or parse_document(document_of(by_number[head], parts)) != document:
        return 1, [], ["the history, which is of another job"]
    states = []
    for state in found:
        if state["number"] not in bad:
            datetime.fromisoformat(state["made_at"])
            parent = state["parent"]
            while parent in bad or (parent is not None and parent not in by_number):
                parent = by_number[parent]["parent"] if parent in by_number else None
            text = document_of(state, parts)
            about = {key: state[key] for key in ("number", "title", "label", "made_at", "made_by")}
            states.append(jobs.Revision(job_id=0, parent=parent, document=text, **about))
    words = [f"{len(bad)} states of the history, which are no job (any more)"] if bad else []
    return head, states, words


def _pictures(archive: Archive, folder: Path, written: list[Path], left_out: list[str]) -> list[_Picture]:
    """Keep the photos under names of their own, noted in `written`; those that can't be read are named in `left_out`."""
    wanted = [row for row in archive.logbook.get("photos", []) if row["file"] in archive.photos]
    for row in archive.logbook.get("photos", []):
        if row["file"] not in archive.photos:
            left_out.append(f"{_words(row)}: it is not in the archive")
    until = monotonic() + PHOTOS_WITHIN_S
    kept = []
    for start in range(0, len(wanted), PHOTOS_AT_ONCE):
        rows = wanted[start : start + PHOTOS_AT_ONCE]
        for row, made in zip(rows, _cleaned([archive.photos[row["file"]] for row in rows], until), strict=True):
            if isinstance(made, str):
                left_out.append(f"{_words(row)}: {made}")
                continue
            picture, size = made
            file = f"{uuid4().hex}.jpg"
            written.append(folder / file)
            put_private(written[-1], picture)
            edge = str(row.get("edge") or "")
            if edge and not readable_edge(edge):
                left_out.append(f"{_words(row)}: what was measured of its edge can't be read")
                edge = ""
            kept.append(_Picture(row["id"], file, size, str(row.get("caption", ""))[:200], edge))
    return kept


def _words(row: Mapping[str, Any]) -> str:
    return photo_words(row["id"], str(row.get("caption", ""))[:200])


def _cleaned(contents: list[bytes], until: float) -> Iterator[tuple[bytes, tuple[int, int]] | str]:
    """Photos cleaned, or what is wrong with each; one that breaks the reading of several is found by reading each alone."""
    if monotonic() > until:
        yield from ["the photos of this archive take too long to read"] * len(contents)
        return
    try:
        yield from carefully(cleaned_each, contents, seconds=SECONDS if len(contents) == 1 else 2 * SECONDS)
    except BadInput as fault:
        if len(contents) == 1:
            yield fault.message
            return
        for content in contents:
            yield from _cleaned([content], until)


def _photos(connection: sqlite3.Connection, job_id: int, pictures: list[_Picture]) -> dict[int, int]:
    """Enter the photos; where each old number went."""
    now = clock.now()
    found = {each.number: photos.insert_photo(connection, job_id, each.file, each.size, each.caption, now) for each in pictures}
    for each in pictures:
        if each.edge:
            photos.put_edge(connection, found[each.number], each.edge)
    return found


def _rows(
    connection: sqlite3.Connection, job_id: int, book: Mapping[str, Any], places: Mapping[int, int], states: set[int]
) -> None:
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
    for name in ("ticks", "drafts", "settled"):
        archived.insert_rows(connection, name, job_id, book.get(name, []))
    previews = [row | {"photo_id": places[row["photo_id"]]} for row in book.get("previews", []) if row["photo_id"] in places]
    archived.insert_rows(connection, "previews", job_id, previews)
    refused = [row for row in book.get("refused", []) if row["base"] in states and job_of(row["document"])]
    archived.insert_rows(connection, "refused", job_id, refused)


def _made(kind: type[T], row: Mapping[str, Any]) -> T:
    """A row as a class; keys that it doesn't know are left out, missing ones are an error."""
    names = {field.name for field in fields(kind)}  # type: ignore[arg-type]
    return kind(**{name: value for name, value in row.items() if name in names})


def _bring_run(connection: sqlite3.Connection, job_id: int, row: Mapping[str, Any], states: set[int]) -> None:
    """A run as it was; one that was going on is closed, as its clocks belong to where it was begun."""
    revision = row.get("revision", 1)
    run_id = wall_runs.insert_run(
        connection,
        job_id,
        revision if revision in states else 1,
        as_begun(str(row["document"])),
        str(row["start"]),
        str(row["begun_at"]),
    )
    for event in _made_all(wall_runs.EventRow, row.get("events", [])):
        wall_runs.insert_event(connection, run_id, event)
    for plan in _made_all(wall_runs.PlanRow, row.get("plans", [])):
        wall_runs.insert_plan(connection, run_id, plan.events, plan.said, plan.plan, plan.made_at)
    wall_runs.end_run(connection, run_id, str(row.get("ended_at") or clock.now()))


def _made_all(kind: type[T], rows: Iterable[Mapping[str, Any]]) -> list[T]:
    return [_made(kind, {"number": 0, **row}) for row in rows]


def _read_back(connection: sqlite3.Connection, job_id: int, book: Mapping[str, Any]) -> None:
    """What is kept can be shown."""
    record_of(connection, job_id)
    proposals(connection, job_id)
    counts(connection)
    keys = {piece.key for piece in open_job(connection, job_id).job.pieces}
    for draft in book.get("drafts", []):
        if draft["piece"] in keys:
            faults_of(connection, job_id, draft["piece"], json.loads(draft["typed"]))
