"""Chevrons: bands that zigzag from column to column. A column cut short at an edge or a door keeps its slope."""

import math
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.grids import MOST_CELLS, MOST_COUNT, columns
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import RESERVE, Note, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """One slanting cell for each band in each column; high points of a line lie on the field's top edge."""
    area = ground.area
    column = values["column"] or area.width / values["columns"]
    rise, band = values["rise"], values["band"]
    columns = values["columns"] or math.ceil(area.width / column)
    first, last = -math.ceil(rise / band), math.ceil(area.height / band)
    if columns * (last - first) > MOST_CELLS or columns > MOST_COUNT:
        raise BadInput(f"That makes {columns * (last - first)} parts; at most {MOST_CELLS} are allowed.", "band")
    colors: tuple[str | None, ...] = tuple(values["colors"])
    number, level = (grid.ravel() for grid in np.meshgrid(np.arange(columns), np.arange(first, last), indexing="ij"))
    left = float(area.left) + float(column) * number
    right = float(area.left) + float(column) * (number + 1)
    falls = (number % 2 == 0) == (values["start"] == "high")  # from high to low, reading to the right
    drop_left, drop_right = np.where(falls, 0.0, float(rise)), np.where(falls, float(rise), 0.0)
    top, bottom = (float(area.top) + float(band) * (level + below) for below in (0, 1))
    corners = [(left, top + drop_left), (right, top + drop_right), (right, bottom + drop_right), (left, bottom + drop_left)]
    shapes = from_rings(np.stack([np.column_stack(c) for c in corners], axis=1))
    return Tiles(shapes, level % len(colors), colors, _notes(area.width, column, rise), regions=level)


def _notes(run: Fraction, column: Fraction, rise: Fraction) -> tuple[Note, ...]:
    """How far the line has moved where the last column is cut short."""
    part = run % column
    if not part:
        return ()
    return (
        Note(
            "cut-column",
            "The last column is cut to {} of its {}; there the line has moved {} of its rise of {}.",
            "column",
            (part, column, rise * part / column, rise),
            fact=True,
        ),
    )


def first(ground: Ground) -> dict[str, object]:
    area = ground.area
    column = area.width / 6
    return {"columns": 6, "rise": column * 3 / 4, "band": area.height / 6, "start": "low"}


PATTERN = Pattern(
    key="chevron",
    title="Chevrons",
    summary="Bands that zigzag.",
    parameters=(
        columns(6, help_text="one leg each"),
        Parameter(
            "column",
            "Column width",
            "length",
            "from the left; the last is cut short",
            least=Fraction(2),
            group="divide",
            repeats="across",
        ),
        Parameter("rise", "Rise", "length", "how far a leg climbs in one column", Fraction(200), Fraction(1)),
        Parameter("band", "Band", "length", "measured straight down", Fraction(200), Fraction(2), repeats="down"),
        Parameter("start", "Starts", "choice", "at the left edge", "low", choices=("low", "high")),
        Parameter("colors", "Colours, repeating", "colors", "from the top down; base leaves the band unpainted"),
        *ORIGIN,
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
