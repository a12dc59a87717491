"""The tasks of one round: tape, seal, coats batch by batch, pulls; and what rounds have to do with each other."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from dividers.core.base.colour import luminance
from dividers.core.base.quantities import run, spoken
from dividers.core.job.usual import coats_of
from dividers.core.order.bands import Band
from dividers.core.order.network import END, START, NamedLag, Steps, Task, together
from dividers.core.order.round_choices import RoundChoice, Trial, coat_min, pull_min, whole_minutes
from dividers.core.order.task_key import TaskKey
from dividers.core.order.work_site import Place, WorkSite
from dividers.core.plan.piece_plan import PiecePlan


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
class AreaSteps:
    """What is taped, painted and pulled by itself: its tape task, its strips as (sheet, strip), and its batches.

    `facing` are all strips that face its paint, those laid with another area among them.
    """

    steps: Steps
    tape: TaskKey
    strips: frozenset[Place]
    facing: frozenset[Place]
    batches: tuple[BatchSteps, ...]


@dataclass(frozen=True)
class RoundSteps:
    choice: RoundChoice
    steps: Steps
    areas: tuple[AreaSteps, ...]

    @property
    def batches(self) -> tuple[BatchSteps, ...]:
        return tuple(batch for area in self.areas for batch in area.batches)


@dataclass(frozen=True)
class _Sealed:
    """The last task before paint, and the wait after it."""

    last: TaskKey
    wait_min: int = 0


def steps_of_round(site: WorkSite, choice: RoundChoice, before: Callable[[TaskKey], Sequence[NamedLag]]) -> RoundSteps:
    """All tasks of a round; `before` says what a task of taping waits for outside it."""
    strips = strips_by_area(site.plan, choice)
    areas = tuple(_area(site, choice, number, own, before) for number, own in enumerate(strips, 1))
    batches = [batch for area in areas for batch in area.batches]
    order = [*_working_order(site, batches), *_taping_order(choice, areas)]
    return RoundSteps(choice, together([*(area.steps for area in areas), Steps((), tuple(order))]), areas)


def strips_by_area(plan: PiecePlan, choice: RoundChoice) -> list[list[Place]]:
    """The strips that are laid for each area: those that face several, and those that face none, for the first."""
    each = plan.taping.chosen.rounds[choice.number - 1]
    every = [(sheet, strip) for sheet, strips in enumerate(each.strips) for strip in range(len(strips))]
    if choice.area_count == 1:
        return [every]
    found: list[list[Place]] = []
    left = set(every)
    for area in range(1, choice.area_count + 1):
        own = {strip for band in choice.bands_in(area) for strip in band.strips} & left
        left -= own
        found.append(sorted(own))
    found[0] = sorted([*found[0], *left])
    return found


def tape_m(plan: PiecePlan, choice: RoundChoice, area: int | None) -> float:
    """Metres of tape that are laid for an area of a round, or for all of it, on all copies."""
    each = plan.taping.chosen.rounds[choice.number - 1]
    strips = strips_by_area(plan, choice)
    own = strips[area - 1] if area else [strip for some in strips for strip in some]
    return sum(float(each.strips[sheet].lengths[strip]) for sheet, strip in own) / 1000 * plan.piece.copies


def _area(
    site: WorkSite, choice: RoundChoice, number: int, strips: Sequence[Place], before: Callable[[TaskKey], Sequence[NamedLag]]
) -> AreaSteps:
    """All tasks of an area of a round."""
    area = number if choice.area_count > 1 else None
    tape, length = _tape(site, choice, area, strips)
    sealed, seal = _Sealed(tape.name), Steps()
    if choice.seal.coats and choice.seal.skin_min is None and strips:
        seal, sealed = _seal(site, choice, tape.name, length, None, area)
    if choice.trial and not choice.trial.unsealed and number == 1:
        tried, sealed = _trial(site, choice, choice.trial, sealed, area)
        seal = together([seal, tried])
    own = [index for index, its in enumerate(choice.areas) if its == number]
    whole = sum(band.tape_m for band in choice.bands_in(number))
    batches = tuple(_batch(site, choice, index, sealed, tape.name, length, whole) for index in own)
    steps = together([Steps((tape,), tuple(before(tape.name))), seal, *(batch.steps for batch in batches)])
    facing = frozenset(strips).union(*(band.strips for band in choice.bands_in(number)))
    return AreaSteps(steps, tape.name, frozenset(strips), facing, batches)


def _trial(site: WorkSite, choice: RoundChoice, trial: Trial, sealed: _Sealed, area: int | None) -> tuple[Steps, _Sealed]:
    """Half a strip sealed otherwise, once the others are; paint waits for whichever dries longer."""
    words = f"{site.title(choice.number)}: {trial.words}"
    name = site.key("seal", choice.number, choice.seal.coats + 1, None, area=area)
    minutes = whole_minutes(trial.seal.coats * trial.length_m / 2 / trial.seal.m_per_h * 60)
    step = Steps(
        (Task(name, site.piece.name, minutes, words),), (NamedLag(sealed.last, name, 0, "the other seal first", "seal"),)
    )
    return step, _Sealed(name, max(sealed.wait_min, trial.seal.coats * trial.seal.dry_min))


def _tape(site: WorkSite, choice: RoundChoice, area: int | None, own: Sequence[Place]) -> tuple[Task, float]:
    """Laying the strips of an area, and their length in metres."""
    piece, rates, number = site.piece, site.piece.method.rates, choice.number
    length = tape_m(site.plan, choice, area)
    strips = len(own) * piece.copies
    minutes = length / rates.taped_m_per_h * 60 + 2 * strips * rates.cut_min + rates.round_min / choice.area_count
    where = f", area {area} of {choice.area_count}" if area else ""
    words = f"{site.title(number)}{where}: lay and press {strips} strip{'s' if strips != 1 else ''}, {run(length, site.plan.job.units)}"
    if not own:
        words, minutes = f"{site.title(number)}{where}: nothing to tape, its edges are free or covered later", 0.0
    name = site.key("tape", number, area=area)
    ready = site.base.tape_from
    why = f"the base, {site.color_name(piece.base)}, must be tape-safe before tape goes on it" if ready else ""
    return Task(name, piece.name, whole_minutes(minutes), words, split=True, not_before=ready, not_before_why=why), length


def _taping_order(choice: RoundChoice, areas: Sequence[AreaSteps]) -> list[NamedLag]:
    """Between areas of a round: tape that lies under another's is laid before, and an outer edge laid for one is there for the next."""
    found = []
    bands = [choice.bands_in(number) for number in range(1, len(areas) + 1)]
    for one, over in enumerate(areas):
        for two, under in enumerate(areas):
            if one != two and any(a.lies_over(b) for a in bands[one] for b in bands[two]):
                found.append(NamedLag(under.tape, over.tape, 0, "tape of this area lies over it", "order"))
        for other in areas[:one]:
            if other.strips & {strip for band in bands[one] for strip in band.strips}:
                why = "the outer edge is taped with the area before"
                found += [NamedLag(other.tape, first, 0, why, "order") for batch in over.batches for first in batch.firsts]
    return found


def _seal(
    site: WorkSite, choice: RoundChoice, after: TaskKey, length: float, batch: int | None, area: int | None = None
) -> tuple[Steps, _Sealed]:
    """The seal's coats after a task; the last one and the wait before paint."""
    sealed = _Sealed(after)
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for coat in range(1, choice.seal.coats + 1):
        again = f", coat {coat}" if choice.seal.coats > 1 else ""
        of = f", batch {batch}" if batch else f", area {area}" if area else ""
        words = f"{site.title(choice.number)}{of}: {choice.seal_words}{again}"
        name = site.key("seal", choice.number, coat, batch, area=area)
        why = f"the seal must dry, {spoken(sealed.wait_min)}" if sealed.wait_min else "tape first, then seal"
        tasks.append(Task(name, site.piece.name, whole_minutes(length / choice.seal.m_per_h * 60), words))
        waits.append(NamedLag(sealed.last, name, sealed.wait_min, why, "seal"))
        sealed = _Sealed(name, choice.seal.dry_min)
    return Steps(tuple(tasks), tuple(waits)), sealed


def _batch(
    site: WorkSite, choice: RoundChoice, index: int, sealed: _Sealed, tape: TaskKey, length: float, whole_m: float
) -> BatchSteps:
    """The coats of a batch of bands, colour by colour, and its pull."""
    bands = [choice.bands[band] for band in choice.batches[index]]
    batch = index + 1 if len(choice.batches) > 1 else None
    title = site.title(choice.number) + (f", batch {batch} of {len(choice.batches)}" if batch else "")
    copies = {band.copy for band in bands}
    if batch and len(copies) < site.piece.copies:
        which = f"no. {min(copies)}" if len(copies) == 1 else f"nos. {min(copies)} to {max(copies)}"
        title += f" ({which} of {site.piece.copies})"
    tape_m = sum(band.tape_m for band in bands)
    seal = Steps()
    if choice.seal.coats and choice.seal.skin_min is not None:
        share = tape_m / max(whole_m, 1e-9)
        seal, sealed = _seal(site, choice, tape, length * share, batch)
    places = list(dict.fromkeys(place for band in bands for place in band.cells))
    palette = site.plan.job.palette
    colors = sorted({c for band in bands for c in band.area_m2}, key=lambda c: -luminance(palette[c].hex))
    coats = {color: _coats(site, choice.number, batch, color, bands, title, sealed) for color in colors}
    lasts = tuple(steps.tasks[-1].name for steps in coats.values())
    pull = Task(
        site.key("pull", choice.number, batch=batch),
        site.piece.name,
        whole_minutes(pull_min(site.piece, tape_m)),
        f"{title}: pull the tape, last strip first" if tape_m else f"{title}: no tape to pull",
        site.cell_keys(places),
    )
    skin_from = sealed.last if seal.tasks else None
    pulled = Steps((pull,), tuple(_pull_waits(site, choice, lasts, pull.name, skin_from, tape)))
    firsts = tuple(steps.tasks[0].name for steps in coats.values())
    return BatchSteps(tuple(bands), together([seal, *coats.values(), pulled]), firsts, lasts, pull.name, frozenset(places))


def _working_order(site: WorkSite, batches: Sequence[BatchSteps]) -> list[NamedLag]:
    """What batches of a round wait for of each other: they go one way round the piece at every coat; no strip comes off from under
    another; on a floor nobody walks on fresh paint."""
    found = _one_way(batches)
    batch_of = {(band.copy, band.number): at for at, batch in enumerate(batches) for band in batch.bands}
    lower = {(at, batch_of.get((b.copy, n), at)) for at, batch in enumerate(batches) for b in batch.bands for n in b.over}
    for later, two in enumerate(batches):
        for one in (batches[first] for first in range(later) if (first, later) in lower):
            found.append(NamedLag(one.pull, two.pull, 0, "its tape lies under tape that comes off before", "order"))
        if later and site.piece.surface.kind in ("floor", "stairs"):
            why = "the work goes from the back to the exit"
            before = batches[later - 1]
            coats = {(key.color, key.coat): key for key in before.coats}
            found += [NamedLag(coats[at], key, 0, why, "order") for key in two.coats if (at := (key.color, key.coat)) in coats]
            found += [NamedLag(before.pull, last, 0, why, "order") for last in two.lasts]
    return found


def _one_way(batches: Sequence[BatchSteps]) -> list[NamedLag]:
    """Each seal, coat and pull of a batch begins no sooner than that of the batch before it: who paints goes on along the piece."""
    found: list[NamedLag] = []
    last: dict[tuple[object, ...], TaskKey] = {}
    for batch in batches:
        for task in batch.steps.tasks:
            work = (task.kind, task.color, task.coat)
            if work in last:
                found.append(NamedLag(last[work], task.name, 0, "batch after batch, one way", "order", of=START, to=START))
            last[work] = task.name
    return found


def _coats(
    site: WorkSite,
    number: int,
    batch: int | None,
    color: str,
    bands: Sequence[Band],
    title: str,
    sealed: _Sealed,
) -> Steps:
    """The coats of one colour on the bands of a batch."""
    name, piece = site.color_name(color), site.piece
    area_m2 = sum(band.area_m2.get(color, 0.0) for band in bands)
    each = [place for band in bands for place in band.cells]  # of several copies, several times
    places = list(dict.fromkeys(each))
    recoat = site.dries_in(color, "recoat_min")
    cells = site.cell_keys(place for place in places if site.has_color(place, color)) or site.cell_keys(places)
    rounded = site.edges_painted_round(number, color, each)
    tasks: list[Task] = []
    waits: list[NamedLag] = []
    for coat in range(1, max(coats_of(piece.method.coats, color), 1) + 1):
        key = site.key("coat", number, coat, batch, color)
        if tasks:
            waits.append(NamedLag(tasks[-1].name, key, recoat, f"{name} can be recoated after {spoken(recoat)}", "recoat"))
        else:
            why = f"the seal must dry, {spoken(sealed.wait_min)}" if sealed.wait_min else "tape and seal first"
            waits.append(NamedLag(sealed.last, key, sealed.wait_min, why, "seal"))
        words = f"{title}: coat {coat} of {name}{rounded}"
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
