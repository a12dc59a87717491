"""A cut across one strip of tape: what it lies on, and where the paint comes."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from dividers.core.geometry import polygons
from dividers.core.job.products import Colour
from dividers.core.plan.piece_plan import PiecePlan

# Where along a strip to look for the paint beside it: the middle first, as its ends may run past what is painted.
PLACES = (0.5, 0.3, 0.7, 0.1, 0.9, 0.02, 0.98)
BESIDE_MM = 0.5


@dataclass(frozen=True)
class Section:
    """A strip seen from its end. `paints` are this round's colours beside it, one, or two where it serves both sides; `below` is
    what the tape lies on."""

    width_mm: float
    paints: tuple[Colour, ...]
    below: Colour
    both_sides: bool
    perimeter: bool


def section_of(plan: PiecePlan, palette: Mapping[str, Colour], round_number: int, sheet: int, strip: int) -> Section:
    """The section of one strip of a round."""
    each = plan.taping.chosen.rounds[round_number - 1]
    strips, layout = each.strips[sheet], plan.layouts[sheet]
    own = [layout.color(int(cell)) for cell in strips.covers[strip]]
    covered = [*own, *(color for one, color in plan.colors_under(each, sheet) if one == strip)]
    done = next((color for color in covered if color), None)
    slit = float(strips.slit_mm[strip])
    both = bool(strips.reserve[strip] or strips.twin[strip])
    return Section(
        width_mm=layout.tape_lines.width_mm if strips.reserve[strip] else each.width_mm if slit != slit else slit,
        paints=tuple(palette[color] for color in _beside(plan, round_number, sheet, strip, both)),
        below=palette[plan.piece.base if strips.reserve[strip] or not done else done],
        both_sides=both,
        perimeter=bool(strips.perimeter[strip]),
    )


def _beside(plan: PiecePlan, round_number: int, sheet: int, strip: int, both: bool) -> tuple[str, ...]:
    """The colours painted in a round beside a strip; the round's first where nothing is found."""
    each = plan.taping.chosen.rounds[round_number - 1]
    strips, layout = each.strips[sheet], plan.layouts[sheet]
    start, end = strips.start[strip], strips.end[strip]
    way = (end - start) / max(float(np.hypot(*(end - start))), 1e-9)
    out = np.array([-way[1], way[0]]) if strips.reserve[strip] else strips.out[strip]
    if strips.reserve[strip]:
        aside = layout.tape_lines.width_mm / 2 + BESIDE_MM
        sides = [-out * aside, out * aside]
    else:
        sides = [-out * BESIDE_MM, *([out * (each.width_mm + BESIDE_MM)] if both else [])]
    wet = np.flatnonzero(each.painted[sheet])
    found = []
    for side in sides:
        points = np.array([start + (end - start) * share + side for share in PLACES])
        cells = polygons.holding(layout.polygons[wet], points)
        if (cells >= 0).any():
            cell = int(wet[cells[cells >= 0][0]])
            under = int(layout.under[cell])
            own, below = layout.color(cell), layout.colors[under] if under >= 0 else None
            found.append(next((color for color in (own, below) if color in each.colors), None) or each.colors[0])
    return tuple(found) or each.colors[:1]
