"""What lies on what, against a second geometry library."""

import math

import numpy as np
import plan_checker
import pytest
from budget import examples
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.geometry.overlaps import ShapeIndex, grouped, overlapping, trimmed
from dividers.core.geometry.polygons import from_polygons, region
from dividers.core.geometry.shapes import from_corner_lists, joined

CLEAR_MM2 = 0.01


def rectangle_ring(x, y, wide, high, turn):
    """The corners of an oblong about a point, turned by degrees."""
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    return [(x + c * u - s * v, y + s * u + c * v) for u, v in ((-wide, -high), (wide, -high), (wide, high), (-wide, high))]


@st.composite
def shapes(draw):
    """Oblongs at any angle, many-sided convex shapes, notched ones, and frames with a hole."""
    x, y = draw(st.integers(0, 300)), draw(st.integers(0, 300))
    kind = draw(st.sampled_from(["upright", "turned", "long", "round", "notched", "frame"]))
    if kind in ("upright", "turned", "long"):
        wide = draw(st.integers(100, 400)) if kind == "long" else draw(st.integers(5, 60))
        turn = 0 if kind == "upright" else draw(st.integers(1, 179))
        return from_corner_lists([rectangle_ring(x, y, wide, draw(st.integers(3, 30)), turn)])
    if kind == "round":
        sides, size = draw(st.integers(3, 16)), draw(st.integers(5, 60))
        return from_corner_lists(
            [
                [
                    (x + size * math.cos(2 * math.pi * k / sides), y + size * math.sin(2 * math.pi * k / sides))
                    for k in range(sides)
                ]
            ]
        )
    if kind == "notched":
        return from_corner_lists([[(x, y), (x + 60, y), (x + 60, y + 20), (x + 20, y + 20), (x + 20, y + 60), (x, y + 60)]])
    return from_polygons([region(rectangle_ring(x, y, 50, 50, 0), [rectangle_ring(x, y, 30, 30, 0)])])


def areas_shared(one, other):
    found = [[plan_checker.Shape({"rings": rings}) for rings in shape_index] for shape_index in (one, other)]
    return np.array([[plan_checker.overlap_mm2(a, b) for b in found[1]] for a in found[0]])


@examples(80)
@given(st.lists(shapes(), min_size=1, max_size=6), st.lists(shapes(), min_size=1, max_size=6))
def test_shapes_overlap_where_clipping_leaves_an_area(upper, lower):
    one, other = joined(upper), joined(lower)
    pairs = set(zip(*(side.tolist() for side in overlapping(ShapeIndex(one), ShapeIndex(other))), strict=True))
    shared = areas_shared(one, other)
    for a in range(len(one)):
        for b in range(len(other)):
            if shared[a, b] > CLEAR_MM2:
                assert (a, b) in pairs
            if shared[a, b] == 0:
                assert (a, b) not in pairs


@given(st.integers(2, 12), st.integers(2, 12), st.integers(0, 89))
def test_neighbours_in_a_turned_lattice_only_touch(columns, rows, turn):
    c, s = math.cos(math.radians(turn)), math.sin(math.radians(turn))
    cells = [
        [
            (c * (i + u) * 40 - s * (j + v) * 40, s * (i + u) * 40 + c * (j + v) * 40)
            for u, v in ((0, 0), (1, 0), (1, 1), (0, 1))
        ]
        for i in range(columns)
        for j in range(rows)
    ]
    shape_index = ShapeIndex(from_corner_lists(cells))
    first, second = overlapping(shape_index, shape_index)
    assert (first == second).all()
    assert len(first) == columns * rows


@examples(15)
@given(st.integers(20, 200), st.integers(1, 89))
def test_long_slanting_strips_are_found_by_slices_as_by_whole_boxes(length, turn):
    strips = ShapeIndex(from_corner_lists([rectangle_ring(500, 500 + 30 * k, length * 5, 6, turn) for k in range(30)]))
    cells = ShapeIndex(from_corner_lists([rectangle_ring(20 * i, 20 * j, 10, 10, 0) for i in range(50) for j in range(50)]))
    whole = ShapeIndex(strips.shapes)
    whole.__dict__["slices"] = (whole.bounds, np.arange(len(whole)))  # one box each, as if nothing were sliced
    sliced, unsliced = overlapping(strips, cells), overlapping(whole, cells)
    assert sliced[0].tolist() == unsliced[0].tolist()
    assert sliced[1].tolist() == unsliced[1].tolist()
    groups = grouped(*sliced, 30)
    assert sum(len(groups[k]) for k in range(30)) == len(sliced[0])


@given(st.lists(st.tuples(st.sampled_from("lrtb"), st.integers(1, 8)), max_size=4))
def test_oblongs_are_trimmed_where_others_reach_over_their_ends(cuts):
    """Against counting squares of a 20 x 20 oblong."""
    box = np.array([[0.0, 0.0, 20.0, 20.0]])
    over = {"l": (-5, -5, 0, 25), "r": (20, -5, 25, 25), "t": (-5, -5, 25, 0), "b": (-5, 20, 25, 25)}
    grow = {"l": (0, 0, 1, 0), "r": (-1, 0, 0, 0), "t": (0, 0, 0, 1), "b": (0, -1, 0, 0)}
    others = np.array([np.array(over[side]) + np.array(grow[side]) * size for side, size in cuts], float).reshape(-1, 4)
    [[left, top, right, bottom]], [whole] = trimmed(box, np.zeros(len(others), np.int64), others)
    assert whole
    squares = {(x, y) for x in range(20) for y in range(20) if not any(a <= x < c and b <= y < d for a, b, c, d in others)}
    assert len(squares) == (right - left) * (bottom - top)
    assert all(left <= x < right and top <= y < bottom for x, y in squares)


@pytest.mark.parametrize("other", [(5, -5, 8, 25), (2, 2, 9, 9), (-5, 5, 10, 9)])
def test_oblongs_that_others_part_or_notch_are_left_to_polygons(other):
    _, [whole] = trimmed(np.array([[0.0, 0.0, 20.0, 20.0]]), np.zeros(1, np.int64), np.array([other], float))
    assert not whole
