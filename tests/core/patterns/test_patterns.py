"""What single patterns promise: spacer tape, pinstripes, bricks, facets, cubes, plaid, borders, studs, masks."""

import itertools
import math

import numpy as np
import pytest
from jobs import wall

from dividers.core.base.colour import glazed
from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job

INCH = 25.4


def planned(panel=None, method=None, tape="2", **pattern):
    document = wall(panel=panel or {}, method=method or {}, pattern={"direction": None, "count": None, **pattern})
    document["products"]["delicate"]["width"] = tape
    return plan_job(read_job(document)).pieces[0]


def widths(plan):
    bounds = plan.layouts[0].cells.bounds() / INCH
    return (bounds[:, 2] - bounds[:, 0]).round(6).tolist()


def test_five_stripes_by_2_in_spacer_tape_take_10_in():
    """Common practice, no source: paint, gap, paint, gap, paint."""
    plan = planned({"width": "10"}, kind="stripes", spacer=True)
    assert widths(plan) == [2.0] * 5
    assert plan.layouts[0].painted.tolist() == [True, False, True, False, True]
    inner = plan.taping.chosen.rounds[0].strips[0]
    assert (~inner.perimeter).sum() == 2  # one strip of tape for each gap, serving both its lines
    assert inner.twin.sum() == 2


def test_spacer_tape_has_its_start_line_marked_and_nothing_else():
    plan = planned({"width": "25"}, kind="stripes", spacer=True, start="edge")
    assert {mark.what for mark in plan.marks} == {"start line"}
    assert [(mark.line, mark.reading.text) for mark in plan.marks] == [("top edge", "2 in"), ("bottom edge", "2 in")]
    assert any("1 in is left" in warning.message for warning in plan.warnings)


@pytest.mark.parametrize(("band", "side"), [("12", "4 3/4 in"), ("11 7/8", "4 11/16 in")])
def test_a_pinstripe_keeps_its_width_and_shares_the_rest(band, side):
    """Common practice, no source: 2 1/2 in in a 12 in band leaves 4 3/4 each side; in 11 7/8, 4 11/16."""
    plan = planned({"width": band}, kind="stripes", count=1, colors=["ink"], pinstripe="2 1/2", pinstripe_color="madder")
    assert widths(plan)[1] == 2.5
    assert widths(plan)[0] == widths(plan)[2]
    assert next(mark.reading.text for mark in plan.marks if mark.line == "top edge") == side


def test_sheen_stripes_of_one_colour_are_told_apart():
    job = wall(pattern={"colors": ["ghost", None]})
    job["palette"] = {**job["palette"], "ghost": {"name": "Cream, gloss", "hex": "#f1e6cf", "sheen": "gloss"}}
    plan = plan_job(read_job(job)).pieces[0]
    assert plan.layouts[0].painted.sum() == 3
    assert all("to erase" in mark.side for mark in plan.marks)


def test_the_second_course_starts_with_half_a_brick():
    """Common practice, no source: courses of 9 cm with 5 mm joints in running bond."""
    plan = planned({"width": "180 cm", "height": "90 cm"}, kind="brick", course="9 cm", length="20 cm", joint="5 mm")
    bounds = plan.layouts[0].cells.bounds()[~plan.layouts[0].reserved]
    first = {round(float(top)): round(float(right), 3) for left, top, right, _ in bounds if left < 1}
    assert first[0] == 197.5
    assert first[round(90 + 2.5)] == 97.5
    heights = bounds[:, 3] - bounds[:, 1]
    assert np.median(heights) == pytest.approx(85)


def test_uneven_bricks_stray_with_their_seed_and_no_further():
    changed = {
        "kind": "brick",
        "course": "4",
        "length": "10",
        "joint": "1/4",
        "unevenness": "1/2",
        "colors": ["ink", "madder", None, "cream"],
    }
    one, same, other = (planned(**changed, seed=seed) for seed in (3, 3, 4))
    assert (one.layouts[0].cells.points == same.layouts[0].cells.points).all()
    assert len(one.layouts[0].cells) != len(other.layouts[0].cells) or not np.array_equal(
        one.layouts[0].cells.points, other.layouts[0].cells.points
    )
    tops = np.unique(one.layouts[0].cells.bounds()[~one.layouts[0].reserved][:, 1].round(3))
    strayed = np.abs(tops[1:] - np.arange(1, len(tops)) * 4 * INCH - INCH / 8)
    assert strayed.max() <= INCH / 2 + 1e-6


def test_brick_joints_are_reserve_tape_level_ones_first():
    plan = planned(kind="brick", course="12", length="30", joint="1/4")
    assert plan.taping.chosen.taping == "reserve"
    [strips] = plan.taping.chosen.rounds[0].strips
    reserved = np.flatnonzero(strips.reserve)
    level = [bool(abs(strips.end[k][1] - strips.start[k][1]) < 1e-6) for k in reserved]
    assert level == sorted(level, reverse=True)
    assert sum(level) == 7
    assert strips.lengths[reserved[0]] == pytest.approx(120 * INCH)


def test_one_load_never_does_two_neighbouring_bricks():
    plan = planned(kind="brick", course="6", length="14", joint="1/4", colors=["ink", "madder", "cream", None])
    layout = plan.layouts[0]
    keys = plan.cell_keys[0]
    bounds = dict(zip(keys, layout.cells.bounds().tolist(), strict=True))
    done = [part for _, parts in plan.loads for part in parts]
    assert sorted(done) == sorted(key for key, painted in zip(keys, layout.painted, strict=True) if painted)
    for _, parts in plan.loads:
        assert len(parts) <= 6
        for one, other in itertools.combinations(parts, 2):
            (l0, t0, r0, b0), (l1, t1, r1, b1) = bounds[one], bounds[other]
            joint = INCH / 4 + 0.01
            assert (
                max(l0, l1) - min(r0, r1) > joint
                or max(t0, t1) - min(b0, b1) > joint
                or (max(l0, l1) - min(r0, r1) > 0 and max(t0, t1) - min(b0, b1) > 0)
            )


def facets(**points):
    places = {"A": ["0", "30"], "B": ["120", "30"], "C": ["60", "0"], "D": ["60", "96"], **points}
    fills = [
        {"at": ["10", "10"], "color": "ink"},
        {"at": ["110", "90"], "stripes": {"width": "5", "direction": 0, "colors": ["madder", None]}},
    ]
    return planned(kind="facets", points=places, lines=[["A", "B"], ["C", "D"]], fills=fills, colors=None)


def test_facets_are_the_regions_between_lines():
    layout = facets().layouts[0]
    areas = layout.cells.areas() / INCH**2
    assert areas[layout.in_color("ink")] == pytest.approx([60 * 30])
    assert layout.in_color("madder").sum() == 7
    assert areas.sum() == pytest.approx(120 * 96)


def test_points_are_found_from_edges_lines_and_crossings():
    extra = {"E": {"right": "12", "bottom": "6"}, "F": {"on": ["A", "B"], "at": "45"}, "G": {"cross": [["A", "B"], ["C", "D"]]}}
    document = wall(pattern={"kind": "facets", "direction": None, "count": None, "colors": None, "points": {
        "A": ["0", "30"], "B": ["120", "30"], "C": ["60", "0"], "D": ["60", "96"], **extra}, "lines": [["F", "E"], ["G", "C"], ["A", "B"]]})  # fmt: skip
    marks = {(round(mark.x / INCH, 6), round(mark.y / INCH, 6)) for mark in plan_job(read_job(document)).pieces[0].marks}
    document["pieces"][0]["pattern"]["fills"] = [{"at": ["20", "20"], "color": "ink"}]
    painted = {(round(m.x / INCH, 6), round(m.y / INCH, 6)) for m in plan_job(read_job(document)).pieces[0].marks}
    assert marks == set()
    assert {(60.0, 30.0), (0.0, 30.0), (60.0, 0.0)} <= painted


@pytest.mark.parametrize(
    ("points", "path"),
    [
        ({"E": {"on": ["E", "A"], "at": "3"}}, "points.E"),
        ({"E": {"cross": [["A", "B"], ["A", "B"]]}}, "points.E"),
        ({"E": ["200", "3"]}, "points.E"),
        ({"E": "somewhere"}, "points.E"),
        ({"{0} {x}": ["3", "4"]}, "can't name a point"),
    ],
)
def test_points_that_cannot_be_found_are_told(points, path):
    with pytest.raises(BadJob, match=path):
        facets(**points)


@pytest.mark.parametrize(("y", "code"), [("30.3", "nearly-meets"), ("30", ""), ("36", "")])
def test_a_line_that_nearly_meets_a_corner_is_told_with_the_ways_out(y, code):
    places = {"A": ["0", "30"], "B": ["120", "30"], "E": ["50", y], "F": ["40", "80"]}
    plan = planned(kind="facets", points=places, lines=[["A", "B"], ["E", "F"]], colors=None)
    found = [warning for warning in plan.warnings if warning.code.startswith("nearly")]
    assert [warning.code for warning in found] == ([code] if code else [])
    if code:
        assert "Run it exactly through" in found[0].message


def test_a_line_that_nearly_continues_another_is_told():
    places = {"A": ["0", "30"], "B": ["50", "30"], "C": ["60", "30 1/2"], "D": ["120", "31"]}
    plan = planned(kind="facets", points=places, lines=[["A", "B"], ["C", "D"]], colors=None)
    assert any(warning.code == "nearly-continues" and "exactly in line" in warning.message for warning in plan.warnings)


def test_glazes_cross_in_two_layers():
    plan = planned(
        {"width": "50", "height": "50"},
        tape="1",
        kind="plaid",
        upright=["10"],
        colors=["ink", None],
        level_colors=["madder", None],
    )
    layout = plan.layouts[0]
    assert (layout.under >= 0).sum() == 9
    rounds = plan.taping.chosen.rounds
    assert [each.colors for each in rounds] == [("ink",), ("madder",)]
    assert [int(each.painted[0].sum()) for each in rounds] == [15, 15]
    areas = {need.color: need.area_m2 for need in plan.paints if not need.is_base}
    assert areas["ink"] == areas["madder"] == pytest.approx(3 * 10 * 50 * INCH**2 / 1e6)


def test_a_glaze_over_a_glaze_lets_through_both_shares():
    assert glazed("#ffffff", "#808080", "#808080") == "#404040"
    assert glazed("#ffffff", "#ff0000", "#ffffff") == "#ff0000"
    assert glazed("#000000", "#000000", "#000000") == "#000000"


def test_a_border_grows_until_whole_repeats_fit():
    plan = planned({"width": "100", "height": "60"}, kind="checker", size="7", border="3", border_color="madder")
    layout = plan.layouts[0]
    inner = layout.cells.bounds()[~layout.in_color("madder")] / INCH
    assert (inner[:, :2].min(axis=0).round(6).tolist(), len(inner)) == ([4.5, 5.5], 13 * 7)
    assert "4 1/2 in left and right, 5 1/2 in at top and bottom" in plan.facts[0].message


def test_dots_are_marked_on_the_points():
    plan = planned({"width": "40", "height": "20"}, kind="diamonds", columns=2, rows=1, studs="points")
    marked = {(round(mark.x / INCH, 6), round(mark.y / INCH, 6)) for mark in plan.marks}
    assert {(round(s.point[0] / INCH, 6), round(s.point[1] / INCH, 6)) for s in plan.layouts[0].tiles.dots} <= marked
    assert {(s.point[0] / INCH, s.point[1] / INCH) for s in plan.layouts[0].tiles.dots} == {
        (10.0, 0.0), (30.0, 0.0), (10.0, 20.0), (30.0, 20.0), (0.0, 10.0), (20.0, 10.0), (40.0, 10.0),
    }  # fmt: skip


def test_argyle_lines_cross_in_the_diamonds_middles():
    plan = planned(kind="diamonds", columns=4, rows=3, overlay="1", overlay_color="madder", colors=["ink", None])
    layout = plan.layouts[0]
    lengths = layout.cells.areas()[layout.in_color("madder")].sum() / INCH**2
    side = np.hypot(15, 16)
    assert lengths == pytest.approx(2 * 2 * side * 12 - 24 * 1 / np.sin(2 * np.arctan2(16, 15)), rel=0.02)


@pytest.mark.parametrize("way", ["strips", "pieces"])
def test_dark_paint_is_kept_off_what_is_painted_light_later(way):
    usual = planned(kind="checker", columns=4, rows=2, colors=["ink", "madder"], method={"taping": way})
    turned = planned(
        kind="checker", columns=4, rows=2, colors=["ink", "madder"], method={"taping": way, "order": ["ink", "madder"]}
    )
    assert next(each.colors for each in usual.taping.chosen.rounds) == ("madder",)
    assert next(each.colors for each in turned.taping.chosen.rounds) == ("ink",)
    inner = [sum(int((~s.perimeter).sum()) for s in plan.taping.chosen.rounds[0].strips) for plan in (usual, turned)]
    assert inner[0] == 0 < inner[1]


def test_colours_share_a_round_where_their_tapes_keep_apart():
    plan = planned({"width": "80"}, kind="stripes", count=8, colors=["ink", None, "madder", None])
    assert [each.colors for each in plan.taping.chosen.rounds] == [("madder", "ink")]
    close = planned({"width": "16"}, kind="stripes", count=8, colors=["ink", None, "madder", None], tape="3")
    assert len(close.taping.chosen.rounds) > 1


@pytest.mark.parametrize(("width", "height"), [("20", "16"), ("24", "12"), ("40", "30")])
def test_checks_spaced_by_the_tape_are_taped_in_long_strips_that_lie_against_each_other(width, height):
    """Bits would be quicker by their minutes at 20 x 16 in (207 of them), but only those along the two start lines could be placed."""
    plan = planned({"width": width, "height": height}, kind="checker", spacer=True, columns=None, rows=None)
    assert plan.taping.chosen.taping == "strips" and "start line" in plan.taping.reason


def laid(**pattern):
    [layout] = plan_job(read_job(wall(pattern={"direction": None, "count": None, **pattern}))).pieces[0].layouts
    return layout


def test_triangles_are_equilateral_and_take_turns_point_up_and_point_down():
    """120 in by 8: sides of 15 in, rows of 15 in x sqrt(3) / 2; a colour each for those on their sides and on their points."""
    layout = laid(kind="triangles", columns=8, colors=["ink", "madder"])
    bounds, areas = layout.cells.bounds(), layout.cells.areas()
    assert (bounds[:, 3] - bounds[:, 1]).max() == pytest.approx(15 * 25.4 * math.sqrt(3) / 2)
    by_color = {color: areas[layout.slots == slot].sum() for slot, color in enumerate(layout.colors)}
    whole = 120 * 96 * 25.4**2
    assert by_color["ink"] + by_color["madder"] == pytest.approx(whole) and 0.45 < by_color["ink"] / whole < 0.55


@pytest.mark.parametrize(
    "pattern",
    [
        {"kind": "cube", "size": "30", "depth": "12", "left": "80"},  # its side alone reaches beyond
        {"kind": "mask", "inset": "50"},  # from both sides it meets in the middle of 96 in
    ],
    ids=["cube", "mask"],
)
def test_what_has_no_room_is_refused(pattern):
    with pytest.raises(BadJob):
        laid(colors=["ink", "madder"], **pattern)
