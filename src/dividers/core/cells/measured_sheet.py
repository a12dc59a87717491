"""What is laid on the stated boxes of joined panels, moved onto the panels as they were measured.

Where the pattern follows, each panel's part is bent onto its corners. Else it is laid true on each panel, level lines going on level from
one to the next; the parts along a fold end at the fold as it is, or run out to it.
"""

from collections.abc import Callable, Sequence
from dataclasses import replace

import numpy as np

from dividers.core.base.tolerances import GRID_DIGITS, SAME_POINT_MM
from dividers.core.cells.following import following
from dividers.core.cells.reserved_lines import Rim
from dividers.core.cells.run_out import run_out
from dividers.core.geometry import polygons
from dividers.core.geometry.contours import ends_in
from dividers.core.geometry.quads import Box, Quad, rectangle
from dividers.core.geometry.shapes import Floats, Ints, Point, joined, moved_to
from dividers.core.job.surface import quad_of
from dividers.core.patterns.base.parameters import Tiles
from dividers.core.survey.sheet import Placed, Sheet


def is_measured(sheet: Sheet) -> bool:
    """Whether a sheet has joined panels that are laid with their own corners."""
    return any(placed.turned for placed in sheet.placed)


def on_measured(tiles: Tiles, sheet: Sheet) -> tuple[Tiles, Ints]:
    """Tiles that were laid on a sheet's stated boxes, panel by panel where they come to lie, and the panel that each lies on (n,).

    `regions` keep those that belong together.
    """
    tiles = replace(tiles, regions=tiles.regions if tiles.regions is not None else np.arange(len(tiles.shapes)))
    found = [_on_panel(tiles, placed) for placed in sheet.placed]
    shapes = joined([each.shapes for each in found])
    panels = np.repeat(np.arange(len(found)), [len(each.shapes) for each in found])

    def column(name: str) -> Ints | None:
        return None if getattr(tiles, name) is None else np.concatenate([getattr(each, name) for each in found])

    whole = replace(
        tiles,
        shapes=shapes,
        slots=np.concatenate([each.slots for each in found]),
        regions=column("regions"),
        under=column("under"),
        layers=column("layers"),
        dots=tuple(dict.fromkeys(dot for each in found for dot in each.dots)),
        start_lines=None if tiles.start_lines is None else tuple(line for each in found for line in each.start_lines or ()),
    )
    return whole, panels


def rims_of(sheet: Sheet) -> list[Rim]:
    """The fields of a sheet's panels where they lie, and which of their sides are no folds."""
    found = []
    for number, placed in enumerate(sheet.placed):
        sides = sheet.folded_sides(number)
        field = Quad.of(placed.to_sheet(placed.panel.field_quad.points))
        found.append(Rim(field, tuple(side not in sides for side in range(4))))
    return found


def _on_panel(tiles: Tiles, placed: Placed) -> Tiles:
    """One panel's part: as it lies on the panel, then as the panel lies on the sheet."""
    shape = placed.panel.shape
    follows = bool(shape and shape.follows)
    own = placed.panel.field
    box = quad_of(own).box if follows else placed.settled_box(own)
    here = _moved(tiles, placed.laid_to_panel if follows else placed.settled)
    here = replace(
        here,
        dots=tuple(dot for dot in here.dots if _holds(box, dot.point)),
        start_lines=None
        if here.start_lines is None
        else tuple(part for line in here.start_lines if (part := _within(line, box))),
    )
    if shape and follows:
        here = following(here, own, shape.field)
    elif shape:
        here = _cut(run_out(here, box, shape.field.box), shape.field.corners)
    else:
        here = _cut(here, rectangle(*box).corners)
    return _moved(here, lambda points: np.round(placed.to_sheet(points), GRID_DIGITS))


def _moved(tiles: Tiles, place: Callable[[Floats], Floats]) -> Tiles:
    """Tiles with all their points elsewhere."""
    dots = place(np.array([dot.point for dot in tiles.dots]).reshape(-1, 2)).tolist()
    lines = tiles.start_lines
    return replace(
        tiles,
        shapes=moved_to(tiles.shapes, place(tiles.shapes.points)),
        dots=tuple(replace(dot, point=(x, y)) for dot, (x, y) in zip(tiles.dots, dots, strict=True)),
        start_lines=None if lines is None else tuple(_line(place(np.array(line))) for line in lines),
    )


def _line(points: Floats) -> tuple[Point, Point]:
    (ax, ay), (bx, by) = points.tolist()
    return (ax, ay), (bx, by)


def _holds(box: Box, point: Point) -> bool:
    return (
        box[0] - SAME_POINT_MM <= point[0] <= box[2] + SAME_POINT_MM
        and box[1] - SAME_POINT_MM <= point[1] <= box[3] + SAME_POINT_MM
    )


def _within(line: tuple[Point, Point], box: Box) -> tuple[Point, Point] | None:
    """What of a line drawn out lies in a box."""
    left, top, right, bottom = box
    return ends_in([(left, top), (right, top), (right, bottom), (left, bottom)], *line)


def _cut(tiles: Tiles, ring: Sequence[Point]) -> Tiles:
    """What of tiles lies inside a ring."""
    cut, origin = polygons.cut_to(tiles.shapes, polygons.region(ring), np.zeros(len(tiles.shapes), bool))

    def picked(column: Ints | None) -> Ints | None:
        return None if column is None else column[origin]

    return replace(
        tiles,
        shapes=cut,
        slots=tiles.slots[origin],
        regions=picked(tiles.regions),
        under=picked(tiles.under),
        layers=picked(tiles.layers),
    )
