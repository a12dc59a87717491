"""Stripes parallel to any line, the first so far off it: by widths in turn or a count, on the side of the line where there is more to cover, or the other."""

import math
from fractions import Fraction
from itertools import cycle

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Note, Tiles, Values

MOST_BANDS = 1000
NARROWEST_MM = 1.0
LEAST_REST_MM = 0.5
SHORTEST_MM = 1.0


def lay_along(ground: Ground, values: Values) -> Tiles:
    """Bands over the area, in order away from the line; what lies between it and the first, and beyond the last, stays unpainted."""
    (ax, ay), (bx, by) = ((float(x), float(y)) for x, y in values["along"])
    length = math.hypot(bx - ax, by - ay)
    if length < SHORTEST_MM:
        raise BadInput("These two places are the same. Give two that lie apart on the line.", "along")
    way = np.array([bx - ax, by - ay]) / length
    across = np.array([-way[1], way[0]])
    area = ground.area
    corners = np.array([(float(x), float(y)) for x in (area.left, area.right) for y in (area.top, area.bottom)])
    reach = (corners - (ax, ay)) @ across
    amid = float((np.array(ground.amid) - (ax, ay)) @ across) if ground.amid else reach.min() + reach.max()
    if (amid < 0) != bool(values["other_side"]):
        across, reach = -across, -reach
    low, high = float(reach.min()), float(reach.max())
    off = float(values["off"])
    if off >= high - LEAST_REST_MM:
        raise BadInput("So far off the line nothing of this part is left. Give less.", "off")
    bands = _bands(off, high, ground, values)
    colors: tuple[str | None, ...] = tuple(values["colors"])
    stops, slots = [(start, end) for start, end, _ in bands], [place % len(colors) for _, _, place in bands]
    rest = len(colors)
    if low < off:
        stops, slots = [(low - 1, off), *stops], [rest, *slots]
    if bands[-1][1] < high:
        stops, slots = [*stops, (bands[-1][1], high + 1)], [*slots, rest]
    far = float(np.abs((corners - (ax, ay)) @ way).max()) + 1
    start = np.array([ax, ay])
    rings = [[start + s * across + t * way for s, t in ((a, -far), (b, -far), (b, far), (a, far))] for a, b in stops]
    return Tiles(from_rings(np.array(rings)), np.array(slots, np.int64), (*colors, None), _notes(bands, high, values))


def _bands(off: float, high: float, ground: Ground, values: Values) -> list[tuple[float, float, int]]:
    """From where to where each stripe runs off the line, mm, and its place among the colours."""
    count, many = values["count"], values["many"]
    if count:
        size = (high - off) / count
        if size < NARROWEST_MM:
            raise BadInput(f"{count} stripes would be {size:.2f} mm wide; at least {NARROWEST_MM:g} mm is allowed.", "count")
        return [(off + size * i, off + size * (i + 1), i) for i in range(many if many and many < count else count)]
    widths = [float(width) for width in values["widths"] or (Fraction(ground.tape_mm),)]
    if (high - off) / (sum(widths) / len(widths)) > MOST_BANDS:
        raise BadInput(f"These widths give more than {MOST_BANDS} stripes here. Make them wider.", "widths")
    colors = values["colors"]
    bands: list[tuple[float, float, int]] = []
    painted, at = 0, off
    for place, width in enumerate(cycle(widths)):
        own = colors[place % len(colors)] is not None
        if at >= high - LEAST_REST_MM or (own and many and painted == many):
            break
        bands.append((at, at + width, place))
        painted, at = painted + own, at + width
    while many and len(bands) > 1 and colors[bands[-1][2] % len(colors)] is None:
        bands.pop()
    return bands


def _notes(bands: list[tuple[float, float, int]], high: float, values: Values) -> tuple[Note, ...]:
    many = values["many"]
    told = tuple(
        Note("along", f"The {words} has no effect on stripes along a line.", key, fact=True)
        for key, words, set_so in (
            ("pinstripe", "pinstripe", values["pinstripe"]),
            ("start", "centre start", values["start"] == "centre"),
        )
        if set_so
    )
    painted = sum(values["colors"][place % len(values["colors"])] is not None for _, _, place in bands)
    if not many or painted >= many:
        return told
    return (
        *told,
        Note("few-stripes", f"There is room for {painted} of the {many} stripes.", "many"),
    )
