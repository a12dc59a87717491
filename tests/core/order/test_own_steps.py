"""Steps of one's own stand where they were put, and what follows waits as long as was said."""

from datetime import datetime

import pytest
from jobs import wall

from dividers.core.base.errors import BadJob
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import schedule_of
from dividers.core.order.schedule_document import schedule_document
from dividers.core.plan.plan import plan_job
from dividers.core.wall.steps import step_of

TAPED = ("tape", "seal", "coat", "pull")


def scheduled(steps):
    job = wall(piece={"steps": steps})
    job["crew"] = {"start": "2027-03-06T08:00"}
    plan = plan_job(read_job(job))
    order = schedule_of(plan, 1.0)
    assert all(step_of(plan.pieces[0], task, order.work.choices["piece-1"]) for task in order.work.tasks)
    tasks = schedule_document(order)["tasks"]
    return [each | {key: datetime.fromisoformat(each[key]) for key in ("start", "end")} for each in tasks]


def test_they_stand_where_they_were_put_and_what_follows_waits():
    steps = [
        {"name": "Fit the handles", "when": "last", "minutes": 20},
        {"name": "Take the handles off", "when": "first", "minutes": 15},
        {"name": "Stretch the cloth", "when": "before tape", "minutes": 30, "wait": "3 h"},
        {"name": "Glue the fringe", "when": "tape off", "minutes": 40},
    ]
    tasks = scheduled(steps)
    own = {each["what"]: each for each in tasks if each["kind"] == "hand"}
    assert set(own) == {each["name"] for each in steps}
    off, cloth, fringe, fit = (
        own[name] for name in ("Take the handles off", "Stretch the cloth", "Glue the fringe", "Fit the handles")
    )
    assert all(off["end"] <= each["start"] for each in tasks if each is not off)
    taped = [each for each in tasks if each["kind"] in TAPED]
    assert all((each["start"] - cloth["end"]).total_seconds() >= 3 * 3600 for each in taped)
    assert all(each["end"] <= cloth["start"] for each in tasks if each["kind"] in ("base", "mark"))
    assert all(each["end"] <= fringe["start"] for each in taped)
    assert all(each["start"] >= fringe["end"] for each in tasks if each["kind"] == "touch-up")
    assert all(each["end"] <= fit["start"] for each in tasks if each is not fit)
    assert (cloth["end"] - cloth["start"]).total_seconds() >= 30 * 60


def test_a_step_needs_its_words():
    with pytest.raises(BadJob) as bad:
        read_job(wall(piece={"steps": [{"when": "never"}]}))
    assert {fault.path for fault in bad.value.faults} == {"pieces.0.steps.0.name", "pieces.0.steps.0.when"}
