"""What stays free between the strips on both sides of a shape that is masked: wider than two widths of tape, it takes an infill strip."""

from collections.abc import Callable, Sequence
from fractions import Fraction

import numpy as np

from dividers.core.base.lengths import exact
from dividers.core.cells.layout import Layout, widths_of
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Floats

MASKED = ("facets", "mask")  # patterns of shapes, of which some are masked
MOST_WIDTHS = 8  # wider shapes are covered with paper or film
LAP_MM = 6.0  # an infill strip laps so far over both edge strips (common practice, no source)


def infills(layouts: Sequence[Layout], keys: Sequence[Sequence[str]], kind: str, tape_mm: float) -> list[tuple[str, float]]:
    """The keys of masked shapes with the width in mm of the strip that fills each in: bands between painted parts on both sides."""
    if kind not in MASKED:
        return []
    found = []
    for layout, names in zip(layouts, keys, strict=True):
        wide = widths_of(layout.cells)
        beside = _beside_paint(layout)
        around = layout.cells.perimeters()
        for cell in np.flatnonzero(~layout.painted & ~layout.reserved).tolist():
            if 2 * tape_mm < wide[cell] < MOST_WIDTHS * tape_mm and beside[cell] > around[cell] / 2:
                found.append((names[cell], float(wide[cell]) - 2 * tape_mm + 2 * LAP_MM))
    return found


def _beside_paint(layout: Layout) -> Floats:
    """How much of each cell's edge lies beside a painted one, mm."""
    borders = layout.borders
    total = np.zeros(len(layout.cells))
    painted = np.append(layout.painted, False)
    for near, far in ((borders.plus, borders.minus), (borders.minus, borders.plus)):
        on = (near != NOTHING) & painted[far]
        np.add.at(total, near[on], (borders.t1 - borders.t0)[on])
    return total


def infill_said(found: Sequence[tuple[str, float]], write: Callable[[Fraction], str]) -> str:
    """In a sentence; `write` makes a length's text."""
    several = len(found) > 1
    widths = sorted({write(exact(round(width, 1))) for _, width in found})
    names = ", ".join(name for name, _ in found[:4]) + (" …" if len(found) > 4 else "")
    return f"Between the tape on both sides of {names} a gap stays free: cover {'each' if several else 'it'} with an infill strip {' or '.join(widths[:3])} wide, or paper."
