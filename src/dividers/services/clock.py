"""The one place that looks at the clock."""

from datetime import UTC, datetime


def now() -> str:
    """This moment as UTC ISO text, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")
