"""Stripes: bands side by side, vertical, horizontal or at any angle; equal ones by count, or a list of widths repeated."""

import math
from collections.abc import Sequence
from fractions import Fraction
from itertools import cycle

import numpy as np

from dividers.core.errors import BadInput
from dividers.core.geometry.shapes import Floats
from dividers.core.job import Rectangle
from dividers.core.patterns.parameters import Note, Parameter, Pattern, Tiles, Values

MOST_BANDS = 1000
NARROWEST_MM = Fraction(1)

# One band across the area: where it starts, where it ends (mm along the run), and its place in the colour cycle.
Band = tuple[Fraction, Fraction, int]


def lay(area: Rectangle, values: Values) -> Tiles:
    """Bands over the area, in order along the run, which goes left to right and top to bottom across the stripes."""
    angle: Fraction = values["direction"]
    low, high = _run(area, angle)
    bands = _equal(low, high, values) if values["count"] else _repeated(low, high, values)
    colors: tuple[str | None, ...] = tuple(values["colors"])
    stops = np.array([(float(start), float(end)) for start, end, _ in bands])
    slots = np.array([place % len(colors) for _, _, place in bands], np.int64)
    return Tiles(_rings(area, angle, stops), slots, colors, _notes(bands, values))


def _run(area: Rectangle, angle: Fraction) -> tuple[Fraction, Fraction]:
    """The least and greatest distance across the stripes that the area reaches, from the panel's top left."""
    if angle == 90:
        return area.left, area.right
    if angle == 0:
        return area.top, area.bottom
    across = _across(angle)
    reach = [float(x) * across[0] + float(y) * across[1] for x in (area.left, area.right) for y in (area.top, area.bottom)]
    return Fraction(min(reach)), Fraction(max(reach))


def _across(angle: Fraction) -> tuple[float, float]:
    """The unit vector across stripes that rise to the right at `angle` (y runs down)."""
    return math.sin(math.radians(angle)), math.cos(math.radians(angle))


def _equal(low: Fraction, high: Fraction, values: Values) -> list[Band]:
    count: int = values["count"]
    size = (high - low) / count
    if size < NARROWEST_MM:
        raise BadInput(f"{count} stripes would be {float(size):.2f} mm wide; at least {NARROWEST_MM} mm is allowed.", "count")
    middle = count // 2 if values["start"] == "centre" and count % 2 else 0
    return [(low + size * i, low + size * (i + 1), abs(i - middle)) for i in range(count)]


def _repeated(low: Fraction, high: Fraction, values: Values) -> list[Band]:
    widths: Sequence[Fraction] = values["widths"]
    many = (high - low) / (sum(widths) / len(widths))
    if many > MOST_BANDS:
        raise BadInput(f"These widths give about {int(many)} stripes here; at most {MOST_BANDS} are allowed.", "widths")
    if values["start"] == "edge":
        return _outward(low, high, widths, 0)
    half = widths[0] / 2
    middle = (low + high) / 2
    if middle - half <= low:
        return [(low, high, 0)]
    right = _outward(middle + half, high, widths, 1)
    left = [(low + high - end, low + high - start, place) for start, end, place in reversed(right)]
    return [*left, (middle - half, middle + half, 0), *right]


def _outward(start: Fraction, stop: Fraction, widths: Sequence[Fraction], first: int) -> list[Band]:
    """Bands of the widths in turn from `start`, the last cut at `stop`; the first has place `first` in the cycle."""
    bands: list[Band] = []
    turn = cycle(widths)
    for _ in range(first):
        next(turn)
    while start < stop:
        end = min(start + next(turn), stop)
        bands.append((start, end, first + len(bands)))
        start = end
    return bands


def _rings(area: Rectangle, angle: Fraction, stops: Floats) -> Floats:
    """The four corners of each band, reaching beyond the area along the stripes unless they are upright or level."""
    start, end = stops[:, 0], stops[:, 1]
    if angle in (0, 90):
        sides = (area.top, area.bottom) if angle == 90 else (area.left, area.right)
        low, high = (np.full(len(stops), float(side)) for side in sides)
        corners = [(start, low), (end, low), (end, high), (start, high)]
        return np.stack([np.column_stack(c if angle == 90 else c[::-1]) for c in corners], axis=1)
    across = np.array(_across(angle))
    along = np.array([across[1], -across[0]])
    reach = float(abs(area.right) + abs(area.bottom) + 1)
    return np.stack(
        [np.outer(s, across) + t * along for s, t in ((start, -reach), (end, -reach), (end, reach), (start, reach))], axis=1
    )


def _notes(bands: list[Band], values: Values) -> tuple[Note, ...]:
    if values["count"]:
        if values["start"] == "centre" and values["count"] % 2 == 0:
            return (Note("no-centre-stripe", "An even count has no centre stripe; colours run from the edge.", "start"),)
        return ()
    widths = values["widths"]
    start, end, place = bands[-1]
    whole = widths[place % len(widths)]
    if end - start == whole:
        return ()
    both = "The stripe at each end is" if values["start"] == "centre" else "The last stripe is"
    return (Note("cut-stripe", f"{both} cut to {{}} of its {{}}.", "widths", (end - start, whole)),)


def first(area: Rectangle) -> dict[str, object]:
    return {"direction": "vertical", "count": 5, "start": "edge"}


PATTERN = Pattern(
    key="stripes",
    title="Stripes",
    summary="Bands side by side, upright, level or at an angle.",
    parameters=(
        Parameter(
            "direction",
            "Stripes run",
            "direction",
            "vertical, horizontal, or degrees from level, rising to the right",
            Fraction(90),
        ),
        Parameter(
            "count",
            "Equal stripes",
            "count",
            "how many share the run equally",
            5,
            Fraction(1),
            Fraction(MOST_BANDS),
            group="divide",
        ),
        Parameter(
            "widths",
            "Widths in turn",
            "lengths",
            "one or more widths, repeated over the run",
            least=NARROWEST_MM,
            group="divide",
        ),
        Parameter(
            "start",
            "Start",
            "choice",
            "from the left or top edge, or from the centre both ways so that both ends match",
            "edge",
            choices=("edge", "centre"),
        ),
        Parameter("colors", "Colours in turn", "colors", "as they follow each other; base leaves the stripe unpainted"),
    ),
    lay=lay,
    first=first,
)
