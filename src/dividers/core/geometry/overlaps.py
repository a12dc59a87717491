"""Which shapes lie on which, for very many of them: bounding boxes first, then separating axes, and polygon algebra only for the rest.

Shapes that overlap by no more than TOUCHING_MM only touch.
"""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from dividers.core.base.tolerances import TOUCHING_MM
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Bools, Floats, Ints, Shapes, chosen

MOST_CORNERS = 12  # a convex shape with more is left to polygon algebra: rare, and padding all others to it costs more
MOST_SLICES = 100
SOON_DONE = 150_000  # comparing so many boxes takes less time than building a search tree
STRAIGHT = 1e-9  # relative; a corner that turns less than this is no corner


@dataclass(frozen=True)
class ShapeIndex:
    """Shapes to be asked, again and again, which of them lie on others."""

    shapes: Shapes

    def __len__(self) -> int:
        return len(self.shapes)

    @cached_property
    def bounds(self) -> Floats:
        return self.shapes.bounds()

    @cached_property
    def tree(self) -> polygons.Tree:
        return polygons.tree_of(self.bounds)

    @cached_property
    def axis_aligned(self) -> Bools:
        """Shapes that fill their bounding box."""
        left, top, right, bottom = self.bounds.T
        full: Bools = (
            np.abs(self.shapes.areas() - (right - left) * (bottom - top)) <= TOUCHING_MM * (right - left + bottom - top) / 4
        )
        return full

    @cached_property
    def convex(self) -> Bools:
        """Shapes with one ring, not too many corners, that all turn the same way."""
        shapes = self.shapes
        if not len(shapes):
            return np.zeros(0, bool)
        following = shapes.next_point()
        one = shapes.points[following] - shapes.points
        two = one[following]
        turn = one[:, 0] * two[:, 1] - one[:, 1] * two[:, 0]
        slack = STRAIGHT * (np.abs(one).sum(axis=1) * np.abs(two).sum(axis=1))
        inward = turn < -slack
        starts = shapes.ring_starts[shapes.shape_starts[:-1]]
        single = np.diff(shapes.shape_starts) == 1
        few = np.add.reduceat(np.ones(len(inward), np.int64), starts) <= MOST_CORNERS
        result: Bools = single & few & ~np.logical_or.reduceat(inward, starts)
        return result

    @cached_property
    def corners(self) -> Floats:
        """The first ring of every shape padded with its last point, shape (n, MOST, 2); only meaningful for convex ones."""
        shapes = self.shapes
        starts = shapes.ring_starts[shapes.shape_starts[:-1]]
        counts = np.diff(shapes.ring_starts)[shapes.shape_starts[:-1]]
        most = int(np.max(np.where(self.convex, counts, 1), initial=1))
        index = starts[:, None] + np.minimum(np.arange(most), counts[:, None] - 1)
        corners: Floats = shapes.points[index]
        return corners

    @cached_property
    def slices(self) -> tuple[Floats, Ints]:
        """Bounding boxes to search by, and the shape of each: long slanting rectangles are sliced, as one box would cover far too much."""
        left, top, right, bottom = self.bounds.T
        room = (right - left) * (bottom - top)
        size = np.maximum(self.shapes.areas(), 1e-9)
        if (room < 4 * size).all():  # none is worth two slices
            return self.bounds, np.arange(len(self))
        four = self.convex & (np.diff(self.shapes.ring_starts)[self.shapes.shape_starts[:-1]] == 4)
        many = np.where(four, np.clip(room / size / 2, 1, MOST_SLICES), 1).astype(np.int64)
        if (many == 1).all():
            return self.bounds, np.arange(len(self))
        owner = np.repeat(np.arange(len(self)), many)
        turn = np.arange(len(owner)) - np.repeat(np.cumsum(many) - many, many)
        a, b, c, d = (self.corners[:, k] for k in range(4))
        axis_aligned = (np.hypot(*(b - a).T) < np.hypot(*(c - b).T))[
            :, None
        ]  # the longer pair of sides runs from the first two to the last
        ends = (
            (np.where(axis_aligned, b, a), np.where(axis_aligned, c, b)),
            (np.where(axis_aligned, a, d), np.where(axis_aligned, d, c)),
        )
        low, high = turn / many[owner], (turn + 1) / many[owner]
        points = [p[owner] + (q - p)[owner] * share[:, None] for p, q in ends for share in (low, high)]
        boxes = np.hstack([np.min(points, axis=0), np.max(points, axis=0)])
        whole = many[owner] == 1
        boxes[whole] = self.bounds[owner[whole]]
        return boxes, owner

    @cached_property
    def polygons(self) -> polygons.Polygons:
        return polygons.to_polygons(self.shapes)

    def pick(self, keep: Ints) -> "ShapeIndex":
        return ShapeIndex(chosen(self.shapes, keep))


def overlapping(upper: ShapeIndex, lower: ShapeIndex) -> tuple[Ints, Ints]:
    """Pairs (index in upper, index in lower) of shapes that share an area, not just an edge; in order."""
    if not len(upper) or not len(lower):
        empty = np.zeros(0, np.int64)
        return empty, empty
    boxes, owner = upper.slices
    first, second = _boxes_meeting(boxes, lower)
    if len(boxes) > len(upper):
        pairs = np.unique(owner[first] * len(lower) + second)
        first, second = pairs // len(lower), pairs % len(lower)
    a, b = upper.bounds[first], lower.bounds[second]
    deep = np.minimum(a[:, 2:], b[:, 2:]) - np.maximum(a[:, :2], b[:, :2])
    near = (deep > TOUCHING_MM).all(axis=1)
    first, second = first[near], second[near]
    sure = upper.axis_aligned[first] & lower.axis_aligned[second]
    if sure.all():
        order = np.lexsort([second, first])
        return first[order], second[order]
    both_convex = upper.convex[first] & lower.convex[second] & ~sure
    keep = sure.copy()
    at = np.flatnonzero(both_convex)
    if len(at):
        keep[at] = _apart_on_no_axis(upper.corners, lower.corners, first[at], second[at])
    at = np.flatnonzero(~sure & ~both_convex)
    if len(at):
        keep[at] = polygons.share_area(upper.polygons[first[at]], lower.polygons[second[at]])
    first, second = first[keep], second[keep]
    order = np.lexsort([second, first])
    return first[order], second[order]


def _boxes_meeting(boxes: Floats, lower: ShapeIndex) -> tuple[Ints, Ints]:
    """Pairs (index in boxes, index in lower) of bounding boxes that meet: each with each where that is soon done, else by a tree."""
    if len(boxes) * len(lower) > SOON_DONE:
        return polygons.boxes_meeting(lower.tree, boxes)
    left, top, right, bottom = (boxes[:, side, None] for side in range(4))
    other = lower.bounds.T
    meets = (left <= other[2]) & (right >= other[0]) & (top <= other[3]) & (bottom >= other[1])
    first, second = np.nonzero(meets)
    return first, second


def _sides_to_try(normals: Floats) -> int:
    """How many sides have normals of their own: half of them where all shapes are parallelograms."""
    count = normals.shape[1]
    return 2 if count == 4 and np.abs(normals[:, :2] + normals[:, 2:]).max(initial=0) < 1e-9 else count


def _apart_on_no_axis(upper: Floats, lower: Floats, first: Ints, second: Ints) -> Bools:
    """For pairs of convex shapes: whether they overlap by more than a touch along the normals of all their sides.

    Pairs are columns here, corners rows: reducing over a few rows is much faster than over a few columns.
    """
    found = np.ones(len(first), bool)
    left = np.arange(len(first))  # the pairs that no axis has separated yet
    points = [np.ascontiguousarray(corners[number].T) for corners, number in ((upper, first), (lower, second))]
    for corners, number in ((upper, first), (lower, second)):
        sides = np.roll(corners, -1, axis=1) - corners
        length = np.hypot(sides[..., 0], sides[..., 1])
        normals = np.stack([-sides[..., 1], sides[..., 0]], axis=-1) / np.maximum(length, 1e-12)[..., None]
        for side in range(_sides_to_try(normals)):
            axis = normals[number[left], side]
            reach = [x * axis[:, 0] + y * axis[:, 1] for x, y in points]
            deep = np.minimum(*(r.max(axis=0) for r in reach)) - np.maximum(*(r.min(axis=0) for r in reach))
            apart = (deep <= TOUCHING_MM) & (length[number[left], side] > TOUCHING_MM)
            if apart.any():
                found[left[apart]] = False
                left = left[~apart]
                points = [p[..., ~apart] for p in points]
    return found


@dataclass(frozen=True)
class Groups:
    """For each of many items, some others by number: the members of item k are ``groups[k]``."""

    starts: Ints
    members: Ints

    def __getitem__(self, item: int) -> Ints:
        return self.members[self.starts[item] : self.starts[item + 1]]


def grouped(first: Ints, second: Ints, count: int) -> Groups:
    """The seconds of each of `count` firsts, from pairs in order."""
    return Groups(np.searchsorted(first, np.arange(count + 1)), second)


def trimmed(boxes: Floats, index: Ints, others: Floats) -> tuple[Floats, Bools]:
    """Axis-aligned rectangles less others that lie on them: others[k] on boxes[index[k]]; and which of them stay one rectangle.

    That is so where every other one reaches from side to side over one end. The rest are left as they are.
    """
    mine = boxes[index]
    across = (others[:, 0] <= mine[:, 0] + TOUCHING_MM) & (others[:, 2] >= mine[:, 2] - TOUCHING_MM)
    down = (others[:, 1] <= mine[:, 1] + TOUCHING_MM) & (others[:, 3] >= mine[:, 3] - TOUCHING_MM)
    low = np.where(across[:, None], [1], [0]).ravel()  # the coordinate that is cut: y where it reaches across, else x
    near = (
        np.take_along_axis(others, low[:, None], 1).ravel() <= np.take_along_axis(mine, low[:, None], 1).ravel() + TOUCHING_MM
    )
    far = (
        np.take_along_axis(others, low[:, None] + 2, 1).ravel()
        >= np.take_along_axis(mine, low[:, None] + 2, 1).ravel() - TOUCHING_MM
    )
    simple = (across | down) & (near | far)
    whole = np.ones(len(boxes), bool)
    whole[index[~simple]] = False
    result = boxes.copy()
    start = simple & near
    np.maximum.at(result, (index[start], low[start]), np.take_along_axis(others, low[:, None] + 2, 1).ravel()[start])
    stop = simple & far & ~near
    np.minimum.at(result, (index[stop], low[stop] + 2), np.take_along_axis(others, low[:, None], 1).ravel()[stop])
    result[~whole] = boxes[~whole]
    return result, whole
