"""Plaid and gingham: vertical stripes, then horizontal ones over them, both translucent; where they cross, both show."""

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.grids import MOST_COUNT, refuse_too_many
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import Note, Parameter, Pattern, Tiles, Values
from dividers.core.patterns.stripes import LEAST_REST_MM


def lay(ground: Ground, values: Values) -> Tiles:
    """The grid that both sets of stripes make: vertical ones first (layer 0), horizontal ones over them (layer 1)."""
    area = ground.area
    vertical_stops, vertical = _stops(area.left, area.right, values["upright"], "upright")
    level_widths = values["level"] or values["upright"]
    level_stops, level = _stops(area.top, area.bottom, level_widths, "level")
    refuse_too_many(len(vertical) * len(level), "upright", "crossings")
    colors: tuple[str | None, ...] = tuple(values["colors"])
    over: tuple[str | None, ...] = tuple(values["level_colors"] or values["colors"])
    below = np.array([turn % len(colors) for turn in vertical])
    above = np.array([turn % len(over) for turn in level])
    has_below = np.array([color is not None for color in colors])[below]
    has_above = np.array([color is not None for color in over])[above]
    row, column = (grid.ravel() for grid in np.meshgrid(np.arange(len(level)), np.arange(len(vertical)), indexing="ij"))
    left, right = (np.array(vertical_stops)[column + step] for step in (0, 1))
    top, bottom = (np.array(level_stops)[row + step] for step in (0, 1))
    rings = np.stack([np.column_stack(c) for c in ((left, top), (right, top), (right, bottom), (left, bottom))], axis=1)
    own = np.where(has_above[row], above[row] + len(colors), below[column])
    under = np.where(has_above[row] & has_below[column], below[column], -1)
    note = Note(
        "translucent",
        "Both sets are glazes: paint thinned so that what is below shows. Try the crossing on a scrap first.",
        "",
        fact=True,
    )
    return Tiles(
        from_rings(rings), own, (*colors, *over), (note,), under=under, layers=np.where(has_above[row], 1, 0).astype(np.int64)
    )


def _stops(low: Fraction, high: Fraction, widths: Sequence[Fraction], key: str) -> tuple[list[float], list[int]]:
    """Where stripes of the repeating widths start and end, and which width each has."""
    many = (high - low) / (sum(widths) / len(widths))
    if many > MOST_COUNT:
        raise BadInput(f"These widths give about {int(many)} stripes; at most {MOST_COUNT} are allowed.", key)
    stops: list[Fraction] = [low]
    turns: list[int] = []
    while stops[-1] < high:
        turns.append(len(turns))
        end = stops[-1] + widths[turns[-1] % len(widths)]
        stops.append(high if end > high - LEAST_REST_MM else end)
    return [float(stop) for stop in stops], turns


def first(ground: Ground) -> dict[str, object]:
    size = ground.area.width / 11
    return {"upright": [size]}


PATTERN = Pattern(
    key="plaid",
    title="Plaid",
    summary="Crossing glazes; gingham.",
    parameters=(
        Parameter(
            "upright",
            "Vertical widths",
            "lengths",
            "one or more, repeating from the left",
            least=Fraction(2),
            needed=True,
            repeats="across",
        ),
        Parameter(
            "level",
            "Horizontal widths",
            "lengths",
            "from the top; empty for the same",
            least=Fraction(2),
            repeats="down",
            usual="upright",
        ),
        Parameter("colors", "Vertical colours", "colors", "repeating; base leaves a gap"),
        Parameter(
            "level_colors",
            "Horizontal colours",
            "colors",
            "repeating, glazed over the vertical ones; empty for the same",
            default=(),
        ),
        *ORIGIN,
    ),
    lay=lay,
    first=first,
)
