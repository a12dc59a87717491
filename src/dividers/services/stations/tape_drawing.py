"""Drawing with tape: strips of a free design laid by pointing, points moved, regions coloured. Each is a change that can be undone."""

import json
import sqlite3
from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation, read_length
from dividers.core.base.whole import whole
from dividers.core.cells.zones import area_of
from dividers.core.job.document import Document
from dividers.core.job.model import Job, Piece
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.free import construction
from dividers.core.patterns.free.holds import meant, targets
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.points import place_from, place_text
from dividers.core.patterns.free.ways_out import advice
from dividers.core.survey.sheet import sheets_of
from dividers.services.jobs import editing
from dividers.services.jobs.layer_view import lifted, lowered
from dividers.services.jobs.planning import job_of

MOST_STRIPES = 40
LONGEST = 2000
FURTHEST_MM = 1e6


def can_be_drawn(piece: Piece, layer: int) -> bool:
    """Whether a layer is a free design on one ground: a sheet, folded or not, or a part of it."""
    return (
        piece.stack[layer].pattern.kind == "facets" and area_of(sheets_of(piece.surface), piece.stack[layer].zone) is not None
    )


def drawn(job: Job, piece: Piece, layer: int) -> dict[str, Any]:
    """What the page needs to draw with: what can be taken hold of, each point's words, where the drawing begins on the sheet.

    Raises BadInput.
    """
    pattern = written(job, piece, layer)
    area = _area(piece, layer)
    found = targets(pattern, area, job.units, job.graduation)
    points = located(construction.places_of(pattern, job.units), area)
    box = _outline(piece)
    words = {name: place_text(name, place).partition(": ")[2] for name, place in (pattern.get("points") or {}).items()}
    ways = [
        (f"{way.point}: {way.words[0].lower()}{way.words[1:]}", way.point, place_text(way.point, way.place).partition(": ")[2])
        for each in advice(pattern, area, job.units, job.graduation)
        for way in each.ways
    ]
    found["bare"] = construction.without_color(pattern, area, job.units) if pattern.get("fills") else []
    found["guides"] = [{"a": a, "b": b, "ends": [*points[a], *points[b]]} for a, b in construction.guides_of(pattern)]
    return found | {"ways": ways, "origin": [float(box.left), float(box.top)], "words": words, "unit": job.units, "tape": float(piece.stack[layer].method.tape.width_mm)}  # fmt: skip


def written(job: Job, piece: Piece, layer: int) -> Document:
    number = [each.key for each in job.pieces].index(piece.key)
    found: Document = lifted(dict(job.document), number, layer)["pieces"][number]["pattern"]
    return found


def _area(piece: Piece, layer: int) -> Rectangle:
    area = area_of(sheets_of(piece.surface), piece.stack[layer].zone)
    if area is None:
        raise BadInput("Only facets on one ground are drawn with tape.", "do")
    return area


def _outline(piece: Piece) -> Rectangle:
    boxes = [placed.box(placed.panel.outline) for placed in sheets_of(piece.surface)[0].placed]
    return Rectangle(
        min(b.left for b in boxes), min(b.top for b in boxes), max(b.right for b in boxes), max(b.bottom for b in boxes)
    )


def act(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, layer: int, form: Mapping[str, str]) -> None:
    """Do what a form asks: lay, beside, move, set, color or remove. Raises BadInput, BadJob, Conflict."""
    what = form.get("do", "")
    labels = {"lay": "Laid a strip", "beside": "Laid strips beside a line", "move": "Moved a point", "set": "Set a reading", "color": "Coloured a region", "remove": "Took a strip off", "guide": "Traced a guide", "unguide": "Removed a guide", "cut": "Cut a strip"}  # fmt: skip
    labels["clear"] = "Took all tape off"
    if what not in labels:
        raise BadInput("Choose what to do: lay tape, move a point, colour a region or take a strip off.", "do")

    def edit(document: Document) -> Document:
        number = editing.number_of(document, piece_key)
        open_document = lifted(document, number, layer)
        piece_document = open_document["pieces"][number]
        job = job_of(json.dumps(document))
        piece = job.pieces[number]
        own = min(layer, len(piece.stack) - 1)
        if not can_be_drawn(piece, own):
            raise BadInput("Only facets on one ground are drawn with tape, not in many parts each by itself.", "do")
        before = piece_document["pattern"]
        area, unit = _area(piece, own), job.units
        after = _changed(before, area, unit, job.graduation, what, form)
        if what != "color":
            after = construction.with_colors_kept(before, after, area, unit, job.graduation)
        pieces = [each | {"pattern": after} if at == number else each for at, each in enumerate(open_document["pieces"])]
        return lowered(open_document | {"pieces": pieces}, number, layer)

    editing.change(connection, job_id, base, labels[what], edit, piece_key)


def _changed(
    before: Document, area: Rectangle, unit: str, graduation: Graduation, what: str, form: Mapping[str, str]
) -> Document:
    match what:
        case "clear":
            return construction.swept(before | {"lines": [], "fills": []})
        case "lay":
            ends = (meant(_json(form.get(key, "")), area, unit, graduation) for key in ("from", "to"))
            return construction.with_strip(before, area, unit, *ends)
        case "guide":
            ends = (meant(_json(form.get(key, "")), area, unit, graduation) for key in ("from", "to"))
            return construction.with_guide(before, area, unit, *ends)
        case "beside":
            a, _, b = form.get("line", "").partition(" ")
            side = "right" if form.get("side") == "right" else "left"
            return construction.with_stripes_beside(before, area, unit, (a, b), _offsets(form, unit), side)
        case "move":
            return construction.with_point(
                before, form.get("point", ""), meant(_json(form.get("to", "")), area, unit, graduation)
            )
        case "set":
            name = form.get("point", "")
            return construction.with_point(before, name, place_from(f"{name}: {form.get('reading', '').strip()[:200]}")[1])
        case "color":
            return construction.with_color(before, area, unit, _spot(form), form.get("color") or None, graduation)
    strip = whole(form.get("strip", ""), construction.MOST_LINES * 10)
    if what == "unguide":
        return construction.without_guide(before, -1 if strip is None else strip)
    if what == "cut":
        return construction.cut_away(before, area, unit, -1 if strip is None else strip, _spot(form))
    return construction.without_strip(before, -1 if strip is None else strip)


def _spot(form: Mapping[str, str]) -> tuple[float, float]:
    """A place on the sheet that somebody pointed at, mm."""
    at = _json(form.get("at", ""))
    if (
        not isinstance(at, list)
        or len(at) != 2
        or not all(isinstance(each, int | float) and abs(each) < FURTHEST_MM for each in at)
    ):
        raise BadInput("That place can't be read. Point again.", "points")
    return float(at[0]), float(at[1])


def _offsets(form: Mapping[str, str], unit: str) -> list[Fraction]:
    """How far off the line each strip lies: the first, and as many more as are asked for, each so much further."""
    first = read_length(form.get("off", ""), unit).mm
    many = whole(form.get("many", "") or "1", MOST_STRIPES)
    if not many:
        raise BadInput(f"Give 1 to {MOST_STRIPES} strips.", "many")
    further = read_length(form.get("further", ""), unit).mm if many > 1 else Fraction(0)
    return [first + further * turn for turn in range(many)]


def _json(text: str) -> Any:
    try:
        return json.loads(text) if len(text) <= LONGEST else None
    except ValueError as fault:
        raise BadInput("That place can't be read. Point again.", "points") from fault
