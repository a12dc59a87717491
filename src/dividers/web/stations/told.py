"""What a station's drawing shows, in a sentence below it: it is read aloud after each change."""

from dividers.core.base.lengths import write_exact
from dividers.core.base.quantities import run
from dividers.core.base.texts import counted
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.editing import Opened

MOST_POINTED_AT = 3000  # a drawing of more parts is simplified


def told(plan: PiecePlan, opened: Opened, station: str, shown: int) -> str:
    """The sentence for a station, with what a drawing of so many parts leaves out. `shown` is the number of the round looked at."""
    simplified = " The drawing is simplified: you can't point at single parts." if plan.cell_count > MOST_POINTED_AT else ""
    return _shown(plan, opened, station, shown) + simplified


def _shown(plan: PiecePlan, opened: Opened, station: str, shown: int) -> str:
    """What stands there; for Pattern what is said where its counts say nothing."""
    if station == "measure":
        return _sizes(plan, opened)
    if station == "marks":
        return f"{counted(len(plan.marks), 'mark')} to make" if plan.marks else "Nothing to mark"
    rounds = plan.taping.chosen.rounds
    if station == "tape" and rounds:
        laid = rounds[shown - 1]
        strips = sum(len(each.lengths) for each in laid.strips)
        metres = sum(float(each.lengths.sum()) for each in laid.strips) / 1000
        return f"Round {shown} of {len(rounds)}: {counted(strips, 'strip')}, {run(metres, opened.job.units)}" + (
            "" if plan.piece.layered else f". {plan.taping.reason}"
        )
    return f"{counted(plan.cell_count, 'part')}, {counted(len(rounds), 'round')} of tape"


def _sizes(plan: PiecePlan, opened: Opened) -> str:
    """How large each panel is, as far as a line has room for it."""
    units, panels = opened.job.units, plan.piece.surface.panels
    said = [f"{write_exact(panel.width_mm, units)} × {write_exact(panel.height_mm, units)}" for panel in panels[:4]]
    return ", ".join(said) + (" …" if len(panels) > len(said) else "")
