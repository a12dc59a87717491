"""Panels joined at folds: one pattern over all, given back panel by panel."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.job.surface import Panel, Rectangle
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document
from dividers.core.survey.sheet import Placed

INCH = 25.4


def folded(fold, other=None, **pattern):
    document = wall(pattern={"direction": None, "count": None, **pattern})
    surface = document["pieces"][0]["surface"]
    surface["panels"].append({"name": "side", "width": "60", "height": "96", **(other or {})})
    surface["folds"] = [fold]
    return plan_job(read_job(document))


@given(st.integers(0, 3), st.integers(-500, 500), st.integers(-500, 500))
def test_panels_turn_and_turn_back(quarters, left, top):
    panel = Panel("p", 300, 200, Rectangle(0, 0, 300, 200))
    placed = Placed(panel, left, top, quarters)
    points = np.array([(0.0, 0.0), (300.0, 0.0), (300.0, 200.0), (12.5, 190.0)])
    there = placed.to_sheet(points)
    assert placed.to_panel(there) == pytest.approx(points)
    box = placed.box(panel.outline)
    assert there.min(axis=0).tolist() == [box.left, box.top]
    assert np.allclose(placed.to_panel_direction(there[1] - there[0]), points[1] - points[0])


def test_a_stripe_runs_over_the_fold_untaped_there():
    plan = folded(["front", "right", "side", "left"], kind="stripes", direction="vertical", count=4, colors=["ink", None])
    [layout] = plan.pieces[0].layouts
    assert layout.panels.tolist() == [0, 0, 0, 1, 1]
    assert [layout.color(cell) for cell in range(5)] == ["ink", None, "ink", "ink", None]
    [document] = plan_document(plan)["pieces"]
    assert not any(s["panel"] == "side" and s["line"][0][0] == s["line"][1][0] == 0 for s in document["rounds"][0]["strips"])
    assert {m["panel"] for m in document["marks"]} == {"front", "side"}
    side = [m["reading"] for m in document["marks"] if m["panel"] == "side" and m["line"] == "top edge"]
    assert side == ["15 in"]


def test_strips_that_cross_a_fold_say_how():
    plan = folded(["front", "right", "side", "left"], kind="stripes", direction="horizontal", count=4, colors=["ink", None])
    strips = [s for each in plan_document(plan)["pieces"][0]["rounds"] for s in each["strips"]]
    crossing = [s for s in strips if "goes_on" in s]
    assert crossing
    assert {s["at_fold"] for s in crossing} == {"crease"}
    by_id = {s["id"]: s for s in strips}
    inner = next(s for s in crossing if s["kind"] == "edge")
    assert (inner["panel"], by_id[inner["goes_on"]]["panel"]) == ("front", "side")
    assert (inner["length"], by_id[inner["goes_on"]]["length"]) == (pytest.approx(120 * INCH), pytest.approx(60 * INCH))
    slanting = folded(["front", "right", "side", "left"], kind="stripes", direction=30, count=6, colors=["ink", None])
    cut = {
        s.get("at_fold")
        for each in plan_document(slanting)["pieces"][0]["rounds"]
        for s in each["strips"]
        if s["kind"] == "edge"
    }
    assert "cut" in cut


def test_a_strip_cut_at_a_fold_ends_on_it_at_the_fold_s_angle():
    """Both parts together are as long as the strip was, and their ends at the fold lean by what the stripes rise from level."""
    pattern = {"kind": "stripes", "direction": 30, "count": 6, "colors": ["ink", None]}
    strips = [
        s
        for each in plan_document(folded(["front", "right", "side", "left"], **pattern))["pieces"][0]["rounds"]
        for s in each["strips"]
    ]
    by_id = {s["id"]: s for s in strips}
    crossing = [(s, by_id[s["goes_on"]]) for s in strips if "goes_on" in s and s["kind"] == "edge"]
    assert crossing
    for one, other in crossing:
        ends = [{round(x, 3) for x, _ in part["line"]} for part in (one, other)]
        assert round(120 * INCH, 3) in ends[0] or 0.0 in ends[0]
        assert 0.0 in ends[1] or round(120 * INCH, 3) in ends[1]
        assert all(-1e-6 <= x <= 120 * INCH + 1e-6 for x, _ in one["line"])
        for part in (one, other):
            (ax, ay), (bx, by) = part["line"]
            assert part["length"] == pytest.approx(np.hypot(bx - ax, by - ay), abs=1e-5)
        leaning = {round(abs(angle)) for part in (one, other) for angle in part["ends"]}
        assert 30 in leaning


def test_bricks_go_round_a_corner_without_a_break():
    plan = folded(
        ["front", "right", "side", "left"],
        kind="brick",
        course="12",
        length="50",
        joint="1/4",
        colors=["ink", "madder", "cream", None],
    )
    layout = plan.pieces[0].layouts[0]
    bounds = layout.cells.bounds() / INCH
    at_corner = {
        panel: sorted(
            round(float(b[3] - b[1]), 4) for b, p, r in zip(bounds, layout.panels, layout.reserved, strict=True)
            if p == panel and not r and (b[2] if panel == 0 else b[0]) == pytest.approx(120)
        )
        for panel in (0, 1)
    }  # fmt: skip
    assert at_corner[0] == at_corner[1]
    across = [
        (layout.color(a), layout.color(b))
        for a, b in layout.borders.neighbours().tolist()
        if layout.panels[a] != layout.panels[b] and not layout.reserved[a] and not layout.reserved[b]
    ]
    assert across
    assert all(one == other for one, other in across)


def test_a_cube_stands_on_the_fold_of_wall_and_ceiling():
    plan = folded(
        ["front", "top", "side", "bottom"],
        {"width": "120", "height": "40"},
        kind="cube",
        size="30",
        depth="15",
        colors=["ink", "madder", None],
    )
    layout = plan.pieces[0].layouts[0]
    panels = {layout.color(cell): set() for cell in range(len(layout.cells))}
    for cell in range(len(layout.cells)):
        panels[layout.color(cell)].add(int(layout.panels[cell]))
    assert (panels["ink"], panels["madder"]) == ({0}, {1})


def test_a_turned_panel_reads_its_marks_from_its_own_top_left():
    plan = folded(
        ["front", "top", "side", "left"],
        {"width": "40", "height": "120"},
        kind="stripes",
        direction="vertical",
        count=6,
        colors=["ink", None],
    )
    marks = [mark for mark in plan.pieces[0].marks if mark.panel == "side"]
    assert {mark.line for mark in marks} == {"left edge", "right edge"}
    assert sorted(mark.reading.text for mark in marks if mark.line == "right edge") == sorted(
        ["20 in", "40 in", "60 in", "80 in", "100 in"]
    )


def test_a_room_of_four_walls_unrolls_once_round():
    document = wall(pattern={"count": 8})
    surface = document["pieces"][0]["surface"]
    names = ["front", "b", "c", "d"]
    surface["panels"] += [{"name": name, "width": "120", "height": "96"} for name in names[1:]]
    surface["folds"] = [[one, "right", other, "left"] for one, other in zip(names, [*names[1:], names[0]], strict=True)]
    [layout] = plan_job(read_job(document)).pieces[0].layouts
    assert float(layout.sheet.area.width) == pytest.approx(480 * INCH)
    assert len(layout.sheet.creases) == 3


def test_slanting_stripes_cover_a_part_above_where_the_sheet_begins():
    """A ceiling above the wall, with one slanting stripe laid in it: the stripe covers all of it."""
    document = wall()
    piece = document["pieces"][0]
    piece["surface"]["panels"].append({"name": "ceiling", "width": "60", "height": "96"})
    piece["surface"]["folds"] = [["front", "top", "ceiling", "bottom"]]
    piece["layers"] = [
        {"name": "ground", "pattern": {"kind": "cube", "size": "24", "depth": "10", "colors": [None, "ink", "madder"]}},
        {
            "name": "wash",
            "zone": {"cells": "ground", "color": "cream", "each": True},
            "pattern": {"kind": "stripes", "direction": 30, "count": 1, "colors": ["madder"]},
        },
    ]
    del piece["pattern"]
    ground, wash = plan_job(read_job(document)).pieces[0].layouts
    left = ground.in_color(None)
    assert wash.cells.areas().sum() == pytest.approx(ground.cells.areas()[left].sum())
    assert (wash.panels == 1).any()
