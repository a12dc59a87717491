"""How motifs and shaded sides look in a drawing: rings in a panel's coordinates, true in size."""

import math
from collections.abc import Iterator

from dividers.core.geometry.shapes import Point
from dividers.core.job.layers import STAMP, STENCIL
from dividers.core.plan.hand_work import HandWork

CORNERS = 24  # of a round motif
STAR_WAIST = 0.45  # a stencil is drawn as a star, whose waist is so much of its tips


def shapes_on(work: HandWork, panel: str) -> Iterator[tuple[Point, ...]]:
    """The shapes of hand work on one panel, in working order."""
    size = float(work.layer.width_mm), float(work.layer.height_mm)
    yield from (motif(work.layer.tool, middle, size) for name, middle in work.places if name == panel)
    wide = float(work.layer.line_mm)
    yield from (side_line(start, end, wide) for name, start, end in work.lines if name == panel and start != end)


def motif(tool: str, middle: Point, size: tuple[float, float]) -> tuple[Point, ...]:
    """The ring of a motif of a size in mm about its middle."""
    (x, y), (wide, high) = middle, size
    return tuple((x + dx * wide / 2, y + dy * high / 2) for dx, dy in _outline(tool))


def side_line(start: Point, end: Point, wide_mm: float) -> tuple[Point, ...]:
    """The ring of a line along a side, inside its cell: to the right as one goes along it (y runs down)."""
    (ax, ay), (bx, by) = start, end
    length = math.dist(start, end)
    inx, iny = -(by - ay) / length * wide_mm, (bx - ax) / length * wide_mm
    return (ax, ay), (bx, by), (bx + inx, by + iny), (ax + inx, ay + iny)


def _outline(tool: str) -> list[Point]:
    """A motif's outline in a box from -1 to 1."""
    if tool == STAMP:
        return [(-1, -1), (1, -1), (1, 1), (-1, 1)]
    if tool == STENCIL:
        return [
            (math.sin(turn * math.pi / 4) * (STAR_WAIST if turn % 2 else 1), -math.cos(turn * math.pi / 4) * (STAR_WAIST if turn % 2 else 1))
            for turn in range(8)
        ]  # fmt: skip
    turns = (2 * math.pi * turn / CORNERS for turn in range(CORNERS))
    return [(math.cos(turn), math.sin(turn)) for turn in turns]
