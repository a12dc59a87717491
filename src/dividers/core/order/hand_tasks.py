"""What is cut in by brush along edges without tape, once the tape of its round is off."""

from collections.abc import Sequence
from dataclasses import replace

from dividers.core.base.quantities import run, spoken
from dividers.core.job.surface import CUT_IN
from dividers.core.job.usual import CUT_IN_MIN_M, coats_of
from dividers.core.order.network import NamedLag, Steps, Task
from dividers.core.order.round_choices import whole_minutes
from dividers.core.order.round_tasks import RoundSteps
from dividers.core.order.work_site import WorkSite
from dividers.core.rounds.rounds import edges_of_round


def by_hand(site: WorkSite, rounds: Sequence[RoundSteps]) -> Steps:
    """A task for each colour of a round whose edges are done by hand, after the pull of all its tape."""
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for each in rounds:
        own = site.in_layer(each.choice.layer)
        pulled = site.plan.taping.chosen.rounds[each.choice.number - 1]
        for turn, ((color, kind), edges) in enumerate(edges_of_round(site.plan.layouts, pulled).items(), 1):
            if kind != CUT_IN:  # paint goes round those with each coat, while the tape is on
                continue
            metres = sum(edge.length_mm for edge in edges) / 1000 * site.piece.copies
            coats = coats_of(own.piece.method.coats, color)
            name = replace(own.key("hand", each.choice.number, color=color), turn=turn)
            length = run(metres, site.plan.job.units)
            colour = site.color_name(color)
            words = f"{own.title(each.choice.number)}: cut in {length} of edges in {colour} by brush"
            many = f", {coats} coats" if coats > 1 else ""
            tasks.append(
                Task(name, site.piece.name, whole_minutes(metres * CUT_IN_MIN_M * coats), f"{words}{many}", split=True)
            )
            for batch in each.batches:
                waits.append(NamedLag(batch.pull, name, 0, "its tape comes off first", "order"))
                for last in batch.lasts:
                    dry = own.dries_in(last.color, "touch_dry_min")
                    waits.append(
                        NamedLag(last, name, dry, f"the paint beside it must be dry to the touch, {spoken(dry)}", "touch-dry")
                    )
    return Steps(tuple(tasks), tuple(waits))
