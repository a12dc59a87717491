"""From plans to tasks and lags: what is done by hand, and what must wait for what, at least and at most.

Drying is no task: it is a lag. A task takes whole minutes of one painter.
"""

from dataclasses import dataclass, field, replace
from datetime import datetime

from dividers.core.base.dates import minutes_between
from dividers.core.job.crew import Climate
from dividers.core.job.drying import tape_min
from dividers.core.order.network import Lag, Task, numbered, together
from dividers.core.order.piece_tasks import steps_of_piece
from dividers.core.order.round_choices import SETTLED_MIN, RoundChoice, choices_of, seal_upon
from dividers.core.order.trial import with_trial
from dividers.core.order.work_site import BaseCoat, WorkSite
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.risk.windows import SealTime, seal_of, window_of


@dataclass(frozen=True)
class Work:
    """All tasks of a job with their lags, and the choices behind them by piece; `problems` can't be scheduled away."""

    tasks: tuple[Task, ...]
    lags: tuple[Lag, ...]
    choices: dict[str, tuple[RoundChoice, ...]] = field(default_factory=dict)
    problems: tuple[str, ...] = ()


def work_of(plan: Plan, start: datetime, air: Climate | None = None, whole_windows: bool = False) -> Work:
    """The tasks of every piece of a job that starts then.

    Seals, pull methods and batches are chosen for the job's own climate; waits and windows are those of `air` where that is another one.
    Windows are as long as they are planned with, or `whole`: what they were before the margin was taken off.
    """
    sites = [_site(piece, start, air or plan.job.climate, whole_windows) for piece in plan.pieces]
    steps = together(steps_of_piece(site) for site in sites)
    problems = tuple(
        f"{site.piece.name}, round {choice.number}: {problem}"
        for site in sites
        for choice in site.choices
        for problem in choice.problems
    )
    choices = {site.piece.key: site.choices for site in sites}
    return Work(steps.tasks, numbered(steps.tasks, steps.waits), choices, problems)


def choices_at(plan: PiecePlan, start: datetime) -> tuple[RoundChoice, ...]:
    """How the rounds of a piece are sealed, pulled and split when the job starts then: known long before the schedule is."""
    return _site(plan, start, plan.job.climate, False).choices


def _site(plan: PiecePlan, start: datetime, air: Climate, whole_windows: bool) -> WorkSite:
    """What the tasks of a piece go by: its plan and choices, the air, and how its base stands."""
    base = _base(plan, start, air)
    paint = plan.piece.method.paint.get(plan.piece.base)
    age = base.age_min if base.age_min is not None else tape_min(paint, air)
    percent = 100 if whole_windows else plan.piece.method.window_percent
    choices = tuple(choices_of(plan.job, plan, age))
    if air != plan.job.climate or whole_windows:
        choices = tuple(
            replace(
                each,
                window=window_of(each.window.pull_method, each.situation.paints, air, percent),
                seal=_seal_in(plan, each, air),
            )
            for each in choices
        )
    return WorkSite(plan, air, with_trial(plan, choices, air), base)


def _seal_in(plan: PiecePlan, choice: RoundChoice, air: Climate) -> SealTime:
    """The seal that a round has, as it goes on in another air."""
    method = plan.piece_in(choice.layer).method
    upon = choice.grounds[0][0] if choice.grounds else plan.piece.base
    seal = seal_of(method, choice.seal.method, method.paint.get(upon), air)
    return seal_upon(seal, choice.grounds, plan.job.palette)


def _base(plan: PiecePlan, start: datetime, air: Climate) -> BaseCoat:
    painted_on = plan.piece.surface.painted_on
    if painted_on is None:
        return BaseCoat(SETTLED_MIN if plan.piece.base_coats == 0 else None, 0)
    age = int(minutes_between(datetime.fromisoformat(painted_on), start) // 1)
    safe = tape_min(plan.piece.method.paint.get(plan.piece.base), air)
    return BaseCoat(age, max(start.hour * 60 + start.minute + safe - age, 0))
