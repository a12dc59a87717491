"""A cut across one strip of tape: what it lies on, and where the paint comes."""

from collections.abc import Mapping
from dataclasses import dataclass

from dividers.core.job import Colour
from dividers.core.plan import PiecePlan


@dataclass(frozen=True)
class Section:
    """A strip seen from its end. `paint` is this round's colour, on one side or on both; `below` what the tape lies on."""

    width_mm: float
    paint: Colour
    below: Colour
    both_sides: bool
    perimeter: bool


def section_of(plan: PiecePlan, palette: Mapping[str, Colour], pass_number: int, sheet: int, strip: int) -> Section:
    """The section of one strip of a round."""
    each = plan.taping.chosen.passes[pass_number - 1]
    strips, layout = each.strips[sheet], plan.layouts[sheet]
    covered = [layout.color(int(cell)) for cell in strips.covers[strip]]
    done = next((color for color in covered if color), None)
    slit = float(strips.slit_mm[strip])
    return Section(
        width_mm=each.width_mm if slit != slit else slit,
        paint=palette[each.colors[0]],
        below=palette[plan.piece.base if strips.reserve[strip] or not done else done],
        both_sides=bool(strips.reserve[strip] or strips.twin[strip]),
        perimeter=bool(strips.perimeter[strip]),
    )
