"""Stripes: bands side by side at any angle; equal ones by count, repeating widths, or as wide as the tape that spaces them."""

import math
from collections.abc import Sequence
from fractions import Fraction
from itertools import cycle

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Floats, Point, from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import Note, Parameter, Pattern, Tiles, Values
from dividers.core.patterns.stripes_along import lay_along

MOST_BANDS = 1000
NARROWEST_MM = Fraction(1)
LEAST_REST_MM = Fraction(1, 2)  # less than this left at the end goes to the last stripe: nobody can tape it

# One band across the area: where it starts, where it ends (mm along the run), and its place in the colour cycle.
Band = tuple[Fraction, Fraction, int]
PIN = -1  # the place of a band that is a pinstripe


def lay(ground: Ground, values: Values) -> Tiles:
    """Bands over the area, in order along the run, which goes left to right and top to bottom across the stripes."""
    if values["along"]:
        return lay_along(ground, values)
    area = ground.area
    angle: Fraction = values["direction"]
    low, high = _run(area, angle)
    spacer = Fraction(ground.tape_mm).limit_denominator(10_000)
    if values["spacer"]:
        bands = _repeated(low, high, {**values, "widths": (spacer,)})
    else:
        bands = _equal(low, high, values) if values["count"] else _repeated(low, high, values)
    colors: tuple[str | None, ...] = tuple(values["colors"])
    notes = _spacer_notes(bands, spacer, angle) if values["spacer"] else _notes(bands, values)
    start_lines = _start_lines(area, angle, bands, values) if values["spacer"] else None
    if values["pinstripe"]:
        bands, pin_notes = _with_pinstripes(bands, values)
        notes += pin_notes
    stops = np.array([(float(start), float(end)) for start, end, _ in bands])
    slots = np.array([len(colors) if place == PIN else place % len(colors) for _, _, place in bands], np.int64)
    shapes = from_rings(_rings(area, angle, stops))
    return Tiles(shapes, slots, (*colors, values["pinstripe_color"]), notes, start_lines=start_lines)


def _with_pinstripes(bands: list[Band], values: Values) -> tuple[list[Band], tuple[Note, ...]]:
    """A pinstripe in the middle of every band that it is meant for: its width exact, what is left shared by both sides."""
    width: Fraction = values["pinstripe"]
    wanted = {"every band": (0, 1), "1st, 3rd, 5th": (0,), "2nd, 4th, 6th": (1,)}[values["pinstripe_in"]]
    found: list[Band] = []
    cramped = 0
    for start, end, place in bands:
        side = (end - start - width) / 2
        if place % 2 not in wanted:
            found.append((start, end, place))
        elif side < NARROWEST_MM:
            cramped += 1
            found.append((start, end, place))
        else:
            found += [(start, start + side, place), (start + side, end - side, PIN), (end - side, end, place)]
    if cramped == sum(place % 2 in wanted for _, _, place in bands):
        raise BadInput("No band has room for that pinstripe. Make it narrower than its band.", "pinstripe")
    if not cramped:
        return found, ()
    return found, (
        Note("no-pinstripe", f"{cramped} narrower band{'s have' if cramped > 1 else ' has'} no pinstripe.", "pinstripe"),
    )


def _start_lines(area: Rectangle, angle: Fraction, bands: list[Band], values: Values) -> tuple[tuple[Point, Point], ...]:
    """Where the first strip of spacer tape is laid: the only line to be measured."""
    at = len(bands) // 2 if values["start"] == "centre" else 0
    run = float(bands[at][1 if values["start"] == "edge" else 0])
    if angle in (0, 90):
        ends = (float(area.top), float(area.bottom)) if angle == 90 else (float(area.left), float(area.right))
        one, other = ((run, ends[0]), (run, ends[1])) if angle == 90 else ((ends[0], run), (ends[1], run))
        return ((one, other),)
    across = _across(angle)
    reach = _reach(area)
    one, other = ((across[0] * run + across[1] * t, across[1] * run - across[0] * t) for t in (-reach, reach))
    return ((one, other),)


def _spacer_notes(bands: list[Band], spacer: Fraction, angle: Fraction) -> tuple[Note, ...]:
    """What is left at the end, and that nothing else is measured."""
    note = Note(
        "spacer",
        "The tape spaces the stripes: lay strips of {} edge to edge from the start line, then lift every other one.",
        "spacer",
        (spacer,),
        fact=True,
    )
    start, end, _ = bands[-1]
    if angle not in (0, 90) or end - start == spacer:
        return (note,)
    return (note, Note("spacer-rest", "At the end {} is left, less than a tape's width.", "spacer", (end - start,)))


def _run(area: Rectangle, angle: Fraction) -> tuple[Fraction, Fraction]:
    """The least and greatest distance across the stripes that the area reaches, from the panel's top left."""
    if angle == 90:
        return area.left, area.right
    if angle == 0:
        return area.top, area.bottom
    across = _across(angle)
    reach = [float(x) * across[0] + float(y) * across[1] for x in (area.left, area.right) for y in (area.top, area.bottom)]
    return Fraction(min(reach)), Fraction(max(reach))


def _reach(area: Rectangle) -> float:
    """Further than any place of the area lies from the sheet's beginning, mm; an area may lie above or left of that."""
    return float(max(abs(area.left), abs(area.right)) + max(abs(area.top), abs(area.bottom)) + 1)


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
    """Bands of the repeating widths from `start`, the last cut at `stop`; the first has place `first` in the cycle."""
    bands: list[Band] = []
    turn = cycle(widths)
    for _ in range(first):
        next(turn)
    while start < stop:
        end = start + next(turn)
        if end > stop - LEAST_REST_MM:
            end = stop
        bands.append((start, end, first + len(bands)))
        start = end
    return bands


def _rings(area: Rectangle, angle: Fraction, stops: Floats) -> Floats:
    """The four corners of each band, reaching beyond the area along the stripes unless they are vertical or horizontal."""
    start, end = stops[:, 0], stops[:, 1]
    if angle in (0, 90):
        sides = (area.top, area.bottom) if angle == 90 else (area.left, area.right)
        low, high = (np.full(len(stops), float(side)) for side in sides)
        corners = [(start, low), (end, low), (end, high), (start, high)]
        return np.stack([np.column_stack(c if angle == 90 else c[::-1]) for c in corners], axis=1)
    across = np.array(_across(angle))
    along = np.array([across[1], -across[0]])
    reach = _reach(area)
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


def first(ground: Ground) -> dict[str, object]:
    return {"direction": "vertical", "count": 5, "start": "edge"}


PATTERN = Pattern(
    key="stripes",
    title="Stripes",
    summary="Bands side by side: vertical, horizontal or at an angle.",
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
            "how many equal stripes fill the run",
            5,
            Fraction(1),
            Fraction(MOST_BANDS),
            group="divide",
            divides="run",
        ),
        Parameter(
            "widths",
            "Widths, repeating",
            "lengths",
            "one or more widths, repeated over the run",
            least=NARROWEST_MM,
            group="divide",
            repeats="run",
        ),
        Parameter("spacer", "Spaced by tape", "flag", "as wide as the tape; only the start is measured", group="divide"),
        Parameter(
            "start",
            "Start",
            "choice",
            "from the left or top edge, or from the centre both ways so that both ends match",
            "edge",
            choices=("edge", "centre"),
        ),
        *ORIGIN,
        Parameter("along", "Along a line", "line", "two places on it, instead of a direction: 0, 24; 60, 12"),
        Parameter("other_side", "On the other side", "flag", "of the line; else where there is more to cover", False),
        Parameter(
            "off", "So far off the line", "length", "where the first stripe begins, with a line to lie along", Fraction(0)
        ),
        Parameter(
            "many",
            "So many stripes",
            "count",
            "with a line to lie along; empty for as many as there is room for",
            least=Fraction(1),
            most=Fraction(MOST_BANDS),
        ),
        Parameter(
            "colors", "Colours, repeating", "colors", "in order, then from the first again; base leaves the stripe unpainted"
        ),
        Parameter("pinstripe", "Pinstripe", "length", "its width, in the middle of a band; empty for none", least=NARROWEST_MM),
        Parameter(
            "pinstripe_in", "Pinstripe in", "choice", "", "every band", choices=("every band", "1st, 3rd, 5th", "2nd, 4th, 6th")
        ),
        Parameter("pinstripe_color", "Pinstripe colour", "color", "base leaves it unpainted"),
    ),
    lay=lay,
    first=first,
)
