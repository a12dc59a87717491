"""Tiles of a true rectangle bent onto a field that is none."""

from dataclasses import replace

import numpy as np

from dividers.core.base.tolerances import GRID_DIGITS
from dividers.core.geometry import polygons
from dividers.core.geometry.quads import Quad
from dividers.core.geometry.shapes import Bools, Floats, Point, moved_to
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.parameters import Tiles


def following(tiles: Tiles, laid_on: Rectangle, field: Quad) -> Tiles:
    """Tiles of a true rectangle mapped bilinearly onto a field that isn't one.

    They are cut to the rectangle, and get a corner wherever a neighbour has one, so that they still meet without gaps: straight lines
    across and down stay straight, slanting ones kink a little where they cross others.
    """
    left, top, right, bottom = (float(side) for side in (laid_on.left, laid_on.top, laid_on.right, laid_on.bottom))
    size = np.array([right - left, bottom - top])

    def moved(points: Floats) -> Floats:
        return np.round(field.at((points - np.array([left, top])) / size), GRID_DIGITS)

    edge = [(left, top), (right, top), (right, bottom), (left, bottom)]
    bounds = tiles.shapes.bounds()
    inside: Bools = np.asarray(((bounds >= [left, top, left, top]) & (bounds <= [right, bottom, right, bottom])).all(axis=1))
    cut, origin = polygons.cut_to(tiles.shapes, polygons.region(edge), inside)
    cut = polygons.with_junctions(cut)
    dots = moved(np.array([dot.point for dot in tiles.dots]).reshape(-1, 2)).tolist()
    lines = tiles.start_lines
    return replace(
        tiles,
        shapes=moved_to(cut, moved(cut.points)),
        slots=tiles.slots[origin],
        regions=(tiles.regions if tiles.regions is not None else np.arange(len(tiles.shapes)))[origin],
        under=None if tiles.under is None else tiles.under[origin],
        layers=None if tiles.layers is None else tiles.layers[origin],
        dots=tuple(replace(dot, point=(x, y)) for dot, (x, y) in zip(tiles.dots, dots, strict=True)),
        start_lines=None if lines is None else tuple(_line(moved(np.array(line))) for line in lines),
    )


def _line(points: Floats) -> tuple[Point, Point]:
    (ax, ay), (bx, by) = points.tolist()
    return (ax, ay), (bx, by)
