"""Nothing that no hand could lay or paint: no strip below 3 mm, no part thinner than a pencil line, no two strips over one band."""

import math

import numpy as np
import pytest
from budget import examples
from hypothesis import assume, given
from jobs import any_jobs, wall
from layouts import box, layout_of
from shapely import Polygon

from dividers.core.base.errors import BadJob
from dividers.core.cells.thin_parts import without_thin
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.bands import facing
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

SLIVER = {"kind": "triangles", "direction": None, "count": None, "height": "1 3/4", "origin_down": "6 3/4", "colors": ["ink"], "reserve": "3/8", "width": "6 3/4"}  # fmt: skip
HUB = {"kind": "rays", "direction": None, "count": None, "hub": "3/8", "colors": ["ink"]}


def check_sizes(piece):
    for each in piece["rounds"]:
        for strip in each["strips"]:
            assert min(strip["length"], math.dist(*strip["line"])) >= 3 - 1e-3, strip
            for other in each["strips"][: each["strips"].index(strip)]:
                check_bands(Polygon(strip["rings"][0]), Polygon(other["rings"][0]), strip, other)
        painted = {cell["color"] for cell in piece["cells"] if cell["id"] in each["cells"]}
        assert set(each["colors"]) <= painted | {cell.get("under") for cell in piece["cells"]}
    for cell in piece["cells"]:
        shape = Polygon(cell["rings"][0], cell["rings"][1:])
        beside = any(
            shape.intersection(Polygon(other["rings"][0])).length > 0.1
            for other in [*piece["cells"], *piece["reserves"]]
            if other is not cell
        )
        assert not shape.buffer(-0.25).is_empty or not beside, cell


def check_bands(one, other, strip, earlier):
    """Two strips don't lie in one gap that either of them would fill."""
    if (
        strip["panel"] != earlier["panel"]
        or (strip["kind"] == "perimeter") != (earlier["kind"] == "perimeter")
        or not one.intersects(other)
    ):
        return
    left = min(one.area, other.area) - one.intersection(other).area
    assert left > 0.02 * min(one.length, other.length), (strip, earlier)


@pytest.mark.parametrize("mm", [14, 35.9, 36, 36.1])
def test_a_gap_that_the_tape_fills_gets_one_strip_for_both_bands(mm):
    """Two bands of paint with a bare gap: one strip, cut down to it, that is pulled with both; a gap wider than the tape of 36 mm gets two."""
    pattern = {"direction": "vertical", "count": None, "widths": ["400", str(mm)], "colors": ["ink", None]}
    document = wall(
        panel={"width": str(800 + mm), "height": "600", "edges": dict.fromkeys(("left", "right", "top", "bottom"), "free")},
        pattern=pattern,
    )
    taping = plan_job(read_job(document | {"units": "mm"})).pieces[0].taping.chosen.rounds[0]
    [strips] = taping.strips
    assert len(strips) == (1 if mm < 36.05 else 2)
    if mm < 36:
        assert strips.slit_mm == pytest.approx([mm])
    [layout] = taping.layouts
    _, faced = facing(strips, layout.shape_index, np.flatnonzero(taping.painted[0]))
    assert len(set(faced.tolist())) == 2


@pytest.mark.parametrize(
    ("pattern", "gaps", "width"),
    [
        ({"direction": "45", "count": None, "widths": ["200", "20"], "colors": ["ink", None]}, 5, 20),
        ({"kind": "rays", "direction": None, "count": None, "rays": 7, "hub": "3", "colors": ["ink"], "reserve": "3"}, 6, 3),
    ],
    ids=["stripes", "rays"],
)
def test_a_slanting_gap_gets_one_strip_that_reaches_as_far_as_both(pattern, gaps, width):
    document = wall(panel={"width": "900", "height": "900"}, pattern=pattern, method={"taping": "pieces"}) | {"units": "mm"}
    piece = plan_job(read_job(document)).pieces[0]
    [strips] = piece.taping.chosen.rounds[0].strips
    said = next(each.message for each in piece.warnings if "where there is less room" in each.message)
    assert f"; {int((~np.isnan(strips.slit_mm)).sum())} strips lie" in said
    inside = np.flatnonzero(~strips.perimeter & (strips.lengths > 100))
    assert strips.slit_mm[inside] == pytest.approx([width] * gaps) and strips.twin[inside].all()


@pytest.mark.parametrize(("wide", "high", "pattern"), [("12", "18", SLIVER), ("95", "41", HUB)], ids=["sliver", "hub"])
def test_small_ends_are_left_to_what_lies_beside_them(wide, high, pattern):
    document = wall(panel={"width": wide, "height": high}, pattern=pattern, method={"taping": "strips"})
    document["products"]["delicate"]["width"] = "12 mm"
    [piece] = plan_document(plan_job(read_job(document)))["pieces"]
    check_sizes(piece)


def test_a_part_thinner_than_a_pencil_line_joins_the_one_beside_it():
    layout = layout_of([box(0, 0, 100, 400), box(100, 0, 100.3, 400), box(100.3, 0, 400, 400)], np.array([True, False, True]))
    found = without_thin(layout)
    assert len(found.cells) == 2
    assert found.cells.areas().sum() == pytest.approx(layout.cells.areas().sum())
    assert sorted(found.cells.bounds()[:, 2].tolist()) in ([100, 400], [pytest.approx(100.3), 400])


def test_a_sliver_joins_the_part_that_it_has_the_longest_border_with():
    layout = layout_of([box(0, 0, 100, 100), box(0, 100, 100, 400), box(100, 0, 100.3, 400)], np.array([True, False, False]))
    assert sorted(without_thin(layout).cells.areas().tolist()) == pytest.approx([100 * 100, 100 * 300 + 0.3 * 400])


def test_of_a_chain_of_slivers_all_go_where_the_first_does():
    layout = layout_of([box(0, 0, 100, 400), box(100, 0, 100.3, 400), box(100.3, 0, 100.6, 400), box(100.6, 0, 101, 400)], np.array([True, False, True, False]))  # fmt: skip
    found = without_thin(layout)
    assert found.cells.areas().tolist() == pytest.approx([101 * 400])


def test_a_sliver_under_an_arch_joins_the_line_that_it_meets_in_a_point():
    """Its border there is shorter than any that counts as one."""
    arch = [["0", "41"], {"at": ["50", "0"], "bulge": "-1"}, ["100", "41"], ["100", "82"], ["0", "82"]]
    bands = {
        "kind": "concentric",
        "direction": None,
        "count": None,
        "band": "39 3/8",
        "colors": ["ink", "ink", "madder", None],
        "reserve": "15/16",
    }
    front = {"width": None, "height": None, "outline": arch, "margin": {"bottom": "2 1/2", "top": "1"}}
    [piece] = plan_document(plan_job(read_job(wall(panel=front, pattern=bands))))["pieces"]
    check_sizes(piece)


def test_one_strip_lies_between_two_lines_a_tape_apart():
    """Bands of 36 mm left bare between painted ones, with tape of 36 mm: one strip for both edges, though one band ends sooner at a door."""
    door = {"name": "door", "left": "1000", "top": "500", "width": "300", "height": "500"}
    document = wall(panel={"width": "1300", "height": "1000", "openings": [door]}, pattern={"direction": "horizontal", "count": None, "widths": ["464", "36"], "colors": ["ink", None]})  # fmt: skip
    [strips] = plan_job(read_job(document | {"units": "mm"})).pieces[0].taping.chosen.rounds[0].strips
    between = [strips.segment(n) for n in range(len(strips)) if strips.twin[n] and abs(strips.segment(n)[0][1] - 482) < 20]
    assert len(between) == 1 and math.dist(*between[0]) == pytest.approx(1300)


@examples(12)
@given(any_jobs())
def test_no_plan_has_what_no_hand_could_lay(document):
    try:
        [piece] = plan_document(plan_job(read_job(document)))["pieces"]
    except BadJob:
        assume(False)
    assume(len(piece["cells"]) < 300)
    check_sizes(piece)
