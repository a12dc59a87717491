"""How strips that were cut back lie on the lines they follow: from where to where, with which end angles, how wide."""

from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import REACHES_LINE_MM, SAME_POINT_MM
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Bools, Floats, Ints


@dataclass(frozen=True)
class Reaches:
    """Of cut strips: whether each reaches its line along a stretch, from where to where on it (n, 2), the angles at which its ends lean
    inward from square in degrees (n, 2), and its width where it is narrower than the tape, else NaN."""

    there: Bools
    span: Floats
    ends: Floats
    slit: Floats


def reaches(
    directions: Floats, normals: Floats, offsets: Floats, pieces: polygons.Polygons, inside: polygons.Polygons, width_mm: float
) -> Reaches:
    """How cut strips lie on their lines (directions and normals (n, 2), offsets in mm); `inside` is the hull of what of them lies on the surface,
    by which their width goes: what sticks out beyond it no paint cuts off."""
    count = len(pieces)
    if not count:
        return Reaches(np.zeros(0, bool), np.zeros((0, 2)), np.zeros((0, 2)), np.zeros(0))
    points, piece = polygons.outer_corners(pieces)
    starts = np.searchsorted(piece, np.arange(count + 1))
    along = (points * directions[piece]).sum(axis=1)
    away = np.abs((points * normals[piece]).sum(axis=1) - offsets[piece])
    on_line = away < REACHES_LINE_MM
    enough = np.add.reduceat(on_line, starts[:-1]) >= 2
    corners = []
    for sign in (1.0, -1.0):  # the first and the last corner on the line
        far = np.where(on_line, sign * along, np.inf)
        order = np.lexsort([far, piece])
        corners.append(order[starts[:-1]])
    first, last = corners
    span = np.column_stack([along[first], along[last]])
    there = enough & (span[:, 1] - span[:, 0] >= SAME_POINT_MM)
    ends = np.column_stack([_end_angles(along, away, starts, first, 1), _end_angles(along, away, starts, last, -1)])
    points, piece = polygons.outer_corners(inside)
    away = np.abs((points * normals[piece]).sum(axis=1) - offsets[piece])
    most = np.maximum.reduceat(away, np.searchsorted(piece, np.arange(count)))
    return Reaches(there, span, ends, np.where(most > width_mm - SAME_POINT_MM, np.nan, most))


def _end_angles(along: Floats, away: Floats, starts: Ints, corner: Ints, inward: int) -> Floats:
    """How far the ends that leave the line at a corner of each ring lean inward from square, in degrees."""
    begin, count = starts[:-1], np.diff(starts)
    before, after = begin + (corner - begin - 1) % count, begin + (corner - begin + 1) % count
    leaving = np.where(away[after] > away[before], after, before)
    angles: Floats = np.degrees(np.arctan2(inward * (along[leaving] - along[corner]), away[leaving]))
    return angles
