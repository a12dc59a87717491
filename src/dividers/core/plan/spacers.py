"""Tape that only spaces other tape: how much of it lies for a while, and how one piece that is moved on does for all of it."""

from dividers.core.base.lengths import write_exact
from dividers.core.base.quantities import run
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.rounds.cutting import cut_length


def spacers_m(plan: PiecePlan) -> float:
    """The strips that are laid for their width and lifted to be painted, on all copies, in m; 0 where the tape spaces nothing."""
    pattern, tape = plan.piece.pattern, float(plan.piece.method.tape.width_mm)
    if not pattern.values.get("spacer"):
        return 0.0
    painted = sum(
        float(layout.cells.areas()[now].sum())
        for each in plan.taping.chosen.rounds
        for layout, now in zip(plan.layouts, each.painted, strict=True)
    )
    return painted / tape / 1000 * plan.piece.copies


def spacers_said(plan: PiecePlan) -> str:
    """How much tape is lifted again, what comes from the roll in all, and how long a piece is that does for it; "" without spacers."""
    lifted, units = spacers_m(plan), plan.job.units
    lengths = [
        length
        for each in plan.taping.chosen.rounds
        for strips in each.strips
        for length in strips.lengths[~strips.perimeter].tolist()
    ]
    if not lifted or not lengths:
        return ""
    stays = sum(need.net_m for need in plan.tapes)
    piece = write_exact(cut_length(max(lengths), units), units)
    return (
        f"{run(stays, units)} of strips stay, {run(lifted, units)} between them is lifted again: {run(stays + lifted, units)} from the roll. "
        f"Or one piece of {piece} is laid against each strip, moved on and used again: then {run(stays, units)} and that piece."
    )
