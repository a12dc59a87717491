"""The strip across every page: what falls due next, in any job that is being painted."""

import sqlite3

from flask import Flask

from dividers.services import clock
from dividers.services.wall.due import Due
from dividers.services.wall.due import nearest_due as nearest
from dividers.web.access.guard import who
from dividers.web.database import connection


def nearest_due() -> Due | None:
    """What falls due next; nothing where the data can't be read, as an error page must still show."""
    try:
        phone = who().phone
        return nearest(connection(), phone.job_id if phone else None) if phone or who().owner else None
    except sqlite3.Error:
        return None


def now_ms() -> int:
    return round(clock.moment().timestamp() * 1000)


def site_zone() -> str:
    """The name of the site's zone, "" while nobody has said it."""
    zone = clock.zone()
    return zone.key if zone else ""


def register(app: Flask) -> None:
    app.jinja_env.globals.update(nearest_due=nearest_due, now_ms=now_ms, site_zone=site_zone)
