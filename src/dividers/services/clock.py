"""The one place that looks at the clock, and that knows which zone the site's own clock is in."""

from datetime import UTC, date, datetime
from zoneinfo import ZoneInfo, available_timezones

_zone: ZoneInfo | None = None


def set_zone(name: str) -> None:
    """Let the site's times be those of a zone; "" for the zone that this machine is set to. Raises KeyError for one that there isn't."""
    global _zone
    if name and name not in available_timezones():
        raise KeyError(name)
    _zone = ZoneInfo(name) if name else None


def zone() -> ZoneInfo | None:
    """The site's zone; None where nobody has said it."""
    return _zone


def moment() -> datetime:
    """This moment, in UTC."""
    return datetime.now(UTC)


def now() -> str:
    """This moment as UTC ISO text, to the second."""
    return moment().isoformat(timespec="seconds")


def on_site(at: datetime) -> datetime:
    """A moment as the clock on the wall shows it: in the site's zone, else without one in that of this machine. The plan's hours are in it."""
    return at.astimezone(_zone) if _zone else at.astimezone().replace(tzinfo=None)


def placed(local: datetime) -> datetime:
    """A time of the site's clock with the site's zone, where that is known."""
    return local.replace(tzinfo=_zone)


def date_of(text: str) -> date:
    """The day on site of a moment kept as UTC ISO text."""
    return on_site(datetime.fromisoformat(text)).date()
