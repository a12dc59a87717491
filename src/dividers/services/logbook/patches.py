"""Test patches: a grid of tapes, seals, paints and waits tried in a hidden spot; planned, timed, and written down as evidence."""

import json
import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from itertools import product
from math import ceil, inf

from dividers.core.base.errors import NotFound
from dividers.core.base.quantities import spoken
from dividers.core.base.whole import whole
from dividers.core.job.document import Document, put
from dividers.core.job.products import ADHESIONS, SEALS
from dividers.core.job.surface import TEXTURES
from dividers.core.risk.lift import HELD, LIFT_WORDS
from dividers.core.risk.windows import SEAL_TIMES
from dividers.formats.tables.patch_csv import write_patch
from dividers.services import clock
from dividers.services.jobs import editing
from dividers.services.logbook.logbook import EDGES, BadForm, Fields
from dividers.services.logbook.photo_edges import kept_edge
from dividers.services.supplies import supplies
from dividers.store import patches, photos
from dividers.store.database import transaction

list_patches, list_cells = patches.list_patches, patches.list_cells

MOST_CELLS = 60
NOT_LOOKED_AT = "not looked at"  # whether tape took paint off


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
    read = [whole(part, 14_400) for part in parts]
    waits = [each for each in read if each is not None]
    if len(waits) < len(parts):
        fields.faults["waits"] = f"“{written[:30]}”: write minutes with commas between, like 0, 45, 1440."
        return [0]
    return list(dict.fromkeys(waits))


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
    act = fields.choice("act", ("sealed", "painted", "pulled", "clear"), "")
    if act in ("painted", "pulled") and not typed.get("early") and (wait := still_to_wait(cell)):
        fields.faults["early"] = wait
    if act == "sealed":
        cell = replace(cell, sealed_at=clock.now())
    elif act == "painted":
        cell = replace(cell, painted_at=clock.now(), pulled_at=None, edge=None, lift=None, photo_id=None)
    elif act == "clear":
        cell = replace(cell, sealed_at=None, painted_at=None, pulled_at=None, edge=None, lift=None, note="", photo_id=None)
    elif act == "pulled":
        edge, lift = typed.get("edge", ""), typed.get("lift", NOT_LOOKED_AT)
        if edge not in EDGES:
            fields.faults["edge"] = "How did the edge come out? Choose one: clean, slight or bleed."
        if lift not in (*LIFT_WORDS, NOT_LOOKED_AT):
            fields.faults["lift"] = "Did the tape take paint off? Choose one, or “not looked at”."
        cell = replace(
            cell,
            pulled_at=clock.now(),
            edge=edge,
            lift=None if lift == NOT_LOOKED_AT else lift,
            note=fields.text("note", 200),
        )
    fields.close()
    with transaction(connection):
        patches.update_cell(connection, patch_id, cell)


def seal_wait_min(cell: patches.Cell) -> int:
    """How long a field's seal dries before paint goes on it, in usual air."""
    coats, dry, *_ = SEAL_TIMES[cell.seal]
    return coats * dry


def ready_at(cell: patches.Cell) -> str | None:
    """When what a field waits for is over, in UTC: its seal, or once painted its wait to the pull; None where nothing runs."""
    if cell.painted_at:
        return due_at(cell)
    if cell.sealed_at is None or cell.seal == "none":
        return None
    return (datetime.fromisoformat(cell.sealed_at) + timedelta(minutes=seal_wait_min(cell))).isoformat(timespec="seconds")


def still_to_wait(cell: patches.Cell) -> str:
    """What a field must still wait for before its next step, in words; "" for nothing."""
    if cell.painted_at is None and cell.sealed_at is None and seal_wait_min(cell):
        return f"Field {cell.number} isn't sealed yet ({cell.seal.replace('-', ' ')})."
    ready = ready_at(cell)
    left = (datetime.fromisoformat(ready) - clock.moment()).total_seconds() / 60 if ready else 0.0
    if left <= 0:
        return ""
    what = "is to stay on" if cell.painted_at else "its seal must dry"
    return f"Field {cell.number}: {what} {spoken(ceil(left))} more."


@dataclass(frozen=True)
class TapeRank:
    """How one tape of a grid came out: fields pulled and clean, and the worst it lifted ("" where nobody looked)."""

    tape: str
    pulled: int
    clean: int
    slight: int
    worst_lift: str
    ragged_mm: float | None = None  # on average, where photos were measured

    @property
    def tears(self) -> bool:
        return bool(self.worst_lift) and self.worst_lift not in HELD


def ranking(cells: Sequence[patches.Cell], ragged: Mapping[int, float] | None = None) -> list[TapeRank]:
    """The tapes of a grid, best first: by lifting nothing, then by clean edges, by slight ones, by how ragged edges are on photos; only those
    that were pulled. `ragged` is in mm, by field.
    """
    found = []
    for tape in dict.fromkeys(cell.tape for cell in cells):
        own = [cell for cell in cells if cell.tape == tape and cell.edge]
        if own:
            lifts = [cell.lift for cell in own if cell.lift]
            edges = [cell.edge for cell in own]
            figures = [ragged[cell.number] for cell in own if ragged and cell.number in ragged]
            mean = sum(figures) / len(figures) if figures else None
            found.append(TapeRank(tape, len(own), edges.count("clean"), edges.count("slight"), min(lifts, default=""), mean))
    return sorted(
        found, key=lambda r: (r.tears, -r.clean / r.pulled, -r.slight / r.pulled, inf if r.ragged_mm is None else r.ragged_mm)
    )


def ragged_of(connection: sqlite3.Connection, cells: Sequence[patches.Cell]) -> dict[int, float]:
    """How ragged the edges of fields are on their photos, mm, by field; of those that were measured."""
    found = {}
    for cell in cells:
        photo = photos.find_photo(connection, cell.photo_id) if cell.photo_id else None
        kept = kept_edge(photo) if photo else None
        if kept:
            found[cell.number] = kept[0].rms_mm
    return found


def said(ranks: Sequence[TapeRank]) -> str:
    """A grid's result in a sentence."""
    best = ranks[0]
    torn = [f"{rank.tape} ({rank.worst_lift})" for rank in ranks if rank.tears]
    lead = f"Cleanest: {best.tape}, {best.clean} of {best.pulled} fields" if not best.tears else "No tape held without lifting"
    if not best.tears and not best.clean:
        lead = f"No field came out clean; the best so far: {best.tape}"
    return lead + (f"; tears: {', '.join(torn)}" if torn else "") + "."


def use_in_job(connection: sqlite3.Connection, patch_id: int, tape: str, place: str) -> str:
    """Give a piece ("job/piece") the tape that won a grid: its own product of that name, or the one in Supplies. Raises BadForm, NotFound."""
    require(connection, patch_id)
    job, _, piece = place.partition("/")
    if not job.isdecimal() or len(job) > 9:
        raise BadForm({"place": "Choose a piece."})
    opened = editing.open_job(connection, int(job))
    name = opened.piece(piece).name
    products = opened.document.get("products") or {}
    wanted = tape.casefold()
    known = next((key for key, found in products.items() if key.casefold() == wanted and found.get("kind") == "tape"), None)
    item = next((each for each in supplies.items(connection) if each.kind == "tape" and each.name.casefold() == wanted), None)
    if known is None and item is None:
        raise BadForm({"place": f"“{tape}” is neither in that job nor in Supplies: add it to Supplies with its width first."})

    def act(document: Document, path: str) -> None:
        if known is None and item is not None:
            put(
                document, "products", {**(document.get("products") or {}), item.name: {"kind": "tape", **json.loads(item.body)}}
            )
        put(document, f"{path}.method.tape", known or (item.name if item else ""))

    editing.edit_piece(connection, int(job), piece, "tape", opened.revision.number, {}, {}, act)
    return f"{name} is taped with {tape} now."


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


def as_csv(connection: sqlite3.Connection, patch_id: int) -> str:
    """A grid's fields as CSV: how each was done and came out, how ragged its edge is where a photo was measured."""
    require(connection, patch_id)
    cells = patches.list_cells(connection, patch_id)
    ragged = ragged_of(connection, cells)
    return write_patch(
        (
            *(cell.number, cell.tape, cell.seal, cell.paint, cell.wait_min, cell.edge or "", cell.lift or ""),
            f"{ragged[cell.number]:.3f}" if cell.number in ragged else "",
            cell.note,
        )
        for cell in cells
    )
