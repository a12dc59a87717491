import json
from contextlib import closing

import pytest
from days import MORNING, Clock, settled
from jobs import wall as plain_wall

from dividers.core.base.errors import BadInput
from dividers.core.job_file.as_begun import as_begun
from dividers.core.wall.waits import early_of
from dividers.services.jobs import editing
from dividers.services.jobs.job_list import add_job
from dividers.services.logbook.record import record_csv, record_json, record_of
from dividers.services.opening import open_data
from dividers.services.stations import mark_ticks
from dividers.services.wall import at_the_wall, own_word
from dividers.services.wall.progress import midnight_of, planned_work, progress_of
from dividers.store import wall_runs
from dividers.store.database import transaction


@pytest.fixture
def time(monkeypatch):
    return Clock(monkeypatch, MORNING)


@pytest.fixture
def run(connection, time):
    document = plain_wall(
        job={"crew": {"start": "2026-10-13T08:00"}}, pattern={"count": 3}, panel={"width": "30", "height": "20"}
    )
    return settled(connection, add_job(connection, document, "a wall"))


def record(connection, run, kind, task="", uid="", at=None, **body):
    record.count += 1
    event = {"kind": kind, "task": task, "uid": uid or f"t{record.count}", "at": at, "body": body}
    return at_the_wall.record(connection, run, [event])


record.count = 0


def keys(progress):
    return {task.kind + str(task.coat or ""): task.key for task in progress.tasks}


def test_a_run_begins_now(connection, time, run):
    assert run.start == "2026-10-13T08:00"
    assert at_the_wall.begin(connection, run.job_id) == run
    time.on(3 * 1440)
    later = settled(connection, add_job(connection, json.loads(run.document), "the same, later"))
    assert later.start == "2026-10-16T08:00"


def test_moments_are_neither_in_the_future_nor_before_the_run(connection, time, run):
    base = keys(progress_of(connection, run))["base1"]
    time.on(30)
    progress = record(connection, run, "start", base, at="2031-01-01T00:00:00+00:00")
    assert progress.facts.of(base).started.isoformat() == "2026-10-13T08:30:00"
    progress = record(connection, run, "undo", of=f"t{record.count}")
    progress = record(connection, run, "start", base, at="2020-01-01T00:00:00Z")
    assert progress.facts.of(base).started.isoformat() == "2026-10-13T08:00:00"


@pytest.mark.parametrize(
    ("event", "message"),
    [
        ({"kind": "paint"}, "is not a kind of entry"),
        ({"kind": "skip", "uid": "a"}, "why it is skipped"),
        ({"kind": "touch", "uid": "a", "body": {"result": "damp"}}, "wet, tacky, dry"),
        ({"kind": "air", "uid": "a", "body": {"temperature": "warm", "humidity": "50"}}, "isn.t a temperature"),
        ({"kind": "air", "uid": "a", "body": {"temperature": "130", "humidity": "50"}}, "allowed are 14 °F to 122 °F"),
        ({"kind": "start", "uid": "no spaces"}, "its own name"),
        ({"kind": "start", "uid": "a", "painter": 99}, "1 to 20"),
        ({"kind": "start", "uid": "a", "at": "soon"}, "is not a date with time"),
    ],
)
def test_what_cannot_be_read_is_refused_and_nothing_is_kept(connection, time, run, event, message):
    with pytest.raises(BadInput, match=message):
        at_the_wall.record(connection, run, [event])
    assert wall_runs.list_events(connection, run.id) == []


def test_a_clock_set_back_is_said_and_nothing_is_recorded_by_it(connection, time, run):
    time.on(-400 * 24 * 60)
    with pytest.raises(BadInput, match="Set the clock right"):
        record(connection, run, "start", "wall/base/-/-/cream/1")
    time.on(400 * 24 * 60)
    assert not at_the_wall.record(connection, run, []).events


def test_marks_ticked_at_the_wall_are_ticked_at_their_station_and_back(connection, time, run):
    progress = progress_of(connection, run)
    mark = keys(progress)["mark"]
    record(connection, run, "tick", mark, item="m2")
    made = mark_ticks.ticked(connection, run.job_id, "wall")
    assert made == {mark_ticks.name_of(progress.plan.pieces[0].marks[1])}
    mark_ticks.tick(connection, run.job_id, "wall", "m1", True)
    assert {item for task, item in progress_of(connection, run).facts.ticks if task == mark} == {"m1", "m2"}
    record(connection, run, "untick", mark, item="m2")
    assert len(mark_ticks.ticked(connection, run.job_id, "wall")) == 1


def test_air_moves_the_waits_that_run(connection, time, run):
    key = keys(progress_of(connection, run))
    record(connection, run, "start", key["base1"])
    time.on(5)
    before = record(connection, run, "done", key["base1"])
    after = record(connection, run, "air", temperature="14,5 C", humidity="75 %")
    (one,), (other,) = ([t for t in s.timers if t.kind == "dry"] for s in (before, after))
    assert other.at > one.at + 60
    assert wall_runs.due(connection, 5)[0].kind == "dry"


def test_a_changed_job_is_taken_only_when_asked_and_when_nothing_done_is_lost(connection, time, run):
    progress = progress_of(connection, run)
    key = keys(progress)
    editing.edit_piece(connection, run.job_id, "wall", "tape", 1, {"method.coats": {"ink": 1}}, {})
    assert at_the_wall.changed_since(connection, run)
    assert len(progress_of(connection, run).tasks) == len(progress.tasks)
    at_the_wall.rebase(connection, run)
    changed = wall_runs.find_run(connection, run.id)
    assert len(progress_of(connection, changed).tasks) == len(progress.tasks) - 1
    assert not at_the_wall.changed_since(connection, changed)
    record(connection, changed, "done", key["base1"])
    editing.edit_piece(connection, run.job_id, "wall", "tape", 2, {"method.coats": {"ink": 1, "cream": 0}}, {})
    with pytest.raises(BadInput, match="was started but is not in the updated job"):
        at_the_wall.rebase(connection, changed)


def test_a_step_not_begun_moves_the_plan_by_itself(connection, time, run):
    first = progress_of(connection, run).in_force
    time.on(9)
    assert progress_of(connection, run).in_force == first
    time.on(10)
    assert progress_of(connection, run).behind and progress_of(connection, run).in_force == first
    moved = at_the_wall.catch_up(connection, run).in_force
    assert min(moved.starts.values()) == 8 * 60 + 19
    assert [plan.number for plan in at_the_wall.plans(connection, run)] == [1, 2]


def test_the_record_says_what_was_done_against_what_was_planned(connection, time, run):
    key = keys(progress_of(connection, run))
    time.on(4)
    record(connection, run, "start", key["base1"])
    time.on(7)
    record(connection, run, "done", key["base1"])
    record(connection, run, "skip", key["base2"], reason='=cmd|"covers"')
    at_the_wall.end(connection, run)
    written = record_of(connection, run.job_id)
    line = next(line for line in written.lines if line.kind == "base" and line.state == "done")
    assert (line.off_min, line.worked_min, line.guessed) == (4, 7.0, False)
    steps = json.loads(record_json(written))["steps"]
    assert [step["reason"] for step in steps if step["state"] == "skipped"] == ['=cmd|"covers"']
    csv = record_csv(written)
    assert csv.startswith("piece,what,state,planned start,planned min,started,ended,worked min,")
    assert "'=cmd" in csv
    assert wall_runs.find_open(connection, run.job_id) is None
    assert wall_runs.due(connection, 5) == []


def test_a_run_of_an_earlier_version_keeps_its_choices_when_the_data_is_opened(tmp_path):
    """A job stored before 0.2 says nothing of days and areas: opened now, its run is planned as it was begun."""
    with closing(open_data(tmp_path)) as opened:
        job_id = add_job(opened, plain_wall(piece={"id": "wall"}), "New job")
        document = json.dumps(plain_wall(piece={"id": "wall"}))
        with transaction(opened):
            run = wall_runs.insert_run(opened, job_id, 1, document, "2027-03-01T08:00", "2027-03-01T08:00:00+00:00")
    with closing(open_data(tmp_path)) as again:
        kept = json.loads(wall_runs.find_run(again, run).document)
        assert kept["as_of"] == "0.1.0"
        assert kept["pieces"][0]["method"]["day_worth"] == 0 and kept["pieces"][0]["method"]["tape_in"] == "rounds"
        assert wall_runs.find_run(again, run).document == as_begun(wall_runs.find_run(again, run).document)


@pytest.mark.parametrize("days", [-7, 0, 7])
def test_a_job_begun_on_another_day_than_planned_keeps_every_wait_and_its_plan_is_of_now(connection, time, days):
    """Two coats with nothing in between: the second one is asked about, whatever day was planned."""
    time.on(days * 1440)
    document = plain_wall(
        job={"crew": {"start": "2026-10-13T08:00"}}, pattern={"count": 3}, panel={"width": "30", "height": "20"}
    )
    begun = settled(connection, add_job(connection, document, "a wall"))
    first = progress_of(connection, begun)
    assert first.live.moment(min(first.in_force.starts.values())).date() == time.at.date()
    base = keys(first)
    record(connection, begun, "start", base["base1"])
    time.on(10)
    progress = record(connection, begun, "done", base["base1"])
    wait = progress.waits[base["base2"]]
    early = early_of(wait, progress.live.wall(progress.now))
    assert early is not None and early.minutes > 60 and wait.ready_why
    assert all(progress.live.moment(start) >= progress.now for start in progress.in_force.starts.values())
    assert progress.in_hours
    [line] = [line for line in record_of(connection, begun.job_id).lines if line.off_min is not None]
    assert abs(line.off_min) <= 1


def test_a_run_of_before_that_was_begun_before_its_planned_day_goes_on_with_its_waits(connection, time, run):
    """As versions before this one began it: the plan stands on a day next week, counted from that day's midnight."""
    document = json.loads(run.document)
    document["crew"]["start"] = "2026-10-19T08:00"
    connection.execute("update runs set start = '2026-10-19T08:00', document = ? where id = ?", (json.dumps(document), run.id))
    old = wall_runs.find_run(connection, run.id)
    before = progress_of(connection, old)
    assert before.live.moment(min(before.in_force.starts.values())).isoformat() == "2026-10-19T08:00:00"
    base = keys(before)
    for kind in ("start", "done"):
        progress = record(connection, old, kind, base["base1"])
        time.on(5)
    assert progress.waits[base["base2"]].ready > progress.live.wall(progress.now) + 60
    assert progress.calendar.midnight == progress.live.midnight == midnight_of(old)  # one clock for all
    assert progress.in_hours  # a Tuesday morning
    assert progress.live.moment(progress.in_force.starts[base["base2"]]).date().isoformat() == "2026-10-13"
    again = progress_of(connection, old)
    assert again.in_force == progress.in_force


def test_a_paints_own_time_to_take_tape_is_kept_with_the_job_and_weighed(connection, time, run):
    progress = progress_of(connection, run)
    tape = next(task for task in progress.tasks if task.kind == "tape")
    [wait] = [lag for lag in progress.live.lags if lag.group == "tape-safe"]
    assert wait.least == 1440 and own_word.colours_waited_for(progress, tape) == ("cream",)
    for wrong in ("soon", "0 min", "1"):
        with pytest.raises(BadInput):
            own_word.takes_tape(connection, run, tape.key, wrong)
    assert "warm cream takes tape after 1 h" in own_word.takes_tape(connection, run, tape.key, "1 h")
    after = progress_of(connection, at_the_wall.open_run(connection, run.job_id))
    [lag] = [lag for lag in after.live.lags if lag.group == "tape-safe"]
    assert lag.least == 60 and "by your own word, sooner than its label says" in lag.why
    assert after.in_force.finish < progress.in_force.finish - 1000
    head = editing.open_job(connection, run.job_id)
    assert [p.takes_tape_min for p in head.job.products.values() if p.key == "warm-cream-paint"] == [60]
    assert not at_the_wall.changed_since(connection, at_the_wall.open_run(connection, run.job_id))

    def lifting(document):
        return planned_work(document)[1].choices["wall"][0].forecast.lift

    assert lifting(head.revision.document) != lifting(run.document)
