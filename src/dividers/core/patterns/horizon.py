"""Horizon: level lines across the field at given drops, a colour between each and the next."""

import itertools
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Bands between lines at `drop`, or at each of `drops`, under the panel's top."""
    area = ground.area
    key = "drop" if values["drop"] else "drops"
    drops = [values["drop"]] if values["drop"] else sorted(values["drops"])
    if drops[0] <= area.top or drops[-1] >= area.bottom:
        raise BadInput("Every line must lie inside the field: below its top margin and above its bottom one.", key)
    if len(set(drops)) < len(drops):
        raise BadInput("Two lines have the same drop. Give each its own.", key)
    stops = [float(stop) for stop in (area.top, *drops, area.bottom)]
    left, right = float(area.left), float(area.right)
    bands = [[(left, a), (right, a), (right, b), (left, b)] for a, b in itertools.pairwise(stops)]
    colors: tuple[str | None, ...] = values["colors"]
    if values["drop"]:
        colors = (*colors, None)[:2]
    return Tiles(from_rings(np.array(bands)), np.arange(len(bands)) % len(colors), colors)


def first(ground: Ground) -> dict[str, object]:
    return {"drop": ground.area.top + ground.area.height * 3 / 5}


PATTERN = Pattern(
    key="horizon",
    title="Horizon",
    summary="Horizontal lines, a colour on each side.",
    parameters=(
        Parameter("drop", "One line", "length", "from the panel's top down to it", least=Fraction(1), group="lines"),
        Parameter("drops", "Several lines", "lengths", "each from the panel's top down", least=Fraction(1), group="lines"),
        Parameter("colors", "Colours from the top", "colors", "base leaves a part unpainted"),
    ),
    lay=lay,
    first=first,
)
