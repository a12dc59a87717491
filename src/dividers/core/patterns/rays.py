"""Sun rays: wedges of one angle from a middle on the field's edge or in it, with a many-sided hub."""

import math
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Point, from_corner_lists
from dividers.core.patterns.base.grids import MOST_COUNT
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import RESERVE, Note, Parameter, Pattern, Tiles, Values

# Where the middle lies in shares of the field, where the rays start (degrees, y runs down) and how far they go round.
MIDDLES = {
    "bottom": (0.5, 1.0, 180.0, 180.0),
    "top": (0.5, 0.0, 0.0, 180.0),
    "left": (0.0, 0.5, -90.0, 180.0),
    "right": (1.0, 0.5, 90.0, 180.0),
    "bottom-left": (0.0, 1.0, -90.0, 90.0),
    "bottom-right": (1.0, 1.0, 180.0, 90.0),
    "centre": (0.5, 0.5, -90.0, 360.0),
}


def lay(ground: Ground, values: Values) -> Tiles:
    """Rays in order round the middle, each in a part within the hub and a part outside it."""
    area, count, hub = ground.area, values["rays"], float(values["hub"] or 0)
    across, down, start, sweep = MIDDLES[values["middle"]]
    if sweep / count >= 120:
        raise BadInput("Too few rays to fill the field: at least 4 round a centre, 2 elsewhere.", "rays")
    x, y = float(area.left) + float(area.width) * across, float(area.top) + float(area.height) * down
    whole = math.hypot(float(area.width), float(area.height)) + 1
    if hub >= min(float(area.width), float(area.height)) / 2:
        raise BadInput("The hub is as large as the field. Make it smaller.", "hub")
    far = whole / math.cos(math.radians(sweep / count / 2))
    colors: tuple[str | None, ...] = tuple(values["colors"])
    rings: list[list[Point]] = []
    slots, regions = [], []

    def at(number: int, radius: float) -> Point:
        angle = math.radians(start + sweep * number / count)
        return x + radius * math.cos(angle), y + radius * math.sin(angle)

    for number in range(count):
        one, other = number, number + 1
        near = [at(one, hub), at(other, hub)] if hub else [(x, y)]
        rings.append([*reversed(near), at(one, far), at(other, far)])
        slots.append(number % len(colors))
        regions.append(number)
        if hub:
            rings.append([(x, y), *near])
            slots.append(len(colors))
            regions.append(count)
    notes = () if hub else (Note("no-hub", "All rays meet in one point, which tape can't make: a small hub covers it.", "hub"),)
    return Tiles(from_corner_lists(rings), np.array(slots), (*colors, values["hub_color"]), notes, regions=np.array(regions))


def first(ground: Ground) -> dict[str, object]:
    return {"rays": 12, "middle": "bottom", "hub": min(ground.area.width, ground.area.height) / 10}


PATTERN = Pattern(
    key="rays",
    title="Sun rays",
    summary="Wedges that spread from one point.",
    parameters=(
        Parameter("rays", "Rays", "count", "all of one angle", 12, Fraction(2), Fraction(MOST_COUNT // 4)),
        Parameter("middle", "They spread from", "choice", "", "bottom", choices=tuple(MIDDLES)),
        Parameter("hub", "Hub", "length", "from the middle to its corners; empty for none", None, Fraction(2)),
        Parameter("hub_color", "Hub colour", "color", "base leaves it unpainted"),
        Parameter("colors", "Colours, repeating", "colors", "clockwise; base leaves a ray unpainted"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
