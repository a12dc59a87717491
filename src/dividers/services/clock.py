"""The one place that looks at the clock."""

from datetime import UTC, datetime


def moment() -> datetime:
    """This moment, in UTC."""
    return datetime.now(UTC)


def now() -> str:
    """This moment as UTC ISO text, to the second."""
    return moment().isoformat(timespec="seconds")


def on_site(at: datetime) -> datetime:
    """A moment as the clock on the wall shows it: in the zone that this machine is set to, which the plan's hours are in."""
    return at.astimezone().replace(tzinfo=None)
