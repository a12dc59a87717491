"""What falls due next, over all jobs and test patches: the strip on every page."""

import sqlite3
from dataclasses import dataclass

from dividers.core.wall.timers import CLOSES, PLANNED
from dividers.store import patches, wall_runs


@dataclass(frozen=True)
class Due:
    """What falls due, for the strip on every page."""

    job_id: int | None
    kind: str
    task: str
    at: str
    words: str
    more: int


def nearest_due(connection: sqlite3.Connection, job_id: int | None = None) -> Due | None:
    """What is due next in any run or grid of test patches, or in one job, and how many more there are; plain next steps only where nothing else is."""
    found = [due for due in wall_runs.due(connection, 50) if job_id in (None, due.job_id)]
    patch = patches.next_due(connection) if job_id is None else None
    if patch and (not found or found[0].kind == PLANNED or patch[0] < found[0].at):
        at, title, field = patch
        return Due(None, CLOSES, "", at, f"Test patch “{title}”, {field}: pull", sum(t.kind != PLANNED for t in found))
    if not found:
        return None
    first = found[0]
    return Due(first.job_id, first.kind, first.task, first.at, first.words, sum(t.kind != PLANNED for t in found[1:]))
