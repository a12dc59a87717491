"""What a job paints and tapes with: colours, paints, tapes, seals, and what of them is in stock."""

from dataclasses import dataclass
from fractions import Fraction

BINDERS = ("water", "oil", "shellac")


SHEENS = ("flat", "matte", "satin", "semi-gloss", "gloss")


ADHESIONS = ("delicate", "medium", "strong")


SEALS = ("auto", "none", "moisten", "base", "clear", "matte-medium", "caulk")


@dataclass(frozen=True)
class Colour:
    key: str
    name: str
    hex: str
    sheen: str = ""


@dataclass(frozen=True)
class Paint:
    """A paint as its label states it. Times in minutes, None where the label is silent."""

    key: str
    binder: str
    sheen: str
    spread_m2_l: Fraction
    touch_dry_min: Fraction | None = None
    recoat_min: Fraction | None = None
    tape_safe_min: Fraction | None = None
    full_dry_min: Fraction | None = None
    wet_edge_min: Fraction | None = None
    least_c: Fraction | None = None
    most_c: Fraction | None = None
    most_percent: Fraction | None = None
    glaze_parts: Fraction | None = None  # of glaze to one of paint


@dataclass(frozen=True)
class Tape:
    """A masking tape: its actual width, and the length of a roll."""

    key: str
    width_mm: Fraction
    adhesion: str
    swelling_edge: bool
    roll_mm: Fraction
    remove_within_min: Fraction | None = None


@dataclass(frozen=True)
class Seal:
    """A seal of the tape's edge by one of SEALS' methods, where it differs from what is usual.

    `dry_min` is the wait before paint goes on, `skin_min` by when the tape must be off again, `sealed_m_per_h` how fast it goes.
    """

    key: str
    method: str
    dry_min: Fraction | None = None
    skin_min: Fraction | None = None
    sealed_m_per_h: Fraction | None = None


@dataclass(frozen=True)
class Supply:
    """What there is of an item and how it is sold: stock and sizes in litres, or metres of tape; a price for each size."""

    stock: Fraction = Fraction(0)
    sizes: tuple[Fraction, ...] = ()
    prices: tuple[Fraction, ...] = ()
