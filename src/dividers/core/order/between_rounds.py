"""What rounds have to do with each other, in one layer and across layers: what tape lies on, covers or crosses, and paint over paint."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.quantities import spoken
from dividers.core.geometry.overlaps import ShapeIndex, overlapping
from dividers.core.geometry.shapes import Ints, chosen
from dividers.core.order.network import NamedLag, Steps
from dividers.core.order.round_tasks import AreaSteps, BatchSteps, RoundSteps
from dividers.core.order.task_key import TaskKey
from dividers.core.order.work_site import Place, WorkSite
from dividers.core.rounds.rounds import Round


def between(site: WorkSite, rounds: Sequence[RoundSteps], marks: Sequence[Steps] = ()) -> Steps:
    """What rounds have to do with each other: a later one waits only for what its tape lies on, covers or crosses.

    The marks of a layer, and what is measured before them, wait for the layers below, where that layer touches them.
    """
    waits: list[NamedLag] = []
    for later, two in enumerate(rounds):
        for one in rounds[:later]:
            found = _pair(site, one, two)
            waits += found
            own = marks[two.choice.layer].tasks if one.choice.layer != two.choice.layer and found else ()
            waits += [lag for task in own[:1] for lag in _before_marks(site, one, found, task.name)]
    return Steps((), tuple(waits))


def _before_marks(site: WorkSite, one: RoundSteps, found: Sequence[NamedLag], mark: TaskKey) -> list[NamedLag]:
    """What the marks of a layer above a round wait for: that its tape is off and its paint dry to the touch."""
    firsts = {lag.first for lag in found}
    own = site.in_layer(one.choice.layer)
    waits = []
    for batch in one.batches:
        if not firsts & {batch.pull, *batch.lasts}:
            continue
        waits.append(
            NamedLag(batch.pull, mark, 0, f"round {one.choice.number} must be pulled before anything is marked on it", "order")
        )
        for last in batch.lasts:
            dry = own.dries_in(last.color, "touch_dry_min")
            why = f"{site.color_name(str(last.color))} must be dry to the touch, {spoken(dry)}, before it is marked on"
            waits.append(NamedLag(last, mark, dry, why, "touch-dry"))
    return waits


def _pair(site: WorkSite, one: RoundSteps, two: RoundSteps) -> list[NamedLag]:
    return [lag for area in one.areas for other in two.areas for lag in _pair_of_areas(site, one, area, two, other)]


@dataclass(frozen=True)
class _Touching:
    """What two areas of rounds have to do with each other: whether tape crosses tape; which painted cells of the first lie under the
    second's tape, and under its paint; which cells that the second paints lie under the first's tape."""

    crossing: bool
    under: set[Place]
    masked: set[Place]
    over: dict[Place, set[Place]]


def _touching(site: WorkSite, one: RoundSteps, area: AreaSteps, two: RoundSteps, other: AreaSteps) -> _Touching:
    first, then = (site.plan.taping.chosen.rounds[each.choice.number - 1] for each in (one, two))
    crossing = False
    under: set[Place] = set()
    masked: set[Place] = set()
    over: dict[Place, set[Place]] = {}
    for sheet in range(len(site.plan.layouts)):
        laid = _strips_on(sheet, area.strips)
        for on in first.same_sheet(sheet):
            later = _strips_on(on, other.strips)
            if first.painted[sheet].any():
                facing = _strips_on(on, other.facing)
                under |= {(sheet, c) for c in _beneath(then, on, facing, sheet) if first.painted[sheet][c]}
            if len(laid) and then.painted[on].any():
                masked |= {(on, c) for c in _beneath(first, sheet, laid, on) if then.painted[on][c]}
            if len(laid) and len(later) and not crossing:
                shapes = (chosen(first.strips[sheet].shapes, laid), chosen(then.strips[on].shapes, later))
                crossing = bool(len(overlapping(*map(ShapeIndex, shapes))[0]))
            if sheet != on and first.painted[sheet].any() and then.painted[on].any():
                for upper, lower in site.plan.paint_over(two.choice.number, on, one.choice.number, sheet):
                    over.setdefault((sheet, lower), set()).add((on, upper))
    return _Touching(crossing, under, masked, over)


def _pair_of_areas(site: WorkSite, one: RoundSteps, area: AreaSteps, two: RoundSteps, other: AreaSteps) -> list[NamedLag]:
    touching = _touching(site, one, area, two, other)
    own = site.in_layer(one.choice.layer)
    waits = []
    for batch in area.batches:
        touched = batch.places & touching.under
        if touched or touching.crossing:
            why = f"round {one.choice.number} must be pulled before round {two.choice.number} is taped over it"
            waits.append(NamedLag(batch.pull, other.tape, 0, why, "order"))
        for last in batch.lasts if touched else ():
            coat = f"coat {last.coat} of {site.color_name(str(last.color))}"
            why = own.tape_wait_said(coat, last.color, f"the tape of round {two.choice.number}")
            waits.append(NamedLag(last, other.tape, own.tape_min(last.color), why, "tape-safe"))
        covers = f"tape of round {one.choice.number} covers it"
        for painted in other.batches if touching.masked else ():
            if len(two.areas) == 1 or painted.places & touching.masked:
                waits += [NamedLag(batch.pull, coat, 0, covers, "order") for coat in painted.firsts]
        above = {place for lower in batch.places & touching.over.keys() for place in touching.over[lower]}
        for painted in other.batches if above else ():
            if painted.places & above:
                waits += _over_paint(own, batch, painted)
    return waits


def _over_paint(site: WorkSite, lower: BatchSteps, upper: BatchSteps) -> list[NamedLag]:
    """A coat over the paint of a layer below: that is pulled, and may be recoated."""
    waits = []
    for coat in upper.firsts:
        waits.append(NamedLag(lower.pull, coat, 0, "the tape of the layer below comes off first", "order"))
        for last in lower.lasts:
            dry = site.dries_in(last.color, "recoat_min")
            why = f"{site.color_name(str(last.color))} below can be painted over after {spoken(dry)}"
            waits.append(NamedLag(last, coat, dry, why, "recoat"))
    return waits


def _strips_on(sheet: int, strips: frozenset[Place]) -> Ints:
    """The strips of a sheet, by number."""
    return np.array(sorted(strip for on, strip in strips if on == sheet), np.int64)


def _beneath(each: Round, sheet: int, which: Ints, other: int) -> list[int]:
    """The cells of a layout that any of some strips on another lies on."""
    strip, cell = each.lies_on(sheet, other)
    found: list[int] = np.unique(cell[np.isin(strip, which)]).tolist()
    return found
