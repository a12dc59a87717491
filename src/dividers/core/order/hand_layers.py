"""Motifs and shading in the schedule: once all tape is off and the paint below them is dry, in the order of the job."""

import itertools
from collections.abc import Sequence
from dataclasses import replace

from dividers.core.base.quantities import run, spoken
from dividers.core.base.texts import counted
from dividers.core.job.layers import MOTIFS, PAINT
from dividers.core.order.network import NamedLag, Steps, Task
from dividers.core.order.round_choices import whole_minutes
from dividers.core.order.round_tasks import RoundSteps
from dividers.core.order.task_key import TaskKey
from dividers.core.order.work_site import WorkSite
from dividers.core.plan.hand_work import HandWork


def over_layers(site: WorkSite, rounds: Sequence[RoundSteps], below: Sequence[TaskKey]) -> Steps:
    """For each hand layer the marks of its motifs, then its coats, colour by colour; `below` is other paint that they lie on."""
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    last: tuple[Task, str] | None = None
    for work in site.plan.hand:
        if not work.places and not work.lines:
            continue
        here = _marked(site, work)
        for coat in range(1, work.coats(site.piece) + 1):
            name = replace(site.key("hand", coat=coat, color=work.color), turn=work.number + 1)
            minutes = whole_minutes(work.minutes * site.piece.copies)
            here.append(Task(name, site.piece.name, minutes, _words(site, work, coat), split=True, layer=work.layer.name))
        waits += _after_paint(site, rounds, here[0].name, below)
        for before, after in itertools.pairwise(here):
            dry = site.dries_in(work.color, "recoat_min") if before.kind == "hand" else 0
            waits.append(NamedLag(before.name, after.name, dry, "the marks come first" if not dry else f"{site.color_name(work.color)} can be recoated after {spoken(dry)}", "order" if not dry else "recoat"))  # fmt: skip
        if last:
            dry = site.dries_in(last[1], "touch_dry_min")
            waits.append(NamedLag(last[0].name, here[0].name, dry, f"what was done by hand before must be dry to the touch, {spoken(dry)}", "touch-dry"))  # fmt: skip
        last = (here[-1], work.color)
        tasks += here
    return Steps(tuple(tasks), tuple(waits))


def _marked(site: WorkSite, work: HandWork) -> list[Task]:
    marks = sum(mark.layer == work.number for mark in site.plan.hand_marks) * site.piece.copies
    if not marks:
        return []
    name = replace(site.key("mark"), turn=work.number + 1)
    strips = work.registration(site.plan.job.graduation)
    on_strips = sum(len(strip.readings) for strip in strips)
    minutes = whole_minutes((marks + on_strips) * site.piece.method.rates.mark_min)
    count = f"{len(strips)} registration strip{'s' if len(strips) > 1 else ''} and make " if strips else ""
    words = f"{'Cut ' if strips else 'Make '}{count}{counted(marks, 'mark')} for {work.layer.name}"
    return [Task(name, site.piece.name, minutes, words, split=True, layer=work.layer.name)]


def _words(site: WorkSite, work: HandWork, coat: int) -> str:
    again = f", coat {coat}" if coat > 1 else ""
    colour = site.color_name(work.color)
    if work.layer.kind == MOTIFS:
        count = len(work.places) * site.piece.copies
        by = ", by the strip" if work.registration(site.plan.job.graduation) else ""
        if work.layer.marking == PAINT:
            by = ", by what is painted"
        return f"{count} {work.layer.tool}{'s' if count != 1 else ''} in {colour}{again}{by}: {work.layer.name}"
    length = run(work.length_mm / 1000 * site.piece.copies, site.plan.job.units)
    which = "in shadow" if work.color == work.layer.dark else "in the light"
    return f"{length} of lines in {colour} along the sides {which}{again}: {work.layer.name}"


def _after_paint(site: WorkSite, rounds: Sequence[RoundSteps], name: TaskKey, below: Sequence[TaskKey]) -> list[NamedLag]:
    """Once all tape is off, and what lies below can be painted over."""
    waits = []
    for steps in rounds:
        own = site.in_layer(steps.choice.layer)
        for batch in steps.batches:
            waits.append(NamedLag(batch.pull, name, 0, "all tape comes off first", "order"))
            for last in batch.lasts:
                dry = own.dries_in(last.color, "recoat_min")
                waits.append(NamedLag(last, name, dry, f"the paint below can be painted over after {spoken(dry)}", "recoat"))
    for each in below:
        dry = site.dries_in(each.color, "recoat_min")
        waits.append(NamedLag(each, name, dry, f"the paint below can be painted over after {spoken(dry)}", "recoat"))
    return waits
