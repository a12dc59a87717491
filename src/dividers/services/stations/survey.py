"""Readings of a survey: one added, from a page or a device; many in and out as a table."""

import copy
import sqlite3
from dataclasses import dataclass

from dividers.core.base.errors import BadInput, BadJob, NotFound
from dividers.core.base.lengths import read_length
from dividers.core.job.document import Document, look_up, put
from dividers.core.job.model import Piece
from dividers.core.job_file.job_reader import read_job
from dividers.core.survey.kept_readings import NEEDS_PLACE, add_reading, kind_words, reading_row
from dividers.formats.tables.survey_csv import SurveyLine, Taken, read_survey, write_survey
from dividers.services.jobs.editing import Opened, change, open_job


@dataclass(frozen=True)
class NewReading:
    """What somebody typed, or a device sent: `what` is a key of `kind_words`, lengths are as written; the panel goes by its number."""

    what: str
    length: str
    at: str = ""
    panel: int = 0
    by: str = ""


def add(connection: sqlite3.Connection, job_id: int, base: int | None, piece_key: str, reading: NewReading) -> None:
    """Add a reading. `base` is the revision that was seen, None where whoever measured saw none, like a device.

    Raises BadInput with path what, length, at or panel.
    """
    words = kind_words(_surface_of(connection, job_id, piece_key))
    if reading.what not in words:
        raise BadInput(f"Choose what was measured: {', '.join(words.values())}.", "what")
    if reading.what in NEEDS_PLACE and not reading.at.strip():
        raise BadInput("Say where that was measured: how far along from the left, or down from the top.", "at")

    def edit(document: Document) -> Document:
        for name, text in (("length", reading.length), ("at", reading.at)):
            if text.strip() or name == "length":
                _check(text, document["units"], name)
        key, row = reading_row(reading.what, reading.length.strip(), reading.at, by=reading.by)
        add_reading(document, _panel_path(document, piece_key, reading.panel), key, row)
        return document

    try:
        change(
            connection, job_id, base, f"Measured: {words[reading.what].lower()}", lambda d: edit(copy.deepcopy(d)), piece_key
        )
    except BadJob as bad:
        fault = bad.faults[0]
        raise BadInput(fault.message, "at" if fault.path.endswith(".at") else "length") from bad


def _surface_of(connection: sqlite3.Connection, job_id: int, piece_key: str) -> str:
    return open_job(connection, job_id).piece(piece_key).surface.kind


def _check(text: str, unit: str, name: str) -> None:
    try:
        read_length(text, unit)
    except BadInput as fault:
        raise BadInput(fault.message, name) from fault


def _panel_path(document: Document, piece_key: str, panel: int) -> str:
    for number, piece in enumerate(document["pieces"]):
        if piece.get("id") == piece_key:
            return f"pieces.{number}.surface.panels.{panel}"
    raise NotFound("This job has no such piece. It may have been deleted or renamed.")


def table_of(opened: Opened, piece_key: str) -> str:
    """All readings of a piece as CSV."""
    return write_survey(_panels(opened, piece_key), opened.job.units)


def preview(opened: Opened, piece_key: str, text: str) -> list[SurveyLine]:
    """What a table of readings says, line by line, with what is wrong with each; nothing is taken. Raises BadInput for no table."""
    piece = opened.piece(piece_key)
    lines = read_survey(text, opened.job.units, [panel.name for panel in piece.surface.panels])
    return [_checked(opened, piece, line) for line in lines]


def _checked(opened: Opened, piece: Piece, line: SurveyLine) -> SurveyLine:
    """A line with the fault that taking it alone would meet."""
    if line.taken is None:
        return line
    document = copy.deepcopy(opened.document)
    try:
        _take(document, piece.key, [line.taken])
        read_job(document)
    except BadJob as bad:
        return SurveyLine(line.number, line.raw, None, bad.faults[0].message)
    return line


def take(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, lines: list[SurveyLine], replace: bool) -> int:
    """Add the good lines of a table to a piece's survey, or put them in place of what was there; how many. Raises BadJob."""
    taken = [line.taken for line in lines if line.taken]

    def edit(document: Document) -> Document:
        copied = copy.deepcopy(document)
        if replace:
            for number, _ in enumerate(look_up(copied, _panel_path(copied, piece_key, 0).removesuffix(".0"))):
                put(copied, f"{_panel_path(copied, piece_key, number)}.survey", None)
        _take(copied, piece_key, taken)
        return copied

    change(connection, job_id, base, f"{len(taken)} readings from a table", edit, piece_key)
    return len(taken)


def _take(document: Document, piece_key: str, taken: list[Taken]) -> None:
    for each in taken:
        story = {"by": each.by, "on": each.on}
        key, row = reading_row(each.what, each.length, each.at, **story)
        add_reading(document, _panel_path(document, piece_key, each.panel), key, row | ({"aside": True} if each.aside else {}))


def _panels(opened: Opened, piece_key: str) -> list[Document]:
    path = f"pieces.{opened.piece_number(piece_key)}.surface.panels"
    panels: list[Document] = look_up(opened.document, path)
    return panels


def note_marked(
    connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, panel: str, line: str, found: list[str]
) -> None:
    """Keep what was found at a line's marks, in the order along it; the line "" means both diagonals. Raises BadJob."""

    def edit(document: Document) -> Document:
        copied = copy.deepcopy(document)
        panels = look_up(copied, _panel_path(copied, piece_key, 0).removesuffix(".0"))
        for number, each in enumerate(panels):
            if each.get("name", f"panel {number + 1}") == panel:
                _note(each, line, [text.strip() for text in found])
        return copied

    change(connection, job_id, base, "Checked what was marked", edit, piece_key)


def _note(panel: Document, line: str, found: list[str]) -> None:
    marked = panel.setdefault("marked", {})
    holder, key = (marked.setdefault("lines", {}), line) if line else (marked, "diagonals")
    if any(found):
        holder[key] = found
    else:
        holder.pop(key, None)
    if not marked.get("lines"):
        marked.pop("lines", None)
    if not marked:
        panel.pop("marked")
