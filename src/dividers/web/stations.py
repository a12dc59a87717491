"""The stations of one piece: the drawing dressed each one's way, a list beside it, a form that redraws as you type."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from flask import Blueprint, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from dividers.core.document import Document, free_key, look_up, put
from dividers.core.errors import BadJob, Fault, NotFound
from dividers.core.lengths import GRADUATIONS, read_off
from dividers.core.marks import exact
from dividers.core.patterns import BY_KEY
from dividers.core.plan import PiecePlan
from dividers.core.scene import View
from dividers.services import editing, pictures
from dividers.services.planning import piece_plan
from dividers.web.database import connection
from dividers.web.fields import Field, changes_in, fields_of, filled, with_faults
from dividers.web.htmx import is_htmx, vary
from dividers.web.mark_list import grouped, tape_picture

blueprint = Blueprint("stations", __name__, url_prefix="/jobs/<int:job_id>/<piece>")

STATIONS = {"survey": "Survey", "pattern": "Pattern", "marks": "Marks", "tape": "Tape", "materials": "Materials"}
WARNS_AT = {"cut-stripe": "pattern", "no-centre-stripe": "pattern", "sliver": "pattern", "wider-than-cell": "tape"}


@blueprint.get("/<station>")
def show(job_id: int, piece: str, station: str) -> ResponseReturnValue:
    opened = _open(job_id, piece, station)
    fields = fields_of(station, opened.job, opened.piece(piece))
    homeless: list[Fault] = []
    draft = editing.find_draft(connection(), job_id, piece, station)
    if draft:
        faults = editing.faults_of(connection(), job_id, piece, changes_in(fields, draft))
        fields, homeless = with_faults(filled(fields, draft), faults, f"pieces.{opened.piece_number(piece)}")
    return _page(opened, piece, station, fields, homeless)


@blueprint.post("/<station>")
def save(job_id: int, piece: str, station: str) -> ResponseReturnValue:
    opened = _open(job_id, piece, station)
    fields = fields_of(station, opened.job, opened.piece(piece))
    typed: dict[str, list[str]] = {
        name: values for name, values in request.form.lists() if name not in ("csrf_token", "action")
    }
    changes = changes_in(fields, typed)
    action = request.form.get("action", "")
    base = request.form.get("revision", -1, int)
    if action == "forget":
        editing.drop_draft(connection(), job_id, piece, station)
        return _page(opened, piece, station, fields, [])
    homeless: list[Fault] = []
    status = 200
    try:
        editing.edit_piece(connection(), job_id, piece, station, base, changes, typed, _action(action))
        opened = editing.open_job(connection(), job_id)
        fields = fields_of(station, opened.job, opened.piece(piece))
    except BadJob as bad:
        fields, homeless = with_faults(filled(fields, typed), bad.faults, f"pieces.{opened.piece_number(piece)}")
        status = 200 if is_htmx() else 422  # while typing, a fault is a state of the page and not an error of the request
    return _page(opened, piece, station, fields, homeless, status)


def _open(job_id: int, piece: str, station: str) -> editing.Opened:
    if station not in STATIONS:
        raise NotFound("There is no such station.")
    opened = editing.open_job(connection(), job_id)
    opened.piece(piece)
    return opened


def _action(action: str) -> Callable[[Document, str], None] | None:
    """What a button adds to or takes from the document, besides saving the fields."""
    name, *places = action.split(":")
    numbers = [int(place) for place in places if place.isdigit() and len(place) < 4]
    if name == "add-opening" and len(numbers) == 1:
        return lambda document, piece: _add_opening(document, f"{piece}.surface.panels.{numbers[0]}")
    if name == "remove-opening" and len(numbers) == 2:
        return lambda document, piece: _remove(document, f"{piece}.surface.panels.{numbers[0]}.openings", numbers[1])
    if name == "add-color":
        return lambda document, piece: put(
            document, f"{piece}.pattern.colors", [*look_up(document, f"{piece}.pattern.colors"), None]
        )
    if name == "remove-color" and len(numbers) == 1:
        return lambda document, piece: _remove(document, f"{piece}.pattern.colors", numbers[0])
    if name == "add-palette":
        return lambda document, piece: _add_to_palette(document)
    return None


def _add_opening(document: Document, panel: str) -> None:
    """A small opening in a free corner of the panel, to be measured."""
    usual = {"in": "6", "cm": "15", "mm": "150"}[document["units"]]
    openings = look_up(document, f"{panel}.openings") or []
    new = {"name": f"Opening {len(openings) + 1}", "left": "0", "top": "0", "width": usual, "height": usual}
    put(document, f"{panel}.openings", [*openings, new])


def _remove(document: Document, path: str, number: int) -> None:
    entries = look_up(document, path) or []
    if len(entries) > 1 or path.endswith("openings"):
        put(document, path, [entry for index, entry in enumerate(entries) if index != number])


def _add_to_palette(document: Document) -> None:
    key = free_key("colour", document["palette"])
    document["palette"] = document["palette"] | {key: {"name": f"Colour {len(document['palette']) + 1}", "hex": "#8a6d3b"}}


def _page(
    opened: editing.Opened, piece: str, station: str, fields: list[Field], homeless: list[Fault], status: int = 200
) -> ResponseReturnValue:
    plan = piece_plan(opened.revision.document, piece)
    rounds = len(plan.taping.chosen.passes)
    shown = min(max(request.values.get("pass", 1, int), 1), max(rounds, 1))
    view = View(marks=station == "marks", strips_of=shown if station == "tape" and rounds else None)
    body = render_template(
        "stations/_work.html" if is_htmx() else "stations/page.html",
        opened=opened,
        job=opened.job,
        plan=plan,
        piece=plan.piece,
        station=station,
        stations=STATIONS,
        warned={WARNS_AT.get(warning.code, "") for warning in plan.warnings},
        sections=_sections(fields),
        homeless=homeless,
        faulty=bool(homeless) or any(field.faults for field in fields),
        drawing=Markup(pictures.drawing(opened.revision.document, piece, view)),
        thumbnails={p.key: Markup(pictures.thumbnail(opened.revision.document, p.key)) for p in opened.job.pieces},
        shown=shown,
        icons={kind: Markup(pictures.pattern_icon(kind)) for kind in BY_KEY} if station == "pattern" else {},
        **(LISTS[station](plan, opened, shown) if station in LISTS else {}),
    )
    return vary(body, status)


def _sections(fields: list[Field]) -> dict[str, list[Field]]:
    """The fields by the headings they stand under, in order."""
    return {name: [f for f in fields if f.section == name] for name in dict.fromkeys(f.section for f in fields)}


@dataclass(frozen=True)
class StripRow:
    """A strip as the Tape station lists it."""

    key: str
    kind: str
    side: str
    length: str
    ends: str
    slit: str


def _mark_list(plan: PiecePlan, opened: editing.Opened, _: int) -> dict[str, Any]:
    groups = grouped(plan)
    rows = [(key, mark) for group in groups for _, key, mark in group.rows]
    wanted = request.values.get("mark", "")
    chosen = next((row for row in rows if row[0] == wanted), rows[0] if rows else None)
    picture = tape_picture(chosen[1], opened.job.graduation) if chosen else ""
    return {"mark_groups": groups, "chosen": chosen, "chosen_tape": picture}


def _strip_list(plan: PiecePlan, opened: editing.Opened, shown: int) -> dict[str, Any]:
    rows: list[StripRow] = []
    number = 0
    unit = opened.job.units
    for each in plan.taping.chosen.passes:
        for strips in each.strips:
            for index in range(len(strips)):
                number += 1
                if each.number == shown:
                    first, second = (f"{abs(angle):.0f}°" if abs(angle) > 0.5 else "square" for angle in strips.ends[index])
                    slit = strips.slit_mm[index]
                    rows.append(
                        StripRow(
                            key=f"s{number}",
                            kind="outer edge" if strips.perimeter[index] else "edge",
                            side=strips.side_in_words(index),
                            length=write_rough(float(strips.lengths[index]), unit),
                            ends=first if first == second else f"{first}, {second}",
                            slit="" if slit != slit else write_rough(float(slit), unit),
                        )
                    )
    return {"strips": rows, "rounds": plan.taping.chosen.passes}


def write_rough(mm: float, unit: str) -> str:
    """A length for cutting tape: to the next 1/4 in or 5 mm up."""
    step = GRADUATIONS["1/4 in"] if unit == "in" else GRADUATIONS["1 mm"].in_unit(unit)
    return read_off(exact(mm), step).text


LISTS: dict[str, Callable[[PiecePlan, editing.Opened, int], dict[str, Any]]] = {"marks": _mark_list, "tape": _strip_list}
