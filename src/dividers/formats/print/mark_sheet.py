"""Writes the mark sheet as PDF: the drawing, then every mark with its piece of tape measure at true size, then the checks."""

from dataclasses import dataclass
from typing import Any

from dividers.core.marks.tape_measure import DrawnTape
from dividers.core.output.scene import Scene
from dividers.formats.print.ink import ACCENT, INK, POINTS_PER_MM, QUIET
from dividers.formats.print.paper import About, Pen, paper

ROW = 34.0
BLADE = "#f3d98b"
MOST_REACH_MM = 38.0
DRAWING_SHARE = 0.42  # of a page's height, for the drawing


@dataclass(frozen=True)
class MarkSheetRow:
    """One mark: its place in the order, its number, what to read, the tape measure there, and where to put the pencil."""

    order: str
    mark: str
    reading: str
    tape: DrawnTape
    note: str = ""


@dataclass(frozen=True)
class MarkSheet:
    """All that a mark sheet says."""

    title: str
    subtitle: str
    scene: Scene
    groups: tuple[tuple[str, tuple[MarkSheetRow, ...]], ...]
    checks: tuple[tuple[str, str], ...]
    inches: bool = False
    notes: tuple[str, ...] = ()
    date: str = ""


def mark_sheet(sheet: MarkSheet, size: str = "A4") -> bytes:
    """The mark sheet as PDF. `size` is A4 or Letter. The same sheet gives the same bytes."""

    def write(pen: Pen) -> None:
        pen.scene(sheet.scene, pen.height * DRAWING_SHARE)
        for title, rows in sheet.groups:
            pen.heading(title, 3 * ROW)
            for row in rows:
                pen.drawn(ROW, lambda canvas, width, row=row: _row(canvas, width, row))  # type: ignore[misc]
        pen.heading("Check: both must read the same")
        pen.table([("What", 0.6), ("Reads", 0.4)], sheet.checks)

    return paper(About(sheet.title, sheet.subtitle, sheet.date, size, sheet.inches, sheet.notes), write)


def _row(canvas: Any, width: float, row: MarkSheetRow) -> None:
    """One mark, on a strip of its own; (0, 0) is its lower left corner."""

    def text(x: float, y: float, words: str, font: str, size: float, color: str = INK) -> None:
        canvas.setFont(font, size)
        canvas.setFillColor(color)
        canvas.drawString(x, y, words)

    canvas.setStrokeColor(INK)
    canvas.rect(0, 10, 9, 9, stroke=1, fill=0)
    text(20, 11, row.order, "Plex", 9, QUIET)
    text(44, 11, f"mark {row.mark}", "Plex", 10)
    text(104, 11, row.reading, "Plex-Bold", 14)
    text(104, 0, row.note, "Plex", 7.5, QUIET)
    reach = min(row.tape.reach_mm, MOST_REACH_MM)
    _tape(canvas, row.tape, width - reach * POINTS_PER_MM, 2, reach)


def _tape(canvas: Any, tape: DrawnTape, x: float, y: float, reach: float) -> None:
    """The tape measure at true size around the mark, which is at x."""
    scale, high = POINTS_PER_MM, 24.0
    start = max(tape.starts_at_mm, -reach)
    canvas.setFillColor(BLADE)
    canvas.rect(x + start * scale, y, (reach - start) * scale, high, stroke=0, fill=1)
    canvas.setStrokeColor(INK)
    canvas.setFillColor(INK)
    for tick in tape.ticks:
        if abs(tick.at_mm) <= reach:
            canvas.setLineWidth(0.7 if tick.label else 0.4)
            canvas.line(x + tick.at_mm * scale, y + high, x + tick.at_mm * scale, y + high - tick.height * 13)
            if tick.label and abs(tick.at_mm) < reach - 3:
                canvas.setFont("Plex-Bold", 8)
                canvas.drawCentredString(x + tick.at_mm * scale, y + 2.5, tick.label)
    canvas.setStrokeColor(ACCENT)
    canvas.setFillColor(ACCENT)
    canvas.setLineWidth(1.2)
    canvas.line(x, y, x, y + high + 4)
