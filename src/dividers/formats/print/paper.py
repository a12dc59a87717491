"""Sheets of text, tables and drawings as PDF, with the same foot on every page: a bar to check the print by, job, revision, date, page."""

import io
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from dividers.core.geometry.shapes import Point
from dividers.core.output.scene import Scene
from dividers.formats.print.mark_sheet import INK, MARGIN, POINTS_PER_MM, QUIET, draw_scene, foot_bar, register_fonts

SIZES = ("A4", "Letter")
LINE = 13.0
SMALL, USUAL, LARGE = 8.5, 9.5, 16.0


def paper_for(units: str) -> str:
    """The paper that people have who measure in those units."""
    return "Letter" if units == "in" else "A4"


@dataclass(frozen=True)
class About:
    """What every page shows: the sheet's title, the job with its revision, the date; the paper and whose inches the bar is in."""

    title: str
    job: str
    date: str
    size: str
    inches: bool


def paper(about: About, write: Callable[["Pen"], None]) -> bytes:
    """What `write` puts on paper. It is called twice, the first time to count the pages. The same writing gives the same bytes."""
    counting = _run(about, write, 0)[1]
    return _run(about, write, counting)[0]


def _run(about: About, write: Callable[["Pen"], None], pages: int) -> tuple[bytes, int]:
    from reportlab.lib.pagesizes import A4, LETTER
    from reportlab.pdfgen.canvas import Canvas

    register_fonts()
    content = io.BytesIO()
    canvas = Canvas(content, pagesize=LETTER if about.size == "Letter" else A4, invariant=1)
    canvas.setTitle(f"{about.title}: {about.job}")
    canvas.setViewerPreference("PrintScaling", "None")
    pen = Pen(canvas, about, pages)
    write(pen)
    pen.close()
    canvas.save()
    return content.getvalue(), pen.page


class Pen:
    """Runs down the page and turns it; lengths in points, y up."""

    def __init__(self, canvas: Any, about: About, pages: int) -> None:
        self.canvas, self.about, self.pages = canvas, about, pages
        self.width, self.height = canvas._pagesize
        self.page = 1
        self.y = self.height - MARGIN
        self.text(about.title, LARGE, bold=True)
        self.text(f"{about.job}, {about.date}", SMALL, QUIET)
        self.y -= 4

    @property
    def room(self) -> float:
        """Points left on this page."""
        return float(self.y) - MARGIN - 34

    def turn(self) -> None:
        self.close()
        self.canvas.showPage()
        self.page += 1
        self.y = self.height - MARGIN

    def close(self) -> None:
        """The foot of a page."""
        of = f" of {self.pages}" if self.pages else ""
        foot_bar(self.canvas, self.about.inches)
        self.canvas.setFont("Plex", 8)
        self.canvas.setFillColor(QUIET)
        low = MARGIN - 30
        words = f"{self.about.title}. {self.about.job}, {self.about.date}"
        self.canvas.drawString(MARGIN, low, self._cut(words, 8, self.width - 2 * MARGIN - 90))
        self.canvas.drawRightString(self.width - MARGIN, low, f"Page {self.page}{of}")

    def need(self, points: float) -> None:
        """Turn the page when less is left."""
        if self.room < points:
            self.turn()

    def text(self, words: str, size: float = USUAL, color: str = INK, bold: bool = False) -> None:
        """A paragraph, broken at the right margin."""
        for line in self._lines(words, size, self.width - 2 * MARGIN, bold):
            self.need(size + 4)
            self.y -= size + 4
            self._put(MARGIN, line, size, color, bold)

    def heading(self, words: str, keep: float = 60.0) -> None:
        self.need(keep)
        self.y -= 8
        self.text(words, 12, bold=True)
        self.y -= 4
        self.canvas.setStrokeColor(INK)
        self.canvas.setLineWidth(0.8)
        self.canvas.line(MARGIN, self.y, self.width - MARGIN, self.y)

    def table(self, columns: Sequence[tuple[str, float]], rows: Sequence[Sequence[str]], tick: bool = False) -> None:
        """Rows under headings; each column takes its share of the width, and breaks its words. `tick` puts a box before each row."""
        left = MARGIN + (16 if tick else 0)
        whole = self.width - MARGIN - left
        widths = [share * whole for _, share in columns]
        self._row([name for name, _ in columns], left, widths, SMALL, QUIET, False)
        for row in rows:
            self._row(row, left, widths, USUAL, INK, tick)

    def _row(self, row: Sequence[str], left: float, widths: Sequence[float], size: float, color: str, tick: bool) -> None:
        cells = [self._lines(text, size, width - 6, False) for text, width in zip(row, widths, strict=True)]
        high = max(len(lines) for lines in cells) * (size + 2) + 4
        self.need(high)
        top = self.y
        if tick:
            self.canvas.setStrokeColor(INK)
            self.canvas.setLineWidth(0.7)
            self.canvas.rect(MARGIN, top - size - 2, 8, 8, stroke=1, fill=0)
        x = left
        for lines, width in zip(cells, widths, strict=True):
            for turn, line in enumerate(lines):
                self.y = top - (size + 2) * (turn + 1)
                self._put(x, line, size, color, False)
            x += width
        self.y = top - high
        self.canvas.setStrokeColor("#cfc7b6")
        self.canvas.setLineWidth(0.3)
        self.canvas.line(MARGIN, self.y + 1, self.width - MARGIN, self.y + 1)

    def scene(self, scene: Scene, most_high: float) -> None:
        """A drawing, as large as fits."""
        scale = min((self.width - 2 * MARGIN) / scene.width, most_high / scene.height)
        self.need(scene.height * scale + 8)
        self.y -= scene.height * scale + 4
        left = (self.width - scene.width * scale) / 2 - scene.left * scale
        top = self.y + (scene.height + scene.top) * scale

        def at(point: Point) -> Point:
            return left + point[0] * scale, top - point[1] * scale

        draw_scene(self.canvas, scene, at, scale)

    def _put(self, x: float, words: str, size: float, color: str, bold: bool) -> None:
        self.canvas.setFont("Plex-Bold" if bold else "Plex", size)
        self.canvas.setFillColor(color)
        self.canvas.drawString(x, self.y, words)

    def _wide(self, words: str, size: float, bold: bool = False) -> float:
        return float(self.canvas.stringWidth(words, "Plex-Bold" if bold else "Plex", size))

    def _lines(self, words: str, size: float, width: float, bold: bool) -> list[str]:
        lines = [""]
        for word in words.split():
            longer = f"{lines[-1]} {word}".strip()
            if not lines[-1] or self._wide(longer, size, bold) <= width:
                lines[-1] = longer
            else:
                lines.append(word)
        return [self._cut(line, size, width) for line in lines]

    def _cut(self, words: str, size: float, width: float) -> str:
        while words and self._wide(words, size) > width:
            words = words[:-2] + "…" if len(words) > 2 else ""
        return words


def millimetres(mm: float) -> float:
    return mm * POINTS_PER_MM
