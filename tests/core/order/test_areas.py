"""Areas: parts of a round that wait only for what their own tape lies on. The one-day wall of facets."""

from datetime import datetime

import pytest
from budget import examples
from hypothesis import assume, given
from jobs import any_jobs, wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.round_choices import choices_of
from dividers.core.order.schedule import schedule_of, start_of
from dividers.core.order.schedule_document import add_areas, schedule_document
from dividers.core.order.task_key import TaskKey
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document
from dividers.core.wall.steps import step_of

POINTS = {
    "A": ["40", "0"], "B": ["30", "96"], "C": ["80", "0"], "D": ["90", "96"],
    "E": ["0", "50"], "F": ["35", "48"], "G": ["85", "48"], "H": ["120", "40"],
}  # fmt: skip
LINES = [["A", "F", "B"], ["C", "G", "D"], ["E", "F"], ["F", "G"], ["G", "H"]]
PLACES = [("10", "10"), ("10", "80"), ("60", "10"), ("60", "80"), ("110", "10"), ("110", "80")]
COLORS = ("ink", "madder", "brass", "ink", "grey", "madder")


def facet_wall(**method):
    """Six facets in four colours over a base that is on; paint that is tape-safe after an hour and pulled at once."""
    job = wall(method={"pull": "wet", "coats": dict.fromkeys(COLORS, 1), "paint": dict.fromkeys(COLORS, "quick"), **method})
    job["palette"] |= {"brass": {"name": "Brass", "hex": "#c39b45"}, "grey": {"name": "Grey", "hex": "#999999"}}
    job["products"]["quick"] = {
        "kind": "paint",
        "touch_dry": "20 min",
        "recoat": "1 h",
        "tape_safe": "1 h",
        "wet_edge": "20 min",
    }
    fills = [{"at": list(place), "color": color} for place, color in zip(PLACES, COLORS, strict=True)]
    job["pieces"][0]["pattern"] = {"kind": "facets", "points": POINTS, "lines": LINES, "fills": fills}
    job["pieces"][0]["surface"]["finish"] = {"base": "on"}
    return job


@pytest.mark.parametrize("taping", ["auto", "strips", "pieces"])
def test_a_wall_of_six_facets_is_done_within_one_working_day(taping):
    found = schedule_of(plan_job(read_job(facet_wall(taping=taping))), 1.0, "2027-03-01T08:00")
    assert found.solution.times.days == 1
    finish = found.calendar.moment(found.solution.times.finish)
    assert finish.date() == datetime(2027, 3, 1).date() and finish.hour < 18


def test_the_next_area_is_taped_while_the_first_dries():
    plan = plan_job(read_job(facet_wall()))
    whole, by_area = (
        schedule_of(plan_job(read_job(facet_wall(tape_in=way))), 1.0, "2027-03-01T08:00") for way in ("rounds", "areas")
    )
    assert by_area.solution.times.finish < whole.solution.times.finish
    assert max(choice.area_count for choice in by_area.work.choices["piece-1"]) > 1
    assert {choice.area_count for choice in whole.work.choices["piece-1"]} == {1}
    times = by_area.solution.times
    second = [n for n, task in enumerate(times.tasks) if task.kind == "tape" and task.number == 2]
    first_pull = max(times.end(n) for n, task in enumerate(times.tasks) if task.kind == "pull" and task.number == 1)
    assert min(times.start(n) for n in second) < first_pull + 60  # not only an hour after the last paint of round 1
    assert plan.pieces[0].taping.proved


def test_areas_share_out_a_rounds_cells_and_strips_and_the_plan_says_which():
    plan = plan_job(read_job(facet_wall()))
    work = work_of(plan, start_of(plan.job))
    piece = plan.pieces[0]
    [written] = plan_document(plan)["pieces"]
    add_areas(written["rounds"], piece, work.choices["piece-1"])
    for choice, each in zip(work.choices["piece-1"], piece.taping.chosen.rounds, strict=True):
        areas = written["rounds"][choice.number - 1]["areas"]
        painted = [piece.cell_keys[0][cell] for cell in each.painted[0].nonzero()[0]]
        assert sorted(key for area in areas for key in area) == sorted(painted)
        ticked = [
            key
            for task in work.tasks
            if task.kind == "tape" and task.number == choice.number
            for tick in step_of(piece, task, work.choices["piece-1"]).ticks
            for key in tick.keys
        ]
        assert len(ticked) == len(set(ticked)) == sum(map(len, each.strips))
        assert {strip["area"] for strip in written["rounds"][choice.number - 1]["strips"]} == set(range(1, len(areas) + 1))
    document = schedule_document(schedule_of(plan, 0.5, "2027-03-01T08:00"))
    assert {task["area"] for task in document["tasks"] if task["round"]} == {1, 2, 3}


@examples(12)
@given(any_jobs())
def test_no_tape_lies_on_paint_that_is_not_safe_cell_by_cell_whatever_the_areas(job):
    """Every strip of a later area over a cell of an earlier round: its tape waits, by some chain, for that cell's last coat and its time."""
    try:
        plan = plan_job(read_job(job))
    except BadJob:
        return
    work, piece = work_of(plan, start_of(plan.job)), plan.pieces[0]
    places = {task.name: n for n, task in enumerate(work.tasks)}
    safe = {(lag.first, lag.then): lag.least for lag in work.lags if lag.group == "tape-safe"}
    rounds = piece.taping.chosen.rounds
    steps = {task.name: step_of(piece, task, work.choices["piece-1"]) for task in work.tasks if task.kind == "tape"}
    for name, step in steps.items():
        for tick in step.ticks:
            sheet, strip = tick.place
            for cell in rounds[name.number - 1].strips[sheet].covers[strip].tolist() if len(tick.keys) == 1 else ():
                key = piece.cell_keys[sheet][cell]
                for number in range(1, name.number):
                    if rounds[number - 1].painted[sheet][cell]:
                        lasts = [
                            task for task in work.tasks if task.kind == "coat" and task.number == number and key in task.cells
                        ]
                        last = max(task.coat for task in lasts)
                        ends = [task.name for task in lasts if task.coat == last]
                        assert all((places[one], places[name]) in safe for one in ends), (str(name), tick.keys, key)


def test_a_name_with_an_area_reads_back():
    key = TaskKey("wall", "tape", 2, area=3)
    assert TaskKey.read(str(key)) == key and str(key) == "wall/tape/2.3/-/-/-"


@examples(12)
@given(any_jobs())
def test_no_strip_is_pulled_from_under_another_area_or_batch(document):
    """Strips along the outer edge too: one that lies under another is not off before anything that this one faces is pulled."""
    try:
        plan = plan_job(read_job(document)).pieces[0]
    except BadJob:
        assume(False)
    for choice in choices_of(plan.job, plan, None):
        pulled = {}
        for turn, batch in enumerate(choice.batches):
            for band in batch:
                for strip in choice.bands[band].strips:
                    pulled.setdefault(strip, []).append(turn)
        for sheet, strips in enumerate(plan.taping.chosen.rounds[choice.number - 1].strips):
            for upper in range(len(strips)):
                for lower in strips.after.members[strips.after.starts[upper] : strips.after.starts[upper + 1]].tolist():
                    over, under = pulled.get((sheet, upper)), pulled.get((sheet, lower))
                    assert not over or not under or max(under) >= min(over)
