"""What looks like a mistake in free shapes: a line that nearly continues another, or that nearly meets a corner.

For each the two clear ways out: exactly onto it, or clearly past it.
"""

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from fractions import Fraction

from dividers.core.geometry.shapes import Floats, Point
from dividers.core.patterns.base.parameters import Note

# All common practice, no source: what the eye takes for one line, and for one point.
NEARLY_ONE_DIRECTION_DEG = 5.0
NEARLY_ONE_LINE_MM = 25.0
NEARLY_ONE_POINT_MM = 15.0
EXACT_MM = 0.5
MOST_NOTES = 12


def near_misses(legs: Floats, points: Mapping[str, Point], paths: Sequence[Sequence[str]]) -> list[Note]:
    """Notes on legs (n, 2, 2) that nearly line up, or nearly meet a point, with the clear positions."""
    names = [(a, b) for path in paths for a, b in itertools.pairwise(path)]
    found = [*_nearly_continued(legs, names), *_nearly_met(legs, names, points)]
    return found[:MOST_NOTES]


def _nearly_continued(legs: Floats, names: Sequence[tuple[str, str]]) -> Iterator[Note]:
    for one in range(len(legs)):
        for other in range(one + 1, len(legs)):
            if set(names[one]) & set(names[other]):
                continue  # they meet on purpose
            turn = _turn_deg(legs[one], legs[other])
            gaps = [_distance(point, legs[one], 20 * NEARLY_ONE_LINE_MM) for point in legs[other]]
            beyond = min(math.dist(p, q) for p in legs[one] for q in legs[other])
            nearest = min(gaps)
            if turn < NEARLY_ONE_DIRECTION_DEG and EXACT_MM < nearest < NEARLY_ONE_LINE_MM and beyond < 20 * NEARLY_ONE_LINE_MM:
                yield Note(
                    "nearly-continues",
                    f"{' '.join(names[other])} nearly continues {' '.join(names[one])}, {{}} off. Put it exactly in line, "
                    "or move it to at least {} off, on either side.",
                    "points",
                    (_mm(nearest), _mm(NEARLY_ONE_LINE_MM)),
                )


def _nearly_met(legs: Floats, names: Sequence[tuple[str, str]], points: Mapping[str, Point]) -> Iterator[Note]:
    used = {name for pair in names for name in pair}
    for leg, pair in zip(legs, names, strict=True):
        for name in used - set(pair):
            gap = _distance(points[name], leg)
            if EXACT_MM < gap < NEARLY_ONE_POINT_MM:
                yield Note(
                    "nearly-meets",
                    f"{' '.join(pair)} passes {name} at {{}}. Run it exactly through {name}, or move {name} by {{}} to one side "
                    "or {} to the other.",
                    "points",
                    (_mm(gap), _mm(NEARLY_ONE_POINT_MM - gap), _mm(NEARLY_ONE_POINT_MM + gap)),
                )


def _turn_deg(one: Floats, other: Floats) -> float:
    angles = [math.atan2(*(leg[1] - leg[0])[::-1]) for leg in (one, other)]
    turn = abs(angles[0] - angles[1]) % math.pi
    return math.degrees(min(turn, math.pi - turn))


def _distance(point: Point | Floats, leg: Floats, beyond_mm: float = 0.0) -> float:
    """From a point to the nearest place on a leg drawn on at both ends."""
    (ax, ay), (bx, by) = leg
    length = math.hypot(bx - ax, by - ay)
    along = ((point[0] - ax) * (bx - ax) + (point[1] - ay) * (by - ay)) / length
    along = min(max(along, -beyond_mm), length + beyond_mm)
    return math.hypot(point[0] - ax - (bx - ax) * along / length, point[1] - ay - (by - ay) * along / length)


def _mm(value: float) -> Fraction:
    return Fraction(value).limit_denominator(100)
