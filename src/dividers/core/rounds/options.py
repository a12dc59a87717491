"""Rounds of mask, paint and pull. Ways of taping, compared.

`strips`: long strips, colour by colour, in as many rounds as they need. `alternate`: long strips, every second part whatever its colour,
then the rest, where that takes fewer rounds. `pieces`: a piece of tape for each side of each cell, all of a colour at
once. `reserve`: where a pattern's lines are reserved, one set of tape on those lines, and all colours at once.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from dividers.core.base.quantities import spoken
from dividers.core.base.texts import counted
from dividers.core.base.units import DAY_MIN
from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import NOTHING
from dividers.core.job.crew import Climate
from dividers.core.job.drying import label_min, tape_min
from dividers.core.job.method import Rates
from dividers.core.job.model import Piece
from dividers.core.job.products import Colour
from dividers.core.job.usual import COATS, coats_of
from dividers.core.rounds.alternate import alternated, most_that_meet
from dividers.core.rounds.conflicts import RoundCells, Tight, colour_order, kept_in, shared, split_by_conflicts, turns_of
from dividers.core.rounds.rounds import Round


@dataclass(frozen=True)
class Option:
    """One way of taping a piece, with its figures: as laid for the one in use, from the lines to be taped for the others.

    `tight` says where the tape is wider than the room beside its line.
    """

    taping: str
    rounds: tuple[Round, ...]
    rates: Rates
    paint_min: float
    wait_min: float
    tight: Tight | None = None
    in_use: bool = False

    @cached_property
    def strip_count(self) -> int:
        if self.in_use:
            return sum(len(strips) for each in self.rounds for strips in each.strips)
        return sum(each.estimated[0] for each in self.rounds)

    @cached_property
    def tape_m(self) -> float:
        return self.laid_m if self.in_use else sum(each.estimated[1] for each in self.rounds) / 1000

    @property
    def cuts(self) -> int:
        """Ends to cut or tear: two a strip."""
        return 2 * self.strip_count

    @property
    def labour_min(self) -> float:
        """Minutes to lay the tape and to set up each round."""
        rates = self.rates
        return self.tape_m / rates.taped_m_per_h * 60 + self.cuts * rates.cut_min + len(self.rounds) * rates.round_min

    @property
    def elapsed_min(self) -> float:
        """Minutes from the first strip to the last pull when nobody pauses: taping, coats and the waits between rounds."""
        return self.labour_min + self.paint_min + self.wait_min

    @property
    def laid_m(self) -> float:
        """Metres of the strips as they are cut to fit."""
        return float(sum(strips.lengths.sum() for each in self.rounds for strips in each.strips)) / 1000

    @property
    def lines_m(self) -> float:
        """Metres of those strips that are reserve tape, of the lines' own width."""
        return float(sum(s.lengths[s.reserve].sum() for each in self.rounds for s in each.strips)) / 1000


SPACED = "Long strips lie against each other from the start line, as the tape spaces this pattern; shorter bits would have no line to lie against."


@dataclass(frozen=True)
class Taping:
    """The ways there are, the one in use, and why in a sentence."""

    chosen: Option
    options: tuple[Option, ...]
    reason: str
    least_rounds: int = 0

    @property
    def proved(self) -> bool:
        """Whether it is proved that fewer rounds can't do it."""
        return len(self.chosen.rounds) <= max(self.least_rounds, min(len(self.chosen.rounds), 1))


def plan_taping(piece: Piece, layouts: Sequence[Layout], palette: Mapping[str, Colour], climate: Climate) -> Taping:
    """All ways of taping a piece in that air, and the one that its method asks for or that takes the least labour."""
    order = colour_order(layouts, palette, piece.method.order)
    width = float(piece.method.tape.width_mm)
    turns = turns_of(layouts, order)
    split, tight = split_by_conflicts(turns, layouts, palette, width)
    by_color = shared(split, layouts, width)
    ways: list[tuple[str, list[RoundCells], Tight | None]] = [("strips", by_color, tight)]
    every_second, narrow = split_by_conflicts(alternated(layouts, order, palette), layouts, palette, width)
    if every_second and len(every_second) < len(by_color):
        ways.append(("alternate", every_second, narrow))
    ways.append(("pieces", shared(turns, layouts, width), tight))
    if all(map(_reserves_all, layouts)) and turns:
        painted = tuple(layout.painted for layout in layouts)
        ways.append(("reserve", [RoundCells(order, painted)], None))
    options = tuple(_option(piece, way, drafts, layouts, palette, narrow, climate) for way, drafts, narrow in ways)
    spaced = any(layout.tiles.start_lines is not None for layout in layouts)
    return _choose(piece, options, most_that_meet(layouts), spaced)


def _reserves_all(layout: Layout) -> bool:
    """Whether every two painted cells of different colours have a reserved line between them."""
    if not len(layout.tape_lines):
        return False
    borders = layout.borders
    meet = (borders.plus != NOTHING) & (borders.minus != NOTHING)
    plus, minus = borders.plus[meet], borders.minus[meet]
    both = layout.painted[plus] & layout.painted[minus]
    names = np.array([str(color) for color in layout.colors])
    return not (both & (names[layout.slots[plus]] != names[layout.slots[minus]])).any()


def _choose(piece: Piece, options: tuple[Option, ...], least_rounds: int, spaced: bool) -> Taping:
    asked = next((option for option in options if option.taping == piece.method.taping), None)
    placed = [option for option in options if not spaced or option.strip_count <= options[0].strip_count]
    if asked:
        by_cost = _used(asked, options, "You chose this way.")
    elif len(placed) == 1 < len(options):
        by_cost = _used(placed[0], options, SPACED)
    else:
        by_cost = _least_cost(tuple(placed), options, piece.method.day_worth_min)
    found = replace(by_cost, least_rounds=least_rounds)
    if piece.method.taping == "alternate" and not asked:
        return replace(found, reason=f"Every second part first would take no fewer rounds here. {found.reason}")
    if piece.method.taping == "reserve":
        return replace(found, reason=f"No lines are left in the base colour here, or colours meet without one. {found.reason}")
    return found


def _used(chosen: Option, options: tuple[Option, ...], reason: str) -> Taping:
    """The ways with the figures of the chosen one as it is laid."""
    laid = replace(chosen, in_use=True)
    return Taping(laid, tuple(laid if option is chosen else option for option in options), reason)


def _least_cost(placed: tuple[Option, ...], options: tuple[Option, ...], day_min: float) -> Taping:
    """Of the ways `placed` among all, the one that costs least, minutes of taping and days of waiting together, and why in a sentence."""

    def cost(option: Option) -> float:
        return option.labour_min + day_min * option.elapsed_min / DAY_MIN

    chosen = min(placed, key=lambda option: (round(cost(option), 6), len(option.rounds)))
    other = min((o for o in placed if o is not chosen), key=cost)
    spared = other.labour_min - chosen.labour_min
    sooner = (other.elapsed_min - chosen.elapsed_min) / DAY_MIN
    valued = f"A day counts as {spoken(day_min)} of taping here; change that under “Your rates”."
    if spared < -1:
        reason = (
            f"{_who(chosen, 'take')} about {-spared:.0f} min more taping than {other.taping} but {_days(sooner)} less. {valued}"
        )
        return _used(chosen, options, reason)
    if spared < 1:
        habit = "; long strips are simpler" if chosen.taping == "strips" else ""
        return _used(chosen, options, f"{_who(chosen, 'take')} about as long as {other.taping} here{habit}.")
    reason = f"{_who(chosen, 'save')} about {spared:.0f} min of taping against {other.taping} here"
    if sooner < -0.5:
        rounds = f"with {counted(len(chosen.rounds), 'round')} against {len(other.rounds)} the job takes {_days(-sooner)} more"
        return _used(chosen, options, f"{reason}, but {rounds}. {valued}")
    return _used(chosen, options, reason + ".")


def _who(option: Option, verb: str) -> str:
    """The way as the subject of a sentence with a verb."""
    names = {"reserve": "Reserve tape", "alternate": "Every second part first"}
    name = names.get(option.taping, option.taping.capitalize())
    return f"{name} {verb}{'s' if option.taping in names else ''}"


def _days(days: float) -> str:
    return f"about {days:.0f} days" if round(days) > 1 else "about a day" if days > 0.5 else f"about {days * 24:.0f} h"


def _option(
    piece: Piece,
    taping: str,
    drafts: Sequence[RoundCells],
    layouts: Sequence[Layout],
    palette: Mapping[str, Colour],
    tight: Tight | None,
    climate: Climate,
) -> Option:
    rounds: list[Round] = []
    exit_side = piece.method.exit if piece.surface.kind in ("floor", "stairs") else None
    for number, each in enumerate(drafts, 1):
        kept = []
        for index, layout in enumerate(layouts):
            now = each.painted[index]
            later = np.logical_or.reduce([np.zeros(len(now), bool), *(after.painted[index] for after in drafts[number:])])
            keep = kept_in(layout, now, later, each.colors, palette)
            kept.append(keep & ~layout.reserved if taping == "reserve" else keep)
        rounds.append(
            Round(
                number,
                each.colors,
                taping,
                tuple(layouts),
                each.painted,
                tuple(kept),
                float(piece.method.tape.width_mm),
                exit_side,
            )
        )
    paint, wait = _minutes(piece, drafts, layouts, climate)
    return Option(taping, tuple(rounds), piece.method.rates, paint, wait, tight)


def _minutes(piece: Piece, drafts: Sequence[RoundCells], layouts: Sequence[Layout], climate: Climate) -> tuple[float, float]:
    """Minutes of painting, and minutes of waiting between coats and between rounds."""
    paint = wait = 0.0
    for number, each in enumerate(drafts):
        area = sum(float(layout.cells.areas()[now].sum()) for layout, now in zip(layouts, each.painted, strict=True)) / 1e6
        products = [piece.method.paint.get(color) for color in each.colors]
        coats = max((coats_of(piece.method.coats, color) for color in each.colors), default=COATS.value)
        paint += area * coats / piece.method.rates.painted_m2_per_h * 60
        wait += (coats - 1) * max((label_min(p, "recoat_min", climate) for p in products), default=0)
        if number + 1 < len(drafts):
            wait += max((tape_min(p, climate) for p in products), default=0.0)
    return paint, wait


def figures(option: Option) -> dict[str, int | float | str]:
    """An option's figures as the plan states them."""
    return {
        "taping": option.taping,
        "rounds": len(option.rounds),
        "strips": option.strip_count,
        "cuts": option.cuts,
        "tape_m": round(option.tape_m, 3),
        "labour_min": round(option.labour_min, 1),
        "elapsed_min": round(option.elapsed_min, 1),
    }
