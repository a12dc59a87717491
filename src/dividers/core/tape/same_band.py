"""Strips that others make needless: in a gap narrower than the tape one strip, cut down to it, serves the lines on both sides."""

from collections.abc import Iterable
from dataclasses import replace

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM, THINNEST_MM
from dividers.core.cells.layout import Layout, surface_of
from dividers.core.geometry import polygons
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Floats, chosen, joined
from dividers.core.tape.strips import Strips, picked

Pairs = Iterable[tuple[int, int]]

WITHIN_MM = 0.05  # a strip that lies within another but for a rim of this is no other
BESIDE_MM = 0.03  # a line that tape comes so near to is covered by it
SAME_SHARE = 0.9  # a strip with so much of its ground in common with one that faces it lies in the same gap, a little along it


def one_each_band(strips: Strips, layout: Layout, width_mm: float) -> Strips:
    """Strips on one sheet without those that lie within another: neither lies on what is painted, so that the other's edge is theirs too.

    A strip that takes over another from the far side of its gap is a twin. Two that lie in one gap, each a little farther along it, become
    one that covers both, where the tape is wide enough for it. Those outside the field are weighed among themselves (not around folds, where
    two may lie on different walls), of all others what lies on the surface.

    With tape of 36 mm, two bands of paint 14 mm apart have two strips, both cut down to 14 mm, that become one.
    """
    if len(strips) < 2:
        return strips
    index = ShapeIndex(strips.shapes)
    ground = np.where(strips.perimeter, index.polygons, polygons.less_outside(index.polygons, surface_of(layout.sheet)))
    gone = np.zeros(len(strips), bool)
    twin, slit, grown = strips.twin.copy(), strips.slit_mm.copy(), {}
    within = list(_within(strips, index, ground, bool(layout.sheet.creases)))
    known = set(within)
    # What lies within a strip that stays: one that holds others goes only where they lie within its own holder too.
    held: dict[int, list[int]] = {}
    for one, other in within:
        if not (gone[one] or gone[other]) and all((each, other) in known for each in held.get(one, [])):
            gone[one] = True
            held[other] = [*held.get(other, []), *held.pop(one, []), one]
            twin[other] |= (twin[one] or strips.out[one] @ strips.out[other] < 0) and not strips.reserve[other]
            slit[other] = _width_of(strips, slit, one, other) if twin[other] else slit[other]
    for one, other in _in_one_gap(strips, index, ground):
        if not (gone[one] or gone[other] or other in grown):
            both = polygons.one_of([index.polygons[other], ground[one]])
            if both is not None and _away(strips, other, both).max() <= width_mm + SAME_POINT_MM:
                grown[other] = both
                gone[one] = twin[other] = True
                slit[other] = _width_of(strips, slit, one, other)
    if not gone.any():
        return strips
    strips = replace(strips, twin=twin, slit_mm=slit)
    return picked(_grown(strips, grown) if grown else strips, np.flatnonzero(~gone))


def _width_of(strips: Strips, slit: Floats, one: int, other: int) -> float:
    """What a strip that takes over one from the far side is cut down to: as wide as that one's gap where it is about as long."""
    return (
        float(np.fmin(slit[one], slit[other]))
        if strips.lengths[one] > SAME_SHARE * strips.lengths[other]
        else float(slit[other])
    )


def _away(strips: Strips, strip: int, shape: polygons.Polygon) -> Floats:
    """How far each corner of a shape lies from a strip's line."""
    away: Floats = np.abs((np.array(polygons.corners_of(shape)) - strips.start[strip]) @ strips.out[strip])
    return away


def _grown(strips: Strips, grown: dict[int, polygons.Polygon]) -> Strips:
    """Strips of which some have got another shape: as long as it reaches along their lines."""
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


def _within(strips: Strips, index: ShapeIndex, ground: polygons.Polygons, folded: bool) -> Pairs:
    """Pairs (strip, strip that it lies within), the smallest first, of two alike the later; reserve tape only within other reserve tape."""
    one, other = overlapping(index, index)
    left, top, right, bottom = polygons.boxes_of(ground)
    boxed = (left[one] > left[other] - WITHIN_MM) & (right[one] < right[other] + WITHIN_MM)
    boxed &= (top[one] > top[other] - WITHIN_MM) & (bottom[one] < bottom[other] + WITHIN_MM)
    near = boxed & (strips.perimeter[one] == strips.perimeter[other]) & (one != other) & ~(strips.perimeter[one] & folded)
    one, other = one[near], other[near]
    areas, rim = polygons.areas_of(ground), WITHIN_MM * (right - left + bottom - top)
    smaller = np.where(np.abs(areas[one] - areas[other]) <= rim[one], one > other, areas[one] < areas[other])
    inner = np.where(strips.reserve[one] == strips.reserve[other], smaller, strips.reserve[other])
    one, other = one[inner], other[inner]
    there = polygons.shared_areas(ground[one], ground[other]) >= areas[one] - rim[one]
    one, other = one[there], other[there]
    there = polygons.left_bare(strips.start[one], strips.end[one], ground[other], BESIDE_MM) < THINNEST_MM
    one, other = one[there], other[there]
    order = np.lexsort([other, -one, areas[one]])
    return zip(one[order].tolist(), other[order].tolist(), strict=True)


def _in_one_gap(strips: Strips, index: ShapeIndex, ground: polygons.Polygons) -> Pairs:
    """Pairs of edge strips from both sides of one gap, of which the first has nearly all of its ground in common with the other."""
    one, other = overlapping(index, index)
    areas = polygons.areas_of(ground)
    facing = ((strips.out[one] * strips.out[other]).sum(axis=1) < SAME_POINT_MM - 1) & ~strips.perimeter[one] & (areas[one] > 0)
    smaller = (areas[one] < areas[other]) | ((areas[one] == areas[other]) & (one > other))
    one, other = one[facing & smaller], other[facing & smaller]
    there = polygons.shared_areas(ground[one], ground[other]) > SAME_SHARE * areas[one]
    return zip(one[there].tolist(), other[there].tolist(), strict=True)
