"""The steps of a run as it was begun with, kept with it: later versions may plan the same job otherwise, and the run goes on as it is."""

import json
import sqlite3
from collections.abc import Callable, Collection, Iterable, Mapping
from typing import Any
from uuid import uuid4

from dividers.core.job_file.as_begun import AS_OF
from dividers.services import clock
from dividers.services.wall.progress import work_text
from dividers.store import wall_runs
from dividers.store.database import transaction

Pages = Mapping[str, Any]  # what the page of every step shows, as JSON


def keep(connection: sqlite3.Connection, run: wall_runs.WallRun, pages: Callable[[str], Pages], anew: bool = False) -> None:
    """Keep the steps of a run as its document is planned now, where none are kept or it is to go by them `anew`; `pages` makes their pages."""
    if anew or wall_runs.find_kept_work(connection, run.id) is None:
        text = json.dumps(pages(run.document), ensure_ascii=False)
        with transaction(connection):
            wall_runs.put_steps(connection, run.id, wall_runs.StepsRow(AS_OF, work_text(run.document), text))


def pages_of(connection: sqlite3.Connection, run: wall_runs.WallRun) -> str:
    """The pages of a run's kept steps, as JSON; "" where none are kept."""
    found = wall_runs.find_steps(connection, run.id)
    return found.pages if found else ""


def made_with(connection: sqlite3.Connection, run: wall_runs.WallRun) -> str:
    """The version that a run's steps were made with, "" where none are kept."""
    found = wall_runs.find_steps(connection, run.id)
    return found.made_with if found else ""


def move_ticks(
    connection: sqlite3.Connection,
    run: wall_runs.WallRun,
    made: Collection[tuple[str, str]],
    moves: Iterable[tuple[str, str, str]],
) -> None:
    """Let ticks, `made` as (task, item), follow what was ticked: each move is (task, item, its item now), "" where it is none any more."""
    now = clock.moment().isoformat()
    found = [move for move in moves if move[:2] in made]
    with transaction(connection):
        for kind, at in (("untick", 1), ("tick", 2)):
            for move in found:
                if move[at]:
                    body = json.dumps({"item": move[at]})
                    wall_runs.insert_event(
                        connection, run.id, wall_runs.EventRow(0, f"moved-{uuid4().hex}", kind, move[0], 1, now, now, body)
                    )
