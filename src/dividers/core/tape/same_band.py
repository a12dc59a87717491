"""Strips that others make needless: in a gap narrower than the tape one strip, cut down to it, serves the lines on both sides."""

from dataclasses import replace

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.geometry import polygons
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Bools, Floats, Ints, chosen, joined
from dividers.core.tape.strips import Strips, picked

WITHIN_MM = 0.05  # a strip that lies within another but for a rim of this is no other
SAME_SHARE = 0.9  # two strips that share so much of their ground lie in one gap, a little along it from each other


def one_each_band(strips: Strips, width_mm: float) -> Strips:
    """Strips on one sheet without those that lie within another: neither lies on what is painted, so that the other's edge is theirs too.

    A strip that takes over another from the far side of its gap is a twin. Two that lie in one gap, each a little farther along it, become
    one that covers both, where the tape is wide enough for it. Those outside the field are weighed among themselves.

    >>> one_each_band(strips, 36.0)  # two bands of paint 14 mm apart: two strips, both cut down to 14 mm, are one
    """
    if len(strips) < 2:
        return strips
    for pairs in (_within, _in_one_gap):
        index = ShapeIndex(strips.shapes)
        inner, outer = pairs(strips, index)
        if len(inner):
            strips = _merged(strips, index, inner, outer, width_mm if pairs is _in_one_gap else None)
    return strips


def _merged(strips: Strips, index: ShapeIndex, inner: Ints, outer: Ints, width_mm: float | None) -> Strips:
    """Strips without the inner ones of some pairs; with a width the outer ones grow over them, if they don't get wider than that."""
    gone, grown = np.zeros(len(strips), bool), {}
    twin, slit = strips.twin.copy(), strips.slit_mm.copy()
    for one, other in zip(inner.tolist(), outer.tolist(), strict=True):
        if gone[other] or gone[one]:
            continue
        if width_mm is not None:
            both = polygons.one_of([index.polygons[one], index.polygons[other]])
            if both is None or _away(strips, other, both).max() > width_mm + SAME_POINT_MM:
                continue
            grown[other] = index.polygons[other] = both
            slit[other] = np.fmin(slit[one], slit[other])
        gone[one] = True
        twin[other] |= (twin[one] or (strips.out[one] * strips.out[other]).sum() < 0) and not strips.reserve[other]
    if not gone.any():
        return strips
    return picked(_grown(replace(strips, twin=twin, slit_mm=slit), grown), np.flatnonzero(~gone))


def _away(strips: Strips, strip: int, shape: polygons.Polygon) -> Floats:
    """How far each corner of a shape lies from a strip's line."""
    away: Floats = np.abs((np.array(polygons.corners_of(shape)) - strips.start[strip]) @ strips.out[strip])
    return away


def _grown(strips: Strips, grown: dict[int, polygons.Polygon]) -> Strips:
    """Strips of which some have got another shape: as long as it reaches along their lines."""
    if not grown:
        return strips
    start, end, source = strips.start.copy(), strips.end.copy(), strips.beneath.source.copy()
    at = np.array(sorted(grown))
    for strip in at.tolist():
        way = end[strip] - start[strip]
        way = way / np.hypot(*way)
        along = (np.array(polygons.corners_of(grown[strip])) - strips.start[strip]) @ way
        start[strip], end[strip] = strips.start[strip] + way * along.min(), strips.start[strip] + way * along.max()
        source[strip] = -1
    shapes = joined([strips.shapes, polygons.from_polygons([grown[strip] for strip in at.tolist()])])
    place = np.arange(len(strips))
    place[at] = len(strips) + np.arange(len(at))
    return replace(strips, start=start, end=end, shapes=chosen(shapes, place), beneath=replace(strips.beneath, source=source))


def _within(strips: Strips, index: ShapeIndex) -> tuple[Ints, Ints]:
    """Pairs (strip, strip that it lies within), the smallest first, of two alike the later; reserve tape only within other reserve tape."""
    one, other, areas = _near(strips, index, WITHIN_MM)
    size = _sizes(index)
    later = np.abs(areas[one] - areas[other]) <= WITHIN_MM * size[one]
    smaller = np.where(later, one > other, areas[one] < areas[other])
    inner = np.where(strips.reserve[one] == strips.reserve[other], smaller, strips.reserve[other])
    one, other = one[inner], other[inner]
    there = polygons.shared_areas(index.polygons[one], index.polygons[other]) >= areas[one] - WITHIN_MM * size[one]
    return _smallest_first(one[there], other[there], areas)


def _in_one_gap(strips: Strips, index: ShapeIndex) -> tuple[Ints, Ints]:
    """Pairs of edge strips from both sides of one gap that share nearly all of their ground, the later one first in each."""
    one, other, areas = _near(strips, index, np.inf)
    facing = (strips.out[one] * strips.out[other]).sum(axis=1) < SAME_POINT_MM - 1
    alike = np.minimum(areas[one], areas[other]) > SAME_SHARE * np.maximum(areas[one], areas[other])
    gap = facing & alike & (one > other)
    one, other = one[gap], other[gap]
    there = polygons.shared_areas(index.polygons[one], index.polygons[other]) > SAME_SHARE * np.maximum(
        areas[one], areas[other]
    )
    return _smallest_first(one[there], other[there], areas)


def _near(strips: Strips, index: ShapeIndex, out_mm: float) -> tuple[Ints, Ints, Floats]:
    """Pairs of strips that overlap, inside the field or outside it both, of which the first's box stands out of the other's by no more than that;
    and all areas."""
    one, other = overlapping(index, index)
    left, top, right, bottom = index.bounds.T
    boxed: Bools = (left[one] > left[other] - out_mm) & (right[one] < right[other] + out_mm)
    boxed &= (top[one] > top[other] - out_mm) & (bottom[one] < bottom[other] + out_mm)
    near = boxed & (strips.perimeter[one] == strips.perimeter[other]) & (one != other)
    return one[near], other[near], index.shapes.areas()


def _sizes(index: ShapeIndex) -> Floats:
    left, top, right, bottom = index.bounds.T
    size: Floats = right - left + bottom - top
    return size


def _smallest_first(one: Ints, other: Ints, areas: Floats) -> tuple[Ints, Ints]:
    order = np.lexsort([other, -one, areas[one]])
    return one[order], other[order]
