"""What looks like a mistake in free shapes: strips that nearly continue each other or run nearly side by side, that nearly meet a point, a corner
or an edge; tips too sharp to tape. For each the two clear ways out: exactly onto it, or clearly past it.
"""

import itertools
import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

import numpy as np

from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.parameters import Note

# All common practice, no source: what the eye takes for one line, for one point, and for side by side, on a wall; on a sheet that is looked at
# from nearer by, less by as much as it is smaller.
WALL_MM = 1800.0  # from corner to corner
NEARLY_ONE_DIRECTION_DEG = 5.0
NEARLY_ONE_LINE_MM = 25.0
NEARLY_ONE_POINT_MM = 15.0
NEARLY_PARALLEL_DEG = 1.5
SIDE_BY_SIDE_MM = 300.0
SHARP_DEG = 8.0
EXACT_MM = 0.5
EXACT_DEG = 0.02
MOST_NOTES = 12

Pair = tuple[str, str]


@dataclass(frozen=True)
class NearMiss:
    """One of them: a code, the strip it is about, the point that would be moved, and what that nearly meets: another strip, or a corner or edge
    of the field by name. `gap_mm` is how far off it is (degrees for a tip), `turn` the angle between strips."""

    code: str
    strip: Pair
    point: str
    other: Pair | None = None
    edge: str = ""
    gap_mm: float = 0.0
    clear_mm: float = 0.0  # so far off it is clearly apart


def near_misses(
    points: Mapping[str, Point], paths: Sequence[Sequence[str]], guides: Sequence[Sequence[str]], area: Rectangle
) -> list[Note]:
    """Notes on the lines of an area, with the clear positions."""
    names, traced = ([leg for path in each for leg in itertools.pairwise(path)] for each in (paths, guides))
    return [_note(miss, traced) for miss in find(names, points, area, traced)][:MOST_NOTES]


def find(strips: Sequence[Pair], points: Mapping[str, Point], area: Rectangle, guides: Sequence[Pair] = ()) -> list[NearMiss]:
    """Every near miss of strips, called by the names of their ends, with each other and with guides, which stay where they are."""
    size = math.hypot(float(area.width), float(area.height))
    scale = min(size / WALL_MM, 1.0)
    if scale < 1:
        points = {name: (x / scale, y / scale) for name, (x, y) in points.items()}
        area = Rectangle(*(Fraction(side / Fraction(scale)) for side in (area.left, area.top, area.right, area.bottom)))
    misses = (_in_true_size(miss, scale) for miss in _find(strips, points, area, guides))
    return [miss for miss in misses if miss.code == "sharp-tip" or miss.gap_mm > EXACT_MM]


def _in_true_size(miss: NearMiss, scale: float) -> NearMiss:
    apart = NEARLY_ONE_LINE_MM if miss.code == "nearly-continues" else NEARLY_ONE_POINT_MM
    gap = miss.gap_mm if miss.code == "sharp-tip" else miss.gap_mm * scale
    return replace(miss, gap_mm=gap, clear_mm=apart * scale)


def _find(strips: Sequence[Pair], points: Mapping[str, Point], area: Rectangle, guides: Sequence[Pair]) -> list[NearMiss]:
    found: list[NearMiss] = []
    names = [*guides, *strips]  # guides first: of two it is the second that would be moved
    legs = np.array([(points[a], points[b]) for a, b in names]).reshape(-1, 2, 2)
    way = legs[:, 1] - legs[:, 0] if len(legs) else np.zeros((0, 2))
    angles = np.arctan2(way[:, 1], way[:, 0])
    turns = np.abs((angles[:, None] - angles[None, :] + math.pi / 2) % math.pi - math.pi / 2)
    first, second = np.nonzero(np.triu(turns < math.radians(SHARP_DEG), 1))
    for one, other in zip(first.tolist(), second.tolist(), strict=True):
        if other < len(guides):
            continue
        found += _of_two(legs[one], names[one], legs[other], names[other], points)
    of_guides = {name for pair in guides for name in pair} - {name for pair in strips for name in pair}
    for miss in _nearly_met(legs, names, points):
        if miss.point not in of_guides or miss.strip not in guides:
            found.append(miss)
    found += _at_the_rim(strips, points, area)
    return list(dict.fromkeys(found))


def _of_two(one: Floats, first: Pair, other: Floats, second: Pair, points: Mapping[str, Point]) -> Iterator[NearMiss]:
    """Of two strips: nearly in line, nearly side by side, or a tip too sharp where they meet."""
    turn = _turn_deg(one, other)
    shared = set(first) & set(second)
    if shared:
        (corner,) = shared if len(shared) == 1 else (next(iter(shared)),)
        tips = [next(name for name in pair if name != corner) if pair[0] != pair[1] else corner for pair in (first, second)]
        straight = _dot(points[corner], points[tips[0]], points[tips[1]]) < 0
        if straight and turn < NEARLY_ONE_DIRECTION_DEG:
            gap = _distance(points[tips[1]], one, 1e6)
            if gap > EXACT_MM:
                yield NearMiss("nearly-continues", second, tips[1], first, gap_mm=gap)
        elif not straight and EXACT_DEG < turn < SHARP_DEG:
            yield NearMiss("sharp-tip", second, corner, first, gap_mm=turn)
        return
    gaps = [_distance(point, one, 20 * NEARLY_ONE_LINE_MM) for point in other]
    beyond = min(math.dist(p, q) for p in one for q in other)
    nearest = min(gaps)
    if turn < NEARLY_ONE_DIRECTION_DEG and EXACT_MM < nearest < NEARLY_ONE_LINE_MM and beyond < 20 * NEARLY_ONE_LINE_MM:
        yield NearMiss("nearly-continues", second, second[gaps.index(nearest)], first, gap_mm=nearest)
    elif (
        EXACT_DEG < turn < NEARLY_PARALLEL_DEG
        and nearest < SIDE_BY_SIDE_MM
        and nearest >= NEARLY_ONE_LINE_MM
        and _overlap(one, other)
    ):
        yield NearMiss("nearly-parallel", second, second[1], first, gap_mm=abs(gaps[0] - gaps[1]))


def _nearly_met(legs: Floats, names: Sequence[Pair], points: Mapping[str, Point]) -> Iterator[NearMiss]:
    """Strips that pass a point of another one closely."""
    used = sorted({name for pair in names for name in pair})
    places = np.array([points[name] for name in used]).reshape(-1, 2)
    for leg, pair in zip(legs, names, strict=True):
        way = leg[1] - leg[0]
        length = max(float(np.hypot(*way)), 1e-9)
        along = np.clip((places - leg[0]) @ way / length, 0.0, length)
        gaps = np.hypot(*(places - leg[0] - np.outer(along, way / length)).T)
        for at in np.flatnonzero((gaps > EXACT_MM) & (gaps < NEARLY_ONE_POINT_MM)).tolist():
            if used[at] not in pair:
                yield NearMiss("nearly-meets", pair, used[at], gap_mm=float(gaps[at]))


def _at_the_rim(names: Sequence[Pair], points: Mapping[str, Point], area: Rectangle) -> Iterator[NearMiss]:
    """Strips that end close to a corner of the field, or stop just short of an edge."""
    left, top, right, bottom = (float(side) for side in (area.left, area.top, area.right, area.bottom))
    corners = {
        "top left": (left, top),
        "top right": (right, top),
        "bottom left": (left, bottom),
        "bottom right": (right, bottom),
    }
    ends = {name: pair for pair in names for name in pair}
    for name, pair in ends.items():
        x, y = points[name]
        gap, corner = min((math.dist((x, y), at), words) for words, at in corners.items())
        if EXACT_MM < gap < NEARLY_ONE_POINT_MM:
            yield NearMiss("nearly-corner", pair, name, edge=f"{corner} corner", gap_mm=gap)
            continue
        short, edge = min((x - left, "left"), (right - x, "right"), (y - top, "top"), (bottom - y, "bottom"))
        if EXACT_MM < short < NEARLY_ONE_POINT_MM:
            yield NearMiss("nearly-edge", pair, name, edge=f"{edge} edge", gap_mm=short)


def _note(miss: NearMiss, guides: Sequence[Pair] = ()) -> Note:
    strip, other = (
        f"the guide {' '.join(pair)}" if pair in guides else " ".join(pair) for pair in (miss.strip, miss.other or ())
    )
    strip = f"{strip[0].upper()}{strip[1:]}"
    point, apart = miss.point, miss.clear_mm
    match miss.code:
        case "nearly-continues":
            words = f"{strip} nearly continues {other}, {{}} off. Put it exactly in line, or move it to at least {{}} off, on either side."
            lengths = [miss.gap_mm, apart]
        case "nearly-parallel":
            words = f"{strip} runs nearly side by side with {other}: at one end {{}} further off. Make it exactly parallel, or turn it clearly."
            lengths = [miss.gap_mm]
        case "nearly-meets":
            words = f"{strip} passes {point} at {{}}. Run it exactly through {point}, or move {point} by {{}} to one side or {{}} to the other."
            lengths = [miss.gap_mm, apart - miss.gap_mm, apart + miss.gap_mm]
        case "sharp-tip":
            words = f"The tip at {point}, between {strip} and {other}, is too sharp to tape and paint: {miss.gap_mm:.1f}°. Open it, or close it."
            lengths = []
        case _:
            words = f"{strip} ends {{}} from the {miss.edge}. Run it exactly to it, or end it at least {{}} away."
            lengths = [miss.gap_mm, apart]
    return Note(miss.code, words, "points", tuple(Fraction(each).limit_denominator(100) for each in lengths))


def _dot(corner: Point, one: Point, other: Point) -> float:
    return (one[0] - corner[0]) * (other[0] - corner[0]) + (one[1] - corner[1]) * (other[1] - corner[1])


def _overlap(one: Floats, other: Floats) -> bool:
    """Whether two strips lie side by side over some of their length."""
    way = (one[1] - one[0]) / max(math.dist(*one), 1e-9)
    low, high = sorted(float(point @ way) for point in one)
    from_, to = sorted(float(point @ way) for point in other)
    return min(high, to) - max(low, from_) > NEARLY_ONE_LINE_MM


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
