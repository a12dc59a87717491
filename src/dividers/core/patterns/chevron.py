"""Chevrons: bands that zigzag from column to column. A column cut short at an edge or a door keeps its slope."""

import math
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import from_rings, joined
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
    wide, reserve = values["upright"] or Fraction(0), values["reserve"] or Fraction(0)
    seams = bool(wide and reserve)  # both leave a line in the base colour: together they are as wide as the wider one
    upright = max(wide - reserve, Fraction(0)) if seams else wide
    if wide >= column:
        raise BadInput("The line between columns leaves nothing of a column.", "upright")
    number, level = (grid.ravel() for grid in np.meshgrid(np.arange(columns), np.arange(first, last), indexing="ij"))
    half = float(upright) / 2
    off_left, off_right = np.where(number > 0, half, 0.0), np.where(number < columns - 1, half, 0.0)
    left = float(area.left) + float(column) * number + off_left
    right = float(area.left) + float(column) * (number + 1) - off_right
    falls = (number % 2 == 0) == (values["start"] == "high")  # from high to low, reading to the right
    # a leg keeps its slope where a line takes some of its column
    cut_left, cut_right = off_left / float(column), off_right / float(column)
    drop_left = np.where(falls, cut_left, 1 - cut_left) * float(rise)
    drop_right = np.where(falls, 1 - cut_right, cut_right) * float(rise)
    top, bottom = (float(area.top) + float(band) * (level + below) for below in (0, 1))
    corners = [(left, top + drop_left), (right, top + drop_right), (right, bottom + drop_right), (left, bottom + drop_left)]
    shapes = from_rings(np.stack([np.column_stack(c) for c in corners], axis=1))
    turn = level + number % 2 if values["by"] == "legs" else level
    regions = level * 2 + number % 2 if values["by"] == "legs" or seams else level
    slots = turn % len(colors)
    if not upright:
        return Tiles(shapes, slots, colors, _notes(area.width, column, rise), regions=regions)
    lines = float(area.left) + float(column) * np.arange(1, columns)
    low, high = float(area.top) - float(rise) - float(band), float(area.bottom) + float(rise) + float(band)
    ends = [(lines - half, low), (lines + half, low), (lines + half, high), (lines - half, high)]
    strips = from_rings(np.stack([np.column_stack([x, np.full(len(lines), y)]) for x, y in ends], axis=1))
    colors = colors if None in colors else (*colors, None)
    return Tiles(
        joined([shapes, strips]),
        np.concatenate([slots, np.full(len(lines), colors.index(None))]),
        colors,
        _notes(area.width, column, rise),
        regions=np.concatenate([regions, int(regions.max()) + 1 + np.arange(len(lines))]),
    )


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
        Parameter(
            "by",
            "Colours go by",
            "choice",
            "by legs every second leg takes the next colour: it looks folded",
            "bands",
            choices=("bands", "legs"),
        ),
        Parameter("upright", "Line between columns", "length", "left in the base colour; empty for none", least=Fraction(1)),
        Parameter("colors", "Colours, repeating", "colors", "from the top down; base leaves the band unpainted"),
        *ORIGIN,
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
