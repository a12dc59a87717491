"""The piece at any minute against a fold of its own over the schedule's JSON, and the last frame against the finished look."""

import json
from datetime import datetime, timedelta

import pytest
from budget import examples
from hypothesis import given
from jobs import any_jobs, wall
from layered_jobs import layered_jobs

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.batch_strips import strips_of_batch
from dividers.core.order.schedule import schedule_of
from dividers.core.order.schedule_document import schedule_document
from dividers.core.order.state_at import moments_of, state_at
from dividers.core.output.drawing import draw
from dividers.core.output.moment_scene import frame
from dividers.core.output.scene import View
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

MOST_CELLS = 150


def scheduled(document):
    plan = plan_job(read_job(document))
    order = schedule_of(plan, 0.3)
    written = json.loads(json.dumps(plan_document(plan) | {"schedule": schedule_document(order)}))
    return plan, order, written


def folded(written, until):
    """What is on at a moment, from the JSON alone: strips of rounds that are taped and not all pulled, and each cell's last colour."""
    [piece] = written["pieces"]
    strips = {each["number"]: [strip["id"] for strip in each["strips"]] for each in written["pieces"][0]["rounds"]}
    done = [task for task in written["schedule"]["tasks"] if datetime.fromisoformat(task["end"]) <= until]
    taped = {task["round"] for task in done if task["kind"] == "tape"}
    pulls = {}
    for task in written["schedule"]["tasks"]:
        if task["kind"] == "pull":
            pulls.setdefault(task["round"], []).append(datetime.fromisoformat(task["end"]) <= until)
    off = {number for number, each in pulls.items() if all(each)}
    begun = {number for number, each in pulls.items() if any(each)}
    colors = {}
    for task in done:
        if task["kind"] == "coat":
            colors |= dict.fromkeys(task["cells"], task["color"])
    whole = {
        number
        for number in taped
        if sum(t["kind"] == "tape" and t["round"] == number for t in written["schedule"]["tasks"]) == 1
    }
    sure = {strip for number in (taped & whole) - begun for strip in strips[number]}
    gone = {strip for number in off for strip in strips[number]}
    base = any(task["kind"] == "base" for task in done)
    assert piece["name"]
    return sure, gone, colors, base


def check(plan, order, written):
    [piece] = plan.pieces
    for minute in moments_of(order, piece.piece.key):
        at = order.calendar.moment(minute).replace(tzinfo=None)
        state = state_at(order, piece, minute)
        sure, gone, colors, base = folded(written, at)
        assert sure <= set(state.strips)
        assert not gone & set(state.strips)
        assert {cell: coat.color for cell, coat in state.cells.items()} == colors
        assert bool(state.base) == base


def check_last(plan, order):
    [piece] = plan.pieces
    last = state_at(order, piece, moments_of(order, piece.piece.key)[-1])
    assert last.strips == () and last.now == ()
    finished = draw(piece, plan.job.palette, plan.job.units, View())
    shown = frame(piece, last, plan.job.palette, plan.job.units)
    assert [(cell.key, cell.rings, cell.fill) for cell in shown.cells] == [
        (cell.key, cell.rings, cell.fill) for cell in finished.cells
    ]
    assert shown.by_hand == finished.by_hand


@given(any_jobs() | layered_jobs())
@examples(7)
def test_at_every_event_the_piece_is_what_all_tasks_before_it_make(document):
    document["crew"] = {"start": "2027-03-06T08:00"}
    try:
        plan, order, written = scheduled(document)
    except BadJob:
        return
    [piece] = plan.pieces
    if order.solution.times is None or piece.cell_count > MOST_CELLS or any(layout.translucent for layout in piece.layouts):
        return
    check(plan, order, written)
    check_last(plan, order)


def test_within_a_task_so_much_is_done_as_its_share_of_the_time_and_wet_paint_dries():
    job = wall(pattern={"count": 4}, method={"pull": "dry", "coats": {"ink": 1}})
    job["crew"] = {"start": "2027-03-06T08:00"}
    plan, order, written = scheduled(job)
    [piece] = plan.pieces
    start = order.calendar.moment(0).replace(tzinfo=None)

    def at(task, key, more=0):
        return int((datetime.fromisoformat(task[key]) - start) / timedelta(minutes=1)) + more

    [tape] = [each for each in written["schedule"]["tasks"] if each["kind"] == "tape"]
    strips = written["pieces"][0]["rounds"][0]["strips"]
    half = state_at(order, piece, at(tape, "start", tape["minutes"] // 2))
    assert len(half.strips) == pytest.approx(len(strips) / 2, abs=1)
    assert half.strips == tuple(strip["id"] for strip in strips[: len(half.strips)])
    assert [task.kind for task in half.now] == ["tape"]
    coat = next(each for each in written["schedule"]["tasks"] if each["kind"] == "coat")
    states = [{each.state for each in state_at(order, piece, at(coat, "end", later)).cells.values()} for later in (1, 60, 130)]
    assert states == [{"wet"}, {"drying"}, {"dry"}]
    shown = frame(piece, state_at(order, piece, at(coat, "end", 1)), plan.job.palette, "in")
    assert {cell.sheen for cell in shown.cells if "Ink" in cell.title} == {"gloss"}
    assert len(shown.strips) == len(strips)


def test_a_strip_that_faces_several_batches_stays_until_the_last_of_them_is_pulled():
    job = wall(pattern={"count": 12}, method={"pull": "wet", "coats": {"ink": 1}})
    job["crew"] = {"start": "2027-03-06T08:00"}
    plan, order, _ = scheduled(job)
    [piece] = plan.pieces
    [choice] = order.work.choices[piece.piece.key]
    times = order.solution.times
    ends = {task.batch: times.end(number) for number, task in enumerate(times.tasks) if task.kind == "pull"}
    assert len(ends) > 1
    faces = {}
    for batch in ends:
        for _, strip in strips_of_batch(piece, choice, batch):
            faces.setdefault(f"s{strip + 1}", []).append(ends[batch])
    shared = {strip: sorted(each) for strip, each in faces.items() if len(each) > 1}
    assert shared
    for strip, pulled in shared.items():
        assert strip in state_at(order, piece, pulled[-2]).strips
        assert strip not in state_at(order, piece, pulled[-1]).strips
