"""Calendars: the schedule as iCalendar with alarms at the pull windows, and busy times read from anybody's calendar (RFC 5545)."""

from datetime import UTC, date, datetime, timedelta
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.order.schedule import Schedule

MOST_BYTES = 2_000_000
MOST_EVENTS = 500
MOST_REPEATS = 400


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

    if len(content) > MOST_BYTES:
        raise BadInput(f"The file has {len(content)} bytes; at most {MOST_BYTES} are read.", "file")
    try:
        calendar = Calendar.from_ical(content)
    except Exception as broken:  # the parser raises many kinds for broken files
        raise BadInput("That is not a readable calendar file (.ics).", "file") from broken
    if getattr(calendar, "name", "") != "VCALENDAR":
        raise BadInput("That is not a calendar file (.ics).", "file")
    end = start + timedelta(days=days)
    found: set[tuple[datetime, datetime]] = set()
    for event in calendar.walk("VEVENT"):
        if str(event.get("status", "")).upper() == "CANCELLED" or str(event.get("transp", "")).upper() == "TRANSPARENT":
            continue
        if event.get("dtstart") is None:
            continue
        low = _plain(event.get("dtstart").dt)
        high = _plain(event.get("dtend").dt) if event.get("dtend") else low + _usual(event)
        for begin in _repeats(event, low, start, end):
            if begin < end and begin + (high - low) > start and high > low:
                found.add((begin, begin + (high - low)))
    if len(found) > MOST_EVENTS:
        raise BadInput(f"The calendar has {len(found)} busy times in these days; at most {MOST_EVENTS} are allowed.", "file")
    return sorted(found)


def _usual(event: Any) -> timedelta:
    """How long an event without an end takes: its duration, or the day."""
    if event.get("duration"):
        length: timedelta = event.get("duration").dt
        return length
    return timedelta(days=0 if isinstance(event.get("dtstart").dt, datetime) else 1)


def _plain(moment: date | datetime) -> datetime:
    """A moment in local time without its zone."""
    if isinstance(moment, datetime):
        return moment.replace(tzinfo=None)
    return datetime(moment.year, moment.month, moment.day)


def _repeats(event: Any, low: datetime, start: datetime, end: datetime) -> list[datetime]:
    """When an event begins within the days: once, or by its rule."""
    if not event.get("rrule"):
        return [low]
    from dateutil.rrule import rrulestr

    text = event.get("rrule").to_ical().decode()
    text = ";".join(part[:-1] if part.startswith("UNTIL=") and part.endswith("Z") else part for part in text.split(";"))
    try:
        rule = rrulestr(text, dtstart=low)
        return list(rule.between(start - timedelta(days=2), end, inc=True))[:MOST_REPEATS]
    except (ValueError, TypeError):
        return [low]
