"""What is on a piece at a minute of its schedule: tape, paint and how dry that is, what was done by hand; from its tasks alone."""

from collections.abc import Sequence
from dataclasses import dataclass

from dividers.core.job.drying import label_min
from dividers.core.order.batch_strips import strips_of_batch
from dividers.core.order.network import Task
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.round_tasks import strips_by_area
from dividers.core.order.schedule import Schedule
from dividers.core.plan.piece_plan import PiecePlan

WET, DRYING, DRY = "wet", "drying", "dry"


@dataclass(frozen=True)
class Coated:
    """The uppermost coat on a cell: its colour, how many coats of it, and wet, drying (dry to the touch, not yet for the next coat) or dry."""

    color: str
    coats: int
    state: str


@dataclass(frozen=True)
class PieceState:
    """A piece at a minute, where it stands between tasks or within one.

    `base` is the base coat (None before it), `cells` those with paint of their own by key, `strips` the strips that are on, in laying order, `sealed`
    the rounds whose tape is sealed, `hand` the tasks done by hand, `now` what is being done.
    """

    minute: int
    base: Coated | None
    cells: dict[str, Coated]
    strips: tuple[str, ...]
    sealed: frozenset[int]
    hand: tuple[Task, ...]
    now: tuple[Task, ...]


def moments_of(schedule: Schedule, piece_key: str) -> list[int]:
    """The wall minutes at which a piece changes: its first start, and the end of each of its tasks."""
    times = schedule.solution.times
    if times is None:
        return []
    own = [number for number, task in enumerate(times.tasks) if task.name.piece == piece_key]
    return sorted({min(map(times.start, own)), *map(times.end, own)}) if own else []


def state_at(schedule: Schedule, plan: PiecePlan, minute: int) -> PieceState:
    """A piece at a wall minute of a schedule that has times. A task under way has done as much as its share of the minutes that it is worked at."""
    times = schedule.solution.times
    assert times is not None
    choices = schedule.work.choices[plan.piece.key]
    air = schedule.job.climate
    presence = _worked_until(schedule, minute)
    own = sorted(
        (number for number, task in enumerate(times.tasks) if task.name.piece == plan.piece.key),
        key=lambda n: (times.starts[n], n),
    )
    pulls = _pulls(plan, choices, [times.tasks[number] for number in own])
    painted: dict[str, tuple[str, int, int]] = {}  # color, coats, the wall minute of its end
    base: tuple[int, int] | None = (0, -(10**6)) if plan.piece.surface.base_on else None
    laid: dict[str, None] = {}
    sealed: set[int] = set()
    hand: list[Task] = []
    now: list[Task] = []
    for at, number in enumerate(own):
        task = times.tasks[number]
        done = min(max((presence - times.starts[number]) / max(task.minutes, 1), 0.0), 1.0)
        if times.start(number) >= minute:
            continue
        if times.end(number) > minute:
            now.append(task)
        else:
            done = 1.0
        end = min(times.end(number), minute)
        match task.kind:
            case "base":
                if done == 1.0:
                    base = (task.coat or 1, end)
            case "tape":
                strips = _laid_by(plan, choices, task)
                laid |= dict.fromkeys(strips[: round(len(strips) * done)])
            case "pull":
                strips = pulls[at]
                for strip in strips[: round(len(strips) * done)]:
                    laid.pop(strip, None)
            case "coat":
                color = str(task.color)
                for cell in task.cells[: round(len(task.cells) * done)]:
                    before = painted.get(cell)
                    painted[cell] = (color, before[1] + 1 if before and before[0] == color else 1, end)
            case "seal" if done == 1.0:
                sealed.add(task.number or 0)
            case "hand" if done == 1.0:
                hand.append(task)

    def coated(color: str, coats: int, end: int) -> Coated:
        paint = plan.piece.method.paint.get(color)
        gone = minute - end
        touch, recoat = (label_min(paint, name, air) for name in ("touch_dry_min", "recoat_min"))
        return Coated(color, coats, WET if gone < touch else DRYING if gone < recoat else DRY)

    return PieceState(
        minute,
        coated(plan.piece.base, *base) if base else None,
        {cell: coated(*found) for cell, found in painted.items()},
        tuple(laid),
        frozenset(sealed),
        tuple(hand),
        tuple(now),
    )


def _worked_until(schedule: Schedule, minute: int) -> int:
    """The presence minutes that have passed at a wall minute."""
    passed = 0
    for low, high in schedule.calendar.spans:
        if low >= minute:
            break
        passed += min(high, minute) - low
    return passed


def _laid_by(plan: PiecePlan, choices: Sequence[RoundChoice], task: Task) -> list[str]:
    """The strips that a task of taping lays, on one copy, in laying order."""
    choice = choices[(task.number or 1) - 1]
    places = strips_by_area(plan, choice)[(task.name.area or 1) - 1]
    return _names(plan, choice.number, places)


def _names(plan: PiecePlan, number: int, places: Sequence[tuple[int, int]]) -> list[str]:
    return [f"s{plan.strips_before(number, sheet) + strip + 1}" for sheet, strip in sorted(places)]


def _pulls(plan: PiecePlan, choices: Sequence[RoundChoice], tasks: Sequence[Task]) -> dict[int, list[str]]:
    """For each pull, by its place among a piece's tasks in the order of time, the strips that it takes off, last laid first.

    A strip that faces several batches comes off with the last of them, and so does what faces none.
    """
    last: dict[str, int] = {}
    latest: dict[int, int] = {}
    for at, task in enumerate(tasks):
        if task.kind == "pull" and task.number:
            latest[task.number] = at
            for strip in _pulled_by(plan, choices[task.number - 1], task):
                last[strip] = at
    for choice in choices:
        if choice.number in latest:
            each = plan.taping.chosen.rounds[choice.number - 1]
            every = _names(
                plan, choice.number, [(sheet, n) for sheet, strips in enumerate(each.strips) for n in range(len(strips))]
            )
            for strip in every:
                last.setdefault(strip, latest[choice.number])
    found: dict[int, list[str]] = {at: [] for at, task in enumerate(tasks) if task.kind == "pull"}
    for strip, at in last.items():
        found[at].append(strip)
    return {at: sorted(strips, key=lambda strip: -int(strip[1:])) for at, strips in found.items()}


def _pulled_by(plan: PiecePlan, choice: RoundChoice, task: Task) -> list[str]:
    batch = strips_of_batch(plan, choice, task.batch)
    return _names(plan, choice.number, sorted(batch)) if batch is not None else []
