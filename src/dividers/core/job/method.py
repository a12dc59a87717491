"""How a piece is marked, taped, sealed, painted and pulled: its pattern, rates and limits."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.job import usual
from dividers.core.job.kinds import ByColor, LengthText, ListOf, Number, OneOf, PaletteKey, ProductKey, Rate, WholeNumber
from dividers.core.job.products import SEALS, TRIALS, Paint, Seal, Tape
from dividers.core.job.schema import Object, file_key

FITS = ("square", "follow", "hide")
TAPINGS = ("auto", "strips", "alternate", "pieces", "reserve")
TAPED_IN = ("areas", "rounds")
EXITS = ("bottom", "left", "right", "top")
PREPS = ("clean", "fill", "sand", "prime")
# The small acts at the wall, which can be switched off one by one.
SMALL_ACTS = ("tack", "offload", "mist", "wrap", "misses", "mop", "lift", "warm", "straighten", "swab", "thinner", "seep")
TOOLS = ("brush", "roller", "spray")
PULLS = ("auto", "wet", "touch-dry", "dry")
BY_EYE = "by-eye"
MARK_SIDES = ("auto", "painted-side", "tape-side", BY_EYE)
MARK_ORDERS = ("centre-first", "along")
LASER = "laser"
MARK_WAYS = ("auto", "perimeter", "verticals", LASER)
NEARER = "nearer"
DATUMS = ("left", "right", "centre", NEARER)

# Sections of forms.
RATES = {"schedule": "Your rates"}
TAPE_RATES = {"tape": "Your rates"}
OWN = {"schedule": "How it is done"}
REACHED = {"marks": "From where you stand"}
WHERE = {"marks": "Where"}
UNSEEN = {"measure": "What the eye won't notice"}


@dataclass(frozen=True)
class PatternChoice:
    """A pattern's kind with its parameters' values, read and checked as that pattern states them."""

    kind: str
    values: Mapping[str, Any]


@dataclass(frozen=True)
class Rates:
    """How fast the work goes, to be changed to one's own."""

    taped_m_per_h: float = file_key(Rate(1, 1000), "Tape laid, m per hour", default=usual.TAPED_M_PER_H, forms=TAPE_RATES)
    cut_min: float = file_key(Rate(0, 60), "Minutes per cut", default=usual.CUT_MIN, forms=TAPE_RATES)
    round_min: float = file_key(Rate(0, 600), "Minutes per round", default=usual.ROUND_MIN, forms=TAPE_RATES)
    painted_m2_per_h: float = file_key(Rate(1, 200), "Painted, m² per hour", default=usual.PAINTED_M2_PER_H, forms=RATES)
    sealed_m_per_h: float = file_key(Rate(1, 1000), "Sealed, m per hour", default=usual.SEALED_M_PER_H, forms=RATES)
    pulled_m_per_h: float = file_key(Rate(1, 2000), "Pulled, m per hour", default=usual.PULLED_M_PER_H, forms=RATES)
    mark_min: float = file_key(Rate(0, 60), "Minutes per mark", default=usual.MARK_MIN, forms=RATES)


@dataclass(frozen=True)
class Limits:
    """What the eye won't notice, in mm and degrees, to be changed to one's own.

    A difference up to `unnoticed` needs nothing done. Shared out, each repeat may differ by `per_repeat` and lines slope by
    `slope_deg`. A remainder up to `stretch` can be stretched into the last repeat.
    """

    unnoticed_mm: Fraction = file_key(LengthText(), "A taper up to", default=usual.UNNOTICED_MM, name="unnoticed", forms=UNSEEN)
    per_repeat_mm: Fraction = file_key(
        LengthText(), "A repeat differs by", default=usual.PER_REPEAT_MM, name="per_repeat", forms=UNSEEN
    )
    slope_deg: Fraction = file_key(
        Number(0, 10), "Lines slope by, degrees", default=usual.SLOPE_DEG, name="slope", forms=UNSEEN
    )
    stretch_mm: Fraction = file_key(
        LengthText(), "A remainder stretched", default=usual.STRETCH_MM, name="stretch", forms=UNSEEN
    )


@dataclass(frozen=True)
class Method:
    """How the piece is to be taped and painted. `paint` and `coats` go by colour key; `order` is the wished order of colours."""

    tape: Tape = file_key(ProductKey(Tape), "Tape", "else the first tape of the products")
    fit: str = file_key(OneOf(FITS), "Where the surface is out of square", default="square")
    border_mm: Fraction = file_key(
        LengthText(), "Border that hides it", "0 if trim will cover it", default=Fraction(0), name="border", forms=UNSEEN
    )
    limits: Limits = file_key(Object.of(Limits), default=Limits())
    taping: str = file_key(
        OneOf(TAPINGS, {"alternate": "Every second part"}), "Way of taping", default="auto", forms={"tape": "Way of taping"}
    )
    paint: Mapping[str, Paint] = file_key(ByColor(ProductKey(Paint)), "Product", "else a typical paint", default={})
    coats: Mapping[str, int] = file_key(
        ByColor(WholeNumber(0, 20)),
        "Coats",
        "0 for the base where it is on already",
        default=usual.Usual({}, f"{usual.COATS.value} for each, {usual.PRACTICE}"),
    )
    seal: str = file_key(OneOf(SEALS, {"auto": "Automatic"}), "Seal the tape's edge", default="auto", forms=OWN)
    trial_seal: str = file_key(
        OneOf(TRIALS, {"none": "No trial", "unsealed": "Without a seal"}),
        "Try another seal on half a strip",
        "on the longest strip of the first round; you judge both halves once the tape is off",
        default="none",
        forms=OWN,
        since="0.2.0",
    )
    pull: str = file_key(
        OneOf(PULLS, {"auto": "Automatic"}),
        "Pull the tape",
        "wet: at once; touch-dry: when nothing comes off on the finger; dry: fully dry",
        default="auto",
        forms=OWN,
    )
    marks: str = file_key(
        OneOf(
            MARK_SIDES,
            {
                "auto": "Where dark paint covers it",
                "painted-side": "On the painted side",
                "tape-side": "Under the tape",
                BY_EYE: "Nowhere: taped by eye",
            },
        ),
        "Pencil marks go",
        default="auto",
        forms=WHERE,
    )
    mark_order: str = file_key(
        OneOf(MARK_ORDERS, {"centre-first": "Centre first, then from outside in", "along": "Along the tape"}),
        "Order of marking",
        "along the tape measure takes the fewest steps; centre first shows an error early",
        default="along",
        forms={"marks": "Order"},
    )
    mark_way: str = file_key(
        OneOf(
            MARK_WAYS,
            {
                "auto": "Automatic",
                "perimeter": "Along the edges, then snap",
                "verticals": "Down each vertical",
                LASER: "One mark a line, carried across from it",
            },
        ),
        "Where to mark",
        "edges work only where every line runs all the way across",
        default="auto",
        forms=WHERE,
    )
    third_mark_mm: Fraction | None = file_key(
        LengthText(Fraction(500)),
        "A third mark on lines longer than",
        "in the middle; where you strike by eye or along a short straightedge. Empty: none",
        default=None,
        name="third_mark",
        forms=WHERE,
        since="0.2.0",
    )
    reach_mm: Fraction = file_key(
        LengthText(Fraction(100)),
        "Reach from side to side",
        "without moving",
        default=usual.REACH_MM,
        name="reach",
        forms=REACHED,
        since="0.2.0",
    )
    standing_mm: Fraction = file_key(
        LengthText(Fraction(500)),
        "Reach up, standing",
        "what is higher is marked on a ladder",
        default=usual.STANDING_MM,
        name="standing",
        forms=REACHED,
        since="0.2.0",
    )
    datum: str = file_key(
        OneOf(DATUMS, {NEARER: "The nearer end, so that the tape measure doesn't sag"}),
        "Measure across from",
        default="left",
        forms=WHERE,
    )
    level_line_mm: Fraction | None = file_key(
        LengthText(Fraction(0)),
        "Level line to measure from",
        "struck so far down from the top at the left; all that lies above and below is read from it. Empty: from the corners",
        default=None,
        name="level_line",
        forms=WHERE,
        since="0.2.0",
    )
    order: tuple[str, ...] = file_key(ListOf(PaletteKey(), 60), "Order of colours", "first to be painted first", default=())
    rates: Rates = file_key(Object.of(Rates), default=Rates())
    tape_waste_percent: int = file_key(
        WholeNumber(0, 200),
        "Tape waste, percent",
        default=usual.TAPE_WASTE_PERCENT,
        name="tape_waste",
        forms={"materials": "Tape"},
    )
    day_worth_min: float = file_key(
        Rate(0, 10_000),
        "A day sooner is worth, minutes of taping",
        default=usual.DAY_WORTH_MIN,
        name="day_worth",
        forms=TAPE_RATES,
        since="0.2.0",
    )
    prep: tuple[str, ...] = file_key(
        ListOf(OneOf(PREPS), len(PREPS), separator=", ", cut=r"\s,;"),
        "Preparing",
        f"from {', '.join(PREPS)}",
        default=(),
        forms=OWN,
    )
    acts_off: tuple[str, ...] = file_key(
        ListOf(OneOf(SMALL_ACTS), len(SMALL_ACTS), separator=", ", cut=r"\s,;"),
        "Don't remind me at the wall to",
        f"from {', '.join(SMALL_ACTS)}",
        default=(),
        forms=OWN,
        since="0.2.0",
    )
    clear_coats: int = file_key(WholeNumber(0, 10), "Clear coats at the end", default=0, forms=OWN)
    exit: str = file_key(
        OneOf(EXITS), "The exit is at the", "the work goes from the back toward it", default="bottom", forms=OWN
    )
    window_percent: int = file_key(
        WholeNumber(10, 100),
        "Share of the pull window to use",
        "percent; 80 leaves a margin",
        default=usual.WINDOW_PERCENT,
        name="window",
        forms=OWN,
    )
    tape_in: str = file_key(
        OneOf(TAPED_IN, {"areas": "By areas where that helps", "rounds": "All at once"}),
        "A round is taped",
        default="areas",
        forms={"tape": "Way of taping"},
        since="0.2.0",
    )
    seals: Mapping[str, Seal] = field(default_factory=dict)
    tool: str = file_key(
        OneOf(TOOLS, {"roller": "roller, 10 % lost", "brush": "brush, 5 %", "spray": "spray, 30 %"}),
        "Painted with",
        "what stays in the tool: common practice",
        default="roller",
        forms={"materials": "Tool"},
    )
