"""A finished pattern as it would be seen in a photo: the cells of a panel in perspective, openings left free."""

from collections.abc import Mapping
from typing import Any

import numpy as np

from dividers.core.geometry.homography import homography
from dividers.core.geometry.shapes import Point
from dividers.core.job.products import Colour
from dividers.core.output.seen_parts import seen_parts

Rings = tuple[tuple[Point, ...], ...]


def seen(
    piece: Mapping[str, Any], palette: Mapping[str, Colour], base: str, panel: str, corners: tuple[Point, Point, Point, Point]
) -> list[tuple[str, Rings]]:
    """The colour and the rings in the photo of each cell of a panel; its field is what lies between the corners' panel. Raises BadInput."""
    own = next(each for each in piece["panels"] if each["name"] == panel)
    xs, ys = zip(*own["outline"], strict=True)
    left, top = min(xs), min(ys)
    look = homography(max(xs) - left, max(ys) - top, corners)
    found = []
    for part, color, _ in seen_parts(piece):
        if part["panel"] == panel:
            rings = tuple(_mapped(look.at(np.array(ring, float) - (left, top))) for ring in part["rings"])
            found.append((palette[color or base].hex, rings))
    return found


def _mapped(points: Any) -> tuple[Point, ...]:
    return tuple((float(x), float(y)) for x, y in points)
