"""Whole days at the wall: a scripted painter with delays, skips, lost answers; every plan on the way is checked from its own numbers."""

import json
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest
from day_checker import check_day, check_plan
from days import MORNING, Clock, Painter, settled

from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.logbook.record import record_of
from dividers.services.wall import at_the_wall
from dividers.services.wall.progress import progress_of, work_in_air
from dividers.store import wall_runs
from dividers.store.database import connect
from dividers.store.migrate import migrate


def job_of(names, painters=1):
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] in names]
    document["crew"] = {"painters": painters, "start": "2026-10-13T08:00"}
    return document


@pytest.mark.parametrize(
    ("names", "painters", "seed"),
    [
        (("booth-front", "prop-trunk"), 1, 1),
        (("booth-front", "prop-trunk"), 1, 2),
        (("booth-front", "stage-floor"), 2, 3),
        (("poster",), 1, 4),
        (("stage-floor", "poster"), 1, 5),
        (("foyer-wall",), 2, 6),
        (("backdrop", "prop-trunk"), 1, 7),
    ],
)
def test_a_day_at_the_wall_is_recorded_as_it_was_and_every_plan_holds(connection, monkeypatch, names, painters, seed):
    time = Clock(monkeypatch, MORNING)
    run = settled(connection, add_job(connection, job_of(names, painters), "a day"))
    painter = Painter(connection, run, time, seed)
    painter.checks.append(check_plan)
    progress = painter.work()
    check_plan(progress)
    plans = at_the_wall.plans(connection, run)
    check_day(progress, plans, painter)
    uids = [row.uid for row in wall_runs.list_events(connection, run.id)]
    assert len(uids) == len(set(uids)) == painter.count
    assert [plan.number for plan in plans] == list(range(1, len(plans) + 1))


@pytest.mark.parametrize(
    ("zone", "start"),
    [
        ("America/Los_Angeles", "2026-10-31T08:00"),  # clocks go back in the night to the first of November
        ("Europe/Vienna", "2027-03-27T08:00"),  # and forward in the night to the 28th of March
        ("Asia/Kolkata", "2026-10-13T08:00"),
    ],
)
def test_days_hold_in_every_zone_and_over_a_clock_change(connection, monkeypatch, zone, start):
    local = datetime.fromisoformat(start).replace(tzinfo=ZoneInfo(zone))
    time = Clock(monkeypatch, local.astimezone(UTC), zone)
    document = job_of(("booth-front", "prop-trunk"))
    document["crew"] |= {"start": start, "days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"]}
    run = settled(connection, add_job(connection, document, "a day"))
    painter = Painter(connection, run, time, 11)
    painter.checks.append(check_plan)
    progress = painter.work()
    check_day(progress, at_the_wall.plans(connection, run), painter)
    hours = {(low.hour, low.minute) for low in (progress.calendar.moment(low) for low, _ in progress.calendar.spans[:8])}
    assert hours == {(8, 0), (12, 30)}
    record = record_of(connection, run.job_id)
    assert record.lines[0].started.utcoffset() is not None
    begun = min(line.started for line in record.lines if line.started)
    assert (begun.hour, begun.date().isoformat()) == (8, start[:10])


def test_work_done_as_planned_changes_nothing(connection, monkeypatch):
    time = Clock(monkeypatch, MORNING)
    run = settled(connection, add_job(connection, job_of(("booth-front", "prop-trunk")), "a day"))
    first = progress_of(connection, run).in_force
    ends = {key: (first.starts[key], end) for key, end in first.ends.items()}
    for number, (key, (start, end)) in enumerate(sorted(ends.items(), key=lambda pair: pair[1])):
        for kind, at in (("start", start), ("done", end)):
            time.at = MORNING.replace(hour=0) + timedelta(minutes=at)
            progress = at_the_wall.record(connection, run, [{"kind": kind, "task": key, "uid": f"{kind}-{number}"}])
            for other, was in progress.in_force.starts.items():
                if progress.facts.of(other).state == "open":
                    assert was == first.starts[other], (other, was, first.starts[other])
    assert not progress.in_force.starts
    assert progress.in_force.said == "Everything is done."


def test_a_run_goes_on_after_the_program_was_started_anew(tmp_path, monkeypatch):
    time = Clock(monkeypatch, MORNING)
    connection = connect(tmp_path / "data.sqlite")
    migrate(connection)
    run = settled(connection, add_job(connection, job_of(("prop-trunk",)), "a day"))
    painter = Painter(connection, run, time, 9, trouble=0.0)
    for _ in range(3):
        progress = painter.progress()
        key, start = painter.next_task(progress)
        painter._wait_until(progress.live.moment(start))
        painter._do(progress, key)
    before = painter.progress()
    connection.close()
    work_in_air.cache_clear()
    again = connect(tmp_path / "data.sqlite")
    after = progress_of(again, wall_runs.find_run(again, run.id))
    assert after.facts == before.facts
    assert after.in_force == before.in_force
    assert json.dumps([vars(t) for t in after.timers]) == json.dumps([vars(t) for t in before.timers])
    again.close()
