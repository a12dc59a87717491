"""The site's time zone: asked once, kept, and used for every time that is shown, planned, exported or read from a calendar."""

import sqlite3
from functools import cache
from zoneinfo import available_timezones

from dividers.core.base.errors import BadInput
from dividers.services import clock
from dividers.store import site
from dividers.store.database import transaction


@cache
def zones() -> list[str]:
    """The zones there are, by name."""
    return ["UTC"] + sorted(
        name for name in available_timezones() if "/" in name and not name.startswith(("Etc/", "posix/", "right/"))
    )


def load(connection: sqlite3.Connection) -> None:
    """Let the clock show the zone that is kept."""
    try:
        clock.set_zone(site.find_zone(connection))
    except KeyError:  # a zone that this machine's tables don't have
        clock.set_zone("")


def keep(connection: sqlite3.Connection, name: str) -> None:
    """Let the site be in a zone. Raises BadInput."""
    try:
        clock.set_zone(name.strip())
    except KeyError:
        raise BadInput(f"“{name[:40]}” isn't a time zone; choose one of the list, like Europe/Vienna.", "zone", name) from None
    with transaction(connection):
        site.put_zone(connection, name.strip(), clock.now())
