"""From needs to a shopping list: stock taken off, packs chosen, what is left over, what it costs; and where stock runs out."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.quantities import run
from dividers.core.base.units import US_GALLON_L
from dividers.core.job.model import Job
from dividers.core.job.products import Supply, Tape
from dividers.core.materials.needs import METRES, Need, needs_of
from dividers.core.materials.packs import Pack, packs_for
from dividers.core.materials.sundries import sundries_of
from dividers.core.order.round_choices import RoundChoice
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.rounds.cutting import cut_length

# What shops usually have where a supply names no sizes (common practice, no source).
USUAL_L = {
    "in": (US_GALLON_L / 4, US_GALLON_L),
    "cm": (Fraction(3, 8), Fraction(3, 4), Fraction(5, 2)),
    "mm": (Fraction(3, 8), Fraction(3, 4), Fraction(5, 2)),
}
TESTER_L = {"in": US_GALLON_L / 16, "cm": Fraction(1, 8), "mm": Fraction(1, 8)}  # a pot to try a colour: 8 fl oz, 125 mL
CARTRIDGE_L = Fraction(3, 10)
ROUND_TO = 10_000


@dataclass(frozen=True)
class ShoppingLine:
    """One line of the shopping list; amounts in the need's unit. `cost` is None where a price is missing."""

    need: Need
    stock: Fraction
    missing: Fraction
    packs: tuple[tuple[Pack, int], ...]
    cost: Fraction | None
    priced: bool

    @property
    def bought(self) -> Fraction:
        return sum((pack.size * many for pack, many in self.packs), Fraction(0))

    @property
    def left_over(self) -> Fraction:
        return self.stock + self.bought - Fraction(round(self.need.amount * ROUND_TO), ROUND_TO)


@dataclass(frozen=True)
class Shopping:
    """All lines, sundries, the total cost where prices are known, and where tape in stock runs out."""

    lines: tuple[ShoppingLine, ...]
    sundries: tuple[tuple[str, str], ...]
    currency: str
    cost: Fraction
    unpriced: int
    runs_out: tuple[str, ...]


def shopping_of(plan: Plan, choices: Mapping[str, tuple[RoundChoice, ...]]) -> Shopping:
    """What to buy for a whole job."""
    job = plan.job
    lines = tuple(_line(job, need) for need in needs_of(plan, choices))
    return Shopping(
        lines,
        tuple(sundries_of(plan, choices)),
        job.currency,
        sum((line.cost or Fraction(0) for line in lines), Fraction(0)),
        sum(line.cost is None and bool(line.packs) for line in lines),
        tuple(runs_out(plan)),
    )


def _line(job: Job, need: Need) -> ShoppingLine:
    supply = job.supplies.get(need.item, Supply())
    missing = max(Fraction(round(need.amount * ROUND_TO), ROUND_TO) - supply.stock, Fraction(0))
    packs = packs_for(missing, _packs(job, need, supply, missing))
    priced = bool(packs) and all(pack.price is not None for pack, _ in packs)
    cost = (
        sum((pack.price * many for pack, many in packs if pack.price is not None), Fraction(0)) if priced or not packs else None
    )
    return ShoppingLine(need, supply.stock, missing, packs, cost, priced)


def _packs(job: Job, need: Need, supply: Supply, missing: Fraction) -> Sequence[Pack]:
    """The sizes an item is sold in: as given, a roll's own length, or usual ones; a tester pot where one is enough."""
    if supply.sizes:
        prices = (*supply.prices, *(None for _ in supply.sizes))
        return [Pack(size, price) for size, price in zip(supply.sizes, prices, strict=False)]
    price = supply.prices[0] if supply.prices else None
    if need.unit == METRES:
        product = job.products.get(need.product)
        return [Pack(product.roll_mm / 1000 if isinstance(product, Tape) else Fraction(50), price)]
    if need.item == "clear caulk":
        return [Pack(CARTRIDGE_L, price)]
    tester = TESTER_L[job.units]
    return [Pack(tester)] if missing <= tester else [Pack(size) for size in USUAL_L[job.units]]


def runs_out(plan: Plan) -> list[str]:
    """For each tape with a stock: at which strip it runs out, if it does, piece after piece, round after round."""
    found = []
    for key, product in plan.job.products.items():
        supply = plan.job.supplies.get(key)
        if not isinstance(product, Tape) or supply is None or supply.stock <= 0:
            continue
        left = supply.stock * 1000
        where = _where_it_ends(plan, key, left)
        if where:
            found.append(f"{key}: the {run(float(supply.stock), plan.job.units)} in stock run out at {where}.")
    return found


def _where_it_ends(plan: Plan, key: str, left: Fraction) -> str:
    for piece in plan.pieces:
        if piece.piece.method.tape.key != key:
            continue
        for copy in range(1, piece.piece.copies + 1):
            strip, left = _lay(piece, plan.job.units, left)
            if strip:
                of = f", {copy} of {piece.piece.copies}" if piece.piece.copies > 1 else ""
                return f"strip {strip} of {piece.piece.name}{of}"
    return ""


def _lay(piece: PiecePlan, units: str, left: Fraction) -> tuple[int, Fraction]:
    """Lay all strips of a piece from what is left: the number of the strip that there isn't enough for, or 0."""
    number = 0
    for each in piece.taping.chosen.rounds:
        for strips in each.strips:
            for length in strips.lengths:
                number += 1
                left -= cut_length(float(length), units)
                if left < 0:
                    return number, left
    return 0, left
