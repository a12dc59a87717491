"""From a stored document to its job and the plan of a piece; remembered, as the same document always gives the same plan."""

import json
from functools import lru_cache

from dividers.core.errors import BadInput, BadJob, Fault, NotFound
from dividers.core.job import Job
from dividers.core.job_reader import read_job
from dividers.core.plan import PiecePlan, plan_job, plan_piece


@lru_cache(maxsize=64)
def job_of(document: str) -> Job:
    """The job in a stored document. Raises BadJob."""
    return read_job(json.loads(document))


@lru_cache(maxsize=64)
def piece_plan(document: str, piece_key: str) -> PiecePlan:
    """The plan of one piece of a stored document. Raises BadJob, NotFound."""
    job = job_of(document)
    piece = job.piece(piece_key)
    if piece is None:
        raise NotFound("This job has no such piece. It may have been deleted or renamed.")
    try:
        return plan_piece(job, piece)
    except BadInput as fault:
        path = f"pieces.{job.pieces.index(piece)}.pattern.{fault.path}"
        raise BadJob((Fault(path, fault.message),)) from fault


def check_plans(job: Job) -> None:
    """Make sure that every piece of a job can be planned. Raises BadJob."""
    plan_job(job)
