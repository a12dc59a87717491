"""The contract across layers, on generated pieces of two and three, by the independent checkers."""

import copy

import layer_checker
import plan_checker
import pytest
from budget import examples
from hypothesis import assume, event, given
from layered_jobs import layered_jobs

from dividers.core.base.errors import BadJob
from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import dump_job, parse_job, read_job
from dividers.core.output.drawing import draw
from dividers.core.output.scene import View
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document, plan_text

MOST_CELLS = 250


@examples(12)
@given(layered_jobs())
def test_layered_plans_keep_the_contract(document):
    job, plan, piece = planned(document)
    layers = document["pieces"][0]["layers"]
    names = [layer["name"] for layer in layers]
    event(f"{len(names)} layers")
    layer_checker.check_zones(layers, piece)
    folds = [tuple(fold[at : at + 2]) for fold in document["pieces"][0]["surface"].get("folds", []) for at in (0, 2)]
    for number, name in enumerate(names):
        own = layer_checker.rounds_of(piece, name)
        plan_checker.check_passes(layer_checker.of_layers(own, {name}), folds)
        plan_checker.check_covers(layer_checker.of_layers(own, set(names[: number + 1])))
    plan_checker.check_order(piece)
    assert [each["number"] for each in piece["rounds"]] == list(range(1, len(piece["rounds"]) + 1))
    turns = [names.index(each["layer"]) for each in piece["rounds"]]
    assert turns == sorted(turns)
    plan_checker.check_marks(piece, job.graduation.step_mm, lambda reading: read_length(reading, job.units).mm)
    if not any(layer["pattern"].get("spacer") or layer["pattern"].get("edge") == "torn" for layer in layers):
        layer_checker.check_lines(piece, names)
    check_amounts(plan.pieces[0], piece)
    check_look(plan, piece, names)


def planned(document):
    try:
        job = read_job(document)
        plan = plan_job(job)
    except BadJob:
        assume(False)
    [piece] = plan_document(plan)["pieces"]
    assume(len(piece["cells"]) <= MOST_CELLS)
    return job, plan, piece


def check_amounts(plan, piece):
    """What is bought is what is coated, hidden or not."""
    coated = layer_checker.coated_m2(piece)
    bought = {}
    for need in plan.paints:
        if not need.is_base:
            bought[need.color] = bought.get(need.color, 0.0) + need.area_m2 / plan.piece.copies
    assert bought == pytest.approx(coated, rel=1e-4, abs=1e-5)


def check_look(plan, piece, names):
    """What is drawn is what is seen: each layer painted over those below."""
    palette = plan.job.palette
    scene = draw(plan.pieces[0], palette, plan.job.units, View())
    [(panel, ring)] = [*zip(piece["panels"], scene.outlines, strict=False)][:1]
    if len(piece["panels"]) > 1:
        return
    across, down = (ring[0][axis] - panel["outline"][0][axis] for axis in (0, 1))
    drawn = [plan_checker.Shape({"rings": area.rings, "fill": area.fill}) for area in scene.cells]
    xs, ys = zip(*panel["outline"], strict=True)
    for column in range(7):
        for row in range(7):
            x = min(xs) + (max(xs) - min(xs)) * (0.0713 + column * 0.1367)
            y = min(ys) + (max(ys) - min(ys)) * (0.0619 + row * 0.1391)
            color = layer_checker.seen_at(piece, names, panel["name"], x, y)
            top = [shape.document["fill"] for shape in drawn if shape.holds(x + across, y + down)]
            reserved = any(plan_checker.Shape(each).holds(x, y) for each in piece["reserves"])
            translucent = any("under" in cell for cell in piece["cells"])
            if color != "" and top and not reserved and not translucent:
                assert top[-1] == palette[color or plan.pieces[0].piece.base].hex


@examples(8)
@given(layered_jobs())
def test_the_same_layers_give_the_same_plan_byte_for_byte(document):
    _, plan, _ = planned(document)
    first = plan_text(plan)
    assert plan_text(plan_job(read_job(copy.deepcopy(document)))) == first
    assert plan_text(plan_job(parse_job(dump_job(read_job(document))))) == first
