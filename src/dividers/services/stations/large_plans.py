"""What takes long of large pieces (tape, marks, the drawing): worked out beside the server, so that every page stays quick meanwhile."""

import json
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import NotYet
from dividers.core.order.solver_model import Stopping
from dividers.core.output.drawing import MOST_PARTS
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.background import Background
from dividers.services.jobs.planning import alone_of, piece_plan
from dividers.services.stations import pictures

WAIT_S, LATER_WAIT_S = 0.05, 0.9  # so long waits an answer that has something else to show; one that has nothing


@dataclass(frozen=True)
class _WorkedOut:
    """What the other process found, to be put to the plan here: the values of its cached properties, and its pictures."""

    values: dict[str, Any]
    look: pictures.Look | None


def _work_out(key: str, stopping: Stopping) -> _WorkedOut | None:
    document, with_marks = json.loads(key)
    [piece] = json.loads(document)["pieces"]
    plan = piece_plan(document, piece["id"])
    names = ["marks"] if with_marks else ["taping", "warnings", "facts"]
    for name in names:
        if stopping.asked:
            return None
        getattr(plan, name)
    look = None if with_marks or stopping.asked else pictures.look_of(document, piece["id"])
    return _WorkedOut({name: vars(plan)[name] for name in names}, look)


LARGE_PLANS: Background[_WorkedOut | None] = Background(_work_out)


def is_ready(subject: str | int, document: str, piece_key: str, marks: bool = False, wait_s: float = WAIT_S) -> bool:
    """Whether a piece's plan can be shown at once: it is small, or what takes long is there. Otherwise that is being worked out.

    Of a subject (a job's number) and a piece, only the newest is worked on. Raises BadJob, NotFound.
    """
    plan = piece_plan(document, piece_key)
    if plan.cell_count <= MOST_PARTS:
        return True
    taped = _has(plan, "taping") or _is_made(subject, document, piece_key, False, wait_s)
    return taped and (not marks or _has(plan, "marks") or _is_made(subject, document, piece_key, True, wait_s))


def _has(plan: PiecePlan, name: str) -> bool:
    return name in vars(plan)


def _is_made(subject: str | int, document: str, piece_key: str, marks: bool, wait_s: float) -> bool:
    alone = alone_of(document, piece_key)
    made = LARGE_PLANS.ask(f"{subject}/{piece_key}/{marks}", json.dumps([alone, marks]), wait_s)
    if made is None:
        return False
    vars(piece_plan(document, piece_key)).update(made.values)
    if made.look:
        pictures.remember(alone, made.look)
    return True


def require_ready(subject: str | int, document: str, piece_key: str, marks: bool = False) -> None:
    """Wait a moment for a large piece. Raises NotYet where that is not enough: the page or file is asked for again."""
    if not is_ready(subject, document, piece_key, marks, LATER_WAIT_S):
        raise NotYet("a large piece")


def require_all_ready(subject: str | int, document: str, marks: bool = False) -> None:
    """The same for every piece of a job."""
    for piece in json.loads(document)["pieces"]:
        require_ready(subject, document, piece["id"], marks)


def close() -> None:
    """Stop all work in the background."""
    LARGE_PLANS.close()
