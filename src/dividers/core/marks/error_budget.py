"""How far off the farthest line comes out by each way of carrying it, from stated accuracies of the tools.

A standard deviation of independent errors: what is within limits counts as uniform between them. The tape measure is one of EC accuracy class II
(limits 0.3 mm + 0.2 mm a metre, from memory); a cross-line laser 0.3 mm a metre, a spirit level 0.5 mm a metre, a pencil mark and a strip laid to it
0.5 mm each (common practice, no source).
"""

import math
from dataclasses import dataclass

TAPE_MM, TAPE_MM_PER_M = 0.3, 0.2
LASER_MM_PER_M, LEVEL_MM_PER_M = 0.3, 0.5
PENCIL_MM = LAID_MM = 0.5
WITHIN = 1.96  # so many standard deviations hold 19 of 20
BOTH_ENDS, LASER, LEVEL, STEPPED = WAYS = ("both ends", "laser", "level", "stepped")


@dataclass(frozen=True)
class Far:
    """The farthest line: `reach_mm` from the datum along the tape measure, `across_mm` long, the `turn`-th of as many steps."""

    reach_mm: float
    across_mm: float
    turn: int
    step_mm: float  # of the graduation


def spread(way: str, far: Far) -> float:
    """The standard deviation in mm of where the far end of the farthest line comes out. Raises KeyError for no way."""
    rounding = _uniform(far.step_mm / 2)
    mark = math.hypot(rounding, _uniform(PENCIL_MM), _uniform(TAPE_MM + TAPE_MM_PER_M * far.reach_mm / 1000))
    laid = _uniform(LAID_MM)
    metres = far.across_mm / 1000
    return {
        BOTH_ENDS: math.hypot(mark, laid),
        LASER: math.hypot(mark, _uniform(LASER_MM_PER_M * metres), laid),
        LEVEL: math.hypot(mark, _uniform(LEVEL_MM_PER_M * metres), laid),
        STEPPED: math.hypot(math.sqrt(far.turn) * math.hypot(rounding, _uniform(PENCIL_MM)), laid),
    }[way]


def worst(way: str, far: Far) -> float:
    """What it is off by at most in 19 of 20 cases, mm."""
    return WITHIN * spread(way, far)


def _uniform(limit: float) -> float:
    """The standard deviation of what lies evenly within plus and minus a limit."""
    return limit / math.sqrt(3)
