"""The tasks of one piece: preparing, base, marks, rounds, and what is done once all tape is off."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import partial

from dividers.core.base.quantities import spoken
from dividers.core.job.drying import water_min
from dividers.core.job.usual import ERASE_MIN, PREP_MIN_M2, PREP_WAIT_MIN, TOUCH_UP_MIN
from dividers.core.order.network import NamedLag, Steps, Task, together
from dividers.core.order.round_choices import coat_min, whole_minutes
from dividers.core.order.round_tasks import RoundSteps, between, steps_of_round
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
    mark = _mark(site, ground)
    marked = mark.tasks[0].name if mark.tasks else None
    rounds = [steps_of_round(site, choice, partial(_before_tape, site, ground, marked)) for choice in site.choices]
    return together([prep, base, mark, *(each.steps for each in rounds), between(site, rounds), _after(site, rounds)])


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
    marks = len(site.plan.marks) * site.piece.copies
    if not marks:
        return Steps()
    name = site.key("mark")
    minutes = whole_minutes(marks * site.piece.method.rates.mark_min)
    words = f"Make {marks} marks, centre first, and check the diagonals"
    waits = []
    if ground.last:
        dry = site.dries_in(site.piece.base, "touch_dry_min")
        waits.append(NamedLag(ground.last, name, dry, f"the base must be dry to the touch, {spoken(dry)}", "touch-dry"))
    return Steps((Task(name, site.piece.name, minutes, words, split=True),), tuple(waits))


def _before_tape(site: WorkSite, ground: FirstGround, marked: TaskKey | None, tape: TaskKey) -> tuple[NamedLag, ...]:
    """What a task of taping waits for, whatever the other rounds do."""
    waits = [NamedLag(marked, tape, 0, "the marks come first", "order")] if marked else []
    if ground.last and ground.painted:
        safe = site.dries_in(site.piece.base, "tape_safe_min")
        why = f"{site.color_name(site.piece.base)} must be tape-safe, {spoken(safe)}, before tape goes on it"
        waits.append(NamedLag(ground.last, tape, safe, why, "tape-safe"))
    elif ground.last:
        waits.append(NamedLag(ground.last, tape, 0, "the preparation comes first", "prep"))
    return tuple(waits)


def _after(site: WorkSite, rounds: Sequence[RoundSteps]) -> Steps:
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
    tasks, waits = [touch], []
    for batch in batches:
        waits.append(NamedLag(batch.pull, touch.name, 0, "once all tape is off", "order"))
        for last in batch.lasts:
            dry = site.dries_in(last.color, "touch_dry_min")
            why = f"the paint beside it must be dry to the touch, {spoken(dry)}"
            waits.append(NamedLag(last, touch.name, dry, why, "touch-dry"))
    if any("erase" in mark.side for mark in site.plan.marks):
        dry = max(site.dries_in(color, "recoat_min") for each in rounds for color in each.choice.colors)
        erase = Task(site.key("erase"), piece.name, whole_minutes(ERASE_MIN), "Erase the pencil marks that show")
        waits.append(NamedLag(touch.name, erase.name, dry, f"touched-up paint must be dry, {spoken(dry)}", "recoat"))
        tasks.append(erase)
    for coat in range(1, piece.method.clear_coats + 1):
        wait = site.dries_in(None, "recoat_min")
        name = site.key("clear-coat", coat=coat)
        minutes = whole_minutes(coat_min(piece, site.area_m2))
        waits.append(NamedLag(tasks[-1].name, name, wait, f"the paint below must be dry, {spoken(wait)}", "recoat"))
        tasks.append(Task(name, piece.name, minutes, f"Clear coat {coat} over everything"))
    return Steps(tuple(tasks), tuple(waits))
