"""Calendars out and in; palettes; the cupboard's table."""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from zoneinfo import ZoneInfo

import icalendar
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadInput
from dividers.core.job.crew import DAYS, Crew
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.calendar import calendar_of
from dividers.core.order.schedule import schedule_of
from dividers.core.plan.plan import plan_job
from dividers.formats.gpl import read_gpl, write_gpl
from dividers.formats.ics import CalendarOf, read_busy, schedule_ics
from dividers.formats.tables.supplies_csv import read_supplies, write_supplies

START = datetime(2027, 3, 1, 8)
HEAD = b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n"


ABOUT = CalendarOf("job-1.dividers", "The cart", 3, datetime(2027, 1, 1, tzinfo=UTC))


def written(document, zone=None, about=ABOUT):
    order = schedule_of(plan_job(read_job(document)), 0.5, "2027-03-01T08:00", zone=zone)
    return order, icalendar.Calendar.from_ical(schedule_ics(order, about))


def test_every_task_is_an_event_with_its_times():
    order, calendar = written(wall())
    events = list(calendar.walk("VEVENT"))
    times = order.solution.times
    assert {str(event["summary"]).split(" (day")[0] for event in events} == {f"{t.piece}: {t.words}" for t in times.tasks}
    assert len({str(event["uid"]) for event in events}) == len(events)
    assert max(event["dtend"].dt for event in events) == times.calendar.moment(times.finish)
    alarms = [alarm["trigger"].dt for alarm in calendar.walk("VALARM")]
    assert alarms == [timedelta(minutes=-5)] * sum(task.kind in ("pull", "coat") for task in order.work.tasks)  # before it
    assert str(calendar["X-WR-CALNAME"]) == "The cart"


def test_events_keep_their_names_over_edits_and_renames_and_count_up():
    _, before = written(wall())
    _, after = written(
        wall(piece={"name": "Back wall"}, pattern={"colors": ["madder", None]}), about=replace(ABOUT, sequence=9)
    )
    kept = [str(e["uid"]) for e in before.walk("VEVENT") if "tape" in str(e["uid"]) or "mark" in str(e["uid"])]
    assert kept and set(kept) <= {str(e["uid"]) for e in after.walk("VEVENT")}
    assert {e["sequence"] for e in after.walk("VEVENT")} == {9}


def test_a_step_over_a_night_is_an_event_each_day():
    document = wall(pattern={"count": 60}, job={"crew": {"hours": [["08:00", "09:30"]]}})
    order, calendar = written(document)
    long = [e for e in calendar.walk("VEVENT") if "lay and press" in str(e["summary"])]
    assert len(long) > 1 and all(e["dtstart"].dt.date() == e["dtend"].dt.date() for e in calendar.walk("VEVENT"))
    task = next(t for t in order.solution.times.tasks if t.kind == "tape")
    assert (
        sum((e["dtend"].dt - e["dtstart"].dt).total_seconds() / 60 for e in long if f".{task.number}." in str(e["uid"]))
        == task.minutes
    )


@pytest.mark.parametrize("name", ["America/Los_Angeles", "Asia/Kolkata", "Europe/Vienna"])
def test_times_have_their_zone_and_are_read_back_in_another(name):
    zone = ZoneInfo(name)
    order, calendar = written(wall(), zone)
    assert name in {str(each["tzid"]) for each in calendar.walk("VTIMEZONE")}
    times = order.solution.times
    first = min(calendar.walk("VEVENT"), key=lambda e: e["dtstart"].dt)["dtstart"].dt
    assert (first.astimezone(zone).hour, first.utcoffset()) == (8, datetime(2027, 3, 1, tzinfo=zone).utcoffset())
    utc = read_busy(schedule_ics(order, ABOUT), datetime(2027, 2, 27), 60, UTC)
    assert utc[0][0] == times.calendar.moment(times.start(times.starts.index(0))).astimezone(UTC).replace(tzinfo=None)


def test_work_over_a_clock_change_begins_at_its_hours_and_waits_as_long_as_it_must():
    """Vienna, 28 March 2027: the hour from 2 to 3 in the night is left out. From 17:00 to 8:00 are 14 h, not 15."""
    zone = ZoneInfo("Europe/Vienna")
    crew = Crew(days=DAYS, hours=(("08:00", "17:00"),))
    calendar = calendar_of(crew, datetime(2027, 3, 27, 8, tzinfo=zone), 3)
    assert calendar.spans[1][0] - calendar.spans[0][1] == 14 * 60
    assert [f"{calendar.moment(low):%d %H:%M}" for low, _ in calendar.spans] == ["27 08:00", "28 08:00", "29 08:00"]
    autumn = calendar_of(crew, datetime(2027, 10, 30, 8, tzinfo=zone), 2)
    assert autumn.spans[1][0] - autumn.spans[0][1] == 16 * 60


def event(*lines):
    return b"BEGIN:VEVENT\r\nUID:1\r\n" + b"".join(line.encode() + b"\r\n" for line in lines) + b"END:VEVENT\r\n"


@pytest.mark.parametrize(
    ("lines", "expected"),
    [
        (("DTSTART:20270302T090000", "DTEND:20270302T110000"), [("0302T09", "0302T11")]),
        (("DTSTART;VALUE=DATE:20270303",), [("0303T00", "0304T00")]),
        (("DTSTART:20270302T090000", "DURATION:PT2H"), [("0302T09", "0302T11")]),
        (("DTSTART:20270301T100000", "DTEND:20270301T110000", "RRULE:FREQ=DAILY;COUNT=3"), [("0301T10", "0301T11"), ("0302T10", "0302T11"), ("0303T10", "0303T11")]),
        (("DTSTART:20270228T100000", "DTEND:20270228T110000", "RRULE:FREQ=DAILY;COUNT=4", "EXDATE:20270302T100000"), [("0301T10", "0301T11"), ("0303T10", "0303T11")]),
        (("DTSTART:20270302T090000", "DTEND:20270302T110000", "STATUS:CANCELLED"), []),
        (("DTSTART:20270302T090000", "DTEND:20270302T110000", "TRANSP:TRANSPARENT"), []),
        (("DTSTART:20260302T090000", "DTEND:20260302T110000"), []),
        (("DTSTART:20270302T170000Z", "DTEND:20270302T190000Z"), [("0302T09", "0302T11")]),
        (("DTSTART;TZID=Europe/Vienna:20270302T180000", "DTEND;TZID=Europe/Vienna:20270302T200000"), [("0302T09", "0302T11")]),
        (("DTSTART:20270302T013000Z", "DTEND:20270302T023000Z"), [("0301T17", "0301T18")]),
    ],
)  # fmt: skip
def test_busy_times_are_read(lines, expected):
    found = read_busy(HEAD + event(*lines) + b"END:VCALENDAR\r\n", START, 10, ZoneInfo("America/Los_Angeles"))
    assert [(a.strftime("%m%dT%H"), b.strftime("%m%dT%H")) for a, b in found] == expected


def test_an_occurrence_that_was_moved_counts_where_it_is_now():
    series = event("DTSTART:20270301T100000", "DTEND:20270301T110000", "RRULE:FREQ=DAILY;COUNT=3")
    moved = event("DTSTART:20270302T150000", "DTEND:20270302T160000", "RECURRENCE-ID:20270302T100000")
    found = read_busy(HEAD + series + moved + b"END:VCALENDAR\r\n", START, 10)
    assert [a.strftime("%m%dT%H") for a, _ in found] == ["0301T10", "0302T15", "0303T10"]


@pytest.mark.parametrize("content", [b"", b"hello", b"BEGIN:VCALENDAR", b"\x00\xff" * 50, b"x" * 2_000_001])
def test_what_is_no_calendar_is_refused(content):
    with pytest.raises(BadInput):
        read_busy(content, START, 10)


@given(
    st.lists(
        st.tuples(
            st.text(st.characters(codec="utf-8", exclude_categories=("C", "Z")), min_size=1, max_size=20),
            st.integers(0, 0xFFFFFF),
        ),
        min_size=1,
        max_size=20,
    )
)
def test_palettes_come_back_as_they_went(colours):
    written = [(name, f"#{code:06x}") for name, code in colours]
    assert read_gpl(write_gpl("Mine", written)) == written


@pytest.mark.parametrize("text", ["", "JASC-PAL", "GIMP Palette\n", "GIMP Palette\n1 2 300 x", "GIMP Palette\nred green blue"])
def test_what_is_no_palette_is_refused(text):
    with pytest.raises(BadInput):
        read_gpl(text)


def test_the_cupboard_goes_out_and_comes_in_and_bad_lines_say_why():
    things = [
        (
            "paint",
            "Wall paint",
            {"binder": "water", "sheen": "matte", "spread": "9 m2/L", "recoat": "2 h", "most_humidity": 80.0},
        ),
        ("tape", "=Tape", {"width": "24 mm", "adhesion": "delicate", "swelling_edge": True}),
        ("colour", "Oat", {"hex": "#d9cdb4"}),
    ]
    text = write_supplies(things)
    rows = read_supplies(text)
    assert [(row.kind, row.name, row.body, row.faults) for row in rows] == [(*thing, ()) for thing in things]
    assert "'=Tape" in text
    bad = read_supplies("kind;name;width;hex;recoat\ntape;Broad;banana;;\ncolour;No;;red;\nglue;x;;;\npaint;Slow;;;soon")
    assert [
        "width" in " ".join(row.faults)
        or "hex" in " ".join(row.faults)
        or "isn't known" in " ".join(row.faults)
        or "recoat" in " ".join(row.faults)
        for row in bad
    ] == [True] * 4
