"""What a job paints and tapes with: colours, paints, tapes, seals, and what of them is in stock."""

from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.colour import read_hex
from dividers.core.base.quantities import read_amount, read_minutes, read_price, read_spread
from dividers.core.base.units import LENGTH_MM
from dividers.core.job import usual
from dividers.core.job.kinds import Flag, LengthText, ListOf, Measure, Number, OneOf, Temperature, Text
from dividers.core.job.schema import file_key

BINDERS = ("water", "oil", "shellac")
SHEENS = ("flat", "matte", "satin", "semi-gloss", "gloss")
ADHESIONS = ("delicate", "medium", "strong")
TRIALS = (
    "none",
    "unsealed",
    "moisten",
    "base",
    "clear",
    "matte-medium",
    "caulk",
)  # of `method.trial_seal`; "none": nothing is tried
SEALS = ("auto", "none", "moisten", "base", "clear", "matte-medium", "caulk")
MOST_SIZES = 5

TIME = Measure(read_minutes, "time, like 30 min, 2 h or 14 d")
AIR = Temperature(10)
SPREAD = Measure(read_spread, "spread rate, like 9 m2/L or 375 ft2/gal")
AMOUNT = Measure(read_amount, "amount, like 0.75 L or 55 m")
HEX = Measure(read_hex, "# and six hexadecimal digits, like #22345a")


@dataclass(frozen=True)
class Colour:
    key: str
    name: str = file_key(Text(), "Name", default="")
    hex: str = file_key(
        HEX,
        "Colour",
        "# and six digits, like #22345a",
        needed="Write # and six hexadecimal digits, like #22345a.",
        default="#808080",
    )
    sheen: str = file_key(OneOf(SHEENS), "Sheen", "where colours differ in nothing else", default="")


@dataclass(frozen=True)
class Paint:
    """A paint as its label states it. Times in minutes, None where the label is silent."""

    key: str
    binder: str = file_key(OneOf(BINDERS), "Binder", default="water")
    sheen: str = file_key(OneOf(SHEENS), "Sheen", default="matte")
    spread_m2_l: Fraction = file_key(
        SPREAD, "Spread", "from the label, like 9 m2/L or 375 ft2/gal", default=usual.SPREAD_M2_L, name="spread"
    )
    wet_edge_min: Fraction | None = file_key(
        TIME, "Wet edge", "how long a stroke stays wet, like 10 min", default=usual.label("wet_edge_min"), name="wet_edge"
    )
    touch_dry_min: Fraction | None = file_key(
        TIME, "Touch-dry", "like 45 min", default=usual.label("touch_dry_min"), name="touch_dry"
    )
    recoat_min: Fraction | None = file_key(TIME, "Recoat", "like 2 h", default=usual.label("recoat_min"), name="recoat")
    tape_safe_min: Fraction | None = file_key(
        TIME, "Tape-safe", "when tape may go on it, like 24 h", default=usual.label("tape_safe_min"), name="tape_safe"
    )
    takes_tape_min: Fraction | None = file_key(
        TIME,
        "Takes tape after",
        "by your own word, where that is not what the label says, like 1 h",
        default=None,
        name="takes_tape",
        since="0.2.0",
    )
    full_dry_min: Fraction | None = file_key(
        TIME, "Fully dry", "like 3 d", default=usual.label("full_dry_min"), name="full_dry"
    )
    least_c: Fraction | None = file_key(AIR, "Not below", "like 10 C", default=None, name="least")
    most_c: Fraction | None = file_key(AIR, "Not above", "like 30 C", default=None, name="most")
    most_percent: Fraction | None = file_key(Number(1, 100), "Humidity at most", "percent", default=None, name="most_humidity")
    glaze_parts: Fraction | None = file_key(Number(1, 12), "Parts of glaze to one of paint", default=None)


@dataclass(frozen=True)
class Tape:
    """A masking tape: its actual width, and the length of a roll."""

    key: str
    width_mm: Fraction = file_key(
        LengthText(Fraction(1), Fraction(300)),
        "Actual width",
        "ten strips side by side, divided by ten",
        default=usual.TAPE_MM,
        name="width",
        needed="Measure the roll's actual width, like 24 mm.",
    )
    adhesion: str = file_key(OneOf(ADHESIONS), "Adhesion", default="medium")
    swelling_edge: bool = file_key(Flag(), "Swelling edge", default=False)
    roll_mm: Fraction = file_key(
        LengthText(LENGTH_MM["m"] / 2, Fraction(100_000)), "On a roll", "like 55 m or 60 yd", default=usual.ROLL_MM, name="roll"
    )
    remove_within_min: Fraction | None = file_key(
        TIME, "Comes off cleanly within", "like 14 d", default=None, name="remove_within"
    )


USUAL_TAPE = Tape("masking tape")


@dataclass(frozen=True)
class Seal:
    """A seal of the tape's edge by one of SEALS' methods, where it differs from what is usual.

    `dry_min` is the wait before paint goes on, `skin_min` by when the tape must be off again, `sealed_m_per_h` how fast it goes.
    """

    key: str
    method: str = file_key(OneOf(SEALS[1:]), "Method", default="caulk", needed=f"Choose one of: {', '.join(SEALS[1:])}.")
    dry_min: Fraction | None = file_key(TIME, "Wait before paint", "like 40 min", default=None, name="dry")
    skin_min: Fraction | None = file_key(
        TIME, "Tape off within", "for caulk: before it skins over, like 30 min", default=None, name="skin"
    )
    sealed_m_per_h: Fraction | None = file_key(Number(1, 1000), "Metres sealed per hour", default=None)


MODELS: dict[str, type[Paint | Tape | Seal]] = {"paint": Paint, "tape": Tape, "seal": Seal}


@dataclass(frozen=True)
class Supply:
    """What there is of an item and how it is sold: stock and sizes in litres, or metres of tape; a price for each size."""

    stock: Fraction = file_key(AMOUNT, "In stock", "like 0.4 L or 20 m", default=Fraction(0))
    sizes: tuple[Fraction, ...] = file_key(ListOf(AMOUNT, MOST_SIZES), "Sold in", "like 0.75 L; 2.5 L", default=())
    prices: tuple[Fraction, ...] = file_key(
        ListOf(Measure(read_price, "price, like 12.50"), MOST_SIZES), "Prices", "in the same order", default=()
    )
