"""Writes the mark sheet as PDF, and draws scenes for other sheets. reportlab is imported late."""

import io
from collections.abc import Callable
from dataclasses import dataclass
from importlib.resources import as_file, files
from typing import Any

from dividers.core.geometry.shapes import Point
from dividers.core.marks.tape_measure import DrawnTape
from dividers.core.output.scene import Area, Scene

POINTS_PER_MM = 72 / 25.4
MARGIN = 40.0
ROW = 34.0
INK, QUIET, ACCENT, BLADE = "#2a2c2e", "#5d5a52", "#a8341b", "#f3d98b"
FONTS = {"Plex": "IBMPlexSans_400Regular.ttf", "Plex-Bold": "IBMPlexSans_600SemiBold.ttf"}


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


def mark_sheet(sheet: MarkSheet, size: str = "A4") -> bytes:
    """The mark sheet: the drawing, then every mark's reading with its piece of tape measure at true size, then the checks.

    `size` is A4 or Letter. The same sheet gives the same bytes.
    """
    from reportlab.lib.pagesizes import A4, LETTER
    from reportlab.pdfgen.canvas import Canvas

    register_fonts()
    content = io.BytesIO()
    canvas = Canvas(content, pagesize=LETTER if size == "Letter" else A4, invariant=1)
    canvas.setTitle(f"{sheet.title}: mark sheet")
    canvas.setViewerPreference("PrintScaling", "None")
    _MarkPages(canvas, sheet).write()
    canvas.save()
    return content.getvalue()


def register_fonts() -> None:
    """Make the faces that sheets are set in known to the PDF writer."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in FONTS.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            with as_file(files("dividers.formats") / "fonts" / file) as path:
                pdfmetrics.registerFont(TTFont(name, str(path)))


class _MarkPages:
    """A pen that runs down the page and turns it."""

    def __init__(self, canvas: Any, sheet: MarkSheet) -> None:
        self.canvas, self.sheet = canvas, sheet
        self.width, self.height = canvas._pagesize
        self.page = 1
        self.y = self.height - MARGIN

    def write(self) -> None:
        self._text(MARGIN, self.sheet.title, "Plex-Bold", 18)
        self.y -= 18
        self._text(MARGIN, self.sheet.subtitle, "Plex", 9.5, QUIET)
        self.y -= 12
        self._drawing()
        for title, rows in self.sheet.groups:
            self._need(3 * ROW)
            self._heading(title)
            for row in rows:
                self._need(ROW)
                self._row(row)
        self._need(60)
        self._heading("Check: both must read the same")
        for what, reading in self.sheet.checks:
            self._need(20)
            self.y -= 16
            self._text(MARGIN, what, "Plex", 10)
            self._text(MARGIN + 250, reading, "Plex-Bold", 11)
        self._foot()

    def _need(self, points: float) -> None:
        """Turn the page when less than that is left."""
        if self.y - points < MARGIN + 12:
            self._foot()
            self.canvas.showPage()
            self.page += 1
            self.y = self.height - MARGIN

    def _foot(self) -> None:
        foot_bar(self.canvas, self.sheet.inches)
        self.canvas.setFont("Plex", 8)
        self.canvas.drawString(MARGIN, MARGIN - 30, f"{self.sheet.title}. {self.sheet.subtitle}"[:110])
        self.canvas.drawRightString(self.width - MARGIN, MARGIN - 30, f"Page {self.page}")

    def _text(self, x: float, text: str, font: str, size: float, color: str = INK) -> None:
        self.canvas.setFont(font, size)
        self.canvas.setFillColor(color)
        self.canvas.drawString(x, self.y, text)

    def _heading(self, title: str) -> None:
        self.y -= 26
        self._text(MARGIN, title, "Plex-Bold", 11.5)
        self.y -= 5
        self.canvas.setStrokeColor(INK)
        self.canvas.setLineWidth(0.8)
        self.canvas.line(MARGIN, self.y, self.width - MARGIN, self.y)

    def _row(self, row: MarkSheetRow) -> None:
        self.y -= ROW
        self.canvas.setStrokeColor(INK)
        self.canvas.rect(MARGIN, self.y + 10, 9, 9, stroke=1, fill=0)
        self.y += 11
        self._text(MARGIN + 20, row.order, "Plex", 9, QUIET)
        self._text(MARGIN + 44, f"mark {row.mark}", "Plex", 10)
        self._text(MARGIN + 104, row.reading, "Plex-Bold", 14)
        self.y -= 11
        self._text(MARGIN + 104, row.note, "Plex", 7.5, QUIET)
        reach = min(row.tape.reach_mm, 38.0)
        self._tape(row.tape, self.width - MARGIN - reach * POINTS_PER_MM, self.y + 2, reach)

    def _tape(self, tape: DrawnTape, x: float, y: float, reach: float) -> None:
        """The tape measure at true size around the mark, which is at x."""
        canvas, scale, high = self.canvas, POINTS_PER_MM, 24.0
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

    def _drawing(self) -> None:
        """The scene, fitted to the page's width and a good third of its height."""
        scene, canvas = self.sheet.scene, self.canvas
        scale = min((self.width - 2 * MARGIN) / scene.width, self.height * 0.42 / scene.height)
        self.y -= scene.height * scale
        left = (self.width - scene.width * scale) / 2 - scene.left * scale
        top = self.y + (scene.height + scene.top) * scale

        def at(point: Point) -> Point:
            return left + point[0] * scale, top - point[1] * scale

        draw_scene(canvas, scene, at, scale)


def draw_scene(canvas: Any, scene: Scene, at: Callable[[Point], Point], scale: float) -> None:
    """Put a scene on a page: `at` gives a point's place on it, `scale` the points that a millimetre takes."""
    for area in scene.cells:
        _area(canvas, area, at, area.fill)
    for dot in scene.dots:
        canvas.setStrokeColor(ACCENT)
        canvas.circle(*at(dot.at), scene.em * scale * 0.4, stroke=1, fill=0)
    for area in scene.openings:
        _area(canvas, area, at, "#ffffff")
    for strip in scene.strips:
        _area(canvas, Area("", strip.rings, ""), at, "#d9bd8a")
    for ring in scene.outlines:
        _area(canvas, Area("", (ring,), ""), at, None)
    if scene.strips:
        for area in scene.cells:
            if area.sign:
                _sign(canvas, at(area.sign), area.state == "paint", max(scene.em * scale * 0.7, 4))
    canvas.setDash()
    looks = {"ruler": (QUIET, 0.4), "tick": (ACCENT, 1.0), "snap": ("#3a6ea5", 0.5), "check": (QUIET, 0.4)}
    for stroke in scene.strokes:
        color, width = looks.get(stroke.role, (INK, 0.5))
        canvas.setStrokeColor(color)
        canvas.setLineWidth(width)
        canvas.setDash([3, 2] if stroke.role in ("snap", "check") else [])
        canvas.line(*at(stroke.start), *at(stroke.end))
    canvas.setDash()
    for label in scene.labels:
        x, y = at(label.at)
        canvas.setFillColor(ACCENT if label.role == "mark" else QUIET)
        canvas.setFont("Plex-Bold" if label.role == "mark" else "Plex", max(scene.em * scale * 0.95, 5))
        draw = {"start": canvas.drawString, "end": canvas.drawRightString}.get(label.anchor, canvas.drawCentredString)
        draw(x, y, label.text)


def _area(canvas: Any, area: Area, at: Any, fill: str | None) -> None:
    path = canvas.beginPath()
    for ring in area.rings:
        path.moveTo(*at(ring[0]))
        for point in ring[1:]:
            path.lineTo(*at(point))
        path.close()
    if fill:
        canvas.setFillColor(fill)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.5)
    canvas.drawPath(path, stroke=0 if fill and area.key else 1, fill=1 if fill else 0, fillMode=0)


def _sign(canvas: Any, at: Point, paint: bool, arm: float) -> None:
    """A wave where this round paints, a cross where it doesn't."""
    x, y = at
    canvas.setLineWidth(1.0)
    canvas.setStrokeColor("#ffffff" if paint else "#8a6a35")
    if paint:
        path = canvas.beginPath()
        path.moveTo(x - arm, y)
        path.curveTo(x - arm / 2, y + arm, x - arm / 2, y + arm, x, y)
        path.curveTo(x + arm / 2, y - arm, x + arm / 2, y - arm, x + arm, y)
        canvas.drawPath(path, stroke=1, fill=0)
    else:
        canvas.line(x - arm / 2, y - arm / 2, x + arm / 2, y + arm / 2)
        canvas.line(x - arm / 2, y + arm / 2, x + arm / 2, y - arm / 2)


def foot_bar(canvas: Any, inches: bool) -> None:
    """A bar at the foot of a page to check a print by: 100 mm, or 4 in."""
    length = (101.6 if inches else 100.0) * POINTS_PER_MM
    y = MARGIN - 16
    canvas.setDash()
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(1)
    canvas.line(MARGIN, y, MARGIN + length, y)
    for x in (MARGIN, MARGIN + length):
        canvas.line(x, y - 4, x, y + 4)
    canvas.setFont("Plex", 7)
    canvas.setFillColor(QUIET)
    canvas.drawString(MARGIN + length + 4, y - 2, "4 in" if inches else "100 mm")
