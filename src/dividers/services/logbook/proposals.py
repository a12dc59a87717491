"""What a job's own times and touch checks suggest to change; used in the job and in Supplies only when somebody says so."""

import json
import sqlite3
from collections.abc import Iterator
from fractions import Fraction

from dividers.core.base.errors import NotFound
from dividers.core.job.document import Document
from dividers.core.job.drying import drying_factor
from dividers.core.job.products import Tape
from dividers.core.job.usual import coats_of, usual_label_min
from dividers.core.logbook.proposals import (
    Measured,
    Proposal,
    Timed,
    Touched,
    drying_proposals,
    rate_proposals,
    width_proposals,
)
from dividers.core.order.network import Task
from dividers.core.order.round_tasks import tape_m
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.wall.facts import DONE
from dividers.services import clock
from dividers.services.jobs import editing
from dividers.services.supplies import supplies
from dividers.services.wall.progress import Progress, planned_work, progress_of
from dividers.store import logbook, wall_runs
from dividers.store.database import transaction


def proposals(connection: sqlite3.Connection, job_id: int) -> list[Proposal]:
    """What a job's runs and measurements propose, but for what was settled already."""
    opened = editing.open_job(connection, job_id)
    job = opened.job
    progress = [progress_of(connection, run) for run in wall_runs.list_runs(connection, job_id)]
    present = vars(job.pieces[0].method.rates)
    timed = [each for here in progress for each in _timed(here)]
    touched = [each for here in progress for each in _touched(here)]
    paints = {paint.key: paint for piece in job.pieces for paint in piece.method.paint.values()}
    labels = {
        key: float(paint.touch_dry_min or usual_label_min("touch_dry_min", paint.binder)) for key, paint in paints.items()
    }
    measured = [Measured(m.tape, m.strips, Fraction(m.mm)) for m in logbook.list_measured(connection, job_id)]
    widths = {key: product.width_mm for key, product in job.products.items() if isinstance(product, Tape)}
    found = rate_proposals(timed, present) + drying_proposals(touched, labels) + width_proposals(measured, widths)
    settled = logbook.list_settled(connection, job_id)
    return [proposal for proposal in found if proposal.id not in settled]


def _timed(progress: Progress) -> Iterator[Timed]:
    """The tasks that were timed from beginning to end, and what was done in them; none of a run by steps that today's plan hasn't."""
    if progress.kept:
        return
    pieces = {piece.piece.key: piece for piece in progress.plan.pieces}
    for task in progress.tasks:
        fact = progress.facts.of(task.key)
        if fact.state != DONE or fact.guessed:
            continue
        piece = pieces[task.name.piece]
        amount = _amount(progress, piece, task)
        if amount:
            yield Timed(amount[0], amount[1], fact.worked_min)


def _amount(progress: Progress, piece: PiecePlan, task: Task) -> tuple[str, float] | None:
    """Which rate a task is about and how much of it was done; None for what has no rate."""
    rates = piece.piece.method.rates
    if task.kind == "mark":
        return "mark_min", float(len(piece.marks) * piece.piece.copies)
    if task.kind == "tape" and task.number:
        choice = planned_work(progress.run.document)[1].choices[task.name.piece][task.number - 1]
        return "taped_m_per_h", tape_m(piece, choice, task.name.area)
    per_hour = {
        "coat": "painted_m2_per_h",
        "base": "painted_m2_per_h",
        "clear-coat": "painted_m2_per_h",
        "pull": "pulled_m_per_h",
    }
    rate = per_hour.get(task.kind)
    return (rate, task.minutes / 60 * float(getattr(rates, rate))) if rate else None


def _touched(progress: Progress) -> Iterator[Touched]:
    """The touches of each paint at its pull, with how much the air slowed it down; what a hair dryer dried says nothing of that."""
    pieces = {piece.piece.key: piece for piece in progress.plan.pieces}
    climate = progress.job.climate
    for touch in progress.facts.touches:
        task = progress.by_key.get(touch.task)
        if task is None or task.kind != "pull":
            continue
        method = pieces[task.name.piece].piece.method
        air = next(((t, h) for at, t, h in reversed(progress.facts.airs) if at <= touch.at), None)
        celsius, percent = air or (float(climate.temperature_c), float(climate.humidity_percent))
        for other in progress.tasks:
            same = (other.name.piece, other.number, other.batch) == (task.name.piece, task.number, task.batch)
            paint = method.paint.get(str(other.color))
            ended = progress.facts.of(other.key).ended
            last = other.coat == max(coats_of(method.coats, str(other.color)), 1)
            if same and other.kind == "coat" and last and paint and ended and ended <= touch.at:
                minutes = (touch.at - ended).total_seconds() / 60
                yield Touched(paint.key, minutes, touch.result, drying_factor(paint.binder, celsius, percent))


def settle(connection: sqlite3.Connection, job_id: int, proposal_id: str, take: bool) -> str:
    """Use a proposal in the job, and in Supplies where such an item is there, or dismiss it; what was done, in words."""
    proposal = next((each for each in proposals(connection, job_id) if each.id == proposal_id), None)
    if proposal is None:
        raise NotFound("This suggestion is gone: it was settled, or the figures behind it have changed.")
    if take:
        editing.change(
            connection, job_id, None, f"{proposal.name}: {proposal.proposed}", lambda document: _taken(document, proposal)
        )
        if proposal.about in ("paint", "tape"):
            supplies.out_of_job(connection, editing.open_job(connection, job_id).document, proposal.name)
    with transaction(connection):
        logbook.settle_proposal(connection, job_id, proposal_id, take, clock.now())
    if not take:
        return f"{proposal.name} stays at {proposal.present}."
    where = "this job and Supplies" if proposal.about in ("paint", "tape") else "this job"
    return f"{proposal.name}: {proposal.proposed} from now on, in {where}."


def _taken(document: Document, proposal: Proposal) -> Document:
    edited: Document = json.loads(json.dumps(document))
    if proposal.about == "rate":
        for piece in edited["pieces"]:
            piece.setdefault("method", {}).setdefault("rates", {})[proposal.key] = float(proposal.proposed)
    else:
        edited["products"][proposal.name][proposal.key] = proposal.proposed
    return edited
