"""A schedule as the plan's JSON has it, with its tasks, and each piece's forecast."""

from collections.abc import Sequence
from typing import Any

from dividers.core.order.calendar import Calendar
from dividers.core.order.explain import earliest_and_latest, waited_for
from dividers.core.order.network import Task
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.round_tasks import strips_by_area
from dividers.core.order.schedule import Schedule
from dividers.core.plan.piece_plan import PiecePlan


def schedule_document(schedule: Schedule) -> dict[str, Any]:
    """The schedule: its status, what no finish can be before, every task with when and why."""
    times, calendar = schedule.solution.times, schedule.calendar
    found: dict[str, Any] = {"status": schedule.solution.status, "said": schedule.said, "cautions": list(schedule.cautions)}
    if times is None:
        return found | {"tasks": []}
    bounds = earliest_and_latest(times, schedule.work.lags)
    because = waited_for(times, schedule.work.lags)
    in_turn = sorted(range(len(times.tasks)), key=lambda t: (times.starts[t], t))
    keys = {task: f"t{turn}" for turn, task in enumerate(in_turn, 1)}
    at = {task: (_local(calendar, times.start(task)), _local(calendar, times.end(task))) for task in in_turn}

    def written(task: int) -> dict[str, Any]:
        own = times.tasks[task]
        return {
            "id": keys[task],
            "kind": own.kind,
            "piece": own.piece,
            "layer": own.layer or None,
            "round": own.number,
            "area": _area_of(schedule, own),
            "coat": own.coat,
            "batch": own.batch,
            "color": own.color,
            "cells": list(own.cells),
            "what": own.words,
            "start": at[task][0],
            "end": at[task][1],
            "earliest": _local(calendar, bounds[task][0]),
            "latest": _local(calendar, bounds[task][1]),
            "minutes": own.minutes,
            "split": own.split,
            "painter": schedule.painters[task] + 1,
            "because": [keys[other] for other in because[task]],
        }

    return found | {
        "start": at[in_turn[0]][0] if in_turn else None,
        "finish": _local(calendar, times.finish),
        "bound": _local(calendar, schedule.solution.bound),
        "gap_min": schedule.solution.gap_min,
        "proved": list(schedule.solution.proved),
        "days": times.days,
        "labour_min": sum(task.minutes for task in times.tasks),
        "tasks": [written(task) for task in in_turn],
    }


def _local(calendar: Calendar, wall: int) -> str:
    """A wall minute as the clock on site shows it."""
    return calendar.moment(wall).replace(tzinfo=None).isoformat(timespec="minutes")


def _area_of(schedule: Schedule, task: Task) -> int | None:
    """The area of its round that a task belongs to; None for what belongs to no round."""
    if task.number is None:
        return None
    choice = schedule.work.choices[task.name.piece][task.number - 1]
    return task.name.area or choice.area_of_batch(task.batch) or 1


def add_areas(rounds: list[dict[str, Any]], plan: PiecePlan, choices: Sequence[RoundChoice]) -> None:
    """Write into a piece's rounds which cells each of their areas has, and with which area each strip is laid."""
    for each, choice in zip(rounds, choices, strict=False):
        each["areas"] = _areas(plan, choice)
        first = [plan.strips_before(choice.number, sheet) for sheet in range(len(plan.layouts))]
        laid = {
            f"s{first[sheet] + strip + 1}": area
            for area, strips in enumerate(strips_by_area(plan, choice), 1)
            for sheet, strip in strips
        }
        for strip in each["strips"]:
            strip["area"] = laid[strip["id"]]


def _areas(plan: PiecePlan, choice: RoundChoice) -> list[list[str]]:
    """The cells of each area of a round, by their keys."""
    areas = range(1, choice.area_count + 1)
    return [
        list(dict.fromkeys(plan.cell_keys[sheet][cell] for band in choice.bands_in(area) for sheet, cell in band.cells))
        for area in areas
    ]


def forecast_document(choices: tuple[RoundChoice, ...]) -> dict[str, Any]:
    """A piece's forecast: the worst of its rounds for each risk, with the reasons, and the choice for every round."""
    levels = ("low", "fair", "high")
    worst = {
        name: max((getattr(choice.forecast, name).level for choice in choices), key=levels.index, default="low")
        for name in ("bleed", "lift", "bridge")
    }
    reasons = dict.fromkeys(
        f"{risk.name}: {reason}" for choice in choices for risk in choice.forecast.risks for reason in risk.reasons
    )
    rounds = [
        {
            "round": choice.number,
            "seal": choice.seal.method,
            "pull": choice.window.pull_method,
            "reason": choice.reason,
            "batches": len(choice.batches),
        }
        for choice in choices
    ]
    return {**worst, "reasons": list(reasons), "rounds": rounds}
