"""How much paint and tape a piece takes: area per colour, litres from the spread rate, metres and rolls of tape."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

from dividers.core.cells.layout import Layout
from dividers.core.job.model import Piece
from dividers.core.job.products import Paint, Tape
from dividers.core.job.usual import SPREAD_M2_L, coats_of
from dividers.core.rounds.options import Option
from dividers.core.tape.outer_edges import wrapped_mm2


@dataclass(frozen=True)
class PaintNeed:
    """Paint of one colour for all copies of a piece."""

    color: str
    product: str
    area_m2: float
    coats: int
    spread_m2_l: float
    is_base: bool

    @property
    def litres(self) -> float:
        return self.area_m2 * self.coats / self.spread_m2_l


@dataclass(frozen=True)
class TapeNeed:
    """Tape of one kind for all copies of a piece. `net_m` lies on the surface; the waste comes on top."""

    tape: Tape
    net_m: float
    waste_percent: int

    @property
    def metres(self) -> float:
        return self.net_m * (1 + self.waste_percent / 100)

    @property
    def rolls(self) -> int:
        return math.ceil(round(self.metres * 1000 / float(self.tape.roll_mm), 9))


def paint_needs(piece: Piece, layouts: Sequence[Layout], order: Sequence[str]) -> tuple[PaintNeed, ...]:
    """The base colour over the whole field less openings, then each colour over its cells."""
    areas: dict[str | None, float] = {}
    for layout in layouts:
        sizes = layout.cells.areas() + wrapped_mm2(layout)
        for slot, color in enumerate(layout.colors):
            here = (layout.slots == slot) | (layout.under == slot)
            areas[color] = areas.get(color, 0.0) + float(sizes[here].sum())
    whole = sum(float((layout.cells.areas() + wrapped_mm2(layout)).sum()) for layout in layouts)
    base = (piece.base, whole, True)
    needs = [base, *((color, areas.get(color, 0.0), False) for color in order)]
    return tuple(paint_need(piece, color, area_mm2, is_base) for color, area_mm2, is_base in needs)


def paint_need(piece: Piece, color: str, area_mm2: float, is_base: bool = False, coats: int | None = None) -> PaintNeed:
    """What an area on one copy takes of a colour for all copies, in its usual coats where no other number is given."""
    usual = piece.base_coats if is_base else coats_of(piece.method.coats, color)
    paint: Paint | None = piece.method.paint.get(color)
    return PaintNeed(
        color=color,
        product=paint.key if paint else "",
        area_m2=area_mm2 / 1e6 * piece.copies,
        coats=usual if coats is None else coats,
        spread_m2_l=float(paint.spread_m2_l if paint else SPREAD_M2_L.value),
        is_base=is_base,
    )


def tape_need(piece: Piece, chosen: Option) -> TapeNeed:
    """The tape of the chosen way of taping."""
    return TapeNeed(piece.method.tape, chosen.laid_m * piece.copies, piece.method.tape_waste_percent)
