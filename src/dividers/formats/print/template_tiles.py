"""Templates at true size, tiled over pages that overlap, with crosses to lay them together by."""

import math
from functools import partial
from typing import Any

from dividers.core.output.cutouts import Template
from dividers.formats.print.ink import ACCENT, INK, MARGIN, QUIET, page_points
from dividers.formats.print.paper import Pen, millimetres

OVERLAP_MM = 10.0
MOST_PAGES = 120
HEAD, FOOT = 46.0, 34.0  # points kept free above and below a tile


def write_templates(pen: Pen, templates: list[Template], words: list[str]) -> None:
    """Each template on pages of its own; says so where there are too many."""
    used = 0
    for template, line in zip(templates, words, strict=True):
        wide, high = _room_mm(pen.width, pen.height)
        columns, rows = _tiles_of(template, wide, high)
        if used + columns * rows > MOST_PAGES:
            pen.text(f"{line}: {columns * rows} pages, too many for one file; save the drawing as SVG or DXF for a plotter.")
            continue
        for row in range(rows):
            for column in range(columns):
                if used:
                    pen.turn()
                used += 1
                place = f", sheet {chr(65 + row % 26)}{column + 1} of {rows} × {columns}" if rows * columns > 1 else ""
                pen.text(f"{line}{place}", 9, QUIET)
                tile = partial(_tile, template, column * (wide - OVERLAP_MM), row * (high - OVERLAP_MM), wide, high)
                pen.drawn(millimetres(high), tile)


def sheets_of(template: Template, size: str) -> int:
    """How many sheets of a paper a template takes."""
    columns, rows = _tiles_of(template, *_room_mm(*page_points(size)))
    return columns * rows


def _tiles_of(template: Template, wide: float, high: float) -> tuple[int, int]:
    columns = max(math.ceil((template.width - OVERLAP_MM) / (wide - OVERLAP_MM)), 1)
    return columns, max(math.ceil((template.height - OVERLAP_MM) / (high - OVERLAP_MM)), 1)


def _room_mm(width: float, height: float) -> tuple[float, float]:
    points = millimetres(1.0)
    return (width - 2 * MARGIN) / points, (height - 2 * MARGIN - HEAD - FOOT - 40) / points


def _tile(template: Template, left: float, top: float, wide: float, high: float, canvas: Any, _: float) -> None:
    """The part of a template from (left, top) mm on, at true size, with crosses at the corners of what the next sheet repeats."""
    x0, y0 = 0.0, millimetres(high)
    canvas.saveState()
    clip = canvas.beginPath()
    clip.rect(x0, y0 - millimetres(high), millimetres(wide), millimetres(high))
    canvas.clipPath(clip, stroke=0, fill=0)
    canvas.setStrokeColor(INK)
    canvas.setLineWidth(0.8)
    path = canvas.beginPath()
    for turn, (x, y) in enumerate(template.ring):
        (path.lineTo if turn else path.moveTo)(x0 + millimetres(x - left), y0 - millimetres(y - top))
    path.close()
    canvas.drawPath(path, stroke=1, fill=0)
    canvas.restoreState()
    canvas.setStrokeColor(ACCENT)
    canvas.setLineWidth(0.4)
    for dx in (OVERLAP_MM / 2, wide - OVERLAP_MM / 2):
        for dy in (OVERLAP_MM / 2, high - OVERLAP_MM / 2):
            x, y = x0 + millimetres(dx), y0 - millimetres(dy)
            canvas.line(x - 6, y, x + 6, y)
            canvas.line(x, y - 6, x, y + 6)
