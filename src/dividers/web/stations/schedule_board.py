"""The Schedule station's board: the chart, why it ends when it does, the day list, forecasts, and what could be changed."""

import json
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any

from markupsafe import Markup

from dividers.core.base.errors import DividersError
from dividers.core.base.quantities import spoken
from dividers.core.base.safety import SAFETY
from dividers.core.base.units import DAY_MIN
from dividers.core.job.drying import label_min, wet_edge_min
from dividers.core.job.model import Piece
from dividers.core.order.explain import earliest_and_latest, when
from dividers.core.order.fewer_coats import one_coat_of
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.schedule import Schedule, gains_of
from dividers.core.order.timeline import timeline_of
from dividers.core.order.times import Times
from dividers.core.output.scene import View
from dividers.core.plan.plan import PiecePlan
from dividers.core.risk.forecast import peel_force, pull_angle
from dividers.formats.drawings.risk_curve_svg import risk_curve_svg
from dividers.formats.drawings.scene_svg import thumbnail_svg
from dividers.formats.drawings.timeline_svg import timeline_svg
from dividers.services.jobs import evidence
from dividers.services.jobs.editing import Opened
from dividers.services.stations import pictures, scheduling
from dividers.services.supplies import supplies
from dividers.web.database import connection

ANGLES = (45, 90, 135, 180)


@dataclass(frozen=True)
class DayRow:
    """A task in the day list."""

    key: str
    begins: str
    ends: str
    piece: str
    words: str
    minutes: int
    painter: int
    room: str
    why: str


@dataclass(frozen=True)
class Day:
    title: str
    rows: tuple[DayRow, ...]


def schedule_board(plan: PiecePlan, opened: Opened, asked: Mapping[str, str]) -> dict[str, Any]:
    """What the board's template shows; `schedule` is None while it is being worked out."""
    document = opened.revision.document
    schedule = scheduling.schedule_for(opened.id, evidence.informed(connection(), document))
    supply_items = [item for item in supplies.items(connection()) if not item.retired_at]
    shown: dict[str, Any] = {
        "supply_items": supply_items,
        "schedule": schedule,
        "order_days": [],
        "wants_variants": "whatif" in asked,
        "variants": None,
    }
    if schedule is None:
        return shown | {"chosen": scheduling.choices_of(document, plan.piece.key)}
    shown["possible"] = schedule.solution.times is not None
    if "anyway" in asked:
        shown["schedule"] = schedule = schedule.at_risk
    timeline = timeline_of(schedule)
    choices = schedule.work.choices.get(plan.piece.key, ())
    if "whatif" in asked:
        shown["variants"] = variants = scheduling.variants_for(opened.id, evidence.informed(connection(), document))
        shown["gains"] = gains_of(variants) if variants else []
    return shown | {
        "timeline": timeline,
        "timeline_svg": timeline_svg(timeline) if timeline else "",
        "lane_pictures": _pictures(document, schedule),
        "order_days": days_of(schedule),
        "order_status": status_said(schedule),
        "choices": [_choice(schedule, plan, choice) for choice in choices],
        "painters": schedule.job.crew.painters,
        "advice": _advice(plan.piece, schedule),
        "spoken": spoken,
    }


def _advice(piece: Piece, schedule: Schedule) -> list[str]:
    """The safety advice for a whole piece."""
    wanted = {
        "high": piece.surface.kind in ("wall", "ceiling", "stairs"),
        "eyes": piece.surface.kind == "ceiling",
        "solvent": any(binder != "water" for binder, _ in schedule.air.factors),
        "sand": "sand" in piece.method.prep,
        "floor": piece.surface.kind in ("floor", "stairs"),
        "knife": True,
        "cover": piece.surface.kind == "wall",
        "label": True,
    }
    return [SAFETY[name] for name, holds in wanted.items() if holds]


def _pictures(document: str, schedule: Schedule) -> dict[tuple[str, int], Markup]:
    """A small picture of every round, by piece and number."""
    found = {}
    for piece in schedule.job.pieces:
        for choice in schedule.work.choices.get(piece.key, ()):
            try:
                scene = pictures.scene_of(document, piece.key, View(strips_of=choice.number))
            except DividersError:
                continue
            found[(piece.name, choice.number)] = thumbnail_svg(scene)
    return found


def status_said(schedule: Schedule) -> str:
    """How good the schedule is, in a sentence."""
    solution = schedule.solution
    if solution.status == "infeasible":
        return "It can't be done like this." if solution.times is None else "This misses windows: work by it at your own risk."
    stopped = "You stopped the search. " if solution.stopped else ""
    if solution.status == "optimal":
        rest = [stage for stage in ("days", "minutes on site") if stage not in solution.proved]
        more = f" The {' and the '.join(rest)} may not be the fewest." if rest else ""
        return f"{stopped}Proven: no schedule finishes earlier.{more}"
    bound = when(schedule.calendar.moment(solution.bound))
    return f"{stopped}The best found so far; no schedule can finish before {bound}, so at most {spoken(solution.gap_min)} of working time could be saved."


def days_of(schedule: Schedule) -> list[Day]:
    """Every task in the order of its start, day by day."""
    times = schedule.solution.times
    if times is None:
        return []
    bounds = earliest_and_latest(times, schedule.work.lags)
    in_turn = sorted(range(len(times.tasks)), key=lambda t: (times.starts[t], t))
    days: dict[int, list[tuple[int, DayRow]]] = {}
    for turn, task in enumerate(in_turn, 1):
        own = times.tasks[task]
        room = bounds[task][1] - times.start(task)
        for part, (begin, end) in enumerate(times.by_day(task)):
            words, can_wait, why = own.words, spoken(room) if room else "", schedule.whys[task]
            if part:
                words, can_wait, why = f"{words}, goes on", "", ""
            row = DayRow(
                f"t{turn}", _clock(schedule, begin), _clock(schedule, end), own.piece, words, _hands_on(times, begin, end),
                schedule.painters[task] + 1, can_wait, why,
            )  # fmt: skip
            days.setdefault(schedule.calendar.day_of(begin), []).append((begin, row))
    return [
        Day(
            f"{_day(schedule, day):%A} {_day(schedule, day).day} {_day(schedule, day):%B}",
            tuple(row for _, row in sorted(rows, key=lambda each: each[0])),
        )
        for day, rows in sorted(days.items())
    ]


def _hands_on(times: Times, begin: int, end: int) -> int:
    """The minutes of work between two wall minutes."""
    return sum(min(high, end) - max(low, begin) for low, high in times.calendar.spans if low < end and high > begin)


def _day(schedule: Schedule, day: int) -> datetime:
    return schedule.calendar.moment(day * DAY_MIN + DAY_MIN // 2)  # its noon, which no clock change moves to another day


def _clock(schedule: Schedule, wall: int) -> str:
    return f"{schedule.calendar.moment(wall):%H:%M}"


def _choice(schedule: Schedule, plan: PiecePlan, choice: RoundChoice) -> dict[str, Any]:
    """A round's forecast as the template shows it."""
    paints = [plan.piece.method.paint.get(color) for color in choice.colors] or [None]
    climate = schedule.job.climate
    wet = float(wet_edge_min(paints, climate))
    touch, full = (float(max(label_min(p, name, climate) for p in paints)) for name in ("touch_dry_min", "full_dry_min"))
    angle, why = pull_angle(choice.situation)
    one_coat = one_coat_of(schedule.job, plan, choice, None)
    return {
        "choice": choice,
        "one_coat": one_coat,
        "use_one_coat": f"use:{json.dumps({f'method.coats.{color}': 1 for color in one_coat.colors})}" if one_coat else "",
        "batches": [len(batch) for batch in choice.batches],
        "angle": angle,
        "angle_why": why,
        "forces": [(each, f"{peel_force(each):.2f}") for each in ANGLES],
        "curve": risk_curve_svg(wet, touch, full, choice.window.least_min, choice.window.most_min),
        "others": _pull_methods(choice),
    }


def _pull_methods(choice: RoundChoice) -> list[tuple[str, str, Any, str]]:
    """The best of every other pull method, beside the chosen one."""
    best: dict[str, tuple[str, str, Any, str]] = {}
    for seal, pull_method, words, problem in choice.others:
        if pull_method != choice.window.pull_method:
            best.setdefault(pull_method, (seal.replace("-", " "), pull_method, words, problem))
    return list(best.values())
