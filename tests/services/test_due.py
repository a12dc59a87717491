"""The strip on every page: the nearest thing due, over all jobs and test patches."""

from datetime import timedelta

from days import MORNING, Clock, settled
from jobs import wall as plain_wall

from dividers.services.jobs.job_list import add_job, delete_job
from dividers.services.logbook import patches
from dividers.services.wall import at_the_wall, due
from dividers.services.wall.progress import progress_of


def started(connection):
    document = plain_wall(
        job={"crew": {"start": "2026-10-13T08:00"}}, pattern={"count": 3}, panel={"width": "30", "height": "20"}
    )
    run = settled(connection, add_job(connection, document, "a wall"))
    base = next(task.key for task in progress_of(connection, run).tasks if task.kind == "base")
    return run, base


def test_nothing_is_due_before_anything_is_begun(connection, monkeypatch):
    Clock(monkeypatch, MORNING)
    assert due.nearest_due(connection) is None


def test_paint_that_dries_comes_before_a_plain_next_step_and_a_patch_before_later_paint(connection, monkeypatch):
    time = Clock(monkeypatch, MORNING)
    run, base = started(connection)
    assert due.nearest_due(connection).kind == "planned"
    at_the_wall.record(connection, run, [{"kind": "done", "task": base, "uid": "a"}])
    first = due.nearest_due(connection)
    assert (first.kind, first.job_id) == ("dry", run.job_id)
    grid = patches.plan(connection, {"title": "Test", "tapes": "tape", "waits": "30"}, {"seals": ["none"]})
    patches.record(connection, grid, 1, {"act": "painted"})
    patch = due.nearest_due(connection)
    assert (patch.job_id, patch.words) == (None, "Test patch “Test”, field 1: pull")
    assert patch.at == (time.at + timedelta(minutes=30)).isoformat(timespec="seconds")
    assert patch.more >= 1
    patches.record(connection, grid, 1, {"act": "pulled", "edge": "clean", "early": "yes"})
    assert due.nearest_due(connection).kind == "dry"
    delete_job(connection, run.job_id)
    assert due.nearest_due(connection) is None
