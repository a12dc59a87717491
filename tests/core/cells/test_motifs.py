"""Where motifs lie, against lattices worked out here, how much air they have, and that no wet one is touched."""

import itertools
import math

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.output.cutouts import templates_of
from dividers.core.plan.plan import plan_job

INCH = 25.4


def hand_of(pattern, panel=None, copies=1, **hand):
    """The hand work over a pattern on a wall of 120 x 96 in, or another panel."""
    return planned(pattern, panel, copies, **hand).hand


def planned(pattern, panel=None, copies=1, **hand):
    job = wall(piece={"copies": copies})
    piece = job["pieces"][0]
    piece["surface"]["panels"][0] |= panel or {}
    piece.pop("pattern")
    over = {"kind": "motifs", "of": "own", "width": "1", "color": "madder"} if hand.get("kind") != "shading" else {"of": "own"}
    piece["layers"] = [{"name": "own", "pattern": pattern}, {"name": "over", **over, **hand}]
    return plan_job(read_job(job)).pieces[0]


def places(pattern, panel=None, **hand):
    (work,) = hand_of(pattern, panel, **hand)
    return [(x / INCH, y / INCH) for _, (x, y) in work.places]


def near(found, wanted):
    assert len(found) == len(wanted)
    for one, other in zip(*(sorted(each, key=lambda p: (round(p[0], 3), p[1])) for each in (found, wanted)), strict=True):
        assert one == pytest.approx(other, abs=1e-3)


@given(st.integers(1, 9), st.integers(1, 9))
def test_crossings_of_chequers_are_the_inner_points_of_their_lattice(columns, rows):
    found = places({"kind": "checker", "columns": columns, "rows": rows, "colors": ["ink", None]})
    near(found, [(120 * a / columns, 96 * b / rows) for a in range(1, columns) for b in range(1, rows)])


@given(st.integers(1, 8), st.integers(1, 6))
def test_crossings_and_centres_of_a_harlequin_are_those_of_its_lattice(columns, rows):
    pattern = {"kind": "diamonds", "columns": columns, "rows": rows, "colors": ["ink", None]}
    wide, high = 120 / columns, 96 / rows
    upright = [(wide * (a + 0.5), high * b) for a in range(columns) for b in range(1, rows)]
    aside = [(wide * a, high * (b + 0.5)) for a in range(1, columns) for b in range(rows)]
    near(places(pattern), upright + aside)
    centres = [(wide * (a + 0.5), high * (b + 0.5)) for a in range(columns) for b in range(rows)]
    near(places(pattern, at="centres"), centres)
    second = [((a + 0.5) * wide, (b + 0.5) * high) for a in range(columns) for b in range(rows) if (a + b) % 2 == 0]
    near(places(pattern, at="centres", every=2), second)


def test_lines_that_end_at_another_cross_nothing():
    assert places({"kind": "brick", "course": "12", "length": "24", "joint": "1", "colors": ["ink"]}) == []
    assert places({"kind": "stripes", "direction": "vertical", "count": 5, "colors": ["ink", None]}) == []


def test_a_stamp_between_stripes_lies_evenly_on_the_middle_of_each_gap():
    # stripes of 2 in with 2 in between, a stamp of 1 1/2 in every 6 in: common practice, no source
    pattern = {"kind": "stripes", "direction": "vertical", "widths": ["2", "2"], "colors": ["ink", None]}
    (work,) = hand_of(
        pattern, {"width": "10", "height": "24"}, copies=2, at="between", tool="stamp", width="1 1/2", spacing="6"
    )
    found = [(x / INCH, y / INCH) for _, (x, y) in work.places]
    near(found, [(x, y) for x in (3, 7) for y in (3, 9, 15, 21)])
    assert work.air_mm == pytest.approx(INCH / 4)
    (wide,) = hand_of(pattern, {"width": "10", "height": "24"}, at="between", tool="stamp", width="2 1/2", spacing="6")
    assert wide.air_mm < 0


def test_nothing_lies_in_an_opening():
    door = {"openings": [{"name": "door", "left": "30", "top": "20", "width": "40", "height": "76"}]}
    found = places({"kind": "checker", "columns": 12, "rows": 12, "colors": ["ink", None]}, door)
    assert len(found) == sum(not (30 <= 10 * a <= 70 and 8 * b >= 20) for a in range(1, 12) for b in range(1, 12))
    assert not any(30 < x < 70 and y > 20 for x, y in found)


@given(st.lists(st.tuples(st.integers(1, 119), st.integers(1, 95)), min_size=1, max_size=30, unique=True))
def test_in_working_order_a_right_hand_never_rests_on_a_wet_one(given_places):
    written = [[str(x), str(y)] for x, y in given_places]
    found = places({"kind": "stripes", "direction": "vertical", "count": 5, "colors": ["ink"]}, at=written)
    near(found, [(float(x), float(y)) for x, y in given_places])
    for earlier, later in itertools.combinations(found, 2):  # the hand lies below and to the right of what it paints
        assert not (earlier[0] > later[0] + 1e-6 and earlier[1] > later[1] + 1e-6)


@pytest.mark.parametrize(("light", "towards"), [("top left", (-1, -1)), ("top", (0, -1)), ("right", (1, 0))])
def test_sides_are_dark_or_bright_as_they_face_the_light(light, towards):
    pattern = {"kind": "checker", "columns": 4, "rows": 3, "colors": ["ink", None]}
    works = hand_of(pattern, kind="shading", light=light, dark="ink", bright="madder", line="1/4", minutes_per_m=3)
    assert [work.color for work in works] == ["ink", "madder"]  # all dark ones first
    sides = {(-1, 0): 32, (1, 0): 32, (0, -1): 30, (0, 1): 30}  # six painted parts of 30 x 32 in
    for work, sign in zip(works, (-1, 1), strict=True):
        inches = sum(length for out, length in sides.items() if sign * (out[0] * towards[0] + out[1] * towards[1]) > 0)
        assert work.length_mm == pytest.approx(6 * inches * INCH)
        assert work.minutes == pytest.approx(6 * inches * INCH / 1000 * 3)
        assert work.area_m2 == pytest.approx(6 * inches * INCH * INCH / 4 / 1e6)
        for _, (ax, ay), (bx, by) in work.lines:
            out = (by - ay, ax - bx)  # cells go round clockwise to the eye
            assert sign * (out[0] * towards[0] + out[1] * towards[1]) > 0


def test_paint_of_round_motifs_is_that_of_ellipses_and_minutes_go_by_the_tool():
    pattern = {"kind": "checker", "columns": 3, "rows": 3, "colors": ["ink", None]}
    (dots,) = hand_of(pattern, tool="dot", width="2", height="1")
    assert dots.area_m2 == pytest.approx(4 * math.pi * 1 * 0.5 * (INCH / 1000) ** 2)
    (stencils,) = hand_of(pattern, tool="stencil", width="2", minutes_each=5)
    assert (stencils.minutes, stencils.area_m2) == (20, pytest.approx(4 * 4 * (INCH / 1000) ** 2))


@given(st.integers(2, 8), st.integers(2, 7))
def test_one_strip_serves_all_rows_of_a_harlequin_and_only_their_ends_are_marked(columns, rows):
    """Closed form: rows of `columns` and of one less crossing, or columns likewise, whichever are fewer; each evenly apart."""
    pattern = {"kind": "diamonds", "columns": columns, "rows": rows, "colors": ["ink", None]}
    plan = planned(pattern, marked_by="strip")
    lengthwise = columns + columns - 1 >= rows + rows - 1  # fewer rows than columns
    long, short, step = (columns, rows, 120 / columns) if lengthwise else (rows, columns, 96 / rows)
    lines = {long: short - 1, long - 1: short}  # how many rows have so many crossings
    if max(lines) < 3:
        assert plan.registration == ()
    else:
        [(_, strip)] = plan.registration
        assert strip.rows == sum(many for length, many in lines.items() if length >= 3 and many)
        longest = max(length for length, many in lines.items() if many)
        expected = [step * number for number in range(longest)]
        assert [float(each.rounded_mm) / INCH for each in strip.readings] == pytest.approx(expected, abs=1 / 32)
    ends = sum(many * min(length, 2) for length, many in lines.items())
    assert sum(mark.what == "dot" for mark in plan.hand_marks) == ends


@pytest.mark.parametrize(
    ("at", "marked_by", "marks", "strips"),
    [
        ("crossings", "auto", 0, 0),
        ("centres", "auto", 4, 1),
        ("crossings", "each", 10, 0),
        ("centres", "each", 8, 0),
        ("centres", "paint", 0, 0),
    ],
)
def test_crossings_go_by_what_is_painted_and_other_rows_by_a_strip(at, marked_by, marks, strips):
    """Diamonds in 4 columns and 2 rows: 10 crossings (4, 3 and 3 in rows), 8 centres in two rows of four."""
    plan = planned({"kind": "diamonds", "columns": 4, "rows": 2, "colors": ["ink", None]}, at=at, marked_by=marked_by)
    assert (sum(mark.what == "dot" for mark in plan.hand_marks), len(plan.registration)) == (marks, strips)


def test_lines_of_one_colour_are_one_step_whichever_side_they_are_on():
    pattern = {"kind": "checker", "columns": 3, "rows": 3, "colors": ["ink", None]}
    shading = {"kind": "shading", "line": "1/8", "light": "top left", "name": "edges"}
    both = hand_of(pattern, **shading, dark="madder", bright="cream")
    [one] = hand_of(pattern, **shading, dark="madder", bright="madder")
    assert one.length_mm == pytest.approx(sum(each.length_mm for each in both))


def test_a_motif_is_printed_at_true_size_beside_the_shapes_of_the_pattern():
    job = wall()
    piece = job["pieces"][0]
    piece.pop("pattern")
    own = {"name": "own", "pattern": {"kind": "checker", "columns": 3, "rows": 3, "colors": ["ink", None]}}
    stars = {
        "kind": "motifs",
        "name": "stars",
        "of": "own",
        "at": "centres",
        "tool": "stencil",
        "width": "4",
        "height": "6",
        "color": "madder",
    }
    piece["layers"] = [own, stars]
    *_, star = templates_of(plan_job(read_job(job)).pieces[0])
    assert (star.motif, star.many) == ("stars", 5)
    xs, ys = zip(*star.ring, strict=True)
    assert (max(xs) - min(xs), max(ys) - min(ys)) == (pytest.approx(4 * INCH), pytest.approx(6 * INCH))
    assert min(xs) == pytest.approx(0, abs=1e-9)


@pytest.mark.parametrize(
    ("hand", "path", "said"),
    [
        ({"of": "other"}, "of", "isn't a taped layer"),
        ({"color": None}, "color", "Give its colour"),
        ({"color": "teal"}, "color", "isn't in the palette"),
        ({"at": "corners"}, "at", "isn't known"),
        ({"name": "own"}, "name", "name of another layer"),
        ({"kind": "glitter"}, "kind", "isn't known"),
        ({"kind": "shading", "line": "1/8"}, "dark", "Give dark or bright"),
    ],
)
def test_what_cannot_be_done_by_hand_is_told_at_its_key(hand, path, said):
    with pytest.raises(BadJob) as bad:
        hand_of({"kind": "checker", "columns": 3, "rows": 3, "colors": ["ink"]}, **hand)
    assert any(fault.path == f"pieces.0.layers.1.{path}" and said in fault.message for fault in bad.value.faults)
