"""Counts at the Pattern station: the next ones that come out, as steps beside the field, and how near ones compare."""

import json
from typing import Any

from dividers.core.advice.fit.counts import CountChoice, Division, divisions_of, rating, reason, steps_on_marks
from dividers.core.base.lengths import Graduation, write_exact, write_kept
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.editing import Opened


def counts_board(plan: PiecePlan, opened: Opened) -> dict[str, Any]:
    """For each count that divides a run: the steps beside its field, the counts near it with what they give, and a sentence for the one there is."""
    job = opened.job
    divisions = divisions_of(job, plan.piece, plan.sheets[0])
    said = ". ".join(filter(None, (_said(each, opened) for each in divisions)))
    return {
        "steppers": {f"pattern.{each.parameter.key}": _steps(each, job.graduation, job.units) for each in divisions},
        "divisions": [_compared(each, opened) for each in divisions],
    } | ({"told": said} if said else {})


def _said(division: Division, opened: Opened) -> str:
    """The count there is, in a sentence: what each measures and how it lies on the tape measure."""
    present = next((each for each in division.candidates if division.is_present(each)), None)
    if present is None:
        return ""
    size, rated = write_exact(present.size_mm, opened.job.units), rating(present, division, opened.job.graduation)
    title = division.parameter.title
    return (
        f"{title}: {size}, {rated}"
        if division.size_mm is not None
        else f"{present.count} {title.lower()}: {size} each, {rated}"
    )


def _compared(division: Division, opened: Opened) -> dict[str, Any]:
    """The counts near the one there is, the best first."""
    job = opened.job
    return {
        "title": division.parameter.title,
        "key": division.parameter.key,
        "run": write_exact(division.run_mm, job.units),
        "rows": [
            (
                each,
                write_exact(each.size_mm, job.units),
                reason(each, job.graduation),
                division.is_present(each),
                rating(each, division, job.graduation),
                _use(division, each, job.units),
            )
            for each in division.candidates
        ],
    }


def _steps(division: Division, graduation: Graduation, units: str) -> dict[str, Any]:
    """The next count that comes out on either side, None where there is none: for a size, fewer means a larger one."""

    def step(each: CountChoice | None) -> dict[str, Any] | None:
        if each is None:
            return None
        size = each.reading.text
        lies = f"{size}, on the marks" if each.on_marks else f"about {size}, beside the marks"
        return {"count": each.count, "lies": lies, "use": _use(division, each, units)}

    fewer, more = map(step, steps_on_marks(division, graduation))
    return {"fewer": fewer, "more": more} if division.size_mm is None else {"fewer": more, "more": fewer}


def _use(division: Division, candidate: CountChoice, units: str) -> str:
    """The action that takes a candidate: its count, or the size that divides the run so."""
    if division.size_mm is None:
        return f"fit:{division.parameter.key}:{candidate.count}"
    return f"use:{json.dumps({f'pattern.{division.parameter.key}': write_kept(candidate.size_mm, units)})}"
