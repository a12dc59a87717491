"""Writes story poles as PDF: a mark line at true size, in strips across the page to be cut out and glued end to end."""

import io
import math
from dataclasses import dataclass
from typing import Any

from dividers.formats.print.ink import (
    ACCENT,
    FONTS,
    INK,
    MARGIN,
    PDF_LOOKS,
    POINTS_PER_MM,
    QUIET,
    page_points,
    register_fonts,
    stamp,
)

ROW_MM = 34.0  # from one strip to the next down the page
OVERLAP_MM = 10.0  # what a strip repeats of the one before, to be glued over
TEST_MM = {False: 100.0, True: 101.6}  # the length to check a print by: 10 cm or 4 in
MOST_STRIPS = 400
PAST_MM = 15.0  # a pole goes on so far behind its last mark
HEAD = 46.0  # points of a sheet's heading and test length
LABEL = 46.0  # points that a reading takes


@dataclass(frozen=True)
class Pole:
    """The marks of one or more mark lines that read alike: (mm from the datum, reading), in order."""

    lines: tuple[str, ...]
    datum: str
    marks: tuple[tuple[float, str], ...]


def story_poles(title: str, date: str, poles: tuple[Pole, ...], size: str, inches: bool) -> bytes:
    """All poles at true size on A4 or Letter, with a test length on every page. The same poles give the same bytes."""
    from reportlab.pdfgen.canvas import Canvas

    register_fonts()
    content = io.BytesIO()
    canvas = Canvas(content, pagesize=page_points(size), **PDF_LOOKS)
    stamp(canvas, date)
    canvas.setTitle(f"Story poles: {title}")
    canvas.setViewerPreference("PrintScaling", "None")
    _PolePages(canvas, title, inches).write(poles)
    canvas.save()
    return content.getvalue()


def strips_of(pole: Pole, reach_mm: float) -> int:
    """How many strips of a length a pole takes."""
    return max(math.ceil((pole.marks[-1][0] + PAST_MM - OVERLAP_MM) / (reach_mm - OVERLAP_MM)), 1)


def pole_sheets(poles: tuple[Pole, ...], size: str) -> int:
    """How many sheets of a paper poles take."""
    wide, high = page_points(size)
    strips = sum(strips_of(pole, (wide - 2 * MARGIN) / POINTS_PER_MM) for pole in poles)
    on_sheet = max(int((high - MARGIN - HEAD - MARGIN - 20) // (ROW_MM * POINTS_PER_MM)), 1)
    return math.ceil(min(strips, MOST_STRIPS) / on_sheet)


class _PolePages:
    """A pen that runs down the page, one strip after the other."""

    def __init__(self, canvas: Any, title: str, inches: bool) -> None:
        self.canvas, self.title, self.inches = canvas, title, inches
        self.width, self.height = canvas._pagesize
        self.reach_mm = (self.width - 2 * MARGIN) / POINTS_PER_MM
        self.left_over = MOST_STRIPS
        self.y = 0.0
        self.page = 0

    def write(self, poles: tuple[Pole, ...]) -> None:
        self._turn()
        for pole in poles:
            end, step = pole.marks[-1][0] + PAST_MM, self.reach_mm - OVERLAP_MM
            many = strips_of(pole, self.reach_mm)
            if many > self.left_over:
                break
            self.left_over -= many
            for number in range(many):
                if self.y - ROW_MM * POINTS_PER_MM < MARGIN + 20:
                    self._turn()
                self._strip(pole, number, many, step * number, end)

    def _turn(self) -> None:
        """A new page with its heading and its test length."""
        if self.page:
            self.canvas.showPage()
        self.page += 1
        self.y = self.height - MARGIN
        self._text(MARGIN, self.y, f"Story poles at true size: {self.title}", "Plex-Bold", 11)
        self.y -= 14
        self._text(
            MARGIN,
            self.y,
            "Print at 100 %, no scaling. Cut out, glue each strip over the hatched end of the previous one.",
            "Plex",
            9,
            QUIET,
        )
        length = TEST_MM[self.inches]
        self.y -= 20
        self.canvas.setStrokeColor(INK)
        self.canvas.setLineWidth(1)
        self._line(MARGIN, self.y, MARGIN + length * POINTS_PER_MM, self.y)
        for x in (MARGIN, MARGIN + length * POINTS_PER_MM):
            self._line(x, self.y - 4, x, self.y + 4)
        what = "4 in" if self.inches else "100 mm"
        self._text(MARGIN + length * POINTS_PER_MM + 8, self.y - 3, f"must measure {what}", "Plex", 9, QUIET)
        self._text(self.width - MARGIN - 40, MARGIN - 14, f"page {self.page}", "Plex", 8, QUIET)
        self.y -= 12

    def _strip(self, pole: Pole, number: int, many: int, start: float, end: float) -> None:
        """One strip: the pole from `start` mm on, as far as the page is wide."""
        canvas = self.canvas
        self.y -= ROW_MM * POINTS_PER_MM
        top, bottom = self.y + 22 * POINTS_PER_MM, self.y + 8 * POINTS_PER_MM
        stop = min(start + self.reach_mm, end)
        right = MARGIN + (stop - start) * POINTS_PER_MM
        names = ", ".join(pole.lines[:3]) + (f" and {len(pole.lines) - 3} more" if len(pole.lines) > 3 else "")
        self._text(MARGIN, top + 6, f"{names}, from {pole.datum}: strip {number + 1} of {many}", "Plex", 9, QUIET)
        canvas.setLineWidth(0.8)
        canvas.setStrokeColor(INK)
        canvas.rect(MARGIN, bottom, right - MARGIN, top - bottom, stroke=1, fill=0)
        if number + 1 < many:
            canvas.setLineWidth(0.3)
            for k in range(5):
                x = right - OVERLAP_MM * POINTS_PER_MM * (k + 1) / 5
                self._line(x, bottom, min(x + 14, right), top)
        if not number:
            canvas.setFillColor(INK)
            canvas.rect(MARGIN - 3, bottom, 3, top - bottom, stroke=0, fill=1)
        for at, text in pole.marks:
            if start <= at <= stop:
                x = MARGIN + (at - start) * POINTS_PER_MM
                canvas.setStrokeColor(ACCENT)
                canvas.setLineWidth(1.6)
                self._line(x, bottom, x, top - 12)
                room = right - OVERLAP_MM * POINTS_PER_MM - x
                self._text(x + 3 if room > LABEL else x - LABEL, bottom + 4, text, "Plex-Bold", 8)

    def _line(self, x0: float, y0: float, x1: float, y1: float) -> None:
        self.canvas.line(x0, y0, x1, y1)

    def _text(self, x: float, y: float, text: str, font: str, size: float, color: str = INK) -> None:
        assert font in FONTS
        self.canvas.setFont(font, size)
        self.canvas.setFillColor(color)
        self.canvas.drawString(x, y, text)
