"""Ticking marks off as they are made."""

import sqlite3

from dividers.core.base.errors import BadInput
from dividers.core.base.whole import whole
from dividers.core.marks.marks import Mark
from dividers.services.clock import now
from dividers.services.jobs.editing import open_job
from dividers.services.jobs.planning import piece_plan
from dividers.store import ticks
from dividers.store.database import transaction


def name_of(mark: Mark) -> str:
    """What a tick is kept under: it holds as long as the mark stays where it is."""
    return f"{mark.panel} | {mark.line} | {mark.reading.text}"


def ticked(connection: sqlite3.Connection, job_id: int, piece_key: str) -> set[str]:
    return ticks.list_ticks(connection, job_id, piece_key)


def tick(connection: sqlite3.Connection, job_id: int, piece_key: str, key: str, made: bool) -> None:
    """Tick mark `key` ("m3") of a piece, or take its tick back. Raises BadInput when there is no such mark."""
    opened = open_job(connection, job_id)
    marks = piece_plan(opened.revision.document, piece_key).marks
    number = (whole(key[1:]) or 0) if key[:1] == "m" else 0
    if not 0 < number <= len(marks):
        raise BadInput("There is no such mark any more. Reload the page.", "mark", key)
    with transaction(connection):
        if made:
            ticks.put_tick(connection, job_id, piece_key, name_of(marks[number - 1]), now())
        else:
            ticks.drop_tick(connection, job_id, piece_key, name_of(marks[number - 1]))


def clear(connection: sqlite3.Connection, job_id: int, piece_key: str) -> None:
    """Take back all ticks of a piece."""
    with transaction(connection):
        ticks.drop_ticks(connection, job_id, piece_key)
