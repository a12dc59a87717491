"""Changing jobs: revisions, undo and redo, stale pages, drafts."""

import json
import re
from fractions import Fraction

import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadInput, BadJob, Conflict, NotFound
from dividers.core.base.lengths import read_length, write_kept
from dividers.services import clock
from dividers.services.jobs import editing, job_list
from dividers.services.jobs.demo import demo_document, load_demo, next_monday
from dividers.store import jobs, ticks
from dividers.store.database import connect
from dividers.store.migrate import migrate


@pytest.fixture
def connection():
    opened = fresh()
    yield opened
    opened.close()


def fresh():
    opened = connect(":memory:")
    migrate(opened)
    return opened


def started(connection):
    return job_list.add_job(connection, wall(piece={"id": "wall"}), "New job")


def set_count(connection, job_id, base, count):
    editing.edit_piece(connection, job_id, "wall", "pattern", base, {"pattern.count": count}, {"pattern.count": [str(count)]})


def count_of(connection, job_id):
    return editing.open_job(connection, job_id).document["pieces"][0]["pattern"]["count"]


@given(st.lists(st.sampled_from(["undo", "redo", 1, 2, 3, 4, 5]), max_size=30))
def test_undo_and_redo_walk_the_history_as_a_list_would(steps):
    connection = fresh()
    job_id = started(connection)
    states, at = [6], 0
    for step in steps:
        if step == "undo":
            assert editing.undo(connection, job_id) == (at > 0)
            at = max(at - 1, 0)
        elif step == "redo":
            assert editing.redo(connection, job_id) == (at < len(states) - 1)
            at = min(at + 1, len(states) - 1)
        elif step != states[at]:
            set_count(connection, job_id, editing.open_job(connection, job_id).revision.number, step)
            states, at = [*states[: at + 1], step], at + 1
        assert count_of(connection, job_id) == states[at]
    connection.close()


def test_a_change_that_changes_nothing_is_no_revision(connection):
    job_id = started(connection)
    set_count(connection, job_id, 1, 6)
    assert editing.open_job(connection, job_id).revision.number == 1


def test_a_stale_page_is_refused_and_both_versions_are_kept(connection):
    job_id = started(connection)
    set_count(connection, job_id, 1, 7)
    with pytest.raises(Conflict) as caught:
        set_count(connection, job_id, 1, 9)
    assert count_of(connection, job_id) == 7
    assert editing.compare_refused(connection, job_id, caught.value.refused_id) == [("pieces.0.pattern.count", 7, 9)]
    assert len(editing.open_job(connection, job_id).refused) == 1
    editing.settle(connection, job_id, caught.value.refused_id, take=True)
    assert count_of(connection, job_id) == 9
    assert editing.open_job(connection, job_id).refused == ()
    editing.undo(connection, job_id)
    assert count_of(connection, job_id) == 7


def test_a_stale_page_that_wants_nothing_new_is_no_conflict(connection):
    job_id = started(connection)
    set_count(connection, job_id, 1, 7)
    editing.undo(connection, job_id)
    set_count(connection, job_id, 2, 7)  # the field was left as undo was pressed
    assert count_of(connection, job_id) == 6
    assert editing.open_job(connection, job_id).refused == ()


def test_what_cannot_be_taken_is_kept_as_typed(connection):
    job_id = started(connection)
    with pytest.raises(BadJob):
        editing.edit_piece(connection, job_id, "wall", "pattern", 1, {"pattern.count": "many"}, {"pattern.count": ["many"]})
    assert editing.find_draft(connection, job_id, "wall", "pattern") == {"pattern.count": ["many"]}
    set_count(connection, job_id, 1, 8)
    assert editing.find_draft(connection, job_id, "wall", "pattern") is None


def test_the_last_piece_stays(connection):
    with pytest.raises(BadInput, match="at least one"):
        editing.delete_piece(connection, started(connection), 1, "wall")


def test_pieces_get_addresses_of_their_own(connection):
    job_id = started(connection)
    assert editing.copy_piece(connection, job_id, 1, "wall") == "wall-copy"
    assert editing.add_piece(connection, job_id, 2, wall()["pieces"][0] | {"name": "Wall!"}) == "wall-2"
    assert [piece.key for piece in editing.open_job(connection, job_id).job.pieces] == ["wall", "wall-copy", "wall-2"]


def test_a_deleted_job_is_gone_until_restored(connection):
    job_id = started(connection)
    job_list.delete_job(connection, job_id)
    with pytest.raises(NotFound, match="deleted"):
        editing.open_job(connection, job_id)
    job_list.restore_job(connection, job_id)
    assert editing.open_job(connection, job_id).job.title == "A wall"


def test_export_and_import_give_the_same_job(connection):
    job_id = started(connection)
    again, _ = job_list.import_job(connection, job_list.export_job(connection, job_id).encode())
    assert job_list.export_job(connection, again) == job_list.export_job(connection, job_id)


def test_an_import_that_cannot_be_planned_is_refused(connection):
    job = wall(panel={"width": "10 m"}, pattern={"count": None, "widths": ["2 mm"]})
    with pytest.raises(BadJob, match="at most 1000"):
        job_list.import_job(connection, json.dumps(job).encode())
    assert jobs.list_jobs(connection) == []


def test_the_demo_is_laid_once_and_anew_on_request(connection):
    load_demo(connection)
    load_demo(connection)
    assert [row.title for row in jobs.list_jobs(connection)] == [demo_document()["title"]]
    editing.change_units(connection, 1, 1, "mm")
    load_demo(connection, fresh=True)
    [row] = jobs.list_jobs(connection)
    assert row.id == 2
    assert editing.open_job(connection, 2).job.units == "in"


def test_a_sample_job_whose_day_is_over_moves_on_but_never_one_that_was_used(connection):
    def starts(job_id):
        return editing.open_job(connection, job_id).document["crew"]["start"]

    old = load_demo(connection, start="2026-01-05T08:00")
    moved = load_demo(connection)
    assert moved != old and starts(moved) == next_monday() > clock.now()[:16]
    assert load_demo(connection) == moved  # not over yet
    used = load_demo(connection, fresh=True, start="2026-01-05T08:00")
    ticks.put_tick(connection, used, "booth-front", "m1", clock.now())
    assert load_demo(connection) == used and starts(used) == "2026-01-05T08:00"


@pytest.mark.parametrize(("width", "back"), [({"width": "30"}, 30), ({}, 31.4159)])
def test_emptying_the_curve_brings_the_width_back(connection, width, back):
    """Half a circle of 20 in across is 31.4 in along the curve; a front that had a width of its own has that again."""
    job = wall(panel={"curve": {"chord": "20", "rise": "10"}, "height": "40"}, pattern={"count": 3})
    job["pieces"][0]["id"] = "wall"
    panel = job["pieces"][0]["surface"]["panels"][0]
    del panel["width"]
    panel |= width
    job_id = job_list.add_job(connection, job, "Imported")
    at = "surface.panels.0.curve"
    editing.edit_piece(connection, job_id, "wall", "measure", 1, {f"{at}.chord": None, f"{at}.rise": None}, {})
    opened = editing.open_job(connection, job_id)
    assert "curve" not in opened.document["pieces"][0]["surface"]["panels"][0]
    assert float(opened.job.pieces[0].surface.panels[0].width_mm) / 25.4 == pytest.approx(back, abs=1e-3)


@given(st.integers(1, 4000), st.integers(1, 97))
def test_kept_lengths_read_back_and_never_as_bare_fractions_of_a_millimetre(numerator, denominator):
    mm = Fraction(numerator, denominator)
    for unit in ("in", "cm", "mm"):
        text = write_kept(mm, unit)
        assert abs(read_length(text, unit).mm - mm) <= Fraction(1, 20_000)
        assert not re.match(r"\d+/\d+ mm", text) or mm < 1
