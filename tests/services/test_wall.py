import json

import pytest
from days import MORNING, Clock, settled
from jobs import wall as plain_wall

from dividers.core.base.errors import BadInput
from dividers.services.jobs import editing
from dividers.services.jobs.job_list import put_on_shelf
from dividers.services.logbook.record import record_csv, record_json, record_of
from dividers.services.stations import mark_ticks
from dividers.services.wall import at_the_wall
from dividers.store import wall_runs


@pytest.fixture
def time(monkeypatch):
    return Clock(monkeypatch, MORNING)


@pytest.fixture
def run(connection, time):
    document = plain_wall(
        job={"crew": {"start": "2026-10-13T08:00"}}, pattern={"count": 3}, panel={"width": "30", "height": "20"}
    )
    return settled(connection, put_on_shelf(connection, document, "a wall"))


def tell(connection, run, kind, task="", uid="", at=None, **body):
    tell.count += 1
    event = {"kind": kind, "task": task, "uid": uid or f"t{tell.count}", "at": at, "body": body}
    return at_the_wall.tell(connection, run, [event])


tell.count = 0


def keys(stands):
    return {task.kind + str(task.coat or ""): task.key for task in stands.tasks}


def test_a_run_begins_when_the_job_does_or_now(connection, time, run):
    assert run.start == "2026-10-13T08:00"
    assert at_the_wall.begin(connection, run.job_id) == run
    time.on(3 * 1440)
    later = settled(connection, put_on_shelf(connection, json.loads(run.document), "the same, later"))
    assert later.start == "2026-10-16T08:00"


def test_moments_are_neither_in_the_future_nor_before_the_run(connection, time, run):
    base = keys(at_the_wall.standing(connection, run))["base1"]
    time.on(30)
    stands = tell(connection, run, "start", base, at="2031-01-01T00:00:00+00:00")
    assert stands.facts.of(base).started.isoformat() == "2026-10-13T08:30:00"
    stands = tell(connection, run, "undo", of=f"t{tell.count}")
    stands = tell(connection, run, "start", base, at="2020-01-01T00:00:00Z")
    assert stands.facts.of(base).started.isoformat() == "2026-10-13T08:00:00"


@pytest.mark.parametrize(
    ("event", "message"),
    [
        ({"kind": "paint"}, "can't be told"),
        ({"kind": "skip", "uid": "a"}, "why it is skipped"),
        ({"kind": "touch", "uid": "a", "body": {"result": "damp"}}, "wet, tacky, dry"),
        ({"kind": "air", "uid": "a", "body": {"temperature": "warm", "humidity": "50"}}, "is no temperature"),
        ({"kind": "air", "uid": "a", "body": {"temperature": "90", "humidity": "50"}}, "allowed are -10 to 50"),
        ({"kind": "start", "uid": "no spaces"}, "name of its own"),
        ({"kind": "start", "uid": "a", "painter": 99}, "1 to 20"),
        ({"kind": "start", "uid": "a", "at": "soon"}, "is no moment"),
    ],
)
def test_what_cannot_be_read_is_refused_and_nothing_is_kept(connection, time, run, event, message):
    with pytest.raises(BadInput, match=message):
        at_the_wall.tell(connection, run, [event])
    assert wall_runs.list_events(connection, run.id) == []


def test_marks_ticked_at_the_wall_are_ticked_at_their_station_and_back(connection, time, run):
    stands = at_the_wall.standing(connection, run)
    mark = keys(stands)["mark"]
    tell(connection, run, "tick", mark, item="m2")
    made = mark_ticks.ticked(connection, run.job_id, "wall")
    assert made == {mark_ticks.name_of(stands.plan.pieces[0].marks[1])}
    mark_ticks.tick(connection, run.job_id, "wall", "m1", True)
    assert {item for task, item in at_the_wall.standing(connection, run).facts.ticks if task == mark} == {"m1", "m2"}
    tell(connection, run, "untick", mark, item="m2")
    assert len(mark_ticks.ticked(connection, run.job_id, "wall")) == 1


def test_air_moves_the_waits_that_run(connection, time, run):
    key = keys(at_the_wall.standing(connection, run))
    tell(connection, run, "start", key["base1"])
    time.on(5)
    before = tell(connection, run, "done", key["base1"])
    after = tell(connection, run, "air", temperature="14,5", humidity="75 %")
    (one,), (other,) = ([t for t in s.timers if t.kind == "dry"] for s in (before, after))
    assert other.at > one.at + 60
    assert wall_runs.due(connection, 5)[0].kind == "dry"


def test_a_changed_job_is_taken_only_when_asked_and_when_nothing_done_is_lost(connection, time, run):
    stands = at_the_wall.standing(connection, run)
    key = keys(stands)
    editing.edit_piece(connection, run.job_id, "wall", "tape", 1, {"method.coats": {"ink": 1}}, {})
    assert at_the_wall.changed_since(connection, run)
    assert len(at_the_wall.standing(connection, run).tasks) == len(stands.tasks)
    at_the_wall.rebase(connection, run)
    changed = wall_runs.find_run(connection, run.id)
    assert len(at_the_wall.standing(connection, changed).tasks) == len(stands.tasks) - 1
    assert not at_the_wall.changed_since(connection, changed)
    tell(connection, changed, "done", key["base1"])
    editing.edit_piece(connection, run.job_id, "wall", "tape", 2, {"method.coats": {"ink": 1, "cream": 0}}, {})
    with pytest.raises(BadInput, match="was begun and isn't in the changed job"):
        at_the_wall.rebase(connection, changed)


def test_a_step_not_begun_moves_the_plan_by_itself(connection, time, run):
    first = at_the_wall.standing(connection, run).in_force
    time.on(9)
    assert at_the_wall.standing(connection, run).in_force == first
    time.on(10)
    moved = at_the_wall.standing(connection, run).in_force
    assert min(moved.starts.values()) == 8 * 60 + 19
    assert [plan.number for plan in at_the_wall.plans(connection, run)] == [1, 2]


def test_the_record_says_what_was_done_against_what_was_planned(connection, time, run):
    key = keys(at_the_wall.standing(connection, run))
    time.on(4)
    tell(connection, run, "start", key["base1"])
    time.on(7)
    tell(connection, run, "done", key["base1"])
    tell(connection, run, "skip", key["base2"], reason='=cmd|"covers"')
    at_the_wall.end(connection, run)
    record = record_of(connection, run.job_id)
    line = next(line for line in record.lines if line.kind == "base" and line.state == "done")
    assert (line.off_min, line.worked_min, line.guessed) == (4, 7.0, False)
    steps = json.loads(record_json(record))["steps"]
    assert [step["reason"] for step in steps if step["state"] == "skipped"] == ['=cmd|"covers"']
    csv = record_csv(record)
    assert csv.startswith("piece,what,state,planned start,planned min,started,ended,worked min,")
    assert "'=cmd" in csv
    assert wall_runs.find_open(connection, run.job_id) is None
    assert wall_runs.due(connection, 5) == []
