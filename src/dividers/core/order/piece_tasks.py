"""The tasks of one piece: preparing, base, marks, rounds, and what is done once all tape is off."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from functools import partial

from dividers.core.base.quantities import spoken
from dividers.core.base.texts import counted
from dividers.core.job.drying import water_min
from dividers.core.job.layers import CELLS
from dividers.core.job.method import BY_EYE
from dividers.core.job.model import Piece
from dividers.core.job.usual import ERASE_MIN, MEASURE_MIN, PREP_MIN_M2, PREP_WAIT_MIN, TOUCH_UP_MIN
from dividers.core.order.between_rounds import between
from dividers.core.order.hand_layers import over_layers
from dividers.core.order.hand_tasks import by_hand
from dividers.core.order.network import NamedLag, Steps, Task, together
from dividers.core.order.own_steps import with_own
from dividers.core.order.round_choices import coat_min, whole_minutes
from dividers.core.order.round_tasks import RoundSteps, steps_of_round
from dividers.core.order.task_key import TaskKey
from dividers.core.order.work_site import WorkSite

PREP_WORDS = {"clean": "Clean", "fill": "Fill", "sand": "Sand and wipe", "prime": "Prime"}


@dataclass(frozen=True)
class FirstGround:
    """What is to be dry before anything is laid on the surface: the last task of the base, or else of preparing."""

    last: TaskKey | None = None
    wait_min: int = 0  # after preparing
    painted: bool = False


def steps_of_piece(site: WorkSite) -> Steps:
    """All tasks of a piece with their waits."""
    prep, prepared = _prep(site)
    base, ground = _base(site, prepared)
    marks = [_mark(site.in_layer(layer), ground) for layer in range(len(site.plan.layers))]
    marked = [steps.tasks[-1].name if steps.tasks else None for steps in marks]
    rounds = []
    for choice in site.choices:
        own = site.in_layer(choice.layer)
        rounds.append(steps_of_round(own, choice, partial(_before_tape, own, ground, marked[choice.layer])))
    hand = by_hand(site, rounds)
    below = [*hand.names, *([ground.last] if ground.painted and ground.last else [])]
    over = over_layers(site, rounds, below)
    after = _after(site, rounds, hand, over)
    all_steps = [prep, base, *_in_order(marks, rounds), between(site, rounds, marks), hand, over, after]
    found = together(with_own(site, all_steps) if site.plan.piece.steps else all_steps)
    layers = {each.choice.number: each.choice.layer for each in rounds}
    names = site.plan.piece.layer_names
    tasks = tuple(
        replace(task, layer=names[layers[task.number] if task.number else task.name.turn - 1])
        if task.number or task.kind in ("mark", "measure")
        else task
        for task in found.tasks
    )
    return Steps(tasks, found.waits)


def _in_order(marks: Sequence[Steps], rounds: Sequence[RoundSteps]) -> Iterator[Steps]:
    """Each layer's marks, then its rounds."""
    for layer, steps in enumerate(marks):
        yield steps
        yield from (each.steps for each in rounds if each.choice.layer == layer)


def _prep(site: WorkSite) -> tuple[Steps, FirstGround]:
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for turn, kind in enumerate(site.piece.method.prep, 1):
        words = f"{PREP_WORDS[kind]} the {site.piece.surface.kind}"
        name = replace(site.key("prep"), turn=turn)
        if tasks:
            wait = water_min(PREP_WAIT_MIN[site.piece.method.prep[turn - 2]], site.air)
            waits.append(NamedLag(tasks[-1].name, name, wait, f"the step before must dry, {spoken(wait)}", "prep"))
        tasks.append(Task(name, site.piece.name, whole_minutes(PREP_MIN_M2[kind] * site.area_m2), words, split=True))
    ground = (
        FirstGround(tasks[-1].name, water_min(PREP_WAIT_MIN[site.piece.method.prep[-1]], site.air)) if tasks else FirstGround()
    )
    return Steps(tuple(tasks), tuple(waits)), ground


def _base(site: WorkSite, prepared: FirstGround) -> tuple[Steps, FirstGround]:
    """The base coats; what is to be dry after them."""
    piece, color = site.piece, site.color_name(site.piece.base)
    recoat = site.dries_in(piece.base, "recoat_min")
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for coat in range(1, piece.base_coats + 1):
        name = site.key("base", coat=coat, color=piece.base)
        words = f"Base coat {coat}, {color}, over everything"
        if tasks:
            why = f"{color} can be recoated after {spoken(recoat)}"
            waits.append(NamedLag(tasks[-1].name, name, recoat, why, "recoat"))
        elif prepared.last:
            why = f"the surface must dry, {spoken(prepared.wait_min)}"
            waits.append(NamedLag(prepared.last, name, prepared.wait_min, why, "prep"))
        tasks.append(Task(name, piece.name, whole_minutes(coat_min(piece, site.area_m2)), words))
    return Steps(tuple(tasks), tuple(waits)), FirstGround(tasks[-1].name, painted=True) if tasks else prepared


def _mark(site: WorkSite, ground: FirstGround) -> Steps:
    layer = site.layer or 0
    marks = sum(mark.layer == layer for mark in site.plan.marks) * site.piece.copies
    if not marks or site.plan.piece.stack[layer].method.marks == BY_EYE:
        return Steps()
    name = replace(site.key("mark"), turn=layer + 1)
    minutes = whole_minutes(marks * site.piece.method.rates.mark_min)
    how = ", centre first," if site.piece.method.mark_order == "centre-first" else ""
    words = f"Make {counted(marks, 'mark')}{how} and check the diagonals"
    waits = []
    if layer:
        words = f"Make {counted(marks, 'mark')} for {site.plan.piece.stack[layer].name}"
    if ground.last:
        dry = site.dries_in(site.piece.base, "touch_dry_min")
        waits.append(NamedLag(ground.last, name, dry, f"the base must be dry to the touch, {spoken(dry)}", "touch-dry"))
    task = Task(name, site.piece.name, minutes, words, split=True)
    if not layer or not (below := measured_first(site.plan.piece, layer)):
        return Steps((task,), tuple(waits))
    lines = sum(int(layout.painted.sum()) for layout in site.plan.layers[below - 1].layouts) * site.piece.copies
    words = (
        f"Measure {site.plan.piece.stack[below - 1].name} as it came out, before {site.plan.piece.stack[layer].name} is marked"
    )
    measure = Task(
        replace(site.key("measure"), turn=layer + 1), site.piece.name, whole_minutes(lines * MEASURE_MIN), words, split=True
    )
    waits.append(NamedLag(measure.name, name, 0, "it is laid from what came out", "order"))
    return Steps((measure, task), tuple(waits))


def measured_first(piece: Piece, layer: int) -> int:
    """The number (1, 2, ...) of the layer below whose bands a layer is laid in one by one and that nobody measured yet; or 0."""
    zone = piece.stack[layer].zone
    if zone.kind != CELLS or not zone.each:
        return 0
    number, below = next((n, each) for n, each in enumerate(piece.stack, 1) if each.name == zone.layer)
    return number if below.pattern.kind == "stripes" and not below.as_painted else 0


def _before_tape(site: WorkSite, ground: FirstGround, marked: TaskKey | None, tape: TaskKey) -> tuple[NamedLag, ...]:
    """What a task of taping waits for, whatever the other rounds do."""
    waits = [NamedLag(marked, tape, 0, "the marks come first", "order")] if marked else []
    if ground.last and ground.painted:
        base = site.piece.base
        why = site.tape_wait_said(site.color_name(base), base)
        waits.append(NamedLag(ground.last, tape, site.tape_min(base), why, "tape-safe"))
    elif ground.last:
        waits.append(NamedLag(ground.last, tape, 0, "the preparation comes first", "prep"))
    return tuple(waits)


def _after(site: WorkSite, rounds: Sequence[RoundSteps], hand: Steps, over: Steps) -> Steps:
    """Touching up, erasing, clear coats, once everything is pulled."""
    batches = [batch for each in rounds for batch in each.batches]
    if not batches:
        return Steps()
    piece = site.piece
    touch = Task(
        site.key("touch-up"),
        piece.name,
        whole_minutes(TOUCH_UP_MIN),
        "Touch up with a small, nearly dry brush; look from 1 m away",
    )
    tasks = [touch]
    waits = [NamedLag(each, touch.name, 0, "once the edges are done", "order") for each in hand.names]
    for each in over.tasks:
        if each.kind == "hand":
            dry = site.dries_in(each.name.color, "touch_dry_min")
            waits.append(NamedLag(each.name, touch.name, dry, f"what was done by hand must be dry to the touch, {spoken(dry)}", "touch-dry"))  # fmt: skip
    for batch in batches:
        waits.append(NamedLag(batch.pull, touch.name, 0, "once all tape is off", "order"))
        for last in batch.lasts:
            dry = site.dries_in(last.color, "touch_dry_min")
            why = f"the paint beside it must be dry to the touch, {spoken(dry)}"
            waits.append(NamedLag(last, touch.name, dry, why, "touch-dry"))
    by_eye = [number for number, each in enumerate(piece.stack) if each.method.marks == BY_EYE]
    own = [mark.side for mark in site.plan.marks if mark.layer not in by_eye]
    pencil, chalk = any("erase" in side for side in own), any("chalk" in side for side in own)
    if pencil or chalk:
        dry = max(site.dries_in(color, "recoat_min") for each in rounds for color in each.choice.colors)
        said = "Erase the pencil marks that show" if pencil else "Wipe off the chalk"
        said += " and wipe off the chalk" if pencil and chalk else ""
        erase = Task(site.key("erase"), piece.name, whole_minutes(ERASE_MIN), said)
        waits.append(NamedLag(touch.name, erase.name, dry, f"touched-up paint must be dry, {spoken(dry)}", "recoat"))
        tasks.append(erase)
    for coat in range(1, piece.method.clear_coats + 1):
        wait = site.dries_in(None, "recoat_min")
        name = site.key("clear-coat", coat=coat)
        minutes = whole_minutes(coat_min(piece, site.area_m2))
        waits.append(NamedLag(tasks[-1].name, name, wait, f"the paint below must be dry, {spoken(wait)}", "recoat"))
        tasks.append(Task(name, piece.name, minutes, f"Clear coat {coat} over everything"))
    return Steps(tuple(tasks), tuple(waits))
