"""Diamonds: rows and columns of diamonds that touch at their points, long or square on point, and the diamonds between them."""

from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Floats, from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.borders import BORDER, bordered
from dividers.core.patterns.base.grids import LIGHT, MOST_CELLS, MOST_COUNT, columns, light_from, nearest_rows, steps_of
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import RESERVE, Note, Parameter, Pattern, PatternDot, Tiles, Values


def lay(ground: Ground, values: Values) -> Tiles:
    """Diamonds within the border, where there is one."""
    wide = values["width"]
    return bordered(ground.area, values, wide, wide and (values["height"] or wide), lambda inner: _diamonds(inner, values))


def _diamonds(area: Rectangle, values: Values) -> Tiles:
    """The diamonds in the grid's cells, then those about its corners, which tile the rest; each in nine where lines cross it."""
    columns, width = values["columns"], values["width"]
    across = len(steps_of(area.left, area.right, columns, width))
    step_x = width or area.width / columns
    step_y = _step_down(area, values, step_x)
    down = int(-(-area.height // step_y))
    line: Fraction | None = values["overlay"]
    if across * down * (9 if line else 1) > MOST_CELLS // 2:
        raise BadInput(
            f"That makes {across * down} diamonds; at most {MOST_CELLS // 2 // (9 if line else 1)} are allowed.",
            "columns" if columns else "width",
        )
    half = int(values["shift"] == "half")
    grids = [_places(across, down, 0.5), _places(across + 1, down + 1, 0.0)]
    parts = _parts(float(step_x), float(step_y), float(line)) if line else [((-0.5, 0.5), (-0.5, 0.5), False)]
    rings, slots, regions = [], [], []
    for number, centres in enumerate(grids):
        for (u0, u1), (v0, v1), crossed in parts:
            rings.append(_rings(area, step_x, step_y, centres, ((u0, v0), (u1, v0), (u1, v1), (u0, v1))))
            slots.append(np.full(len(centres), 2 if crossed else number ^ half))
            regions.append(np.arange(len(centres)) + number * len(grids[0]))
    colors: tuple[str | None, ...] = (*values["colors"], None)
    return Tiles(
        from_rings(np.concatenate(rings)),
        np.concatenate(slots),
        (*colors[:2], values["overlay_color"]),
        _notes(step_x, step_y),
        regions=np.concatenate(regions),
        dots=_dots(area, step_x, step_y, grids, values["studs"]),
        light=light_from(values["light"]),
    )


def _step_down(area: Rectangle, values: Values, step_x: Fraction) -> Fraction:
    if values["columns"]:
        return area.height / (values["rows"] or nearest_rows(area, values["columns"]))
    return values["height"] or step_x


def _places(across: int, down: int, offset: float) -> Floats:
    """Grid places (n, 2), row by row."""
    x, y = np.meshgrid(np.arange(across) + offset, np.arange(down) + offset)
    return np.column_stack([x.ravel(), y.ravel()])


def _rings(
    area: Rectangle, step_x: Fraction, step_y: Fraction, centres: Floats, corners: tuple[tuple[float, float], ...]
) -> Floats:
    """Parts of diamonds about grid places. In (u, v) along its sides a diamond is the square from -1/2 to 1/2."""
    left, top, wide, high = (float(number) for number in (area.left, area.top, step_x, step_y))
    points = [(left + wide * (centres[:, 0] + (u + v) / 2), top + high * (centres[:, 1] + (u - v) / 2)) for u, v in corners]
    return np.stack([np.column_stack(point) for point in points], axis=1)


def _parts(wide: float, high: float, line: float) -> list[tuple[tuple[float, float], tuple[float, float], bool]]:
    """A diamond crossed by two lines of a width through its middle, along its sides: (u span, v span, whether it is line)."""
    half = line / 2 * np.hypot(1 / wide, 1 / high)  # the distance between lines of constant u is du over the gradient's length
    if half >= 0.4:
        raise BadInput("Lines that wide leave nothing of the diamonds. Make them narrower.", "overlay")
    spans = ((-0.5, -half), (-half, half), (half, 0.5))
    return [(u, v, i == 1 or j == 1) for i, u in enumerate(spans) for j, v in enumerate(spans)]


def _notes(step_x: Fraction, step_y: Fraction) -> tuple[Note, ...]:
    side = Fraction(float(np.hypot(float(step_x), float(step_y))) / 2).limit_denominator(10**6)
    return (Note("diamond", "Point to point {} across and {} down; a side is {}.", "", (step_x, step_y, side), fact=True),)


def _dots(area: Rectangle, step_x: Fraction, step_y: Fraction, grids: list[Floats], where: str) -> tuple[PatternDot, ...]:
    """Places of studs on the points, which are the middles of the grid's sides, or in the diamonds' middles."""
    if where == "none":
        return ()
    wide, high = float(step_x), float(step_y)
    if where == "centres":
        places = grids[0]
    else:
        across, down = round(float(grids[1][-1, 0])), round(float(grids[1][-1, 1]))
        level = _places(across, down + 1, 0.0) + np.array([0.5, 0.0])
        places = np.concatenate([level, _places(across + 1, down, 0.0) + np.array([0.0, 0.5])])
    points = [(float(area.left) + wide * x, float(area.top) + high * y) for x, y in places]
    inside = [(x, y) for x, y in points if x <= float(area.right) + 1e-6 and y <= float(area.bottom) + 1e-6]
    return tuple(PatternDot("dot", point) for point in inside)


def first(ground: Ground) -> dict[str, object]:
    return {"columns": 5, "shift": "whole"}


MOST = Fraction(MOST_COUNT)
PATTERN = Pattern(
    key="diamonds",
    title="Diamonds",
    summary="Diamonds that touch at their points.",
    parameters=(
        columns(5),
        Parameter(
            "width", "Width", "length", "point to point, from the left", least=Fraction(4), group="divide", repeats="across"
        ),
        Parameter(
            "rows",
            "Rows",
            "count",
            "with columns; empty makes them nearly square, standing on a point",
            None,
            Fraction(1),
            MOST,
            divides="down",
        ),
        Parameter(
            "height",
            "Height",
            "length",
            "with width, point to point; empty is as wide",
            None,
            Fraction(4),
            repeats="down",
            usual="width",
        ),
        Parameter("shift", "Begin with", "choice", "a whole or a half diamond at the edge", "whole", choices=("whole", "half")),
        Parameter("colors", "Diamonds and between", "colors", "first the diamonds, then what lies between them"),
        RESERVE,
        Parameter("overlay", "Crossing lines", "length", "thin lines over the middles; empty for none", least=Fraction(1)),
        Parameter("overlay_color", "Crossing lines' colour", "color", "base leaves them unpainted"),
        Parameter("studs", "Dots", "choice", "marked where they go", "none", choices=("none", "points", "centres")),
        LIGHT,
        *ORIGIN,
        *BORDER,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
)
