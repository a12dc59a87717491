"""Shapes of a pattern to cut out at true size: each that differs from the others once, as large as it is."""

from dataclasses import dataclass

import numpy as np

from dividers.core.geometry.shapes import Floats, Point
from dividers.core.output.hand_shapes import motif
from dividers.core.plan.hand_work import HandWork
from dividers.core.plan.piece_plan import PiecePlan

SAME_MM = 0.5  # shapes that differ less are one
MOST_SHAPES = 12


@dataclass(frozen=True)
class Template:
    """A shape with its box at (0, 0), how many cells have it, and the key of one, or the `motif` that it is; shapes differ by their side lengths."""

    ring: tuple[Point, ...]
    many: int
    cell: str
    width: float
    height: float
    motif: str = ""


def templates_of(plan: PiecePlan) -> list[Template]:
    """The shapes of the cells that get paint, the commonest first, then the motifs. Cells with holes are left out."""
    found: dict[tuple[tuple[float, ...], int, int], list[tuple[str, Floats]]] = {}
    for sheet, layout in enumerate(plan.layouts):
        for index, rings in enumerate(layout.cells.shifted((0.0, 0.0))):
            if layout.reserved[index] or layout.color(index) in (None, plan.piece.base) or len(rings) != 1:
                continue
            ring = np.array(rings[0], float)
            found.setdefault(_shape(ring), []).append((plan.cell_keys[sheet][index], ring))
    made = []
    for cells in found.values():
        key, ring = cells[0]
        low = ring.min(axis=0)
        size = ring.max(axis=0) - low
        points = tuple((float(x), float(y)) for x, y in ring - low)
        made.append(Template(points, len(cells), key, float(size[0]), float(size[1])))
    cut = sorted(made, key=lambda shape: (-shape.many, -shape.width * shape.height))[:MOST_SHAPES]
    return cut + [_motif(work) for work in plan.hand if work.places]


def _motif(work: HandWork) -> Template:
    """A motif as it is cut into a stencil or a stamp."""
    wide, high = float(work.layer.width_mm), float(work.layer.height_mm)
    return Template(
        motif(work.layer.tool, (wide / 2, high / 2), (wide, high)), len(work.places), "", wide, high, work.layer.name
    )


def _shape(ring: Floats) -> tuple[tuple[float, ...], int, int]:
    """What shapes have in common that lie upon each other when they are moved: sides in order from the longest, and the box."""
    sides = np.hypot(*(np.roll(ring, -1, axis=0) - ring).T)
    turn = int(np.argmax(np.round(sides / SAME_MM)))
    size = ring.max(axis=0) - ring.min(axis=0)
    rounded = tuple(float(side) for side in np.round(np.roll(sides, -turn) / SAME_MM))
    return rounded, round(float(size[0]) / SAME_MM), round(float(size[1]) / SAME_MM)
