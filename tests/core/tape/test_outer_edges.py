"""The panel's own edges: taped, cut in, free or painted round; by the contract's checker, and against figures worked out by hand."""

import re

import plan_checker
import pytest
from budget import examples
from hypothesis import assume, given
from hypothesis import strategies as st
from jobs import any_jobs, wall

from dividers.core.base.errors import BadJob
from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

SIDES = ("top", "right", "bottom", "left")
BANDS = {"kind": "stripes", "direction": "horizontal", "count": 8, "colors": ["ink", None]}


def planned(edges, **more):
    return plan_job(read_job(wall(pattern=BANDS, panel={"edges": edges}, **more)))


@examples(20)
@given(any_jobs(), st.fixed_dictionaries({side: st.sampled_from(["tape", "cut-in", "free", "wrap"]) for side in SIDES}))
def test_only_taped_edges_have_strips_and_the_rest_of_the_contract_holds(document, edges):
    surface = document["pieces"][0]["surface"]
    surface["panels"][0]["edges"] = edges | {"wrap_depth": "3/4"}
    try:
        [piece] = plan_document(plan_job(read_job(document)))["pieces"]
    except BadJob:
        assume(False)
    assume(len(piece["cells"]) <= 200)
    margin = surface["panels"][0].get("margin", {})
    bare = [side for side in SIDES if edges[side] != "tape" and margin.get(side, "0").strip() in ("0", "0 0/16")]
    folds = [tuple(fold[at : at + 2]) for fold in surface.get("folds", []) for at in (0, 2)]
    plan_checker.check_partition(piece)
    plan_checker.check_passes(piece, [*folds, *(("front", side) for side in bare)])
    right, bottom = piece["panels"][0]["outline"][2]
    for each in piece["rounds"]:
        for strip in each["strips"]:
            if strip["kind"] == "perimeter" and strip["panel"] == "front":
                x, y = ((a + b) / 2 for a, b in zip(*strip["line"], strict=True))
                off = {"left": x, "top": y, "right": right - x, "bottom": bottom - y}
                assert all(abs(off[side]) > 1e-3 for side in bare if ("front", side) not in folds)


def test_an_edge_cut_in_by_brush_is_a_step_with_its_metres_once_the_tape_is_off():
    plan = planned({"top": "cut-in", "left": "free"})
    [piece] = plan_document(plan)["pieces"]
    [hand] = piece["hand"]
    assert (hand["kind"], hand["color"], hand["length_m"]) == ("cut-in", "ink", 3.048)
    assert hand["minutes"] == pytest.approx(3.048 * 2 * 2, abs=0.1)  # 2 min a metre, common practice, no source; two coats
    assert not [s for s in piece["rounds"][0]["strips"] if s["kind"] == "perimeter" and s["line"][0][0] == s["line"][1][0] == 0]
    work = work_of(plan, start_of(plan.job))
    [task] = [task for task in work.tasks if task.kind == "hand"]
    at = work.tasks.index(task)
    assert {work.tasks[lag.first].kind for lag in work.lags if lag.then == at} == {"pull", "coat"}
    assert {work.tasks[lag.then].kind for lag in work.lags if lag.first == at} == {"touch-up"}
    assert "cut in 10 ft of edges" in task.words


def test_paint_that_goes_round_an_edge_is_bought_by_its_depth():
    usual, wrapped = (planned(edges).pieces[0] for edges in ({}, {"right": "wrap", "wrap_depth": "3/4"}))
    ink, more = (next(need.area_m2 for need in plan.paints if need.color == "ink") for plan in (usual, wrapped))
    assert more - ink == pytest.approx(4 * 12 * 25.4 * 0.75 * 25.4 / 1e6)
    base, whole = (next(need.area_m2 for need in plan.paints if need.is_base) for plan in (usual, wrapped))
    assert whole - base == pytest.approx(96 * 25.4 * 0.75 * 25.4 / 1e6)


def test_tape_goes_on_round_an_edge_that_is_painted_round_and_the_sides_with_each_coat():
    """Across a canvas of 24 in, 3/4 in deep at both sides: 25 1/2 in and a tab; painted with the tape on, on both copies."""
    edges = {"left": "wrap", "right": "wrap", "wrap_depth": "3/4"}
    plan = plan_job(read_job(wall(pattern=BANDS, panel={"width": "24", "height": "12", "edges": edges}, piece={"copies": 2})))
    strips = [each for each in plan_document(plan)["pieces"][0]["rounds"][0]["strips"] if each["kind"] != "perimeter"]
    assert strips and all(each["length"] == pytest.approx(25.5 * 25.4) for each in strips)
    work = work_of(plan, start_of(plan.job))
    assert not [task for task in work.tasks if task.kind == "hand"]
    coats = [task.words for task in work.tasks if task.kind == "coat"]
    assert coats and all("of edges, 3/4 in deep" in each for each in coats)
    del edges["wrap_depth"]  # not measured: nothing is said of it
    unsaid = plan_job(read_job(wall(pattern=BANDS, panel={"width": "24", "height": "12", "edges": edges})))
    assert not [task.words for task in work_of(unsaid, start_of(unsaid.job)).tasks if "deep" in task.words]
    said = sum(float(read_length(re.search(r"and round (.*) of edges", each)[1], "in").mm) for each in coats) / 25.4
    assert said == pytest.approx(2 * 2 * 2 * 6, abs=0.5 * len(coats))  # two copies, two coats, two sides, 6 in of ink each


def test_a_side_with_a_margin_is_taped_whatever_is_said_of_the_edge():
    strips = [plan.taping.chosen.rounds[0].strips[0] for plan in (
        plan_job(read_job(wall(pattern=BANDS, panel={"margin": {"top": "2"}, "edges": {"top": edge}}))).pieces[0] for edge in ("tape", "free")
    )]  # fmt: skip
    assert len(strips[0]) == len(strips[1])


def test_an_unknown_kind_of_edge_is_told():
    with pytest.raises(BadJob, match=r"edges\.top"):
        planned({"top": "glued"})
