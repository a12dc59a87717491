"""Changing the stack of layers: add one where somebody pointed, drag, rename, take out, lay elsewhere."""

from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any

from flask import Blueprint, flash, redirect, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.base.lengths import read_length, write_kept
from dividers.core.base.whole import whole
from dividers.core.job.layers import ALL
from dividers.core.job_file.layer_reader import MOST_LAYERS
from dividers.services.jobs import editing, layer_edits, layer_starts
from dividers.web.database import connection
from dividers.web.numbers import asked
from dividers.web.stations.stations import page_of

blueprint = Blueprint("layers", __name__, url_prefix="/jobs/<int:job_id>/<piece>/layers")
FIELDS = ("where", "left", "top", "width", "height", "part", "color", "points", "name")


@blueprint.post("")
def add(job_id: int, piece: str) -> ResponseReturnValue:
    """Lay another layer where the form says, or lay one of those that are there elsewhere."""
    form = request.form
    opened = editing.open_job(connection(), job_id)
    typed = {key: form.get(key, "") for key in FIELDS} | {"each": form.get("each", "")}
    base = asked(form, "revision", -1)
    elsewhere = whole(form.get("elsewhere", ""), MOST_LAYERS)
    try:
        zone, on = _zone(opened, piece, form)
        if elsewhere is not None:
            layer_edits.lay_elsewhere(connection(), job_id, base, piece, elsewhere, zone)
            return _back(job_id, piece, elsewhere)
        pattern = layer_starts.first_pattern(opened.revision.document, piece, zone, on)
        number = layer_edits.add(connection(), job_id, base, piece, form.get("name", "").strip(), zone, pattern)
    except BadJob as bad:
        return _again(job_id, piece, typed, [fault.message for fault in bad.faults])
    except BadInput as bad_input:
        return _again(job_id, piece, typed, [bad_input.message])
    return _back(job_id, piece, number)


def _again(job_id: int, piece: str, typed: Mapping[str, str], said: list[str]) -> ResponseReturnValue:
    """The page with what was typed, and what is wrong with it."""
    return page_of(job_id, piece, "pattern", 422, {"typed": typed, "faults": said})


def _zone(opened: editing.Opened, piece: str, form: Mapping[str, str]) -> tuple[Any, str | None]:
    """The zone that the form says, as a job file has it, and the colour that is there. Raises BadInput."""
    each = form.get("each") == "on"
    match form.get("where", ALL):
        case "rect":
            sides = {key: form.get(key, "").strip() for key in ("left", "top", "width", "height")}
            if not sides["width"] or not sides["height"]:
                raise BadInput("Draw the rectangle, or give its width and height.", "width")
            return {"rect": {key: value or "0" for key, value in sides.items()}}, None
        case "points":
            pairs = [[part.strip() for part in pair.split(",")] for pair in form.get("points", "").split(";") if pair.strip()]
            return {"points": [_from_left_and_top(opened, piece, pair) for pair in pairs]}, None
        case "part":
            layer, color, at, panel = layer_edits.part_at(opened.revision.document, piece, form.get("part", ""))
            first = opened.piece(piece).surface.panels[0].name
            return {"cells": layer, "at": [at], "each": each, **({"panel": panel} if panel != first else {})}, color
        case "color":
            number, _, key = form.get("color", "").partition(":")
            stack = opened.piece(piece).stack
            at_layer = whole(number, len(stack) - 1)
            if at_layer is None or (key and key not in opened.job.palette):
                raise BadInput("Choose the parts it is laid in.", "color")
            return {"cells": stack[at_layer].name, "color": key or None, "each": each}, key or None
    return ALL, None


def _from_left_and_top(opened: editing.Opened, piece: str, pair: list[str]) -> list[str]:
    """A corner as the job file has it, of one that may be written from the right or the bottom: “54, bottom 0”. Raises BadInput."""
    panel, unit = opened.piece(piece).surface.panels[0], opened.job.units
    sizes = (("right", "left", panel.width_mm), ("bottom", "top", panel.height_mm))
    found = []
    for text, (far, near, size) in zip(pair, sizes, strict=False):
        word, _, length = text.partition(" ")
        if word.lower() == far:
            text = write_kept(size - _length(length, unit), unit)
        found.append(length if word.lower() == near else text)
    return [*found, *pair[2:]]


def _length(text: str, unit: str) -> Fraction:
    try:
        return read_length(text, unit).mm
    except BadInput as fault:
        raise BadInput(fault.message, "points", text) from fault


@blueprint.post("/<int:layer>")
def act(job_id: int, piece: str, layer: int) -> ResponseReturnValue:
    """Move a layer, rename it, or take it out."""
    form = request.form
    base = asked(form, "revision", -1)
    acts: Mapping[str, Callable[[], int | None]] = {
        "up": lambda: layer_edits.move(connection(), job_id, base, piece, layer, layer + 1),
        "down": lambda: layer_edits.move(connection(), job_id, base, piece, layer, layer - 1),
        "to": lambda: layer_edits.move(connection(), job_id, base, piece, layer, asked(form, "to", layer)),
        "rename": lambda: layer_edits.rename(connection(), job_id, base, piece, layer, form.get("name", "")),
        "remove": lambda: layer_edits.remove(connection(), job_id, base, piece, layer),
    }
    shown: int | None = layer
    try:
        wanted = acts.get(form.get("do", ""))
        moved = wanted() if wanted else None
        shown = moved if moved is not None else None if form.get("do") == "remove" else layer
    except BadJob as bad:
        flash(" ".join(fault.message for fault in bad.faults))
    except BadInput as bad_input:
        flash(bad_input.message)
    return _back(job_id, piece, shown)


def _back(job_id: int, piece: str, layer: int | None) -> ResponseReturnValue:
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="pattern", layer=layer), 303)
