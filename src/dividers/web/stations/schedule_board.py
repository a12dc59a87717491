"""The Schedule station's board: the chart, why it ends when it does, the day list, forecasts, and what could be changed."""

import json
from collections.abc import Mapping, Sequence
from typing import Any

from markupsafe import Markup

from dividers.core.base.errors import DividersError
from dividers.core.base.quantities import spoken
from dividers.core.base.safety import SAFETY
from dividers.core.job.drying import label_min, wet_edge_min
from dividers.core.job.model import Piece
from dividers.core.order.day_bands import day_bands_of
from dividers.core.order.explain import when
from dividers.core.order.fewer_coats import one_coat_of
from dividers.core.order.goes import Go, goes_of
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.schedule import Schedule, gains_of
from dividers.core.output.scene import View
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.risk.forecast import peel_force, pull_angle
from dividers.core.wall.small_acts import acts_in_all
from dividers.formats.drawings.day_bands_svg import day_bands_svg
from dividers.formats.drawings.risk_curve_svg import risk_curve_svg
from dividers.formats.drawings.scene_svg import thumbnail_svg
from dividers.services import clock
from dividers.services.jobs import evidence
from dividers.services.jobs.editing import Opened
from dividers.services.logbook.speed import speed_of_own
from dividers.services.stations import pictures, scheduling
from dividers.services.supplies import supplies
from dividers.services.wall.at_the_wall import open_run
from dividers.web.database import connection
from dividers.web.stations.chances_board import chances_board
from dividers.web.stations.days_board import go_days_of

ANGLES = (45, 90, 135, 180)


def schedule_board(plan: PiecePlan, opened: Opened, asked: Mapping[str, str]) -> dict[str, Any]:
    """What the board's template shows; `schedule` is None while it is being worked out."""
    document = opened.revision.document
    schedule = scheduling.schedule_for(opened.id, evidence.informed(connection(), document))
    supply_items = [item for item in supplies.items(connection()) if not item.retired_at]
    shown: dict[str, Any] = {
        "supply_items": supply_items,
        "schedule": schedule,
        "days": [],
        "wants_variants": "whatif" in asked,
        "variants": None,
        "chances": None,
    }
    if schedule is None:
        waited = scheduling.waited_s(evidence.informed(connection(), document))
        return shown | {"chosen": scheduling.choices_of(document, plan.piece.key), "waited_s": round(waited)}
    shown["possible"] = schedule.solution.times is not None
    if "anyway" in asked:
        shown["schedule"] = schedule = schedule.at_risk
    goes = goes_of(schedule)
    bands = day_bands_of(schedule, goes)
    choices = schedule.work.choices.get(plan.piece.key, ())
    if "whatif" in asked:
        shown["variants"] = variants = scheduling.variants_for(opened.id, evidence.informed(connection(), document))
        shown["gains"] = gains_of(variants) if variants else []
    if "chances" in asked:
        shown["chances"] = chances_board(schedule.at_risk, speed_of_own(connection()))
    return shown | {
        "day_bands": day_bands_svg(bands, _pictures(document, schedule)) if bands else "",
        "days": go_days_of(schedule, goes),
        "start_said": _start_said(opened, schedule, goes),
        "order_status": status_said(schedule),
        "acts": acts_in_all(plan, schedule.work.tasks, choices),
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


def _pictures(document: str, schedule: Schedule) -> dict[tuple[str, int | None], Markup]:
    """A small picture of every piece (None) and round, by piece and number."""
    found: dict[tuple[str, int | None], Markup] = {}
    for piece in schedule.job.pieces:
        found[(piece.key, None)] = pictures.thumbnail(document, piece.key)
        for choice in schedule.work.choices.get(piece.key, ()):
            try:
                scene = pictures.scene_of(document, piece.key, View(strips_of=choice.number))
            except DividersError:
                continue
            found[(piece.key, choice.number)] = thumbnail_svg(scene)
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


def _start_said(opened: Opened, schedule: Schedule, goes: Sequence[Go]) -> str:
    """What to begin with next, in a sentence."""
    if open_run(connection(), opened.id):
        return "This job is being painted: what comes next is said At the wall."
    now = clock.on_site(clock.moment()).replace(tzinfo=None)
    later = [go for go in goes if schedule.calendar.moment(go.begin).replace(tzinfo=None) >= now]
    first = next(iter(later if later and len(later) < len(goes) else goes), None)
    if first is None:
        return ""
    at = schedule.calendar.moment(first.begin)
    return f"Start with {first.number}, {first.title}: {first.words}, {at:%A} {at.day} {at:%B} at {at:%H:%M}."


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
