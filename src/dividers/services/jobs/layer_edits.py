"""Changing a piece's layers: they are added, moved, renamed, taken out, laid elsewhere, measured."""

import copy
import sqlite3
from collections.abc import Callable, Mapping
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact, write_kept
from dividers.core.geometry import polygons
from dividers.core.job.document import Document
from dividers.core.job.layers import ALL
from dividers.core.job.reader import LONGEST_NAME
from dividers.core.job_file.layer_reader import MOST_LAYERS, by_hand
from dividers.services.jobs import editing
from dividers.services.jobs.layer_view import taped_layers, with_piece
from dividers.services.jobs.planning import piece_plan

Edit = Callable[[list[Document]], None]


def add(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, name: str, zone: Any, pattern: Document) -> int:
    """Lay another layer over those that are there; returns its number from 0. Raises BadInput, BadJob."""
    made: list[int] = []

    def act(layers: list[Document]) -> None:
        if len(layers) >= MOST_LAYERS:
            raise BadInput(f"There are {MOST_LAYERS} layers; no more are allowed.", "layers")
        own = _free_name(name or f"layer {len(layers) + 1}", layers)
        layers.append({"name": own, **({} if zone == ALL else {"zone": zone}), "pattern": pattern})
        made.append(len(layers) - 1)

    _change(connection, job_id, base, piece_key, f"Added a layer: {name or 'a pattern'}", act)
    return made[-1]


def remove(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, layer: int) -> None:
    """Take a layer out; the last one that is left stays. Raises BadJob where another is laid in it."""

    def act(layers: list[Document]) -> None:
        if len(layers) == 1:
            raise BadInput("A piece keeps at least one layer. Choose another pattern for it instead.", "layers")
        del layers[_there(layers, layer)]

    _change(connection, job_id, base, piece_key, "Removed a layer", act)


def move(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, layer: int, to: int) -> int:
    """Put a layer at another place in the painting order; returns its new number. Raises BadInput where it is laid in one above it."""
    moved = [layer]

    def act(layers: list[Document]) -> None:
        moved[0] = min(max(to, 0), len(layers) - 1)
        layers.insert(moved[0], layers.pop(_there(layers, layer)))
        names = [str(each["name"]) for each in layers]
        for at, each in enumerate(layers):
            zone = each.get("zone")
            below = zone.get("cells") if isinstance(zone, Mapping) else None
            if below and below not in names[:at]:
                raise BadInput(f"“{each['name']}” is laid in parts of “{below}”, so it is painted after it.", "layers")

    _change(connection, job_id, base, piece_key, "Moved a layer", act)
    return moved[0]


def rename(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, layer: int, name: str) -> None:
    """Raises BadInput."""
    name = name.strip()
    if not 0 < len(name) <= LONGEST_NAME:
        raise BadInput(f"Give the layer a name of 1 to {LONGEST_NAME} characters.", "name", name)

    def act(layers: list[Document]) -> None:
        before = layers[_there(layers, layer)]["name"]
        if any(each["name"] == name for at, each in enumerate(layers) if at != layer):
            raise BadInput(f"Another layer is called “{name}” already. Give this one another name.", "name", name)
        layers[layer]["name"] = name
        for each in layers:
            if isinstance(each.get("zone"), dict) and each["zone"].get("cells") == before:
                each["zone"] = each["zone"] | {"cells": name}

    _change(connection, job_id, base, piece_key, f"Renamed a layer to {name}", act)


def lay_elsewhere(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, layer: int, zone: Any) -> None:
    """Give a layer another zone. Raises BadInput, BadJob."""

    def act(layers: list[Document]) -> None:
        own = layers[_there(layers, layer)]
        if zone == ALL:
            own.pop("zone", None)
        else:
            own["zone"] = zone

    _change(connection, job_id, base, piece_key, "Laid a layer elsewhere", act)


def measured(
    connection: sqlite3.Connection, job_id: int, base: int | None, piece_key: str, layer: int, readings: list[Document]
) -> None:
    """Keep where a layer's lines came out. Raises BadInput, BadJob."""

    def act(layers: list[Document]) -> None:
        own = layers[_there(layers, layer)]
        if readings:
            own["as_painted"] = readings
        else:
            own.pop("as_painted", None)

    _change(connection, job_id, base, piece_key, "Measured a layer as painted", act)


def _there(layers: list[Document], layer: int) -> int:
    if not 0 <= layer < len(layers):
        raise BadInput("This layer isn't there any more. It may have been removed in another window.", "layers")
    return layer


def _change(connection: sqlite3.Connection, job_id: int, base: int | None, piece_key: str, label: str, act: Edit) -> None:
    def edit(document: Document) -> Document:
        number = editing.number_of(document, piece_key)

        def changed(piece: Document) -> Document:
            layers = as_layers(piece)
            hand = [each for each in piece.get("layers") or [] if by_hand(each)]
            names = [each["name"] for each in layers]
            act(layers)
            if len(names) == len(layers) and set(names) != {each["name"] for each in layers}:  # one was renamed
                new = dict(zip(names, (each["name"] for each in layers), strict=True))
                hand = [each | {"of": new.get(each.get("of"), each.get("of"))} for each in hand]
            return {key: value for key, value in piece.items() if key != "pattern"} | {"layers": [*layers, *hand]}

        return with_piece(document, number, changed)

    editing.change(connection, job_id, base, label, edit, piece_key)


def as_layers(piece: Document) -> list[Document]:
    """A copy of a piece's taped layers, each with its name; a piece of one pattern is one layer."""
    alone = [{"name": str(piece["pattern"]["kind"]), "pattern": piece["pattern"]}] if not piece.get("layers") else []
    found = copy.deepcopy(taped_layers(piece.get("layers") or alone))
    for number, each in enumerate(found, 1):
        each["name"] = each.get("name") or f"layer {number}"
    return found


def _free_name(name: str, layers: list[Document]) -> str:
    taken = {each["name"] for each in layers}
    return next(each for each in (name, *(f"{name} {n}" for n in range(2, len(layers) + 3))) if each not in taken)


def part_at(document: str, piece_key: str, cell: str) -> tuple[str, str | None, list[str], str]:
    """The part of a drawing that somebody pointed at: its layer's name, its colour there, a place in it, and its panel's name.

    Raises BadInput where there is no such part.
    """
    plan = piece_plan(document, piece_key)
    for number, keys in enumerate(plan.cell_keys):
        if cell in keys and not cell.startswith("r"):
            layout = plan.layouts[number]
            at = keys.index(cell)
            placed = layout.sheet.placed[int(layout.panels[at])]
            inside = polygons.inner_points(layout.polygons[at : at + 1])
            x, y = placed.to_panel(inside)[0].tolist()
            written = [write_kept(exact(each), plan.job.units) for each in (x, y)]
            return plan.layer_of(number).name, layout.color(at), written, placed.panel.name
    raise BadInput("This part isn't there any more. Point at one in the drawing again.", "part")
