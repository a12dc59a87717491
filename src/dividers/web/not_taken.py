"""On every page of a job: changes of other stations that were not taken."""

from flask import Flask

from dividers.services.jobs import editing
from dividers.web.database import connection


def elsewhere(job_id: int, piece: str = "", station: str = "") -> list[editing.NotTaken]:
    """The changes that were not taken, but for those of the station that shows them itself."""
    return [each for each in editing.not_taken(connection(), job_id) if (each.piece, each.station) != (piece, station)]


def register(app: Flask) -> None:
    app.jinja_env.globals["not_taken_elsewhere"] = elsewhere
