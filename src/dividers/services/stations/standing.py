"""How far a piece is, station by station: done, needing somebody, or not reached."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

from dividers.core.job.method import BY_EYE
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs import editing
from dividers.services.jobs.planning import piece_plan
from dividers.services.stations import mark_ticks
from dividers.services.stations.large_plans import is_ready
from dividers.services.stations.painted import painted_said
from dividers.store import logbook, wall_runs

WARNS_AT = {
    "wider-than-cell": "tape",
    "survey-reading": "measure",
    "survey-size": "measure",
    "job-file": "",
}  # what isn't listed is about the pattern


@dataclass(frozen=True)
class Standing:
    """`needs` says how many things want looking at; `words` what the state is, as it is read out."""

    done: bool
    needs: int = 0
    words: str = ""


def standing(connection: sqlite3.Connection, opened: editing.Opened, piece: str) -> Mapping[str, Standing]:
    """The state of every station for one piece; while its plan is being worked out, what it warns of isn't known."""
    document = opened.revision.document
    plan = piece_plan(document, piece) if is_ready(opened.id, document, piece, wait_s=0.0) else None
    needs = [WARNS_AT.get(warning.code, "pattern") for warning in plan.warnings] if plan else []
    needs += [each.station for each in editing.not_taken(connection, opened.id) if each.piece == piece]
    runs = wall_runs.list_runs(connection, opened.id)
    done = _done(connection, opened, piece, plan, runs)
    found = {name: _said(flag, needs.count(name)) for name, flag in done.items()}
    painted = painted_said(connection, opened.id)
    return found | ({"wall": Standing(done["wall"], 0, painted)} if painted else {})


def _said(done: bool, needs: int) -> Standing:
    if needs:
        return Standing(False, needs, f"{needs} thing{'s' if needs > 1 else ''} to look at")
    return Standing(done, 0, "done" if done else "not reached")


def _done(
    connection: sqlite3.Connection,
    opened: editing.Opened,
    piece: str,
    plan: PiecePlan | None,
    runs: list[wall_runs.WallRun],
) -> dict[str, bool]:
    begun = bool(runs)
    return {
        "measure": True,
        "pattern": plan is None or any(bool(layout.painted.any()) for layout in plan.layouts),
        "marks": begun or _all_marked(connection, opened.id, plan),
        "tape": begun,
        "schedule": begun or opened.job.crew.start is not None,
        "materials": begun,
        "wall": begun and all(run.ended_at for run in runs),
        "logbook": any(each.piece == piece for each in logbook.list_findings(connection, opened.id)),
    }


def _all_marked(connection: sqlite3.Connection, job_id: int, plan: PiecePlan | None) -> bool:
    if not plan:
        return False
    ticked = mark_ticks.ticked(connection, job_id, plan.piece.key)
    by_eye = [number for number, each in enumerate(plan.piece.stack) if each.method.marks == BY_EYE]
    if not ticked and plan.cell_count > 1 and len(by_eye) < len(plan.piece.stack):
        return False  # without laying out the marks, which takes as long as the drawing
    asked = {mark_ticks.name_of(mark) for mark in plan.marks if mark.layer not in by_eye}
    return asked <= ticked and bool(ticked or not asked)
