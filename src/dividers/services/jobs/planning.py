"""From a stored document to its job and the plan of a piece; remembered, as the same document always gives the same plan."""

import json
from dataclasses import dataclass, field
from functools import lru_cache

from dividers.core.base.errors import BadInput, BadJob, Fault, NotFound
from dividers.core.job.model import Job, Piece
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.layered import plan_piece
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import plan_job


@lru_cache(maxsize=256)
def job_of(document: str) -> Job:
    """The job in a stored document. Raises BadJob."""
    return read_job(json.loads(document))


def piece_plan(document: str, piece_key: str) -> PiecePlan:
    """The plan of one piece of a stored document. Raises BadJob, NotFound."""
    number = _number(document, piece_key)
    try:
        return _plan_alone(alone(document, number))
    except BadInput as fault:
        raise BadJob((Fault(f"pieces.{number}.{fault.path}", fault.message),)) from fault


def _number(document: str, piece_key: str) -> int:
    job = job_of(document)
    piece = job.piece(piece_key)
    if piece is None:
        raise NotFound("This job has no such piece. It may have been deleted or renamed.")
    return job.pieces.index(piece)


def alone_of(document: str, piece_key: str) -> str:
    """The same as `alone`, of a piece by its key. Raises BadJob, NotFound."""
    return alone(document, _number(document, piece_key))


# What the cells, strips and marks of a piece don't depend on: changing it leaves their plan be.
NOT_PLANNED = ("supplies", "currency", "evidence", "crew")


def alone(document: str, number: int) -> str:
    """A job's document with one piece only: what that piece's plan depends on, so that changing others leaves it be."""
    whole = {key: value for key, value in json.loads(document).items() if key not in NOT_PLANNED}
    return json.dumps(whole | {"title": "-", "pieces": [whole["pieces"][number]]})


@lru_cache(maxsize=128)
def _plan_alone(document: str) -> PiecePlan:
    job = job_of(document)
    piece = job.pieces[0]
    laid = _laid(_LaidOut(ground_of(document, 0), job, piece))
    return laid if laid.job is job else laid.anew(job, piece)


# What of a piece the lines and colours on it don't depend on.
NOT_DRAWN = ("id", "name")


def ground_of(document: str, number: int) -> str:
    """What the cells of a piece depend on, as text: the same for documents that draw the piece alike.

    All of the job but what is known to leave them be, so that nothing need be remembered here when a key is added.
    """
    whole = json.loads(document)
    job = {key: value for key, value in whole.items() if key not in (*NOT_PLANNED, "title", "pieces")}
    tape = str(job_of(document).pieces[number].method.tape.width_mm)
    drawn = {key: value for key, value in whole["pieces"][number].items() if key not in NOT_DRAWN}
    return json.dumps([job, tape, drawn])


@dataclass(frozen=True)
class _LaidOut:
    key: str
    job: Job = field(compare=False)
    piece: Piece = field(compare=False)


@lru_cache(maxsize=128)
def _laid(of: _LaidOut) -> PiecePlan:
    return plan_piece(of.job, of.piece)


def check_plans(job: Job) -> None:
    """Make sure that every piece of a job can be planned. Raises BadJob."""
    plan_job(job)
