"""The order of batches: from the back of a floor to its exit, no strip from under another, copies one after the other."""

import numpy as np
import pytest
from budget import examples
from hypothesis import given
from jobs import any_jobs, wall
from shapely import LineString, Polygon

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import schedule_of, start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document


def short_of_time(job, wet_edge="12 min"):
    """The same job with paint that stays wet so shortly that it is done in batches."""
    job["products"]["quick"] = {"kind": "paint", "wet_edge": wet_edge}
    job["pieces"][0]["method"] |= {
        "paint": dict.fromkeys(("ink", "madder", "cream"), "quick"),
        "coats": dict.fromkeys(("ink", "madder"), 1),
        "pull": "wet",
        "rates": {"painted_m2_per_h": 60, "pulled_m_per_h": 600},
        "window": 100,
    }
    return job


@pytest.mark.parametrize(("side", "axis", "sign"), [("bottom", 1, 1), ("top", 1, -1), ("left", 0, -1), ("right", 0, 1)])
@pytest.mark.parametrize("coats", [1, 2])
def test_a_floor_is_painted_and_pulled_from_the_back_to_the_exit(side, axis, sign, coats):
    tiles = {"kind": "stripes", "count": 9, "direction": "horizontal" if axis else "vertical", "colors": ["ink", None]}
    job = short_of_time(wall(panel={"width": "120", "height": "120"}, pattern=tiles))
    job["pieces"][0]["surface"]["kind"] = "floor"
    job["pieces"][0]["method"] |= {"exit": side, "coats": {"ink": coats}, "rates": {"painted_m2_per_h": 25}}
    plan = plan_job(read_job(job))
    found = schedule_of(plan, 0.5, "2027-03-01T08:00")
    times = found.solution.times
    middles = {key: bounds.mean() for key, bounds in _bounds(plan, axis).items()}
    done = sorted(
        (times.start(n), task.kind, task.coat or 0, sign * np.mean([middles[key] for key in task.cells]))
        for n, task in enumerate(times.tasks)
        if task.kind in ("coat", "pull")
    )
    for coat in range(1, coats + 1):
        places = [place for _, kind, number, place in done if kind == "coat" and number == coat]
        assert len(places) > 1 and places == sorted(places)
    pulled = [place for _, kind, _, place in done if kind == "pull"]
    assert pulled == sorted(pulled)
    walked = [(kind, place) for _, kind, number, place in done if kind == "pull" or number == coats]
    for turn, (kind, place) in enumerate(walked):
        if kind == "pull":  # nothing nearer the exit is wet yet
            assert all(other <= place for what, other in walked[:turn] if what == "coat")


def _bounds(plan, axis):
    """Lowest and highest place of each cell across or down, by its key."""
    layout = plan.pieces[0].layouts[0]
    bounds = layout.cells.bounds()
    return {key: bounds[n, [axis, axis + 2]] for n, key in enumerate(plan.pieces[0].cell_keys[0][: len(bounds)])}


def test_a_batch_of_one_of_several_copies_says_which():
    job = short_of_time(wall(panel={"width": "40", "height": "20"}, piece={"copies": 4}, pattern={"count": 5}))
    job["pieces"][0]["method"]["rates"]["painted_m2_per_h"] = 1.0
    plan = plan_job(read_job(job))
    words = [task.words for task in work_of(plan, start_of(plan.job)).tasks if task.kind == "pull"]
    assert [word for word in words if "(no. 2 of 4)" in word]


@examples(12)
@given(any_jobs())
def test_no_strip_is_pulled_from_under_one_that_is_still_needed(job):
    """From the plan alone: whose tape lies over whose by the strips' `after`, and which cells a strip faces by shapely."""
    try:
        plan = plan_job(read_job(short_of_time(job, "1 min")))
    except BadJob:
        return
    work = work_of(plan, start_of(plan.job))
    pulls = [task for task in work.tasks if task.kind == "pull"]
    number = {task.name: n for n, task in enumerate(work.tasks)}
    then = {(lag.first, lag.then) for lag in work.lags if lag.of == "end" and lag.to == "start"}
    piece = plan_document(plan)["pieces"][0]
    cells = {cell["id"]: (cell["panel"], Polygon(cell["rings"][0], cell["rings"][1:])) for cell in piece["cells"]}
    for each in piece["rounds"]:
        own = [task for task in pulls if task.number == each["number"]]
        if len(own) < 2:
            continue
        strips = {strip["id"]: strip for strip in each["strips"] if strip["kind"] == "edge"}
        batches = {key: _batches(strip, own, cells) for key, strip in strips.items()}
        for key, strip in strips.items():
            for lower in set(strip["after"]) & set(strips):
                if len(batches[key]) == len(batches[lower]) == 1 and batches[key] != batches[lower]:
                    [one], [two] = batches[key], batches[lower]
                    assert (number[one], number[two]) in then, f"{strip['id']} lies over {lower}"


def _batches(strip, pulls, cells):
    """The batches whose paint a strip's line touches in its middle."""
    line = LineString(strip["line"]).interpolate(0.5, normalized=True).buffer(0.5)
    return {
        task.name
        for task in pulls
        for key in task.cells
        if key in cells and cells[key][0] == strip["panel"] and cells[key][1].intersects(line)
    }


@pytest.mark.parametrize(("seal", "coats"), [("base", 2), ("caulk", 1)])
def test_batches_go_one_way_at_every_coat(seal, coats):
    job = wall(panel={"width": "150"}, pattern={"count": 24}, method={"seal": seal, "coats": {"ink": coats}})
    times = schedule_of(plan_job(read_job(job)), 0.5, "2027-03-01T08:00").solution.times
    batches = {}
    for number in sorted(range(len(times.tasks)), key=lambda n: times.starts[n]):
        task = times.tasks[number]
        if task.batch:
            batches.setdefault((task.kind, task.coat), []).append(task.batch)
    assert len(batches) == 3  # seal by seal, coat, pull; or two coats, pull
    assert all(found == sorted(found) and len(found) > 3 for found in batches.values())
