"""Concentric: bands one inside the other, as diamonds, squares or arrows about the middle of the field."""

import math
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Point, from_corner_lists
from dividers.core.patterns.base.grids import MOST_COUNT
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Bands from the middle outwards, each in as many parts as it has sides."""
    area, shape = ground.area, values["shape"]
    wide, high, band = float(area.width), float(area.height), float(values["band"])
    x, y = float(area.left) + wide / 2, float(area.top) + high / 2
    steep = float(values["rise"] or area.width / 2) / (wide / 2)  # how far a slanting side falls for each mm across
    reach = {"diamonds": wide / 2 * steep + high / 2, "squares": max(wide, high) / 2, "arrows": high + wide / 2 * steep}[shape]
    many = math.ceil(reach / band - 1e-9)
    if many > MOST_COUNT:
        raise BadInput(f"That makes {many} bands; at most {MOST_COUNT} are allowed.", "band")
    colors: tuple[str | None, ...] = tuple(values["colors"])
    rings: list[list[Point]] = []
    levels: list[int] = []
    for level in range(many):
        near, far = band * level, band * (level + 1)
        if shape == "arrows":
            top = float(area.top) - wide / 2 * steep
            parts = [
                [
                    (x, top + near),
                    (x, top + far),
                    (x + side, top + far + wide / 2 * steep),
                    (x + side, top + near + wide / 2 * steep),
                ]
                for side in (-wide / 2, wide / 2)
            ]
        else:
            corners = (
                [(0.0, -1.0), (1 / steep, 0.0), (0.0, 1.0), (-1 / steep, 0.0)]
                if shape == "diamonds"
                else [(-1.0, -1.0), (1.0, -1.0), (1.0, 1.0), (-1.0, 1.0)]
            )
            inner, outer = ([(x + px * size, y + py * size) for px, py in corners] for size in (near, far))
            parts = [_part(inner, outer, k, level == 0, (x, y)) for k in range(4)]
        rings += parts
        levels += [level] * len(parts)
    regions = np.array(levels)
    return Tiles(from_corner_lists(rings), regions % len(colors), colors, regions=regions)


def _part(inner: list[Point], outer: list[Point], side: int, innermost: bool, middle: Point) -> list[Point]:
    one, other = side, (side + 1) % 4
    return [middle, outer[one], outer[other]] if innermost else [outer[one], outer[other], inner[other], inner[one]]


def first(ground: Ground) -> dict[str, object]:
    return {"shape": "diamonds", "band": min(ground.area.width, ground.area.height) / 8}


PATTERN = Pattern(
    key="concentric",
    title="Concentric",
    summary="Diamonds, squares or arrows, one inside another.",
    parameters=(
        Parameter("shape", "Shape", "choice", "", "diamonds", choices=("diamonds", "squares", "arrows")),
        Parameter("band", "Band", "length", "measured straight up and down from the middle", least=Fraction(2), needed=True),
        Parameter("rise", "Slope to the side", "length", "how far a slanting side drops from the middle to the field's side; empty is 45 degrees", None, Fraction(10)),
        Parameter("colors", "Colours, repeating", "colors", "from the middle outwards, or from the top; base leaves a band unpainted"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)  # fmt: skip
