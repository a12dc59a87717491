"""Changing a job: its pieces, its units; undo and redo; refusing stale pages without losing what they hold."""

import copy
import json
import re
import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from dividers.core.base.errors import BadInput, BadJob, Conflict, Fault, NotFound
from dividers.core.base.lengths import write_kept
from dividers.core.base.units import JOB_UNITS
from dividers.core.job.document import Document, changed, differences, free_key, look_up, put
from dividers.core.job.model import Job, Piece
from dividers.core.job.reader import LONGEST_NAME, Findings, Reader
from dividers.core.job_file.curve_reader import CURVE
from dividers.core.job_file.outline_reader import size_by_outline
from dividers.core.job_file.unit_change import in_units
from dividers.core.survey.kept_readings import keep_stories, rows_as_objects
from dividers.services.actor import actor
from dividers.services.clock import now
from dividers.services.jobs.job_list import dump, require_head, require_kept
from dividers.services.jobs.layer_view import as_lifted, lifted, lowered
from dividers.services.jobs.planning import job_of, piece_plan
from dividers.store import drafts, jobs, refused
from dividers.store.database import transaction


@dataclass(frozen=True)
class Opened:
    """A job as a page shows it: its head revision, read; and what undo, redo and refused versions there are."""

    revision: jobs.Revision
    job: Job
    undo_label: str | None
    redo_label: str | None
    refused: tuple[refused.Refused, ...]

    @property
    def id(self) -> int:
        return self.revision.job_id

    @property
    def document(self) -> Document:
        return dict(self.job.document)

    def piece(self, key: str) -> Piece:
        piece = self.job.piece(key)
        if piece is None:
            raise NotFound("This job has no such piece. It may have been deleted or renamed.")
        return piece

    def piece_number(self, key: str) -> int:
        return self.job.pieces.index(self.piece(key))


def open_job(connection: sqlite3.Connection, job_id: int) -> Opened:
    """Read a job. Raises NotFound, also for a deleted one."""
    require_kept(connection, job_id)
    head = require_head(connection, job_id)
    return Opened(
        revision=head,
        job=job_of(head.document),
        undo_label=head.label if head.parent else None,
        redo_label=_redo_label(connection, job_id, head.number),
        refused=tuple(refused.list_open(connection, job_id)),
    )


def _redo_label(connection: sqlite3.Connection, job_id: int, number: int) -> str | None:
    child = jobs.newest_child(connection, job_id, number)
    found = jobs.find_revision(connection, job_id, child) if child is not None else None
    return found.label if found else None


def made_and_changed_at(connection: sqlite3.Connection, job_id: int) -> tuple[datetime, datetime]:
    """When a job was begun and when it was last changed, in UTC; undoing is a change. Raises NotFound."""
    row = jobs.find_job(connection, job_id)
    if row is None:
        raise NotFound("There is no such job.")
    return datetime.fromisoformat(row.created_at), datetime.fromisoformat(row.changed_at)


def change(
    connection: sqlite3.Connection,
    job_id: int,
    base: int | None,
    label: str,
    edit: Callable[[Document], Document],
    piece_key: str = "",
) -> None:
    """Make a new revision with `edit`. Nothing happens when it changes nothing.

    `base` is the revision that the page showed, None for a change that no page showed anything for. Raises BadJob or BadInput when the result is not valid, and Conflict, with
    what was to be saved kept, when the head is another one by now.
    """
    refused_id = None
    with transaction(connection):
        head = require_head(connection, job_id)
        document = json.loads(head.document)
        edited = edit(document)
        if dump(edited) == dump(document):  # an order counts too
            return
        shown = None if base is None or head.number == base else jobs.find_revision(connection, job_id, base)
        if shown and dump(edit(json.loads(shown.document))) == dump(json.loads(shown.document)):
            return  # sent by leaving a field while an undo was on its way: it wanted nothing that its page didn't show
        keep_stories(document, edited, now()[:16])
        text = dump(edited)
        job = job_of(text)
        if piece_key and job.piece(piece_key):
            piece_plan(text, piece_key)
        if base is None or head.number == base:
            jobs.insert_revision(connection, job_id, job.title, text, label, now(), actor())
        else:
            stale = dump(edit(json.loads(shown.document))) if shown else text  # its edit on what it showed
            refused_id = refused.insert_refused(connection, job_id, base, stale, label, now())
    if refused_id is not None:
        raise Conflict(job_id, refused_id)


def edit_piece(
    connection: sqlite3.Connection,
    job_id: int,
    piece_key: str,
    station: str,
    base: int,
    changes: Mapping[str, Any],
    typed: Mapping[str, Any],
    then: Callable[[Document, str], None] | None = None,
    layer: int = 0,
) -> None:
    """Change values of a piece by path, or of the job where the path starts with a slash; `then` may change more in place.

    `then` gets the document and the path of the piece. Where the piece has layers, its pattern is that of layer number `layer` (from 0).
    When the result is not valid, what was typed is kept as a draft of that station and BadJob raised.
    """

    def edit(document: Document) -> Document:
        number = number_of(document, piece_key)
        edited = apply(lifted(document, number, layer), piece_key, changes)
        if then:
            then(edited, f"pieces.{number}")
        return lowered(edited, number, layer)

    try:
        change(connection, job_id, base, f"{station.capitalize()} changed", edit, piece_key)
    except BadJob as bad:
        with transaction(connection):
            wrong = " ".join(dict.fromkeys(fault.message for fault in bad.faults))
            drafts.put_draft(connection, job_id, piece_key, station, json.dumps(typed), wrong)
        number = number_of(json.loads(require_head(connection, job_id).document), piece_key)
        raise BadJob(as_lifted(bad.faults, number, layer)) from bad
    drop_draft(connection, job_id, piece_key, station)


def apply(document: Document, piece_key: str, changes: Mapping[str, Any]) -> Document:
    """A copy of a document with changes made to one piece, or to the job where the path starts with a slash.

    A panel that gets another name gets it in the folds too.
    """
    number = number_of(document, piece_key)
    if any(".survey." in path for path in changes):
        document = copy.deepcopy(document)
        for panel in look_up(document, f"pieces.{number}.surface.panels"):
            rows_as_objects(panel)
    panels = f"pieces.{number}.surface.panels"
    edited = changed(document, {p[1:] if p.startswith("/") else f"pieces.{number}.{p}": v for p, v in changes.items()})
    renamed = {
        str(look_up(document, f"pieces.{number}.{path}")): str(name)
        for path, name in changes.items()
        if re.fullmatch(r"surface\.panels\.[0-9]+\.name", path)
    }
    for before, panel in zip(look_up(document, panels) or [], look_up(edited, panels) or [], strict=False):
        _without_empty_curve(before, panel, document["units"])
        size_by_outline(before, panel, document["units"])
    folds = look_up(edited, f"pieces.{number}.surface.folds")
    if renamed and isinstance(folds, list):
        put(edited, f"pieces.{number}.surface.folds", [[renamed.get(part, part) for part in fold] for fold in folds])
    return edited


def _without_empty_curve(before: Any, panel: Any, units: str) -> None:
    """A curved front whose curve was emptied is flat again: as wide as it says, or else as it was along the curve."""
    if not isinstance(panel, dict) or not isinstance(panel.get("curve"), dict) or any(panel["curve"].values()):
        return
    del panel["curve"]
    curve = look_up(before, "curve") or {}
    if "width" not in panel and curve:
        along = CURVE.read_in(Reader(curve, "", Findings(units, {})))
        if along:
            panel["width"] = write_kept(along, units)


def find_draft(connection: sqlite3.Connection, job_id: int, piece_key: str, station: str) -> dict[str, Any] | None:
    """What was typed at a station and couldn't be taken."""
    typed = drafts.find_draft(connection, job_id, piece_key, station)
    return json.loads(typed) if typed else None


@dataclass(frozen=True)
class NotTaken:
    """The last change of a station that is not valid: every figure elsewhere is of the job before it."""

    piece: str
    piece_name: str
    station: str
    wrong: str

    @property
    def words(self) -> str:
        where = f"{self.station.capitalize()} ({self.piece_name})"
        return f"The last change of {where} was not taken: {self.wrong} What you see here is of before it."


def not_taken(connection: sqlite3.Connection, job_id: int) -> list[NotTaken]:
    """The changes of a job that were typed and couldn't be taken."""
    names = {piece.key: piece.name for piece in open_job(connection, job_id).job.pieces}
    found = drafts.list_drafts(connection, job_id)
    return [NotTaken(piece, names[piece], station, wrong) for piece, station, wrong in found if piece in names]


def drop_draft(connection: sqlite3.Connection, job_id: int, piece_key: str, station: str) -> None:
    if drafts.find_draft(connection, job_id, piece_key, station) is not None:
        with transaction(connection):
            drafts.drop_draft(connection, job_id, piece_key, station)


def number_of(document: Document, piece_key: str) -> int:
    for number, piece in enumerate(document["pieces"]):
        if piece.get("id") == piece_key:
            return number
    raise NotFound("This job has no such piece. It may have been deleted or renamed.")


def faults_of(
    connection: sqlite3.Connection, job_id: int, piece_key: str, changes: Mapping[str, Any], layer: int = 0
) -> tuple[Fault, ...]:
    """What is wrong with changes that were kept as a draft."""
    document = json.loads(require_head(connection, job_id).document)
    number = number_of(document, piece_key)
    try:
        text = dump(lowered(apply(lifted(document, number, layer), piece_key, changes), number, layer))
        job_of(text)
        piece_plan(text, piece_key)
    except BadJob as bad:
        return as_lifted(bad.faults, number, layer)
    except BadInput as bad:
        return (Fault(bad.path, bad.message),)
    return ()


def add_piece(
    connection: sqlite3.Connection, job_id: int, base: int, piece: Mapping[str, Any], products: Mapping[str, Any] | None = None
) -> str:
    """Add a piece at the end, and to the job the products it needs; returns its key. Raises BadInput."""
    name = _read_name(str(piece["name"]))
    made: list[str] = []

    def edit(document: Document) -> Document:
        _check_free(document, name)
        edited = _with_piece(document, dict(piece) | {"name": name}, len(document["pieces"]), made)
        return edited | ({"products": dict(products)} if products else {})

    change(connection, job_id, base, f"Added {name}", edit)
    return made[-1]


def copy_piece(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str) -> str:
    """Put a copy of a piece behind it; returns its key."""
    made: list[str] = []

    def edit(document: Document) -> Document:
        number = number_of(document, piece_key)
        piece = copy.deepcopy(document["pieces"][number])
        piece["name"] = _copy_name(piece["name"], {each["name"] for each in document["pieces"]})
        return _with_piece(document, piece, number + 1, made)

    change(connection, job_id, base, "Copied a piece", edit)
    return made[-1]


def _copy_name(name: str, taken: set[str]) -> str:
    """A free name for a copy."""
    stem = name[: LONGEST_NAME - 10]
    names = [f"{stem} (copy)", *(f"{stem} (copy {number})" for number in range(2, len(taken) + 3))]
    return next(each for each in names if each not in taken)


def _with_piece(document: Document, piece: dict[str, Any], at: int, made: list[str]) -> Document:
    pieces = list(document["pieces"])
    made.append(free_key(piece["name"], {p["id"] for p in pieces}))
    pieces.insert(at, piece | {"id": made[-1]})
    return document | {"pieces": pieces}


def _read_name(name: str) -> str:
    name = name.strip()
    if not 0 < len(name) <= LONGEST_NAME:
        raise BadInput(f"Give the piece a name of 1 to {LONGEST_NAME} characters; this has {len(name)}.", "name", name)
    return name


def rename_piece(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, name: str) -> None:
    name = _read_name(name)

    def edit(document: Document) -> Document:
        _check_free(document, name, piece_key)
        return changed(document, {f"pieces.{number_of(document, piece_key)}.name": name})

    change(connection, job_id, base, f"Renamed a piece to {name}", edit)


def _check_free(document: Document, name: str, piece_key: str = "") -> None:
    """Refuse a name that another piece has: at the wall it says which piece is meant."""
    if any(piece["name"] == name and piece.get("id") != piece_key for piece in document["pieces"]):
        raise BadInput(f"Another piece is called “{name}” already. Give this one another name.", "name", name)


def move_piece(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, by: int) -> None:
    """Move a piece one place up (-1) or down (+1) the list; at its end it stays."""

    def edit(document: Document) -> Document:
        pieces = list(document["pieces"])
        number = number_of(document, piece_key)
        if 0 <= number + by < len(pieces):
            pieces.insert(number + by, pieces.pop(number))
        return document | {"pieces": pieces}

    change(connection, job_id, base, "Moved a piece", edit)


def delete_piece(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str) -> None:
    """Take a piece out of the job (undo brings it back). Raises BadInput for the last one."""

    def edit(document: Document) -> Document:
        number = number_of(document, piece_key)
        if len(document["pieces"]) == 1:
            raise BadInput(
                "A job keeps at least one piece. Add another before you delete this one, or delete the job.", "piece"
            )
        return document | {"pieces": [p for i, p in enumerate(document["pieces"]) if i != number]}

    change(connection, job_id, base, "Deleted a piece", edit)


def change_units(connection: sqlite3.Connection, job_id: int, base: int, units: str) -> None:
    """Show and read the job in other units; every length stays exactly what it was. Raises BadInput."""
    if units not in JOB_UNITS:
        raise BadInput(f"Choose one of: {', '.join(JOB_UNITS)}.", "units", units)
    change(connection, job_id, base, f"Units changed to {units}", lambda document: in_units(document, units))


def undo(connection: sqlite3.Connection, job_id: int) -> bool:
    """Go back to the revision before; False when this is the first."""
    with transaction(connection):
        head = require_head(connection, job_id)
        if head.parent is not None:
            jobs.set_head(connection, job_id, head.parent, now())
    return head.parent is not None


def redo(connection: sqlite3.Connection, job_id: int) -> bool:
    """Go forward to the latest revision made from this one; False when there is none."""
    with transaction(connection):
        head = require_head(connection, job_id)
        child = jobs.newest_child(connection, job_id, head.number)
        if child is not None:
            jobs.set_head(connection, job_id, child, now())
    return child is not None


def compare_refused(connection: sqlite3.Connection, job_id: int, refused_id: int) -> list[tuple[str, Any, Any]]:
    """Where the job in force and a refused version differ: (path, in force, refused)."""
    return differences(
        json.loads(require_head(connection, job_id).document),
        json.loads(require_refused(connection, job_id, refused_id).document),
    )


def require_refused(connection: sqlite3.Connection, job_id: int, refused_id: int) -> refused.Refused:
    found = refused.find_refused(connection, job_id, refused_id)
    if found is None:
        raise NotFound("There is no such refused version of this job.")
    return found


def settle(connection: sqlite3.Connection, job_id: int, refused_id: int, take: bool) -> None:
    """Say which version counts: take the refused one as a new revision, or let the stored one stand. Both stay on record."""
    found = require_refused(connection, job_id, refused_id)
    with transaction(connection):
        if take:
            job = job_of(found.document)
            jobs.insert_revision(
                connection, job_id, job.title, found.document, "Used the other window's version", now(), actor()
            )
        refused.settle(connection, refused_id, now())
