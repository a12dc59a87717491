"""Calendars out and in; palettes; the cupboard's table."""

from datetime import UTC, datetime

import icalendar
import pytest
from hypothesis import given
from hypothesis import strategies as st
from jobs import wall

from dividers.core.base.errors import BadInput
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import schedule_of
from dividers.core.plan.plan import plan_job
from dividers.formats.gpl import read_gpl, write_gpl
from dividers.formats.ics import read_busy, schedule_ics
from dividers.formats.tables.supplies_csv import read_supplies, write_supplies

START = datetime(2027, 3, 1, 8)
HEAD = b"BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//x//y//EN\r\n"


def test_every_task_is_an_event_with_its_times():
    order = schedule_of(plan_job(read_job(wall())), 0.5, "2027-03-01T08:00")
    calendar = icalendar.Calendar.from_ical(schedule_ics(order, datetime(2027, 1, 1, tzinfo=UTC)))
    events = list(calendar.walk("VEVENT"))
    assert len(events) == len(order.work.tasks)
    assert len({str(event["uid"]) for event in events}) == len(events)
    times = order.solution.times
    assert max(event["dtend"].dt for event in events) == times.calendar.moment(times.finish)
    assert len(list(calendar.walk("VALARM"))) == sum(task.kind in ("pull", "coat") for task in order.work.tasks)


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
    ],
)  # fmt: skip
def test_busy_times_are_read(lines, expected):
    found = read_busy(HEAD + event(*lines) + b"END:VCALENDAR\r\n", START, 10)
    assert [(a.strftime("%m%dT%H"), b.strftime("%m%dT%H")) for a, b in found] == expected


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
