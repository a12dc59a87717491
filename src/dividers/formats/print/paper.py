"""Sheets of text, tables and drawings as PDF, with the same foot on every page: a bar to check the print by, job, revision, date, page."""

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from functools import lru_cache
from typing import Any
from xml.sax.saxutils import escape

from dividers.core.geometry.shapes import Point
from dividers.core.output.scene import Scene
from dividers.formats.print.ink import (
    INK,
    MARGIN,
    PDF_LOOKS,
    POINTS_PER_MM,
    QUIET,
    draw_scene,
    foot_bar,
    page_points,
    register_fonts,
    stamp,
)

SMALL, USUAL, LARGE = 8.5, 9.5, 16.0
FOOT = 14.0  # kept free above the bar
RULE = "#cfc7b6"
TICK_BOX = 16.0  # the column of boxes to tick


def paper_for(units: str) -> str:
    """The paper that people have who measure in those units."""
    return "Letter" if units == "in" else "A4"


@dataclass(frozen=True)
class About:
    """What every page shows: the sheet's title, the job with its revision, the date; the paper and whose inches the bar is in.

    `notes` stand on top of the first page: what these figures are not.
    """

    title: str
    job: str
    date: str
    size: str
    inches: bool
    notes: tuple[str, ...] = ()

    @property
    def line(self) -> str:
        return ", ".join(filter(None, (self.job, self.date)))


def paper(about: About, write: Callable[["Pen"], None]) -> bytes:
    """What `write` puts on paper. It is called twice, the first time to count the pages. The same writing gives the same bytes."""
    counting = _run(about, write, 0)[1]
    return _run(about, write, counting)[0]


def _run(about: About, write: Callable[["Pen"], None], pages: int) -> tuple[bytes, int]:
    from reportlab.platypus import BaseDocTemplate, Frame, PageTemplate

    register_fonts()
    size = page_points(about.size)
    content = io.BytesIO()
    document = BaseDocTemplate(content, pagesize=size, title=f"{about.title}: {about.job}", **PDF_LOOKS)
    frame = Frame(MARGIN, MARGIN + FOOT, size[0] - 2 * MARGIN, size[1] - 2 * MARGIN - FOOT, 0, 0, 0, 0)
    foot = PageTemplate(frames=[frame], onPage=lambda canvas, _: _foot(canvas, about, canvas.getPageNumber(), pages))
    document.addPageTemplates([foot])
    pen = Pen(about, *size)
    write(pen)
    document.build(pen.story)
    return content.getvalue(), document.page


def _foot(canvas: Any, about: About, page: int, pages: int) -> None:
    """The foot of a page; prints are to be made at true size."""
    canvas.setViewerPreference("PrintScaling", "None")
    stamp(canvas, about.date)
    foot_bar(canvas, about.inches)
    canvas.setFont("Plex", 8)
    canvas.setFillColor(QUIET)
    width = float(canvas._pagesize[0])
    words = f"{about.title}. {about.line}"
    while canvas.stringWidth(words, "Plex", 8) > width - 2 * MARGIN - 90:
        words = words[:-2] + "…"
    canvas.drawString(MARGIN, MARGIN - 30, words)
    canvas.drawRightString(width - MARGIN, MARGIN - 30, f"Page {page}" + (f" of {pages}" if pages else ""))


class Pen:
    """Writes one thing below another; pages turn by themselves. Lengths in points."""

    def __init__(self, about: About, width: float, height: float) -> None:
        self.about, self.width, self.height = about, width, height
        self.story: list[Any] = []
        self.text(about.title, LARGE, bold=True)
        self.text(about.line, SMALL, QUIET)
        for note in about.notes:
            self.text(note, USUAL, bold=True)
        self._space(4)

    def turn(self) -> None:
        """Go on on a new page."""
        from reportlab.platypus import PageBreak

        self.story.append(PageBreak())

    def text(self, words: str, size: float = USUAL, color: str = INK, bold: bool = False) -> None:
        """A paragraph."""
        if words:
            self.story.append(_paragraph(words, size, color, bold))

    def heading(self, words: str, keep: float = 100.0) -> None:
        """A heading with a rule, on a page where so much more has room below it."""
        from reportlab.platypus import CondPageBreak, HRFlowable

        self.story.append(CondPageBreak(keep))
        self._space(8)
        self.text(words, 12, bold=True)
        self.story.append(HRFlowable(width="100%", thickness=0.8, color=INK, spaceBefore=3, spaceAfter=2))

    def table(self, columns: Sequence[tuple[str, float]], rows: Sequence[Sequence[str]], tick: bool = False) -> None:
        """Rows under headings that come again on each page; each column takes its share of the width. `tick` puts a box before each row."""
        from reportlab.platypus import Table, TableStyle

        whole = self.width - 2 * MARGIN - (TICK_BOX if tick else 0)
        widths = [share * whole for _, share in columns]
        cells = [[_paragraph(name, SMALL, QUIET, False) for name, _ in columns]]
        cells += [[_paragraph(text, USUAL, INK, False) for text in row] for row in rows]
        if tick:
            widths = [TICK_BOX, *widths]
            cells = [["", *cells[0]], *([_box(), *row] for row in cells[1:])]
        style: list[Any] = [
            ("FONTNAME", (0, 0), (-1, -1), "Plex"),
            ("VALIGN", (0, 0), (-1, -1), "TOP"),
            ("LINEBELOW", (0, 0), (-1, -1), 0.3, RULE),
            ("LEFTPADDING", (0, 0), (-1, -1), 0),
            ("RIGHTPADDING", (0, 0), (-1, -1), 6),
            ("TOPPADDING", (0, 0), (-1, -1), 1),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
        ]
        self.story.append(Table(cells, widths, repeatRows=1, style=TableStyle(style), hAlign="LEFT"))

    def scene(self, scene: Scene, most_high: float) -> None:
        """A drawing, as large as fits."""
        scale = min((self.width - 2 * MARGIN) / scene.width, most_high / scene.height)
        high = scene.height * scale

        def draw(canvas: Any, width: float) -> None:
            left, top = (width - scene.width * scale) / 2 - scene.left * scale, high + scene.top * scale

            def at(point: Point) -> Point:
                return left + point[0] * scale, top - point[1] * scale

            draw_scene(canvas, scene, at, scale)

        self.drawn(high, draw)
        self._space(6)

    def picture(self, content: bytes, most_high: float) -> None:
        """A picture of dots, as large as fits."""
        from reportlab.lib.utils import ImageReader

        image = ImageReader(io.BytesIO(content))
        wide, high = image.getSize()
        scale = min((self.width - 2 * MARGIN) / wide, most_high / high)

        def draw(canvas: Any, width: float) -> None:
            canvas.drawImage(image, (width - wide * scale) / 2, 0, wide * scale, high * scale)

        self.drawn(high * scale, draw)
        self._space(6)

    def contact(self, shots: Sequence[tuple[Scene, str]], across: int, high: float) -> None:
        """Small drawings with words below, so many side by side and each at most so high (points)."""
        gap = 12.0
        wide = (self.width - 2 * MARGIN - gap * (across - 1)) / across
        for start in range(0, len(shots), across):
            row = shots[start : start + across]

            def draw(canvas: Any, _: float, row: Sequence[tuple[Scene, str]] = row) -> None:
                for turn, (scene, words) in enumerate(row):
                    scale = min(wide / scene.width, high / scene.height)
                    left = turn * (wide + gap) - scene.left * scale
                    top = 14 + high + scene.top * scale

                    def at(point: Point, left: float = left, top: float = top, scale: float = scale) -> Point:
                        return left + point[0] * scale, top - point[1] * scale

                    draw_scene(canvas, scene, at, scale)
                    canvas.setFillColor(INK)
                    canvas.setFont("Plex", 7.5)
                    canvas.drawString(turn * (wide + gap), 3, words)

            self.drawn(high + 20, draw)

    def drawn(self, high: float, draw: Callable[[Any, float], None]) -> None:
        """Something drawn by a function of the canvas and the width there is, from its own lower left corner."""
        self.story.append(_drawn_type()(self.width - 2 * MARGIN, high, draw))

    def _space(self, points: float) -> None:
        from reportlab.platypus import Spacer

        self.story.append(Spacer(1, points))


@lru_cache(maxsize=1)
def _drawn_type() -> Any:
    from reportlab.platypus import Flowable

    class DrawnPlace(Flowable):
        """A place on the page that is drawn on."""

        def __init__(self, wide: float, high: float, draw: Callable[[Any, float], None]) -> None:
            super().__init__()
            self.width, self.height, self._by = wide, high, draw

        def draw(self) -> None:
            self._by(self.canv, self.width)

    return DrawnPlace


def _box() -> Any:
    def draw(canvas: Any, _: float) -> None:
        canvas.setStrokeColor(INK)
        canvas.setLineWidth(0.7)
        canvas.rect(0, 0, 8, 8, stroke=1, fill=0)

    return _drawn_type()(8, 8, draw)


def _paragraph(words: str, size: float, color: str, bold: bool) -> Any:
    from reportlab.lib.colors import HexColor
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.platypus import Paragraph

    font = "Plex-Bold" if bold else "Plex"
    style = ParagraphStyle(
        "s",
        fontName=font,
        bulletFontName=font,
        fontSize=size,
        leading=size + 3,
        textColor=HexColor(color),
        spaceBefore=1,
        splitLongWords=1,
    )
    return Paragraph(escape(words), style)


def millimetres(mm: float) -> float:
    return mm * POINTS_PER_MM
