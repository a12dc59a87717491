"""Which strips of tape belong to an area of a round, and which face what a batch paints."""

import numpy as np

from dividers.core.order.bands import facing
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.round_tasks import strips_by_area
from dividers.core.plan.piece_plan import PiecePlan


def strips_of_area(plan: PiecePlan, choice: RoundChoice, area: int | None) -> set[tuple[int, int]] | None:
    """The strips that are laid for an area, as (sheet, strip); None where the round is taped in one go."""
    return set(strips_by_area(plan, choice)[area - 1]) if area else None


def strips_of_batch(plan: PiecePlan, choice: RoundChoice, batch: int | None) -> set[tuple[int, int]] | None:
    """The strips that face what a batch paints, as (sheet, strip); None where the round isn't split."""
    if batch is None:
        return None
    cells: dict[int, list[int]] = {}
    for band in choice.batches[batch - 1]:
        for sheet, cell in choice.bands[band].cells:
            cells.setdefault(sheet, []).append(cell)
    found = set()
    for sheet, own in cells.items():
        strips = plan.taping.chosen.rounds[choice.number - 1].strips[sheet]
        strip, _ = facing(strips, plan.layouts[sheet].shape_index, np.array(sorted(set(own)), np.int64))
        found |= {(sheet, int(one)) for one in strip}
    return found
