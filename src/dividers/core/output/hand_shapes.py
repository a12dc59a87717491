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
    half = float(work.layer.width_mm) / 2, float(work.layer.height_mm) / 2
    for name, (x, y) in work.places:
        if name == panel:
            yield tuple((x + dx * half[0], y + dy * half[1]) for dx, dy in _outline(work.layer.tool))
    wide = float(work.layer.line_mm)
    for name, (ax, ay), (bx, by) in work.lines:
        length = math.dist((ax, ay), (bx, by))
        if name == panel and length:
            inx, iny = -(by - ay) / length * wide, (bx - ax) / length * wide
            yield (ax, ay), (bx, by), (bx + inx, by + iny), (ax + inx, ay + iny)


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
