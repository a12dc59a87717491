"""Joined panels that were measured: their cells end at the real folds, and the pattern runs on from one to the next."""

import math
from collections import defaultdict

import pytest
from jobs import readings_of, wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

FRONT = [(0.0, 0.0), (2012.0, 9.0), (1994.0, 2409.0), (-4.0, 2396.0)]  # its ceiling falls 9 mm, its right corner leans 18 mm
SIDE = [(0.0, 0.0), (1000.0, -3.0), (1005.0, 2398.0), (7.0, 2400.06)]
FOLD = math.dist(FRONT[1], FRONT[2])


def planned(pattern, fit="square", side=SIDE, sides=("right", "left"), **more):
    panels = [
        {"name": "front", "width": "2000", "height": "2400", "survey": readings_of(FRONT)},
        {"name": "side", "width": "1000", "height": "2400", **({"survey": readings_of(side)} if side else {})},
        *more.pop("panels", []),
    ]
    folds = [["front", sides[0], "side", sides[1]], *more.pop("folds", [])]
    job = wall(surface={"kind": "wall", "panels": panels, "folds": folds}, job={"units": "mm"}, method={"fit": fit} | more)
    job["pieces"][0]["pattern"] = pattern
    [piece] = plan_document(plan_job(read_job(job)))["pieces"]
    return piece


def area(ring):
    return sum(ax * by - bx * ay for (ax, ay), (bx, by) in zip(ring, ring[1:] + ring[:1], strict=True)) / 2


def along_fold(piece, panel, corners):
    """Where two cells of a panel part at its fold, from the fold's upper end, in mm."""
    (ax, ay), (bx, by) = corners
    length = math.dist(*corners)
    found = defaultdict(set)
    for cell in piece["cells"]:
        for x, y in (point for ring in cell["rings"] for point in ring if cell["panel"] == panel):
            if abs((bx - ax) * (y - ay) - (by - ay) * (x - ax)) / length < 0.01:
                found[round(((x - ax) * (bx - ax) + (y - ay) * (by - ay)) / length, 1)].add(cell["id"])
    return sorted(place for place, cells in found.items() if len(cells) > 1)


LEVEL = {"kind": "stripes", "direction": "horizontal", "count": 8, "colors": ["ink", None]}


@pytest.mark.parametrize("fit", ["square", "follow"])
def test_cells_fill_the_corners_that_were_measured(fit):
    piece = planned(LEVEL, fit)
    for name, corners in (("front", FRONT), ("side", SIDE)):
        cells = sum(area(ring) for cell in piece["cells"] if cell["panel"] == name for ring in cell["rings"])
        assert cells == pytest.approx(area(corners), abs=100)
    front, side = (panel["outline"] for panel in piece["panels"])
    assert math.dist(front[1], front[2]) == pytest.approx(math.dist(side[0], side[3]))


def test_level_lines_run_on_level_from_the_lowest_place_of_the_ceiling():
    """The ceiling is lowest at the fold, 9 mm below the front's left corner, and the floor highest 2396 mm below that: eighths of 2387 mm,
    on both walls as far below the fold's upper end, along which a height is a little longer."""
    piece = planned(LEVEL)
    front, side = along_fold(piece, "front", FRONT[1:3]), along_fold(piece, "side", (SIDE[0], SIDE[3]))
    assert front == pytest.approx([2387 / 8 * n * FOLD / 2400 for n in range(1, 8)], abs=0.11)
    assert side == pytest.approx(front, abs=0.11)


def test_a_pattern_that_follows_meets_at_the_fold_whatever_its_slant():
    pattern = {"kind": "diamonds", "columns": 5, "rows": 5, "colors": ["ink", "madder"]}
    piece = planned(pattern, "follow")
    front, side = along_fold(piece, "front", FRONT[1:3]), along_fold(piece, "side", (SIDE[0], SIDE[3]))
    assert len(front) == 10  # each of five rows has two lines there
    assert front == pytest.approx(side, abs=0.11)


def test_tape_runs_on_over_a_fold_that_leans():
    """Each strip of a level line goes on as one on the next wall that begins where it ends, as far below the fold's upper end."""
    piece = planned(LEVEL)
    strips = {strip["id"]: strip for each in piece["rounds"] for strip in each["strips"]}
    inner = [strip for strip in strips.values() if strip["kind"] == "edge" and "goes_on" in strip]
    assert len(inner) == 7
    for strip in inner:
        one, other = strip, strips[strip["goes_on"]]
        if one["panel"] == "side":
            one, other = other, one
            ends = one["line"][0], other["line"][1]
        else:
            ends = one["line"][1], other["line"][0]
        assert math.dist(ends[0], FRONT[1]) == pytest.approx(math.dist(ends[1], SIDE[0]), abs=0.3)
        assert one["side"] == other["side"] and strip["at_fold"] == "crease"


def test_a_panel_without_readings_is_joined_to_the_fold_that_its_neighbour_has():
    piece = planned(LEVEL, side=None)
    side = next(panel["outline"] for panel in piece["panels"] if panel["name"] == "side")
    assert math.dist(side[0], side[3]) == pytest.approx(FOLD)
    assert side[0] == [0, 0] and side[1] == [1000, 0]


def test_a_border_lies_along_the_outer_sides_and_not_at_the_fold():
    piece = planned(LEVEL, "hide", border="100")
    field = next(panel["field"] for panel in piece["panels"] if panel["name"] == "front")
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = field
    assert ay == by and cy == dy and ax == dx
    assert ay >= 109 and ax >= 100
    for x, y in ((bx, by), (cx, cy)):
        assert x == pytest.approx(2012 - 18 * (y - 9) / 2400, abs=0.1)


def test_tape_beyond_the_corner_of_two_folds_belongs_to_the_panel_it_is_along():
    """Front, side and a ceiling over the front: the strip at the ceiling's right end lies where the side's ground reaches too."""
    panels = [{"name": name, "width": wide, "height": high} for name, wide, high in (("front", "2000", "2400"), ("side", "1000", "2400"), ("ceiling", "2000", "1500"))]  # fmt: skip
    folds = [["front", "right", "side", "left"], ["front", "top", "ceiling", "bottom"]]
    job = wall(surface={"panels": panels, "folds": folds}, job={"units": "mm"})
    job["pieces"][0]["pattern"] = {"kind": "horizon", "drop": "700", "colors": ["ink", "madder"]}
    strips = [s for each in plan_document(plan_job(read_job(job)))["pieces"][0]["rounds"] for s in each["strips"]]
    right = [s for s in strips if s["panel"] == "ceiling" and min(x for x, _ in s["line"]) > 1900]
    assert sum(s["length"] for s in right) >= 1500
    assert all(x >= -40 for s in strips if s["panel"] == "side" for ring in s["rings"] for x, _ in ring)


def test_tape_between_two_lines_with_a_fold_between_them_covers_both_sides_of_it():
    """Stripes as wide as the tape, 36 mm, over a wall of 1,650: the last unpainted one has 30 mm on the front and 6 beyond the fold."""
    panels = [{"name": "front", "width": "1650", "height": "900"}, {"name": "side", "width": "500", "height": "900"}]
    pattern = {"kind": "stripes", "direction": "vertical", "count": None, "spacer": True, "colors": ["ink", None]}
    job = wall(surface={"panels": panels, "folds": [["front", "right", "side", "left"]]}, pattern=pattern, job={"units": "mm"})
    strips = [s for each in plan_document(plan_job(read_job(job)))["pieces"][0]["rounds"] for s in each["strips"]]
    lengthwise = [s for s in strips if s["kind"] == "edge" and {round(x) for x, _ in s["line"]} <= {6, 1620}]
    assert {(s["panel"], round(s["line"][0][0]), s["length"]) for s in lengthwise} == {
        ("front", 1620, 900.0),
        ("side", 6, 900.0),
    }


def test_a_stripe_over_a_fold_keeps_its_width_though_the_wall_is_narrower_than_stated():
    """Of the fifth gap of 100 mm, from 1900 to 2000 along the walls, 84 lie on a front of 1984 (stated 2000) and 16 beyond the fold."""
    panels = [
        {
            "name": "front",
            "width": "2000",
            "height": "2400",
            "survey": readings_of([(0, 0), (1984, 0), (1984, 2400), (0, 2400)]),
        },
        {"name": "side", "width": "1000", "height": "2400"},
    ]
    job = wall(
        surface={"kind": "wall", "panels": panels, "folds": [["front", "right", "side", "left"]]},
        job={"units": "mm"},
        method={"fit": "square"},
    )
    job["pieces"][0]["pattern"] = {
        "kind": "stripes",
        "direction": "vertical",
        "widths": ["300", "100"],
        "colors": ["ink", None],
    }
    plan = plan_job(read_job(job))
    assert plan.pieces[0].layouts[0].sheet.area.width == 2984
    [piece] = plan_document(plan)["pieces"]
    gaps = {"front": 1900, "side": 0}
    for cell in piece["cells"]:
        xs = [x for ring in cell["rings"] for x, _ in ring]
        if cell["color"] is None and min(xs) == pytest.approx(gaps[cell["panel"]], abs=0.5):
            gaps[cell["panel"]] = max(xs) - min(xs)
    assert gaps == pytest.approx({"front": 84, "side": 16}, abs=0.5)
