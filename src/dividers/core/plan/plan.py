"""The one door into the core: a job goes in, its plan comes out."""

from dataclasses import dataclass
from functools import cached_property

from dividers.core.base.errors import BadInput, BadJob, Fault
from dividers.core.job.model import Job
from dividers.core.plan.layered import plan_piece
from dividers.core.plan.piece_plan import Caution, PiecePlan


@dataclass(frozen=True)
class Plan:
    job: Job
    pieces: tuple[PiecePlan, ...]

    @cached_property
    def warnings(self) -> tuple[Caution, ...]:
        """What was odd in the job file, then what each piece warns of."""
        odd = tuple(Caution("job-file", "", str(warning)) for warning in self.job.warnings)
        return odd + tuple(warning for piece in self.pieces for warning in piece.warnings)


def plan_job(job: Job) -> Plan:
    """Plan every piece. Raises BadJob where a pattern can't be laid on its panels."""
    faults: list[Fault] = []
    pieces: list[PiecePlan] = []
    for number, piece in enumerate(job.pieces):
        try:
            pieces.append(plan_piece(job, piece))
        except BadInput as fault:
            faults.append(Fault(f"pieces.{number}.{fault.path}".rstrip("."), fault.message))
    if faults:
        raise BadJob(tuple(faults))
    return Plan(job, tuple(pieces))
