"""Test patches: a grid of tapes, seals, paints and waits tried in a hidden spot; planned, timed, and written down as evidence."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime, timedelta
from itertools import product

from dividers.core.base.errors import NotFound
from dividers.core.job.products import ADHESIONS, SEALS
from dividers.core.job.surface import TEXTURES
from dividers.core.risk.lift import LIFT_WORDS
from dividers.services import clock
from dividers.services.logbook.logbook import EDGES, Fields
from dividers.store import patches
from dividers.store.database import transaction

list_patches, list_cells = patches.list_patches, patches.list_cells

MOST_CELLS = 60


def plan(connection: sqlite3.Connection, typed: Mapping[str, str], lists: Mapping[str, list[str]]) -> int:
    """Lay out a grid: every tape with every seal, paint and wait. Raises BadForm."""
    fields = Fields(typed)
    title, place = fields.text("title", 120), fields.text("place", 120)
    texture = fields.choice("texture", TEXTURES, "smooth")
    if not title:
        fields.faults["title"] = "Give the grid a name, like: behind the booth, rough plaster."
    tapes = [line.strip() for line in typed.get("tapes", "").splitlines() if line.strip()]
    paints = [line.strip()[:80] for line in typed.get("paints", "").splitlines() if line.strip()] or ["paint"]
    seals = [seal for seal in lists.get("seals", []) if seal in SEALS[1:]]
    waits = _waits(fields)
    if not tapes:
        fields.faults["tapes"] = "Name at least one tape, one a line, like: delicate swelling-edge tape."
    if not seals:
        fields.faults["seals"] = "Choose at least one seal to try."
    many = len(tapes) * len(paints) * len(seals) * len(waits)
    if many > MOST_CELLS:
        fields.faults["tapes"] = f"That makes {many} fields; at most {MOST_CELLS} are tried at once."
    fields.close()
    cells = [
        patches.Cell(number, tape[:80], _adhesion(tape), int("swelling" in tape.lower()), seal, paint, wait)
        for number, (tape, paint, seal, wait) in enumerate(product(tapes, paints, seals, waits), 1)
    ]
    with transaction(connection):
        return patches.insert_patch(connection, title, place, texture, cells, clock.now())


def _adhesion(tape: str) -> str:
    """What a tape's name says of how it holds; medium where it says nothing."""
    return next((each for each in ADHESIONS if each in tape.lower()), "medium")


def _waits(fields: Fields) -> list[int]:
    """Waits from the last coat to the pull in minutes, one or more with commas between."""
    written = fields.typed.get("waits", "").strip() or "0"
    parts = [part.strip().removesuffix("min").strip() for part in written.split(",")]
    if not all(part.isdigit() and int(part) <= 14_400 for part in parts):
        fields.faults["waits"] = f"“{written[:30]}”: write minutes with commas between, like 0, 45, 1440."
        return [0]
    return list(dict.fromkeys(int(part) for part in parts))


def require(connection: sqlite3.Connection, patch_id: int) -> patches.Patch:
    found = patches.find_patch(connection, patch_id)
    if found is None:
        raise NotFound("There is no such grid of test patches.")
    return found


def record(connection: sqlite3.Connection, patch_id: int, number: int, typed: Mapping[str, str]) -> None:
    """Say that a field was painted or pulled, and how it came out. Raises BadForm, NotFound."""
    require(connection, patch_id)
    cell = next((cell for cell in patches.list_cells(connection, patch_id) if cell.number == number), None)
    if cell is None:
        raise NotFound("This grid has no such field.")
    fields = Fields(typed)
    act = fields.choice("act", ("painted", "pulled", "clear"), "")
    if act == "painted":
        cell = replace(cell, painted_at=clock.now(), pulled_at=None, edge=None, lift=None)
    elif act == "clear":
        cell = replace(cell, painted_at=None, pulled_at=None, edge=None, lift=None, note="")
    elif act == "pulled":
        edge = fields.choice("edge", EDGES, "")
        lift = typed.get("lift", "")
        if lift and lift not in LIFT_WORDS:
            fields.faults["lift"] = f"Choose one of: {', '.join(LIFT_WORDS)}."
        cell = replace(cell, pulled_at=clock.now(), edge=edge, lift=lift or None, note=fields.text("note", 200))
    fields.close()
    with transaction(connection):
        patches.update_cell(connection, patch_id, cell)


def due_at(cell: patches.Cell) -> str | None:
    """When a painted field is to be pulled, in UTC; None where it isn't painted or is off already."""
    if cell.painted_at is None or cell.pulled_at is not None:
        return None
    return (datetime.fromisoformat(cell.painted_at) + timedelta(minutes=cell.wait_min)).isoformat(timespec="seconds")


def retire(connection: sqlite3.Connection, patch_id: int, retired: bool) -> None:
    """Let a grid count no more, or again."""
    require(connection, patch_id)
    with transaction(connection):
        patches.set_retired(connection, patch_id, clock.now() if retired else None)
