"""Dates as people write them. ISO 8601 text to the minute inside, in the painter's own time."""

from datetime import UTC, datetime, timedelta

from dividers.core.base.errors import BadInput, quoted

LONGEST = 40
EARLIEST_YEAR, LATEST_YEAR = 1900, 2200
DAYS_OF_WEEK = 7
HOW = "Write it like 2027-03-06, 6 March 2027 or 2027-03-06 08:00."


def read_moment(written: object, month_first: bool = False) -> str:
    """A date, or a date with time. `month_first` says how 3/6/2027 is meant. Raises BadInput.

    >>> read_moment("6 March 2027"), read_moment("2027-03-06T08:15"), read_moment("3/6/2027", month_first=True)
    ('2027-03-06T00:00', '2027-03-06T08:15', '2027-03-06T00:00')
    """
    from dateutil.parser import ParserError, parse

    text = str(written).strip() if isinstance(written, str | int) and not isinstance(written, bool) else ""
    try:
        found = datetime.fromisoformat(text)
    except ValueError:
        try:
            if len(text) > LONGEST or not any(letter.isdigit() for letter in text):
                raise ParserError
            one, other = (
                parse(text, default=datetime(year, month, day), dayfirst=not month_first, ignoretz=True)
                for year, month, day in ((2000, 1, 1), (2004, 2, 2))
            )
        except (ParserError, OverflowError, ValueError, TypeError):
            raise BadInput(f"{quoted(written)} isn't a date. {HOW}") from None
        if one != other:
            raise BadInput(f"“{text}” leaves out a part of the date: day, month and year are needed. {HOW}") from None
        found = one
    if not EARLIEST_YEAR <= found.year <= LATEST_YEAR:
        raise BadInput(f"“{text}” is in the year {found.year}; years from {EARLIEST_YEAR} to {LATEST_YEAR} are read.")
    return found.replace(tzinfo=None).isoformat(timespec="minutes")


def minutes_between(one: datetime, other: datetime) -> float:
    """How many minutes really pass between two moments; where one has a zone, the other counts in it. Clock changes are minutes like others.

    >>> from zoneinfo import ZoneInfo
    >>> night = datetime(2027, 3, 28, 1, tzinfo=ZoneInfo("Europe/Vienna"))  # the hour from 2 to 3 is left out
    >>> minutes_between(night, datetime(2027, 3, 28, 4))
    120.0
    """
    zone = one.tzinfo or other.tzinfo
    if zone:
        one, other = ((at if at.tzinfo else at.replace(tzinfo=zone)).astimezone(UTC) for at in (one, other))
    return (other - one).total_seconds() / 60


def after(moment: datetime, minutes: float) -> datetime:
    """The moment so many minutes later, in the zone of the first where it has one."""
    if moment.tzinfo is None:
        return moment + timedelta(minutes=minutes)
    return (moment.astimezone(UTC) + timedelta(minutes=minutes)).astimezone(moment.tzinfo)


NEAR_DAYS = {-1: "yesterday", 0: "today", 1: "tomorrow"}


def day_and_time(at: datetime, now: datetime) -> str:
    """A moment with its day as people say it, seen from another.

    >>> noon = datetime(2027, 3, 5, 12)  # a Friday
    >>> [day_and_time(at, noon) for at in (datetime(2027, 3, 6, 8), datetime(2027, 3, 8, 8), datetime(2027, 3, 15, 8, 5))]
    ['tomorrow 08:00', 'Mon 08:00', 'Mon 15 Mar 08:05']
    """
    away = (at.date() - now.date()).days
    if away in NEAR_DAYS:
        return f"{NEAR_DAYS[away]} {at:%H:%M}"
    return f"{at:%a} {at:%H:%M}" if abs(away) < DAYS_OF_WEEK else f"{at:%a} {at.day} {at:%b} {at:%H:%M}"
