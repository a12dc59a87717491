"""The stack of layers at the Pattern station: which one is edited, what each is and where it lies, and where another may be laid."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from flask import request

from dividers.core.base.lengths import write_exact
from dividers.core.cells.as_painted import bands_of
from dividers.core.job.layers import ALL, CELLS, RECT, Zone
from dividers.core.job.model import Job, Piece
from dividers.core.patterns import BY_KEY
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.editing import Opened
from dividers.services.jobs.layer_view import lifted
from dividers.services.stations import pictures
from dividers.services.stations.looks import colors_in
from dividers.web.forms.fields import BASE
from dividers.web.numbers import asked
from dividers.web.stations.hand_board import hand_board


@dataclass(frozen=True)
class LayerRow:
    """One layer of the stack. `number` counts from 0 in painting order."""

    number: int
    name: str
    pattern: str
    colors: tuple[str, ...]
    where: str
    here: bool
    measured: bool
    measurable: bool


def asked_layer(piece: Piece) -> int:
    """The layer that the page is about: the one asked for, else the one painted last."""
    last = len(piece.stack) - 1
    return min(max(asked(request.values, "layer", last), 0), last)


def layer_board(plan: PiecePlan, opened: Opened, typed: Mapping[str, Any]) -> dict[str, Any]:
    """What the stack shows. `typed` is what is in the form for another layer, with its faults."""
    job, piece = opened.job, plan.piece
    shown = asked_layer(piece)
    rows = [
        LayerRow(
            number,
            layer.name if piece.layers else BY_KEY[layer.pattern.kind].title,
            BY_KEY[layer.pattern.kind].title,
            tuple(job.palette[color].hex for color in colors_in(layer.pattern)),
            where_in_words(layer.zone, job),
            number == shown,
            bool(layer.as_painted),
            any(above.zone.layer == layer.name and above.zone.each for above in piece.stack)
            and bool(bands_of(plan.layers[number].layouts[0], layer.pattern)),
        )
        for number, layer in enumerate(piece.stack)
    ]
    return {
        "layers": rows,
        "layer": shown if piece.layers else None,
        "parts_by_color": parts_by_color(plan, job),
        "layer_typed": typed.get("typed", {}),
        "layer_faults": typed.get("faults", ()),
        **hand_board(plan, opened, typed),
        "layer_pictures": pictures.layer_pictures(opened.revision.document, piece.key)
        if len(rows) > 1 or piece.by_hand or piece.steps
        else (),
        "part_here": part_here(opened, plan, shown),
        "draw_fault": typed.get("draw_fault", ""),
        "draw_typed": typed.get("draw_typed", {}),
    }


def part_here(opened: Opened, plan: PiecePlan, layer: int) -> dict[str, Any]:
    """What is asked where a part is pressed: the colours that the layer names ("" for the base), why the base can't be changed where it isn't, which layers have bands."""
    piece = plan.piece
    written = lifted(opened.document, opened.piece_number(piece.key), layer)["pieces"][opened.piece_number(piece.key)][
        "pattern"
    ]
    named: set[str] = set()
    for parameter in BY_KEY[written["kind"]].parameters:
        if parameter.names_color(written):
            value = written.get(parameter.key)
            named |= {color or BASE for color in (value if isinstance(value, list) else [value])}
    bare = "Nothing is painted here. The base is chosen under Paints; how far the pattern goes, by its margins and borders."
    banded = [
        number for number in range(len(piece.stack)) if bands_of(plan.layers[number].layouts[0], piece.stack[number].pattern)
    ]
    return {
        "layer": layer,
        "layers": [each.name for each in piece.stack],
        "named": sorted(named),
        "bare": bare,
        "banded": banded,
    }


def parts_by_color(plan: PiecePlan, job: Job) -> list[tuple[str, str]]:
    """What a layer can be laid in: (value, words) for each colour of each layer, and for what it leaves unpainted."""
    found = []
    for number, (layer, part) in enumerate(zip(plan.piece.stack, plan.layers, strict=True)):
        colors = [color for color in colors_in(layer.pattern) if any(each.in_color(color).any() for each in part.layouts)]
        bare: list[str | None] = [None] if any(each.in_color(None).any() for each in part.layouts) else []
        for color in [*colors, *bare]:
            words = job.palette[color].name if color else "Unpainted"
            found.append((f"{number}:{color or ''}", f"{words} parts of {layer.name}"))
    return found


def where_in_words(zone: Zone, job: Job) -> str:
    """Where a layer is laid."""

    def length(mm: Any) -> str:
        return write_exact(mm, job.units)

    if zone.kind == ALL:
        return "all of it"
    if zone.kind == RECT and zone.box:
        box = zone.box
        return f"{length(box.width)} by {length(box.height)}, {length(box.left)} from the left, {length(box.top)} from the top"
    if zone.kind != CELLS:
        return f"a shape of {len(zone.points)} corners"
    alone = ", each by itself" if zone.each else ""
    if zone.at:
        return f"{len(zone.at)} part{'s' if len(zone.at) > 1 else ''} of {zone.layer}{alone}"
    words = job.palette[zone.color].name.lower() if zone.color else "unpainted"
    return f"{words} parts of {zone.layer}{alone}"
