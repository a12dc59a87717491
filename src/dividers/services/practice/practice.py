"""Practice on own jobs, or on one made up for it."""

import json
import sqlite3
from functools import lru_cache

from dividers.core.base.errors import NotFound
from dividers.core.practice.exercises import Exercise, Score, exercise_of, mixed, score
from dividers.services import clock
from dividers.services.jobs import editing
from dividers.services.wall.progress import planned_work
from dividers.store import practice
from dividers.store.database import transaction

TEXTURES = ("smooth", "light", "rough", "grain", "canvas", "hot-pressed")


@lru_cache(maxsize=32)
def made_up(seed: int) -> str:
    """The document of a job for practice: stripes of one kind or another on a ground of one kind or another."""
    units = ("in", "in", "mm")[mixed(seed, 11, 3)]
    width, height = (
        (60 + mixed(seed, 12, 90), 40 + mixed(seed, 13, 60))
        if units == "in"
        else (1500 + 7 * mixed(seed, 12, 300), 1000 + 5 * mixed(seed, 13, 300))
    )
    texture = TEXTURES[mixed(seed, 14, len(TEXTURES))]
    kind = {"canvas": "canvas", "hot-pressed": "paper", "grain": "furniture"}.get(texture, "wall")
    swelling = mixed(seed, 15, 2) == 0
    document = {
        "format": "dividers-job/1",
        "title": "Practice",
        "units": units,
        "palette": {"base": {"name": "Chalk", "hex": "#efe9da"}, "first": {"name": "Teal", "hex": "#1f5c5f"}},
        "products": {
            "tape": {
                "kind": "tape",
                "width": "24 mm",
                "adhesion": ("delicate", "medium")[mixed(seed, 16, 2)],
                "swelling_edge": swelling,
            },
            "paint": {"kind": "paint", "touch_dry": "45 min", "recoat": "2 h", "wet_edge": "12 min", "full_dry": "24 h"},
        },
        "pieces": [
            {
                "name": "Practice panel",
                "base": "base",
                "surface": {
                    "kind": kind,
                    "texture": texture,
                    "finish": {"state": "painted"},
                    "panels": [{"name": "panel", "width": str(width), "height": str(height)}],
                },
                "pattern": {
                    "kind": "stripes",
                    "direction": ("vertical", "horizontal")[mixed(seed, 17, 2)],
                    "count": 3 + mixed(seed, 18, 8),
                    "colors": ["first", None],
                },
                "method": {
                    "tape": "tape",
                    "paint": {"first": "paint"},
                    "pull": ("auto", "wet", "touch-dry")[mixed(seed, 19, 3)],
                },
            }
        ],
    }
    return json.dumps(document)


def exercise(connection: sqlite3.Connection, kind: str, seed: int, job_id: int | None) -> tuple[Exercise, str, str]:
    """An exercise, the document it is about, and the units to answer in. Raises NotFound where a job has nothing to ask."""
    document = editing.open_job(connection, job_id).revision.document if job_id else made_up(seed)
    plan, work = planned_work(document)
    turn = mixed(seed, 20, len(plan.pieces))
    for piece in (*plan.pieces[turn:], *plan.pieces[:turn]):
        found = exercise_of(kind, seed, piece, work.choices.get(piece.piece.key, ()))
        if found:
            return found, piece.piece.key, plan.job.units
    raise NotFound("This job has nothing for this exercise: choose another exercise, or the made-up job.")


def answer(connection: sqlite3.Connection, kind: str, seed: int, job_id: int | None, given: str) -> Score:
    """Score an answer and keep it. Raises BadInput for one that can't be read."""
    asked, _, units = exercise(connection, kind, seed, job_id)
    found = score(asked, given, units)
    with transaction(connection):
        practice.insert_answer(connection, kind, seed, given[:60], found.right, clock.now())
    return found


def tally(connection: sqlite3.Connection) -> dict[str, tuple[int, int]]:
    return practice.tally(connection)
