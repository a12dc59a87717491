"""Checks: rows and columns of rectangles in two colours, or more that repeat along each row."""

from dataclasses import replace
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Floats, from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.borders import BORDER, bordered
from dividers.core.patterns.base.grids import MOST_CELLS, MOST_COUNT, columns, nearest_rows, steps_of, stops
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import Note, Parameter, Pattern, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Checks within the border, where there is one; as wide as the tape where that spaces them, and then measured only inside a border."""
    if not values["spacer"]:
        return bordered(ground.area, values, values["size"], values["size"], lambda inner: _chequers(inner, values))
    size = Fraction(ground.tape_mm).limit_denominator(10_000)
    spaced = {**values, "size": size}
    return (
        bordered(ground.area, spaced, size, size, lambda inner: _chequers(inner, spaced))
        if values["border"]
        else _spaced(ground.area, spaced)
    )


def _spaced(area: Rectangle, values: Values) -> Tiles:
    """Checks that are spaced by the tape: only the lines beside the first corner are measured."""
    size: Fraction = values["size"]
    x, y = float(area.left + size), float(area.top + size)
    left, top, right, bottom = (float(side) for side in (area.left, area.top, area.right, area.bottom))
    notes = [
        Note(
            "spacer",
            "The tape spaces the checks: lay strips of {} edge to edge from the first corner, down and across. Nothing else is measured.",
            "spacer",
            (size,),
            fact=True,
        )
    ]
    for rest, where in ((area.width % size, "right"), (area.height % size, "bottom")):
        if rest:
            notes.append(Note("spacer-rest", f"At the {where} {{}} is left, less than a tape's width.", "spacer", (rest,)))
    lines = (((x, top), (x, bottom)), ((left, y), (right, y)))
    return replace(_chequers(area, values), notes=tuple(notes), start_lines=lines)


def _chequers(area: Rectangle, values: Values) -> Tiles:
    """Rectangles row by row from the top left; the colours move on by one with each row."""
    across = steps_of(area.left, area.right, values["columns"], values["size"])
    rows = values["rows"] or nearest_rows(area, values["columns"])
    down = steps_of(area.top, area.bottom, rows if values["columns"] else None, values["size"])
    if len(across) * len(down) > MOST_CELLS:
        raise BadInput(f"That makes {len(across) * len(down)} checks; at most {MOST_CELLS} are allowed.", _key(values))
    colors: tuple[str | None, ...] = tuple(values["colors"])
    places = np.arange(len(across))[None, :] + np.arange(len(down))[:, None]
    return Tiles(from_rings(_rings(stops(across), stops(down))), (places % len(colors)).ravel(), colors)


def _key(values: Values) -> str:
    return "columns" if values["columns"] else "spacer" if values["spacer"] else "size"


def _rings(across: Floats, down: Floats) -> Floats:
    """The corners of every rectangle, rows first, shape (rows * columns, 4, 2)."""
    left, top = (grid.ravel() for grid in np.meshgrid(across[:, 0], down[:, 0]))
    right, bottom = (grid.ravel() for grid in np.meshgrid(across[:, 1], down[:, 1]))
    corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
    return np.stack([np.column_stack(corner) for corner in corners], axis=1)


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 8}


PATTERN = Pattern(
    key="checker",
    title="Checks",
    summary="Two colours, square by square.",
    parameters=(
        columns(8, "Columns"),
        Parameter(
            "size", "Size", "length", "of one check, from the top left", least=Fraction(2), group="divide", repeats="both"
        ),
        Parameter("spacer", "Spaced by tape", "flag", "as wide as the tape; only the first corner is measured", group="divide"),
        Parameter(
            "rows",
            "Rows",
            "count",
            "with columns; empty makes them nearly square",
            None,
            Fraction(1),
            Fraction(MOST_COUNT),
            divides="down",
        ),
        Parameter("colors", "Colours, repeating", "colors", "the first lies top left; base leaves a check unpainted"),
        *ORIGIN,
        *BORDER,
    ),
    lay=lay,
    first=first,
)
