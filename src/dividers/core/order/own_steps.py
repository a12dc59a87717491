"""Steps of one's own in the schedule: first of all, before tape, when all tape is off, or last."""

from collections.abc import Sequence
from dataclasses import replace

from dividers.core.base.quantities import spoken
from dividers.core.job.free_steps import BEFORE_TAPE, FIRST, LAST, TAPE_OFF
from dividers.core.order.network import NamedLag, Steps, Task
from dividers.core.order.round_choices import whole_minutes
from dividers.core.order.work_site import WorkSite

# What comes before each, and what after it, by kind of task; a step of one's own waits for those before it in the list.
GROUND, TAPED = ("prep", "base", "mark"), ("tape", "seal", "coat", "pull")
BEHIND = ("hand", "touch-up", "erase", "clear-coat")


def with_own(site: WorkSite, steps: Sequence[Steps]) -> list[Steps]:
    """The steps of a piece with the painter's own among them, in order."""
    whole = list(steps)
    tasks = [task for each in whole for task in each.tasks]
    found = {when: _own(site, when) for when in (FIRST, BEFORE_TAPE, TAPE_OFF, LAST)}
    waits: list[NamedLag] = []
    for when, own in found.items():
        before = {FIRST: (), BEFORE_TAPE: GROUND, TAPE_OFF: (*GROUND, *TAPED), LAST: (*GROUND, *TAPED, *BEHIND, "measure")}[
            when
        ]
        behind = {FIRST: (*GROUND, *TAPED, *BEHIND), BEFORE_TAPE: (*TAPED, *BEHIND), TAPE_OFF: BEHIND, LAST: ()}[when]
        for number, (task, wait) in enumerate(own):
            waits += [NamedLag(each.name, task.name, 0, "its turn", "order") for each in tasks if each.kind in before]
            why = f"after “{task.words}” wait {spoken(wait)}" if wait else f"after “{task.words}”"
            after = [each for each, _ in own[number + 1 :]] + [each for each in tasks if each.kind in behind]
            waits += [NamedLag(task.name, each.name, wait, why, "order") for each in after]
    own_steps = {when: Steps(tuple(task for task, _ in own)) for when, own in found.items()}
    return [
        own_steps[FIRST],
        *whole[:-1],
        own_steps[BEFORE_TAPE],
        own_steps[TAPE_OFF],
        whole[-1],
        own_steps[LAST],
        Steps((), tuple(waits)),
    ]


def _own(site: WorkSite, when: str) -> list[tuple[Task, int]]:
    """Each step of one's own with the minutes that what follows waits."""
    piece = site.piece
    first = len(site.plan.piece.layer_names) + 1
    return [
        (
            Task(
                replace(site.key("hand"), turn=first + number), piece.name, whole_minutes(step.minutes), step.name, split=True
            ),
            step.wait_min,
        )
        for number, step in enumerate(site.plan.piece.steps)
        if step.when == when
    ]
