"""Calendars: the schedule as iCalendar with alarms at the pull windows, and busy times read from anybody's calendar (RFC 5545)."""

import re
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta, tzinfo
from itertools import islice
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.order.schedule import Schedule

MOST_BYTES = 2_000_000
MOST_EVENTS = 500
ENDLESS = re.compile(rb"FREQ=(SECOND|MINUTE)LY", re.IGNORECASE)  # expanding these takes hours
A_DAY = timedelta(days=1)  # zones are no further apart


@dataclass(frozen=True)
class CalendarOf:
    """Of which job a calendar is: its name for good, its title, a number that grows with every change, when the last one was made."""

    uid: str
    title: str
    sequence: int
    made_at: datetime


def schedule_ics(schedule: Schedule, about: CalendarOf) -> bytes:
    """Every task as an event, one a day where it goes on over a night; pulls and coats with an alarm five minutes before.

    Times have the zone of the schedule, else they are floating local time. Events keep their names over edits and renamed pieces, with a
    growing sequence, so that a calendar that takes the file again changes them.
    """
    from icalendar import Alarm, Calendar, Event

    times = schedule.solution.times
    calendar = Calendar()
    calendar.add("prodid", "-//Dividers//Schedule//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("name", about.title)
    calendar.add("x-wr-calname", about.title)
    for task, own in enumerate(times.tasks if times else ()):
        assert times is not None
        for part, (begin, end) in enumerate(times.by_day(task), 1):
            event = Event()
            event.add("uid", f"{own.key.replace('/', '.')}.{part}@{about.uid}")
            event.add("dtstamp", about.made_at.astimezone(UTC))
            event.add("last-modified", about.made_at.astimezone(UTC))
            event.add("sequence", about.sequence)
            event.add("dtstart", schedule.calendar.moment(begin))
            event.add("dtend", schedule.calendar.moment(end))
            event.add("summary", f"{own.piece}: {own.words}" + (f" (day {part})" if part > 1 else ""))
            if own.kind in ("pull", "coat"):
                alarm = Alarm()
                alarm.add("action", "DISPLAY")
                alarm.add("description", own.words)
                alarm.add("trigger", timedelta(minutes=-5))
                event.add_component(alarm)
            calendar.add_component(event)
    if schedule.calendar.midnight.tzinfo:
        calendar.add_missing_timezones()
    written: bytes = calendar.to_ical()
    return written


def read_busy(content: bytes, start: datetime, days: int, zone: tzinfo | None = None) -> list[tuple[datetime, datetime]]:
    """Busy times of a calendar from a start on, for so many days, on the clock of a zone; repeating ones are expanded. Raises BadInput.

    Times with a zone are converted, without one they count as they are; days without times count whole; what is marked free or cancelled
    doesn't count. Without a `zone` times are on this machine's clock.
    """
    from icalendar import Calendar
    from recurring_ical_events import of

    if len(content) > MOST_BYTES:
        raise BadInput(f"The file has {len(content)} bytes; at most {MOST_BYTES} are read.", "file")
    if found := ENDLESS.search(content):
        raise BadInput(
            f"This calendar has an event that repeats every {found[1].decode().lower()}. Take it out, and try again.", "file"
        )
    end = start + timedelta(days=days)
    try:
        calendar = Calendar.from_ical(content)
        if getattr(calendar, "name", "") != "VCALENDAR":
            raise ValueError(calendar)
        events = list(islice(of(calendar, skip_bad_series=True).between(start - A_DAY, end + A_DAY), MOST_EVENTS + 1))
    except Exception as broken:  # the parser raises many kinds for broken files
        raise BadInput("That is not a readable calendar file (.ics).", "file") from broken
    if len(events) > MOST_EVENTS:
        raise BadInput(f"The calendar has more than {MOST_EVENTS} busy times in these days; that many are allowed.", "file")
    spans = {(_plain(event.start, zone), _plain(event.end, zone)) for event in events if _counts(event)}
    return sorted((begin, finish) for begin, finish in spans if begin < end and finish > max(start, begin))


def _counts(event: Any) -> bool:
    return str(event.get("status", "")).upper() != "CANCELLED" and str(event.get("transp", "")).upper() != "TRANSPARENT"


def _plain(moment: date | datetime, zone: tzinfo | None) -> datetime:
    """A moment on the site's clock, without the zone."""
    if isinstance(moment, datetime):
        return (moment.astimezone(zone) if moment.tzinfo else moment).replace(tzinfo=None)
    return datetime(moment.year, moment.month, moment.day)
