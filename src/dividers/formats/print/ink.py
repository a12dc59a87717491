"""What sheets are drawn with: faces, colours, scenes, and the bar at the foot. reportlab is imported late."""

from collections.abc import Callable
from datetime import datetime
from importlib.resources import as_file, files
from typing import Any

from dividers.core.geometry.shapes import Point
from dividers.core.output.scene import Area, Scene

POINTS_PER_MM = 72 / 25.4
MARGIN = 40.0
INK, QUIET, ACCENT = "#2a2c2e", "#5d5a52", "#a8341b"
FONTS = {"Plex": "IBMPlexSans_400Regular.ttf", "Plex-Bold": "IBMPlexSans_600SemiBold.ttf"}


SIZES = ("A4", "Letter", "A4 across", "Letter across")


def page_points(size: str) -> tuple[float, float]:
    """The width and height of a paper in points."""
    from reportlab.lib.pagesizes import A4, LETTER, landscape

    upright: tuple[float, float] = LETTER if size.startswith("Letter") else A4
    across: tuple[float, float] = landscape(upright)
    return across if size.endswith("across") else upright


def register_fonts() -> None:
    """Make the faces that sheets are set in known to the PDF writer."""
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    for name, file in FONTS.items():
        if name not in pdfmetrics.getRegisteredFontNames():
            with as_file(files("dividers.formats") / "fonts" / file) as path:
                pdfmetrics.registerFont(TTFont(name, str(path)))


PDF_LOOKS: dict[str, Any] = {
    "lang": "en",
    "initialFontName": "Plex",
    "invariant": 1,
}  # the first font too, or one that isn't embedded is named


def stamp(canvas: Any, date: str) -> None:
    """Say who made a PDF and of which day it is (ISO), so that the same sheet gives the same bytes on any day."""
    canvas.setAuthor("Dividers")
    canvas.setCreator("Dividers")
    if date:
        day = datetime.fromisoformat(date)
        canvas._doc._timeStamp.YMDhms = (day.year, day.month, day.day, day.hour, day.minute, day.second)


def draw_scene(canvas: Any, scene: Scene, at: Callable[[Point], Point], scale: float) -> None:
    """Put a scene on a page: `at` gives a point's place on it, `scale` the points that a millimetre takes."""
    for area in scene.cells:
        _area(canvas, area, at, area.fill)
    for area in scene.by_hand:
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
    looks = {
        "ruler": (QUIET, 0.4),
        "tick": (ACCENT, 1.0),
        "snap": ("#3a6ea5", 0.5),
        "level": ("#3a6ea5", 0.8),
        "check": (QUIET, 0.4),
    }
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
