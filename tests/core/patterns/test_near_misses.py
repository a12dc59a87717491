"""Near misses against a checker that tries every place along a strip; and their ways out, which leave none of that kind."""

import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.lengths import Graduation
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free import construction
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.near_misses import find
from dividers.core.patterns.free.ways_out import advice

INCH = Fraction(127, 5)
WALL = Rectangle(Fraction(0), Fraction(0), 120 * INCH, 96 * INCH)
SIXTEENTHS = Graduation(INCH / 16, "in")
STEPS = 4001


def design(*strips):
    points, lines = {}, []
    for number, ends in enumerate(strips):
        names = [f"{letter}{number}" for letter in "AB"]
        points |= dict(zip(names, ends, strict=True))
        lines.append(names)
    return {"kind": "facets", "points": points, "lines": lines, "fills": []}


def misses(pattern):
    points = located(construction.places_of(pattern, "in"), WALL)
    return find(construction.legs_of(pattern), points, WALL, construction.guides_of(pattern)), points


PLACE = st.tuples(st.integers(0, 120 * 4), st.integers(0, 96 * 4)).map(
    lambda p: [f"{p[0] // 4} {p[0] % 4}/4", f"{p[1] // 4} {p[1] % 4}/4"]
)


def along(a, b):
    return np.array(a) + np.linspace(0, 1, STEPS)[:, None] * (np.array(b) - np.array(a))


@given(st.lists(st.tuples(PLACE, PLACE).filter(lambda pair: pair[0] != pair[1]), min_size=2, max_size=5))
def test_points_that_strips_pass_closely_are_those_that_trying_finds(strips):
    found, points = misses(design(*strips))
    told = {(miss.strip, miss.point) for miss in found if miss.code == "nearly-meets"}
    names = [(f"A{n}", f"B{n}") for n in range(len(strips))]
    for pair in names:
        run = along(points[pair[0]], points[pair[1]])
        for other in {name for each in names for name in each} - set(pair):
            gap = np.hypot(*(run - points[other]).T).min()
            slack = math.dist(points[pair[0]], points[pair[1]]) / STEPS
            if 0.5 + slack < gap < 15 - slack:
                assert (pair, other) in told
            if gap > 15 + slack or gap < 0.5 - slack:
                assert (pair, other) not in told


@given(st.lists(st.tuples(PLACE, PLACE).filter(lambda pair: pair[0] != pair[1]), min_size=1, max_size=4))
def test_ends_close_to_a_corner_or_an_edge_are_told(strips):
    found, points = misses(design(*strips))
    told = {miss.point for miss in found if miss.code in ("nearly-corner", "nearly-edge")}
    for name, (x, y) in points.items():
        rim = min(x, y, 3048 - x, 2438.4 - y)
        corner = min(math.dist((x, y), at) for at in ((0, 0), (3048, 0), (0, 2438.4), (3048, 2438.4)))
        assert (name in told) == (0.5 < rim < 15 or 0.5 < corner < 15)


@pytest.mark.parametrize(
    ("strips", "code"),
    [
        ([(["0", "30"], ["50", "30"]), (["60", "30 1/2"], ["120", "31"])], "nearly-continues"),
        ([(["0", "30"], ["120", "30"]), (["50", "30 1/4"], ["40", "80"])], "nearly-meets"),
        ([(["0", "30"], ["120", "30"]), (["0", "36"], ["120", "37"])], "nearly-parallel"),
        ([(["1/4", "0"], ["60", "90"])], "nearly-corner"),
        ([(["60", "0"], ["60", "95 3/4"])], "nearly-edge"),
    ],
)
def test_each_way_out_ends_the_near_miss(strips, code):
    pattern = design(*strips)
    found, _ = misses(pattern)
    assert {miss.code for miss in found} == {code}
    ways = [way for each in advice(pattern, WALL, "in", SIXTEENTHS) for way in each.ways]
    assert ways
    for way in ways:
        after = construction.with_point(pattern, way.point, way.place)
        left = [miss for miss in misses(after)[0] if miss.point == way.point and miss.code == code]
        assert left == [], way


def test_a_strip_must_not_nearly_line_up_with_a_guide_which_stays_where_it_is():
    strips = [(["60", "30 1/2"], ["120", "31"])]
    alone = design(*strips)
    assert misses(alone)[0] == []
    traced = alone | {"points": alone["points"] | {"G": ["0", "30"], "H": ["50", "30"], "I": ["60", "29"]}}
    traced |= {"guides": [["G", "H"], ["H", "I"]]}
    [miss] = [each for each in misses(traced)[0] if each.code == "nearly-continues"]
    assert (miss.strip, miss.other) == (("A0", "B0"), ("G", "H"))
    ways = [way for each in advice(traced, WALL, "in", SIXTEENTHS) for way in each.ways]
    assert ways and {way.point for way in ways} <= {"A0", "B0"}
    only = {"points": traced["points"], "lines": [], "guides": [["G", "H"], ["A0", "B0"]]}
    assert misses(only)[0] == []


def test_points_that_two_strips_share_count_too_and_so_do_tips_too_sharp():
    bent = {"points": {"A": ["0", "30"], "B": ["50", "30"], "C": ["120", "32"]}, "lines": [["A", "B", "C"]], "fills": []}
    [miss] = misses(bent)[0]
    assert (miss.code, miss.strip, miss.point) == ("nearly-continues", ("B", "C"), "C")
    sharp = {"points": {"A": ["0", "30"], "B": ["100", "30"], "C": ["0", "38"]}, "lines": [["A", "B"], ["B", "C"]], "fills": []}
    [miss] = misses(sharp)[0]
    assert (miss.code, miss.point) == ("sharp-tip", "B")
    assert misses({**sharp, "points": {**sharp["points"], "C": ["0", "60"]}})[0] == []


def test_what_is_near_goes_by_the_size_of_the_sheet():
    """Two sides 19 mm apart are nearly one on a wall, and clearly two on a sheet of paper."""
    legs = [("A", "B"), ("C", "D")]
    for wide, seen in ((3000, True), (300, False)):
        points = {"A": (0.1 * wide, 100.0), "B": (0.45 * wide, 100.0), "C": (0.55 * wide, 119.0), "D": (0.9 * wide, 119.0)}
        area = Rectangle(Fraction(0), Fraction(0), Fraction(wide), Fraction(wide))
        assert any(miss.code == "nearly-continues" for miss in find(legs, points, area)) is seen
