"""Values that are usual where a job is silent, each once. All are common practice with no source; a product's own figures come first."""

from collections.abc import Mapping
from fractions import Fraction

COATS = 2
SPREAD_M2_L = Fraction(9)  # labels say about 8 to 10 m²/L
WET_MIN = 10  # wet: at once to about ten minutes after the last coat

# Minutes for a square metre of preparing, and the wait after it.
PREP_MIN_M2 = {"clean": 3.0, "fill": 4.0, "sand": 4.0, "prime": 7.5}
PREP_WAIT_MIN = {"clean": 30, "fill": 120, "sand": 0, "prime": 120}
TOUCH_UP_MIN, ERASE_MIN = 15.0, 5.0

# What labels commonly say, in minutes, by the name of a paint's figure.
LABEL_MIN: Mapping[str, int] = {
    "touch_dry_min": 45,
    "recoat_min": 120,
    "tape_safe_min": 1440,
    "full_dry_min": 1440,
    "wet_edge_min": WET_MIN,
}


def coats_of(coats: Mapping[str, int], color: str) -> int:
    """How many coats a colour gets, by key."""
    return coats.get(color, COATS)
