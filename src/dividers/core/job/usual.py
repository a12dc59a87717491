"""Values that hold where a job is silent, each once, with where it comes from. A product's own figures come first."""

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Generic, TypeVar

T = TypeVar("T")
PRACTICE = "common practice, no source"


@dataclass(frozen=True)
class Usual(Generic[T]):
    """A trade figure and its source."""

    value: T
    source: str = PRACTICE


# What is painted.
COATS = Usual(2)
SPREAD_M2_L = Usual(Fraction(9), "common practice: labels say about 8 to 10 m²/L")
WET_MIN = 10  # wet: at once to about ten minutes after the last coat, where the label says nothing

# What it is taped with: the commonest roll, whose "1 in" is 24 mm.
TAPE_MM = Usual(Fraction(24))
ROLL_MM = Usual(Fraction(55_000))
TAPE_WASTE_PERCENT = Usual(10)

# How fast the work goes.
TAPED_M_PER_H = Usual(60.0)
CUT_MIN = Usual(0.5)
ROUND_MIN = Usual(15.0)
PAINTED_M2_PER_H = Usual(8.0)
SEALED_M_PER_H = Usual(90.0)
PULLED_M_PER_H = Usual(180.0)
MARK_MIN = Usual(0.75)
WINDOW_PERCENT = Usual(80)
DAY_WORTH_MIN = Usual(240.0, "a judgement, no source: half a working day")

# What the eye won't notice.
UNNOTICED_MM = Usual(Fraction(3))
PER_REPEAT_MM = Usual(Fraction(3))
SLOPE_DEG = Usual(Fraction(1, 2))
STRETCH_MM = Usual(Fraction(13))

# How far one reaches from where one stands.
REACH_MM = Usual(Fraction(1200))
STANDING_MM = Usual(Fraction(1900))

# In what air: what drying times on labels are stated for.
TEMPERATURE_C = Usual(Fraction(23))
HUMIDITY_PERCENT = Usual(Fraction(50))

# Minutes for a square metre of preparing, and the wait after it.
PREP_MIN_M2 = {"clean": 3.0, "fill": 4.0, "sand": 4.0, "prime": 7.5}
PREP_WAIT_MIN = {"clean": 30, "fill": 120, "sand": 0, "prime": 120}
TOUCH_UP_MIN, ERASE_MIN = 15.0, 5.0
CUT_IN_MIN_M = 2.0  # a metre of edge cut in by brush, each coat; painting round an edge takes as long
MOTIF_MIN = {"stamp": 0.5, "stencil": 2.0, "dot": 0.3, "nail head": 0.5}  # one motif by its tool
SHADING_MIN_M = 2.0  # a metre of fine line along a side
MEASURE_MIN = 1.0  # a band, once it is painted

# What labels commonly say, in minutes, by the name of a paint's figure.
LABEL_MIN: Mapping[str, int] = {
    "touch_dry_min": 45,
    "recoat_min": 120,
    "tape_safe_min": 1440,
    "full_dry_min": 1440,
    "wet_edge_min": WET_MIN,
}

# What labels of other binders commonly say instead: oil dries for most of a day, shellac within the hour.
OTHER_LABEL_MIN: Mapping[str, Mapping[str, int]] = {
    "oil": {"touch_dry_min": 240, "recoat_min": 960, "tape_safe_min": 4320, "full_dry_min": 10_080, "wet_edge_min": 20},
    "shellac": {"touch_dry_min": 20, "recoat_min": 60, "wet_edge_min": 3},
}


def usual_label_min(name: str, binder: str = "water") -> int:
    """What the label of a paint of that binder commonly says, in minutes.

    >>> usual_label_min("recoat_min"), usual_label_min("recoat_min", "oil")
    (120, 960)
    """
    return OTHER_LABEL_MIN.get(binder, LABEL_MIN).get(name, LABEL_MIN[name])


def label(name: str) -> Usual[None]:
    """A figure that is silent in a job, as it is on a label; what is planned with then is the source's."""
    others = "".join(f", {binder} {by_name[name]} min" for binder, by_name in OTHER_LABEL_MIN.items() if name in by_name)
    return Usual(None, f"{LABEL_MIN[name]} min{others}: {PRACTICE}")


def coats_of(coats: Mapping[str, int], color: str) -> int:
    """How many coats a colour gets, by key."""
    return coats.get(color, COATS.value)
