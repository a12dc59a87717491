"""What to cut from the roll before starting: lengths of tape with room for a tab, alike ones counted together."""

import math
from collections import Counter
from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.units import EASY_STEP_MM
from dividers.core.rounds.rounds import Round

# Each strip gets so much more than its line, folded over into a tab to pull by (common practice, no source).
TAB_MM = 12.0


@dataclass(frozen=True)
class Cut:
    """So many strips of one length, tab included."""

    length_mm: Fraction
    many: int


def cut_length(length_mm: float, units: str) -> Fraction:
    """What to cut for a strip along so much of a line: with its tab, up to the next easy length."""
    step = EASY_STEP_MM[units]
    return math.ceil(Fraction(round((length_mm + TAB_MM) * 1000), 1000) / step) * step


def cutting_list(each: Round, units: str) -> tuple[Cut, ...]:
    """The cuts of one round, longest first."""
    counts = Counter(cut_length(float(length), units) for strips in each.strips for length in strips.lengths)
    return tuple(Cut(length, many) for length, many in sorted(counts.items(), reverse=True))
