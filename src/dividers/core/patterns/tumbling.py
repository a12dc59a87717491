"""Tumbling blocks: every hexagon of a honeycomb as a cube in three shades."""

import numpy as np

from dividers.core.geometry.shapes import from_rings
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import RESERVE, Parameter, Pattern, Tiles, Values
from dividers.core.patterns.hexagons import CORNERS, GRID, honeycomb

# The three faces of a cube: corners of the hexagon by number, None is its middle.
FACES = ((5, 0, 1, None), (1, 2, 3, None), (3, 4, 5, None))


def lay(ground: Ground, values: Values) -> Tiles:
    """The top, right and left face of each cube."""
    middles, _, width = honeycomb(ground.area, values)
    faces = []
    for face in FACES:
        corners = np.array([CORNERS[corner] if corner is not None else (0.0, 0.0) for corner in face])
        faces.append(middles[:, None, :] + corners[None] * width)
    colors: tuple[str | None, ...] = (*values["colors"], None, None)[:3]
    return Tiles(from_rings(np.concatenate(faces)), np.repeat(np.arange(3), len(middles)), colors)


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 6}


PATTERN = Pattern(
    key="tumbling",
    title="Tumbling blocks",
    summary="Cubes in three shades.",
    parameters=(
        *GRID,
        ORIGIN[0],
        Parameter("colors", "Top, right, left", "colors", "three shades of one family; base is one of them"),
        RESERVE,
    ),
    lay=lay,
    first=first,
    inks=("mid", "dark", None),
    reserve_key="reserve",
)
