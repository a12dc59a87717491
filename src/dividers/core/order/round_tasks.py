"""The tasks of one round: tape, seal, coats batch by batch, pulls; and what rounds have to do with each other."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.base.quantities import run, spoken
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.job.usual import coats_of
from dividers.core.order.bands import Band
from dividers.core.order.network import END, START, NamedLag, Steps, Task, together
from dividers.core.order.round_choices import RoundChoice, coat_min, pull_min, whole_minutes
from dividers.core.order.task_key import TaskKey
from dividers.core.order.work_site import Place, WorkSite
from dividers.core.tape.strips import Strips


@dataclass(frozen=True)
class BatchSteps:
    """The coats and the pull of a batch: the first and the last coat of each colour, the pull, the cells painted."""

    bands: tuple[Band, ...]
    steps: Steps
    firsts: tuple[TaskKey, ...]
    lasts: tuple[TaskKey, ...]
    pull: TaskKey
    places: frozenset[Place]

    @property
    def coats(self) -> tuple[TaskKey, ...]:
        return tuple(task.name for task in self.steps.tasks if task.kind == "coat")


@dataclass(frozen=True)
class RoundSteps:
    choice: RoundChoice
    steps: Steps
    tape: TaskKey
    batches: tuple[BatchSteps, ...]


@dataclass(frozen=True)
class _Sealed:
    """The last task before paint, and the wait after it."""

    last: TaskKey
    wait_min: int = 0


def steps_of_round(site: WorkSite, choice: RoundChoice, before: Sequence[NamedLag]) -> RoundSteps:
    """All tasks of a round; `before` is what its tape waits for outside it."""
    tape, length = _tape(site, choice.number)
    sealed, seal = _Sealed(tape.name), Steps()
    if choice.seal.coats and choice.seal.skin_min is None:
        seal, sealed = _seal(site, choice, tape.name, length, None)
    batches = tuple(_batch(site, choice, index, sealed, tape.name, length) for index in range(len(choice.batches)))
    order = Steps((), tuple(_working_order(site, batches)))
    steps = together([Steps((tape,), tuple(before)), seal, *(batch.steps for batch in batches), order])
    return RoundSteps(choice, steps, tape.name, batches)


def _tape(site: WorkSite, number: int) -> tuple[Task, float]:
    """Laying all strips of a round, and their length in metres."""
    piece, rates = site.piece, site.piece.method.rates
    each = site.plan.taping.chosen.rounds[number - 1]
    length = sum(float(strips.lengths.sum()) for strips in each.strips) / 1000 * piece.copies
    strips = sum(len(s) for s in each.strips) * piece.copies
    minutes = length / rates.taped_m_per_h * 60 + 2 * strips * rates.cut_min + rates.round_min
    words = f"Round {number}: lay and press {strips} strips, {run(length, site.plan.job.units)}"
    name = site.key("tape", number)
    return Task(name, piece.name, whole_minutes(minutes), words, split=True, not_before=site.base.tape_from), length


def _seal(site: WorkSite, choice: RoundChoice, after: TaskKey, length: float, batch: int | None) -> tuple[Steps, _Sealed]:
    """The seal's coats after a task; the last one and the wait before paint."""
    sealed = _Sealed(after)
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for coat in range(1, choice.seal.coats + 1):
        again = f", coat {coat}" if choice.seal.coats > 1 else ""
        of = f", batch {batch}" if batch else ""
        words = f"Round {choice.number}{of}: {choice.seal.words}{again}"
        name = site.key("seal", choice.number, coat, batch)
        why = f"the seal must dry, {spoken(sealed.wait_min)}" if sealed.wait_min else "tape first, then seal"
        tasks.append(Task(name, site.piece.name, whole_minutes(length / choice.seal.m_per_h * 60), words))
        waits.append(NamedLag(sealed.last, name, sealed.wait_min, why, "seal"))
        sealed = _Sealed(name, choice.seal.dry_min)
    return Steps(tuple(tasks), tuple(waits)), sealed


def _batch(site: WorkSite, choice: RoundChoice, index: int, sealed: _Sealed, tape: TaskKey, length: float) -> BatchSteps:
    """The coats of a batch of bands, colour by colour, and its pull."""
    bands = [choice.bands[band] for band in choice.batches[index]]
    batch = index + 1 if len(choice.batches) > 1 else None
    title = f"Round {choice.number}" + (f", batch {batch} of {len(choice.batches)}" if batch else "")
    copies = {band.copy for band in bands}
    if batch and site.piece.copies > 1 and len(copies) == 1:
        title += f" (no. {min(copies)} of {site.piece.copies})"
    tape_m = sum(band.tape_m for band in bands)
    seal = Steps()
    if choice.seal.coats and choice.seal.skin_min is not None:
        share = tape_m / max(sum(band.tape_m for band in choice.bands), 1e-9)
        seal, sealed = _seal(site, choice, tape, length * share, batch)
    places = list(dict.fromkeys(place for band in bands for place in band.cells))
    palette = site.plan.job.palette
    colors = sorted({c for band in bands for c in band.area_m2}, key=lambda c: -luminance(palette[c].hex))
    areas = {color: sum(band.area_m2.get(color, 0.0) for band in bands) for color in colors}
    coats = {color: _coats(site, choice.number, batch, color, areas[color], places, title, sealed) for color in colors}
    lasts = tuple(steps.tasks[-1].name for steps in coats.values())
    pull = Task(
        site.key("pull", choice.number, batch=batch),
        site.piece.name,
        whole_minutes(pull_min(site.piece, tape_m)),
        f"{title}: pull the tape, last strip first",
        site.cell_keys(places),
    )
    skin_from = sealed.last if seal.tasks else None
    pulled = Steps((pull,), tuple(_pull_waits(site, choice, lasts, pull.name, skin_from, tape)))
    firsts = tuple(steps.tasks[0].name for steps in coats.values())
    return BatchSteps(tuple(bands), together([seal, *coats.values(), pulled]), firsts, lasts, pull.name, frozenset(places))


def _working_order(site: WorkSite, batches: Sequence[BatchSteps]) -> list[NamedLag]:
    """What batches of a round wait for of each other: no strip comes off from under another; on a floor nobody walks on fresh paint."""
    found = []
    for later, two in enumerate(batches):
        for one in batches[:later]:
            if any(a.lies_over(b) for a in one.bands for b in two.bands):
                found.append(NamedLag(one.pull, two.pull, 0, "its tape lies under tape that comes off before", "order"))
        if later and site.piece.surface.kind in ("floor", "stairs"):
            why = "the work goes from the back to the exit"
            before = batches[later - 1]
            coats = {(key.color, key.coat): key for key in before.coats}
            found += [NamedLag(coats[at], key, 0, why, "order") for key in two.coats if (at := (key.color, key.coat)) in coats]
            found += [NamedLag(before.pull, last, 0, why, "order") for last in two.lasts]
    return found


def _coats(
    site: WorkSite,
    number: int,
    batch: int | None,
    color: str,
    area_m2: float,
    places: Sequence[Place],
    title: str,
    sealed: _Sealed,
) -> Steps:
    """The coats of one colour in a batch."""
    name, piece = site.color_name(color), site.piece
    recoat = site.dries_in(color, "recoat_min")
    cells = site.cell_keys(place for place in places if site.has_color(place, color)) or site.cell_keys(places)
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for coat in range(1, max(coats_of(piece.method.coats, color), 1) + 1):
        key = site.key("coat", number, coat, batch, color)
        if tasks:
            waits.append(NamedLag(tasks[-1].name, key, recoat, f"{name} can be recoated after {spoken(recoat)}", "recoat"))
        else:
            why = f"the seal must dry, {spoken(sealed.wait_min)}" if sealed.wait_min else "tape and seal first"
            waits.append(NamedLag(sealed.last, key, sealed.wait_min, why, "seal"))
        words = f"{title}: coat {coat} of {name}"
        tasks.append(Task(key, piece.name, whole_minutes(coat_min(piece, area_m2)), words, cells))
    return Steps(tuple(tasks), tuple(waits))


def _pull_waits(
    site: WorkSite, choice: RoundChoice, lasts: Sequence[TaskKey], pull: TaskKey, skin_from: TaskKey | None, tape: TaskKey
) -> list[NamedLag]:
    """From when and until when a batch's tape is pulled."""
    window, skin, days = choice.window, choice.seal.skin_min, site.piece.method.tape.remove_within_min
    waits = []
    for last in lasts:
        waits.append(NamedLag(last, pull, window.least_min, window.why, "pull"))
        if window.most_min is not None:
            waits.append(NamedLag(last, pull, 0, window.why, "pull", window.most_min, START, END))
    if skin_from is not None and skin is not None:
        why = f"caulk skins over in {spoken(skin)}: the tape must be off before"
        waits.append(NamedLag(skin_from, pull, 0, why, "caulk", skin, START, END))
    if days is not None:
        waits.append(
            NamedLag(tape, pull, 0, f"the tape comes off clean within {spoken(days)}", "tape's days", int(days), START, END)
        )
    return waits


def between(site: WorkSite, rounds: Sequence[RoundSteps]) -> Steps:
    """What rounds have to do with each other: a later one waits only for what its tape lies on, covers or crosses."""
    return Steps(
        (), tuple(wait for later, two in enumerate(rounds) for one in rounds[:later] for wait in _pair(site, one, two))
    )


def _pair(site: WorkSite, one: RoundSteps, two: RoundSteps) -> list[NamedLag]:
    first, then = (site.plan.taping.chosen.rounds[each.choice.number - 1] for each in (one, two))
    crossing = False
    under: set[Place] = set()
    masked: set[Place] = set()
    for sheet in range(len(site.plan.layouts)):
        under |= {(sheet, c) for c in _covered(then.strips[sheet]) if first.painted[sheet][c]}
        masked |= {(sheet, c) for c in _covered(first.strips[sheet]) if then.painted[sheet][c]}
        crossing |= bool(len(overlapping(ShapeIndex(first.strips[sheet].shapes), ShapeIndex(then.strips[sheet].shapes))[0]))
    waits = []
    for batch in one.batches:
        touched = batch.places & under
        if touched or crossing:
            why = f"round {one.choice.number} must be pulled before round {two.choice.number} is taped over it"
            waits.append(NamedLag(batch.pull, two.tape, 0, why, "order"))
        for last in batch.lasts if touched else ():
            safe = site.dries_in(last.color, "tape_safe_min")
            why = (
                f"coat {last.coat} of {site.color_name(str(last.color))} must be tape-safe, {spoken(safe)}, "
                f"before the tape of round {two.choice.number} goes on it"
            )
            waits.append(NamedLag(last, two.tape, safe, why, "tape-safe"))
        if masked:
            covers = f"tape of round {one.choice.number} covers it"
            waits += [NamedLag(batch.pull, coat, 0, covers, "order") for other in two.batches for coat in other.firsts]
    return waits


def _covered(strips: Strips) -> list[int]:
    """The cells that any strip lies on."""
    found: list[int] = np.unique(strips.covers.members).tolist()
    return found
