"""Calendars: the schedule as iCalendar with alarms at the pull windows, and busy times read from anybody's calendar (RFC 5545)."""

from datetime import UTC, date, datetime, timedelta
from itertools import islice
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.order.schedule import Schedule

MOST_BYTES = 2_000_000
MOST_EVENTS = 500


def schedule_ics(schedule: Schedule, stamp: datetime) -> bytes:
    """Every task as an event in floating local time; pulls and coats with an alarm five minutes before."""
    from icalendar import Alarm, Calendar, Event

    times = schedule.solution.times
    calendar = Calendar()
    calendar.add("prodid", "-//Dividers//Schedule//EN")
    calendar.add("version", "2.0")
    for task, own in enumerate(times.tasks if times else ()):
        assert times is not None
        event = Event()
        event.add("uid", f"{hash_of(schedule.job.title, own.piece, own.words, task)}@dividers.local")
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("dtstart", schedule.calendar.moment(times.start(task)))
        event.add("dtend", schedule.calendar.moment(times.end(task)))
        event.add("summary", f"{own.piece}: {own.words}")
        if own.kind in ("pull", "coat"):
            alarm = Alarm()
            alarm.add("action", "DISPLAY")
            alarm.add("description", own.words)
            alarm.add("trigger", timedelta(minutes=-5))
            event.add_component(alarm)
        calendar.add_component(event)
    written: bytes = calendar.to_ical()
    return written


def hash_of(*parts: object) -> int:
    """A number that stays the same for the same parts, on every machine."""
    total = 17
    for letter in "|".join(map(str, parts)):
        total = (total * 31 + ord(letter)) % 2**61
    return total


def read_busy(content: bytes, start: datetime, days: int) -> list[tuple[datetime, datetime]]:
    """Busy times of a calendar from a start on, for so many days; repeating ones are expanded. Raises BadInput.

    Times with a zone count in it; days without times count whole; what is marked free or cancelled doesn't count.
    """
    from icalendar import Calendar
    from recurring_ical_events import of

    if len(content) > MOST_BYTES:
        raise BadInput(f"The file has {len(content)} bytes; at most {MOST_BYTES} are read.", "file")
    end = start + timedelta(days=days)
    try:
        calendar = Calendar.from_ical(content)
        if getattr(calendar, "name", "") != "VCALENDAR":
            raise ValueError(calendar)
        events = list(islice(of(calendar, skip_bad_series=True).between(start, end), MOST_EVENTS + 1))
    except Exception as broken:  # the parser raises many kinds for broken files
        raise BadInput("That is not a readable calendar file (.ics).", "file") from broken
    if len(events) > MOST_EVENTS:
        raise BadInput(f"The calendar has more than {MOST_EVENTS} busy times in these days; that many are allowed.", "file")
    spans = {(_plain(event.start), _plain(event.end)) for event in events if _counts(event)}
    return sorted((begin, finish) for begin, finish in spans if begin < end and finish > max(start, begin))


def _counts(event: Any) -> bool:
    return str(event.get("status", "")).upper() != "CANCELLED" and str(event.get("transp", "")).upper() != "TRANSPARENT"


def _plain(moment: date | datetime) -> datetime:
    """A moment in local time without its zone."""
    if isinstance(moment, datetime):
        return moment.replace(tzinfo=None)
    return datetime(moment.year, moment.month, moment.day)
