"""Sheets to print: the mark sheet, and story poles at true size."""

import sqlite3

from dividers.core.job.document import free_key
from dividers.core.marks.registration import RegistrationStrip
from dividers.core.marks.tape_measure import draw_tape
from dividers.core.output.scene import View
from dividers.formats.print.mark_sheet import MarkSheet, MarkSheetRow, mark_sheet
from dividers.formats.print.paper import paper_for
from dividers.formats.print.story_poles import Pole, pole_sheets, story_poles
from dividers.services.clock import date_of
from dividers.services.jobs.editing import not_taken, open_job
from dividers.services.jobs.planning import piece_plan
from dividers.services.stations.large_plans import require_ready
from dividers.services.stations.pictures import scene_of


def mark_sheet_pdf(connection: sqlite3.Connection, job_id: int, piece_key: str, size: str = "") -> tuple[str, bytes]:
    """The mark sheet of a piece: (file name, PDF). Letter paper for jobs in inches, else A4."""
    opened = open_job(connection, job_id)
    document = opened.revision.document
    require_ready(job_id, document, piece_key, marks=True)
    plan = piece_plan(document, piece_key)
    graduation = opened.job.graduation
    groups: dict[str, list[tuple[int, MarkSheetRow]]] = {}
    for number, mark in enumerate(plan.marks, 1):
        panel = f"{mark.panel}: " if len(plan.piece.surface.panels) > 1 else ""
        row = MarkSheetRow(
            f"{mark.order}.",
            str(number),
            mark.reading.text,
            draw_tape(mark.reading.rounded_mm, graduation),
            mark.what or mark.side,
        )
        groups.setdefault(f"{panel}{mark.line.capitalize()}, from {mark.from_where}", []).append((mark.order, row))
    sheet = MarkSheet(
        title=plan.piece.name,
        subtitle=f"{opened.job.title}, revision {opened.revision.number}",
        date=date_of(opened.revision.made_at).isoformat(),
        notes=tuple(each.words for each in not_taken(connection, job_id)),
        scene=scene_of(document, piece_key, View(marks=True)),
        groups=tuple(
            (title, tuple(row for _, row in sorted(rows, key=lambda entry: entry[0]))) for title, rows in groups.items()
        ),
        checks=tuple((check.what, check.reading.text) for check in plan.checks),
        inches=opened.job.units == "in",
    )
    return f"marks-{free_key(plan.piece.name, set())}.pdf", mark_sheet(sheet, size or paper_for(opened.job.units))


def story_poles_pdf(
    connection: sqlite3.Connection, job_id: int, piece_key: str, size: str = "", line: int = 0
) -> tuple[str, bytes]:
    """The story poles of a piece, one for each mark line that differs from those before, or one of them by its number: (file name, PDF)."""
    opened = open_job(connection, job_id)
    poles = poles_of(connection, job_id, piece_key)
    name = opened.piece(piece_key).name
    title = f"{name}, {opened.job.title}, revision {opened.revision.number}, {date_of(opened.revision.made_at)}"
    content = story_poles(
        title,
        date_of(opened.revision.made_at).isoformat(),
        tuple(pole for turn, pole in enumerate(poles, 1) if line in (0, turn)),
        size or paper_for(opened.job.units),
        opened.job.units == "in",
    )
    return f"story-poles-{free_key(name, set())}.pdf", content


def poles_of(connection: sqlite3.Connection, job_id: int, piece_key: str) -> tuple[Pole, ...]:
    """The story poles of a piece. Raises NotYet."""
    opened = open_job(connection, job_id)
    require_ready(job_id, opened.revision.document, piece_key, marks=True)
    plan = piece_plan(opened.revision.document, piece_key)
    lines: dict[tuple[str, str, str], list[tuple[float, str, str]]] = {}
    for number, mark in enumerate(plan.marks, 1):
        panel = f"{mark.panel}: " if len(plan.piece.surface.panels) > 1 else ""
        key = (f"{panel}{mark.line}", mark.datum, "")
        lines.setdefault(key, []).append((float(mark.reading.rounded_mm), str(number), mark.reading.text))
    poles: dict[tuple[tuple[float, str], ...], Pole] = {}
    for (line, datum, _), marks in lines.items():
        marks.sort()
        same = tuple((at, text) for at, _, text in marks)
        known = poles.get(same)
        names = (*known.lines, line) if known else (line,)
        poles[same] = Pole(names, datum, tuple((at, text) for at, _, text in marks))
    strips = [
        Pole((f"{work.layer.name}: registration strip, for {run.rows} rows",), "the row's first mark", _on_strip(run))
        for work, run in plan.registration
    ]
    return (*poles.values(), *strips)


def _on_strip(strip: RegistrationStrip) -> tuple[tuple[float, str], ...]:
    return tuple((float(reading.rounded_mm), reading.text) for reading in strip.readings)


def pole_words(connection: sqlite3.Connection, job_id: int, piece_key: str, size: str) -> list[tuple[str, int]]:
    """Each story pole of a piece in words, with how many sheets of a paper it takes alone; and all of them first."""
    poles = poles_of(connection, job_id, piece_key)
    each = [(f"{pole.lines[0]}, from {pole.datum}", pole_sheets((pole,), size)) for pole in poles]
    return [("all", pole_sheets(poles, size)), *each]
