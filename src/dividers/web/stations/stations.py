"""The stations of one piece: the drawing dressed each one's way, a list beside it, a form that redraws as you type."""

from collections.abc import Callable, Mapping, Sequence, Set
from typing import Any

import numpy as np
from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadJob, Fault, NotFound
from dividers.core.job.layers import ALL
from dividers.core.job.method import BY_EYE
from dividers.core.marks.marks import Mark
from dividers.core.output.scene import View
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Region
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.rounds.conflicts import colour_order
from dividers.services.jobs import editing
from dividers.services.jobs.planning import piece_plan
from dividers.services.stations import large_plans, looks, mark_ticks, pictures, tape_drawing
from dividers.services.stations.shopping import shopping
from dividers.services.stations.standing import standing
from dividers.services.supplies import looks_kept, supplies
from dividers.web.database import connection
from dividers.web.forms.fields import Field, changes_in, filled, with_faults
from dividers.web.htmx import is_htmx, vary
from dividers.web.numbers import asked
from dividers.web.stations.check_board import marked_board
from dividers.web.stations.counts_board import counts_board
from dividers.web.stations.draw_board import draw_board, handle_board
from dividers.web.stations.fit_board import fit_board
from dividers.web.stations.layer_board import asked_layer, layer_board
from dividers.web.stations.mark_list import found_by, listed, tape_picture
from dividers.web.stations.mark_ways import MOST_CELLS, mark_ways
from dividers.web.stations.measure_board import advice_of, survey_board
from dividers.web.stations.measure_fields import READ, on_drawing
from dividers.web.stations.reach_board import reach_boards
from dividers.web.stations.schedule_board import schedule_board
from dividers.web.stations.station_actions import action_of, colors_used
from dividers.web.stations.station_fields import fields_of
from dividers.web.stations.strip_list import strip_list
from dividers.web.stations.told import told

SHOWS = {
    "view",
    "choose",
    "layer",
    "round",
    "mark",
    "strip",
    "look",
}  # what an address asks to see of the drawing: anything else asks for the lists
MOST_REGIONS = 48  # so many are listed where more can be coloured in the drawing
blueprint = Blueprint("stations", __name__, url_prefix="/jobs/<int:job_id>/<piece>")

STATIONS = {
    "measure": "Measure",
    "pattern": "Pattern",
    "marks": "Marks",
    "tape": "Tape",
    "schedule": "Schedule",
    "materials": "Materials",
}


@blueprint.get("/<station>")
def show(job_id: int, piece: str, station: str) -> ResponseReturnValue:
    return page_of(job_id, piece, station)


def page_of(
    job_id: int, piece: str, station: str, status: int = 200, adding: Mapping[str, Any] | None = None
) -> ResponseReturnValue:
    """A station's page as the job is, with what was typed there and is not valid.

    `adding` is what is in a form beside the fields: for a new reading, or for what was found after marking, with its faults.
    """
    opened = _open(job_id, piece, station)
    _require_amounts(opened, station)
    layer = asked_layer(opened.piece(piece))
    fields = fields_of(station, opened.job, opened.piece(piece), layer)
    unplaced: list[Fault] = []
    draft = editing.find_draft(connection(), job_id, piece, station)
    if draft:
        faults = editing.faults_of(connection(), job_id, piece, changes_in(fields, draft), layer)
        fields, unplaced = with_faults(filled(fields, draft), faults, f"pieces.{opened.piece_number(piece)}")
    return _page(opened, piece, station, fields, unplaced, status, adding)


@blueprint.post("/<station>")
def save(job_id: int, piece: str, station: str) -> ResponseReturnValue:
    opened = _open(job_id, piece, station)
    layer = asked_layer(opened.piece(piece))
    fields = fields_of(station, opened.job, opened.piece(piece), layer)
    typed: dict[str, list[str]] = {
        name: values for name, values in request.form.lists() if name not in ("csrf_token", "once", "action")
    }
    changes = changes_in(fields, typed)
    action = request.form.get("action", "")
    base = asked(request.form, "revision", -1)
    if action == "forget":
        editing.drop_draft(connection(), job_id, piece, station)
        return _page(opened, piece, station, fields, [])
    unplaced: list[Fault] = []
    status, removed = 200, False
    try:
        editing.edit_piece(connection(), job_id, piece, station, base, changes, typed, action_of(action), layer)
        opened = editing.open_job(connection(), job_id)
        removed = action.startswith("remove-")
        _require_amounts(opened, station)
        fields = fields_of(station, opened.job, opened.piece(piece), layer)
    except BadJob as bad:
        fields, unplaced = with_faults(filled(fields, typed), bad.faults, f"pieces.{opened.piece_number(piece)}")
        status = 200 if is_htmx() else 422  # while typing, a fault is a state of the page and not an error of the request
    return _page(opened, piece, station, fields, unplaced, status, removed=removed, seen=base if is_htmx() else None)


@blueprint.get("/looks/<kind>.svg")
def look(job_id: int, piece: str, kind: str) -> ResponseReturnValue:
    """A pattern as it would look on this piece. Its address changes with what it shows."""
    opened = editing.open_job(connection(), job_id)
    made = Response(
        looks.look_of(opened.revision.document, piece, kind, asked(request.args, "layer", 0)) or pictures.pattern_icon(kind),
        mimetype="image/svg+xml",
    )
    made.headers["Cache-Control"] = "private, max-age=86400"
    return made


@blueprint.post("/ticks")
def tick(job_id: int, piece: str) -> ResponseReturnValue:
    """Tick a mark off, take its tick back, or clear all."""
    if request.form.get("clear"):
        mark_ticks.clear(connection(), job_id, piece)
    else:
        mark_ticks.tick(connection(), job_id, piece, request.form.get("mark", ""), request.form.get("made") == "on")
    if is_htmx():
        return show(job_id, piece, "marks")
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="marks"), 303)


def _open(job_id: int, piece: str, station: str) -> editing.Opened:
    if station not in STATIONS:
        raise NotFound("There is no such station.")
    opened = editing.open_job(connection(), job_id)
    opened.piece(piece)
    return opened


def _require_amounts(opened: editing.Opened, station: str) -> None:
    """What is bought goes by every piece: with large ones it may take a while. Raises NotYet."""
    if station == "materials":
        large_plans.require_all_ready(opened.id, opened.revision.document, marks=True)


def _page(
    opened: editing.Opened,
    piece: str,
    station: str,
    fields: list[Field],
    unplaced: list[Fault],
    status: int = 200,
    adding: Mapping[str, Any] | None = None,
    removed: bool = False,
    seen: int | None = None,
) -> ResponseReturnValue:
    """`seen` is the revision that the page shows into which the answer is put, None where it is a page by itself."""
    document = opened.revision.document
    plan = piece_plan(document, piece)
    if not large_plans.is_ready(opened.id, opened.revision.document, piece, marks=station == "marks"):
        return _page_to_follow(opened, plan, station, fields, unplaced, status)
    rounds = len(plan.taping.chosen.rounds)
    shown = min(max(asked(request.values, "round", 1), 1), max(rounds, 1))
    building = station == "tape" or (station == "pattern" and request.values.get("view") == "build")
    numbered = station == "measure" and any(panel.contour for panel in plan.piece.surface.panels)
    view = View(marks=station == "marks", strips_of=shown if building and rounds else None, corners=numbered)
    body = render_template(
        "stations/_work.html" if is_htmx() else "stations/page.html",
        opened=opened,
        job=opened.job,
        plan=plan,
        piece=plan.piece,
        station=station,
        stations=STATIONS,
        standing=standing(connection(), opened, piece),
        sections=_sections(fields),
        unplaced=unplaced,
        faulty=bool(unplaced) or any(field.faults for field in fields),
        lists_open=bool(station != "pattern" and adding and adding.keys() & {"fault", "faults"})
        or (request.method == "GET" and not set(request.args) <= SHOWS),
        drawing=pictures.drawing(opened.revision.document, piece, view),
        thumbnails=pictures.thumbnails(document)
        if seen is None
        else pictures.thumbnails_since(connection(), opened.revision, seen, piece),
        shown=shown,
        removed=removed,
        **{"layer": None, **(layer_board(plan, opened, adding or {}) if station == "pattern" else {})},
        **handle_board(plan, opened.job.units, opened.job.graduation, station, asked_layer(plan.piece)),
        **{"told": told(plan, opened, station, shown), **(LISTS[station](plan, opened, shown) if station in LISTS else {})},
        **(
            {**survey_board(plan, opened, fields, adding or {}), **on_drawing(plan.piece, fields)}
            if station == "measure"
            else {}
        ),
        **(schedule_board(plan, opened, request.args) if station == "schedule" else {}),
        **(marked_board(plan, opened, adding or {}) if station == "marks" else {}),
        **({"shopping": shopping(opened.revision.document)} if station == "materials" else {}),
    )
    return vary(body, status)


def _page_to_follow(
    opened: editing.Opened, plan: PiecePlan, station: str, fields: list[Field], unplaced: list[Fault], status: int
) -> ResponseReturnValue:
    """The page of a large piece with all that is ready; the rest is fetched by itself when it is worked out."""
    shown = [each for each in opened.job.pieces if each.key != plan.piece.key]
    body = render_template(
        "stations/_work.html" if is_htmx() else "stations/page.html",
        opened=opened,
        job=opened.job,
        plan=plan,
        piece=plan.piece,
        station=station,
        stations=STATIONS,
        standing=standing(connection(), opened, plan.piece.key),
        sections=_sections(fields),
        unplaced=unplaced,
        faulty=bool(unplaced) or any(field.faults for field in fields),
        follows=True,
        layer=asked_layer(plan.piece) if plan.piece.layers else None,
        thumbnails={each.key: pictures.thumbnail(opened.revision.document, each.key) for each in shown},
        shown=max(asked(request.values, "round", 1), 1),
        building=request.values.get("view") == "build",
        looks=looks.look_key(opened.revision.document, plan.piece.key, asked_layer(plan.piece)) if station == "pattern" else "",
        used_colors=colors_used(opened.document) if station == "pattern" else set(),
        supply_colors=supplies.colors(connection()) if station == "pattern" else [],
    )
    return vary(body, status)


def _sections(fields: list[Field]) -> dict[str, list[Field]]:
    """The fields by the headings they stand under, in order."""
    return {name: [f for f in fields if f.section == name] for name in dict.fromkeys(f.section for f in fields) if name != READ}


def _mark_list(plan: PiecePlan, opened: editing.Opened, _: int) -> dict[str, Any]:
    shown = listed(plan)
    rows = [(key, mark) for group in shown.groups for _, key, mark in group.rows]
    done = mark_ticks.ticked(connection(), opened.id, plan.piece.key)
    ticked = {key for key, mark in rows if mark_ticks.name_of(mark) in done}
    chosen = _mark_under_hand(rows, ticked)
    ways = mark_ways(connection(), plan)
    picture = tape_picture(chosen[1], opened.job.graduation) if chosen else ""
    return {
        "mark_groups": shown.groups,
        "left_out": shown.left_out,
        "snaps": shown.snaps,
        "chosen": chosen,
        "by_eye": bool(plan.marks) and all(each.method.marks == BY_EYE for each in plan.piece.stack),
        "chosen_tape": picture,
        "mark_ways": ways,
        "fewest": min((way.marks for way in ways if way.action and not way.lacking and way.marks < len(plan.marks)), default=0),
        "found_by": found_by(plan) if plan.marks and plan.cell_count <= MOST_CELLS else [],
        "reaches": reach_boards(plan),
        "ticked": ticked,
    }


def _mark_under_hand(rows: Sequence[tuple[str, Mark]], ticked: Set[str]) -> tuple[str, Mark] | None:
    """The mark whose reading is drawn: the one asked for; after a tick the next one that isn't made, as it is to begin with."""
    keys = [key for key, _ in rows]
    wanted = request.values.get("mark", "")
    at = keys.index(wanted) if wanted in keys else 0
    if wanted in keys and request.form.get("made") != "on":
        return rows[at]
    waiting = [row for row in [*rows[at:], *rows[:at]] if row[0] not in ticked]
    return waiting[0] if waiting else rows[at] if rows else None


def _strips(plan: PiecePlan, opened: editing.Opened, shown: int) -> dict[str, Any]:
    order = colour_order(plan.layouts, opened.job.palette, plan.piece.method.order)
    return strip_list(plan, opened.job, shown) | {"order": order}


def _swatch(plan: PiecePlan, opened: editing.Opened, _: int) -> dict[str, Any]:
    layer = asked_layer(plan.piece)
    drawing = request.values.get("view") != "build" and tape_drawing.can_be_drawn(plan.piece, layer)
    own, whole_field = plan.layers[layer], plan.piece.stack[layer].zone.kind == ALL
    regions = _regions(own, plan.cell_keys[layer * plan.sheet_count])
    return {
        "draw": draw_board(opened, plan.piece, layer) if drawing else None,
        "swatch": pictures.swatch(opened.revision.document, plan.piece.key),
        "building": request.values.get("view") == "build",
        "rounds": plan.taping.chosen.rounds,
        "regions": regions[:MOST_REGIONS] if drawing else regions,
        "more_regions": max(len(regions) - MOST_REGIONS, 0) if drawing else 0,
        "advices": advice_of(own, opened),
        **(fit_board(own, opened, request.args) if whole_field else {}),
        "used_colors": colors_used(opened.document),
        "supply_colors": supplies.colors(connection()),
        "looks": looks.look_key(opened.revision.document, plan.piece.key, layer),
        **(counts_board(own, opened) if whole_field else {}),
        "recipes": looks_kept.shelf(connection()),
    }


def _regions(plan: PiecePlan, keys: Sequence[str]) -> list[tuple[str, Region, str]]:
    """The regions of a pattern that is filled region by region: the key of a cell in each, the region, and its colour ("" for base) or "striped"."""
    pattern, layout = plan.piece.pattern, plan.layouts[0]
    find = BY_KEY[pattern.kind].regions
    if find is None or layout.tiles.regions is None:
        return []
    owner = np.where(layout.origins >= 0, layout.tiles.regions[layout.origins], -1)
    rows = []
    for number, region in enumerate(find(Ground.of(layout.sheet, 0.0), pattern.values)):
        cells = np.flatnonzero(owner == number)
        fill = pattern.values["fills"][region.fill] if region.fill is not None else None
        color = "" if fill is None else "striped" if fill.stripe_mm else fill.colors[0] or ""
        rows.append((keys[cells[0]] if len(cells) else "", region, color))
    return rows


LISTS: dict[str, Callable[[PiecePlan, editing.Opened, int], dict[str, Any]]] = {
    "pattern": _swatch,
    "marks": _mark_list,
    "tape": _strips,
}
