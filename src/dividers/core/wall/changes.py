"""What a new plan changes, in one sentence."""

from collections.abc import Mapping, Sequence

from dividers.core.base.quantities import spoken
from dividers.core.order.explain import when
from dividers.core.wall.facts import RUNNING, Facts
from dividers.core.wall.replan import Missed, Replan
from dividers.core.wall.timers import short
from dividers.core.wall.waits import LiveWork

NOTICED_MIN = 5  # less isn't worth a word


def change_said(
    live: LiveWork, facts: Facts, before: Mapping[str, int], finish_before: int, after: Replan, known: Sequence[Missed]
) -> str:
    """What moves between the previous plan and the present one; `known` are windows already reported as missed."""
    known_tasks = {missed.task for missed in known}
    fresh = next((missed for missed in after.missed if missed.task not in known_tasks), None)
    tasks = {task.key: task for task in live.tasks}
    if not after.possible:
        return "The remaining steps don't fit into the working hours: add hours or days at Schedule."
    if fresh is not None:
        task = tasks[fresh.task]
        return f"{task.piece}, {short(task)} can't be done by {live.moment(fresh.by):%H:%M}. {fresh.advice}"
    if not after.starts:
        return "Everything is done."
    finish = when(live.moment(after.finish))
    moved = sorted(
        (start, key)
        for key, start in after.starts.items()
        if abs(start - before.get(key, start)) >= NOTICED_MIN and facts.of(key).state != RUNNING
    )
    shift = after.finish - finish_before
    if abs(shift) >= NOTICED_MIN:
        lead = f"Done {spoken(abs(shift))} {'later' if shift > 0 else 'sooner'}, {finish}"
    elif moved:
        lead = f"The finish stays {finish}"
    else:
        return f"Nothing else moves: done {finish}."
    if not moved:
        return f"{lead}."
    start, key = moved[0]
    task = tasks[key]
    more = f" and {len(moved) - 1} more" if len(moved) > 1 else ""
    at, stood = live.moment(start), live.moment(before[key])
    times = f"{at:%H:%M} instead of {stood:%H:%M}" if at.date() == stood.date() else f"{when(at)} instead of {when(stood)}"
    return f"{lead}; {task.piece}, {short(task)}{more} move{'s' if len(moved) == 1 else ''}: {times}."
