"""How a piece is marked, taped, sealed, painted and pulled: its pattern, rates and limits."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.job.products import Paint, Seal, Tape

FITS = ("square", "follow", "hide")


TAPINGS = ("auto", "strips", "pieces", "reserve")


EXITS = ("bottom", "left", "right", "top")


PREPS = ("clean", "fill", "sand", "prime")


TOOLS = ("brush", "roller", "spray")


PULLS = ("auto", "wet", "touch-dry", "dry")


MARK_SIDES = ("auto", "painted-side", "tape-side")


MARK_ORDERS = ("centre-first", "along")


MARK_WAYS = ("auto", "perimeter", "verticals")


DATUMS = ("left", "right", "centre")


@dataclass(frozen=True)
class PatternChoice:
    """A pattern's kind with its parameters' values, read and checked as that pattern states them."""

    kind: str
    values: Mapping[str, Any]


@dataclass(frozen=True)
class Rates:
    """How fast the work goes: all common practice with no source, to be changed to one's own."""

    taped_m_per_h: float = 60.0
    cut_min: float = 0.5
    round_min: float = 15.0
    painted_m2_per_h: float = 8.0
    sealed_m_per_h: float = 90.0
    pulled_m_per_h: float = 180.0
    mark_min: float = 0.75


@dataclass(frozen=True)
class Limits:
    """What the eye won't notice, in mm and degrees: all common practice with no source, to be changed to one's own.

    A difference up to `unnoticed` needs nothing done. Shared out, each repeat may differ by `per_repeat` and lines slope by
    `slope_deg`. A remainder up to `stretch` can be stretched into the last repeat.
    """

    unnoticed_mm: Fraction = Fraction(3)
    per_repeat_mm: Fraction = Fraction(3)
    slope_deg: Fraction = Fraction(1, 2)
    stretch_mm: Fraction = Fraction(13)


@dataclass(frozen=True)
class Method:
    """How the piece is to be taped and painted. `paint` and `coats` go by colour key; `order` is the wished order of colours."""

    tape: Tape
    fit: str = "square"
    border_mm: Fraction = Fraction(0)
    limits: Limits = Limits()
    taping: str = "auto"
    paint: Mapping[str, Paint] = field(default_factory=dict)
    coats: Mapping[str, int] = field(default_factory=dict)
    seal: str = "auto"
    pull: str = "auto"
    marks: str = "auto"
    mark_order: str = "centre-first"
    mark_way: str = "auto"
    datum: str = "left"
    order: tuple[str, ...] = ()
    rates: Rates = Rates()
    tape_waste_percent: int = 10
    prep: tuple[str, ...] = ()
    clear_coats: int = 0
    exit: str = "bottom"
    window_percent: int = 80
    seals: Mapping[str, Seal] = field(default_factory=dict)
    tool: str = "roller"
