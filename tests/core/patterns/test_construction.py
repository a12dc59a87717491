"""Free designs as construction: what hangs together stays together, regions keep their colours, whatever is moved."""

import itertools
import math
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation
from dividers.core.geometry import polygons
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free import construction
from dividers.core.patterns.free.holds import meant, targets
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.points import place_from, place_text

INCH = Fraction(127, 5)
WALL = Rectangle(Fraction(0), Fraction(0), 120 * INCH, 96 * INCH)
SIXTEENTHS = Graduation(INCH / 16, "in")
EMPTY = {"kind": "facets", "points": {}, "lines": [], "fills": []}


def points(pattern):
    """Every point in inches."""
    found = located(construction.places_of(pattern, "in"), WALL)
    return {name: (x / 25.4, y / 25.4) for name, (x, y) in found.items()}


def strip(pattern, start, end):
    return construction.with_strip(pattern, WALL, "in", start, end)


def areas(pattern):
    return sorted(polygons.region_area(each) for each in polygons.to_polygons(construction.regions_of(pattern, WALL, "in")))


EDGE = st.sampled_from(["top", "bottom", "left", "right"])


@st.composite
def edge_places(draw):
    edge = draw(EDGE)
    most = 119 if edge in ("top", "bottom") else 95
    mm = draw(st.integers(16, most * 16)) / 16 * 25.4
    return meant({"edge": edge, "mm": mm}, WALL, "in", SIXTEENTHS)


@st.composite
def designs(draw):
    """Some strips across the wall, some from strip to strip, some beside one."""
    made = EMPTY
    for _ in range(draw(st.integers(1, 5))):
        start, end = draw(edge_places()), draw(edge_places())
        legs = construction.legs_of(made)
        if legs and draw(st.booleans()):
            a, b = draw(st.sampled_from(legs))
            length = math.dist(*(points(made)[name] for name in (a, b)))
            end = {"on": [a, b], "at": f"{round(draw(st.floats(0.1, 0.9)) * length)}"}
        try:
            made = strip(made, start, end)
        except BadInput:
            continue
    return made


@given(designs(), st.data())
def test_whatever_hangs_on_a_point_follows_it(design, data):
    legs = construction.legs_of(design)
    if not legs:
        return
    name = data.draw(st.sampled_from(sorted(design["points"])))
    try:
        moved = construction.with_point(design, name, data.draw(edge_places()))
        found = points(moved)
    except BadInput:
        return
    for point, place in moved["points"].items():
        if isinstance(place, dict) and "on" in place:
            a, b = (found[end] for end in place["on"])
            assert math.dist(a, found[point]) == pytest.approx(float(place["at"]), abs=1e-6)
            across = (b[0] - a[0]) * (found[point][1] - a[1]) - (b[1] - a[1]) * (found[point][0] - a[0])
            assert abs(across) / math.dist(a, b) < 1e-6
    assert construction.legs_of(moved) == legs


@given(designs())
def test_regions_add_up_to_the_wall_and_obey_euler(design):
    regions = polygons.to_polygons(construction.regions_of(design, WALL, "in"))
    assert sum(map(polygons.region_area, regions)) == pytest.approx(120 * 96 * 25.4**2, rel=1e-9)
    corners = {(round(x, 3), round(y, 3)) for each in regions for x, y in each.exterior.coords}
    sides = set()
    for each in regions:
        ring = [(round(x, 3), round(y, 3)) for x, y in each.exterior.coords]
        for a, b in itertools.pairwise(ring):
            on = sorted({c for c in corners if _between(a, b, c)})
            sides |= {frozenset(pair) for pair in itertools.pairwise(on)}
    assert len(corners) - len(sides) + len(regions) == 1  # V - E + F, without the outside


def _between(a, b, c):
    length = math.dist(a, b)
    across = abs((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))
    along = (b[0] - a[0]) * (c[0] - a[0]) + (b[1] - a[1]) * (c[1] - a[1])
    return across < 0.01 * max(length, 1) and -0.01 * length <= along <= length * (length + 0.01)


@given(designs(), st.data())
def test_a_region_that_splits_gives_its_colour_to_both_and_the_others_keep_theirs(design, data):
    regions = polygons.to_polygons(construction.regions_of(design, WALL, "in"))
    at = polygons.inner_points(regions).tolist()
    for number in range(0, len(at), 2):
        design = construction.with_color(design, WALL, "in", tuple(at[number]), ("ink", "madder")[number % 4 // 2], SIXTEENTHS)
    try:
        after = strip(design, data.draw(edge_places()), data.draw(edge_places()))
    except BadInput:
        return
    kept = construction.with_colors_kept(design, after, WALL, "in", SIXTEENTHS)
    for x, y in polygons.inner_points(polygons.to_polygons(construction.regions_of(kept, WALL, "in"))).tolist():
        assert _color(kept, x, y) == _color(design, x, y)


def _color(pattern, x, y):
    """The colour of the region at a place, from the fills alone."""
    regions = polygons.to_polygons(construction.regions_of(pattern, WALL, "in"))
    here = int(polygons.holding(regions, np.array([(x, y)]))[0])
    for fill in pattern["fills"]:
        place = meant(fill["at"], WALL, "in", SIXTEENTHS)
        across, down = located(construction.places_of({"points": {"X": place}}, "in"), WALL)["X"]
        if int(polygons.holding(regions, np.array([(across, down)]))[0]) == here:
            return fill["color"]
    return None


def test_strips_beside_a_line_lie_exactly_so_far_off_it():
    # four stripes of 2 in, 6 in between, beginning 6 in off: common practice, no source
    made = strip(EMPTY, {"left": "0", "top": "24"}, {"right": "0", "top": "60"})
    offs = [6, 8, 14, 16, 22, 24, 30, 32]
    made = construction.with_stripes_beside(made, WALL, "in", ("A", "B"), [each * INCH for each in offs], "left")
    found = points(made)
    slant = math.dist(found["A"], found["B"])
    for (a, b), off in zip(construction.legs_of(made)[1:], offs, strict=True):
        for name in (a, b):
            x, y = found[name]
            assert (120 * (24 - y) + 36 * x) / slant == pytest.approx(off, abs=1e-6)
    moved = construction.with_point(made, "B", {"right": "0", "top": "70"})
    x, y = points(moved)[construction.legs_of(made)[1][0]]
    assert (120 * (24 - y) + 46 * x) / math.hypot(120, 46) == pytest.approx(6, abs=1e-6)


def test_readings_laid_by_pointing_are_the_typed_ones():
    # 26 and 26, then 36 further along the top: common practice, no source
    made = strip(EMPTY, meant({"edge": "top", "mm": 26 * 25.4 + 0.3}, WALL, "in", SIXTEENTHS), meant({"edge": "left", "mm": 660.4}, WALL, "in", SIXTEENTHS))  # fmt: skip
    made = strip(made, meant({"edge": "top", "mm": 62 * 25.4}, WALL, "in", SIXTEENTHS), {"left": "0", "bottom": "0"})
    assert made["points"] == {"A": {"left": "26", "top": "0"}, "B": {"left": "0", "top": "26"}, "C": {"left": "62", "top": "0"}, "D": {"left": "0", "bottom": "0"}}  # fmt: skip
    again = strip(made, "A", {"left": "62", "top": "0"})  # a place where a point is already is that point
    assert again["lines"][-1] == ["A", "C"]


@pytest.mark.parametrize(
    ("end", "where"),
    [
        ({"meets": "right", "from": "$start", "turn": "45"}, (120, 76)),
        ({"meets": "top", "from": "$start", "turn": "90"}, (100, 0)),
        ({"meets": "left", "from": "$start", "along": ["A", "B"]}, (0, 126 + 70 - 100)),
        ({"meets": ["A", "B"], "from": "$start", "square": ["A", "B"]}, None),
    ],
)
def test_strips_run_at_an_angle_along_or_square_to_others(end, where):
    made = strip(EMPTY, {"left": "0", "top": "0"}, {"left": "96", "top": "96"})  # falls at 45 degrees
    start = ["100", "96"] if where and where[1] == 76 else ["100", "70"]
    if where == (0, 96):
        start, where = ["90", "94"], (0, 4)
    made = strip(made, start, end)
    last = points(made)[made["lines"][-1][1]]
    if where is None:
        assert last == pytest.approx((85, 85))
    else:
        assert last == pytest.approx(where)


@given(st.sampled_from(["12, 20", "right 6, top 10", "on A B at 14", "where A B meets C D", "where top edge is 6 left of A B", "where C D is 6 1/2 right of A B", "where right edge meets E at 45", "where C D meets E along A B", "where left edge meets E square to A B", "12 1/2 from E at 45", "12 from E along A B", "2 from E square to A B", "E mirrored in A B", "E mirrored left to right", "E mirrored top to bottom"]))  # fmt: skip
def test_every_place_reads_back_as_it_was_written(text):
    name, written = place_from(f"P: {text}")
    assert isinstance(written, dict | list)
    assert place_text(name, written).removeprefix("P: ") == text


@given(st.integers(0, 359), st.integers(1, 20))
def test_a_point_lies_so_far_from_another_in_its_direction_and_its_image_as_far_behind_the_mirror(turn, length):
    places = {
        "A": ["10", "20"],
        "B": ["90", "70"],
        "E": ["60", "48"],
        "F": {"length": str(length), "from": "E", "turn": str(turn)},
        "G": {"length": str(length), "from": "E", "square": ["A", "B"]},
        "H": {"mirror": "F", "in": ["A", "B"]},
        "I": {"mirror": "F", "in": "left to right"},
    }
    found = points({"points": places})
    e, f, g, h = (found[name] for name in "EFGH")
    assert math.dist(e, f) == pytest.approx(length)
    assert (f[0] - e[0], e[1] - f[1]) == pytest.approx((length * math.cos(math.radians(turn)), length * math.sin(math.radians(turn))), abs=1e-6)  # fmt: skip
    assert (g[0] - e[0]) * 80 + (g[1] - e[1]) * 50 == pytest.approx(0, abs=1e-6)
    for end in "AB":  # every place of the mirror is as far from the one as from the other
        assert math.dist(found[end], f) == pytest.approx(math.dist(found[end], h))
    assert found["I"] == pytest.approx((120 - f[0], f[1]))
    side = (80 * (f[1] - 20) - 50 * (f[0] - 10), 80 * (h[1] - 20) - 50 * (h[0] - 10))
    assert side[0] == pytest.approx(-side[1], abs=1e-6)


def test_a_guide_is_kept_apart_from_the_tape_and_cuts_nothing():
    made = strip(EMPTY, {"left": "0", "top": "24"}, {"right": "0", "top": "60"})
    made = construction.with_guide(made, WALL, "in", "A", ["60", "90"])
    assert (made["lines"], made["guides"], len(areas(made))) == ([["A", "B"]], [["A", "C"]], 2)
    without = construction.without_strip(made, 0)
    assert set(without["points"]) == {"A", "C"}
    assert construction.without_guide(without, 0)["points"] == {}
    with pytest.raises(BadInput, match="guide from C to A already"):
        construction.with_guide(made, WALL, "in", "C", "A")


def test_regions_that_nobody_coloured_are_pointed_out_until_they_are_left_base_on_purpose():
    made = strip(EMPTY, {"left": "60", "top": "0"}, {"left": "60", "bottom": "0"})
    made = construction.with_color(made, WALL, "in", (100.0, 100.0), "ink", SIXTEENTHS)
    [(x, y)] = construction.without_color(made, WALL, "in")
    assert x > 60 * 25.4
    made = construction.with_color(made, WALL, "in", (x, y), None, SIXTEENTHS)
    assert construction.without_color(made, WALL, "in") == []


def test_what_nothing_needs_is_taken_off_with_its_strip():
    made = strip(EMPTY, {"left": "0", "top": "24"}, {"right": "0", "top": "60"})
    made = construction.with_stripes_beside(made, WALL, "in", ("A", "B"), [6 * INCH], "left")
    without = construction.without_strip(made, 0)
    assert set(without["points"]) == {"A", "B", "C", "D"}  # the second strip is found from the first's points
    assert set(construction.without_strip(without, 0)["points"]) == set()


def test_a_piece_is_cut_away_between_the_strips_that_it_meets_and_its_ends_follow_them():
    made = strip(EMPTY, {"left": "0", "top": "48"}, {"right": "0", "top": "48"})
    for x in ("30", "90"):
        made = strip(made, {"left": x, "top": "0"}, {"left": x, "bottom": "0"})
    cut = construction.cut_away(made, WALL, "in", 0, (60 * 25.4, 48 * 25.4))
    found = sorted(tuple(sorted(points(cut)[name] for name in leg)) for leg in construction.legs_of(cut))
    assert found[:2] == [
        (pytest.approx((0, 48)), pytest.approx((30, 48))),
        (pytest.approx((30, 0)), pytest.approx((30, 96))),
    ]
    assert len(areas(cut)) == 5
    moved = construction.with_point(
        construction.with_point(cut, "C", {"left": "40", "top": "0"}), "D", {"left": "40", "bottom": "0"}
    )
    assert any(place == pytest.approx((40, 48)) for place in points(moved).values())
    whole = construction.cut_away(strip(EMPTY, ["10", "10"], ["50", "60"]), WALL, "in", 0, (500.0, 500.0))
    assert (whole["lines"], whole["points"]) == ([], {})


def test_what_can_be_taken_hold_of_is_where_it_says():
    made = strip(EMPTY, {"left": "0", "top": "24"}, {"right": "0", "top": "60"})
    made = strip(made, {"left": "60", "top": "0"}, {"left": "60", "bottom": "0"})
    found = targets(made, WALL, "in", SIXTEENTHS)
    for target in found["points"]:
        place = target["place"]
        if not isinstance(place, str):
            here = located(construction.places_of({"points": {**made["points"], "X": place}}, "in"), WALL)["X"]
            assert here == pytest.approx((target["x"], target["y"]), abs=1e-4)
    whys = {target["why"] for target in found["points"]}
    assert {"corner", "middle", "third", "quarter", "A B crosses C D", "middle of A B", "point A"} <= whys
