"""Supplies: kept, edited, copied, retired; added to a job and saved from one; tables and palettes imported and exported."""

import json
import sqlite3
from collections.abc import Mapping
from importlib.resources import files
from typing import Any

from dividers.core.base.errors import BadInput, BadJob, Fault, NotFound
from dividers.core.job.document import Document, free_key
from dividers.core.job_file.supplies import KINDS, body_from, check
from dividers.formats.gpl import write_gpl
from dividers.formats.tables.supplies_csv import Row, write_supplies
from dividers.services.clock import now
from dividers.services.jobs.editing import change
from dividers.store import supplies
from dividers.store.database import transaction
from dividers.store.supplies import Item


def fill_once(connection: sqlite3.Connection) -> None:
    """Add the starter set, once for each data folder."""
    if supplies.was_filled(connection):
        return
    starter = json.loads((files("dividers.services.supplies") / "starter-supplies.json").read_text("utf-8"))
    with transaction(connection):
        if supplies.was_filled(connection):
            return
        for kind in KINDS:
            for name, body in starter[kind].items():
                if supplies.find_named(connection, kind, name) is None:
                    supplies.insert_item(connection, kind, name, json.dumps(body), True, now())
        supplies.note_filled(connection, now())


def items(connection: sqlite3.Connection) -> list[Item]:
    """Everything there is."""
    return supplies.list_items(connection)


def colors(connection: sqlite3.Connection) -> list[tuple[str, str]]:
    """The colours that are kept and not retired: (name, hex)."""
    kept = [item for item in supplies.list_items(connection) if item.kind == "colour" and not item.retired_at]
    return [(item.name, str(json.loads(item.body).get("hex", ""))) for item in kept]


def require(connection: sqlite3.Connection, item_id: int) -> Item:
    found = supplies.find_item(connection, item_id)
    if found is None:
        raise NotFound("There is no such item in Supplies.")
    return found


def save(connection: sqlite3.Connection, item_id: int | None, kind: str, typed: Mapping[str, str]) -> int:
    """Keep what was typed, as a new item or in place of one. Raises BadJob with a fault at each figure, or at the name."""
    name = " ".join(typed.get("name", "").split())
    body = body_from(kind, typed) if kind in KINDS else {}
    check(kind, name, body)
    with transaction(connection):
        other = supplies.find_named(connection, kind, name)
        if other is not None and other.id != item_id:
            raise BadJob((Fault("name", f"“{name}” is in Supplies already. Give this one another name."),))
        if item_id is None:
            return supplies.insert_item(connection, kind, name, json.dumps(body), False, now())
        kept = require(connection, item_id)
        supplies.update_item(
            connection, item_id, name, json.dumps(json.loads(kept.body) | body if kind == "colour" else body), now()
        )
    return item_id


def copy(connection: sqlite3.Connection, item_id: int) -> int:
    """A copy under a free name."""
    item = require(connection, item_id)
    with transaction(connection):
        names = {each.name for each in supplies.list_items(connection) if each.kind == item.kind}
        name = next(n for k in range(2, 999) if (n := f"{item.name[:110]} ({k})") not in names)
        return supplies.insert_item(connection, item.kind, name, item.body, False, now())


def retire(connection: sqlite3.Connection, item_id: int, retired: bool) -> None:
    """Hide an item, or show it again. Jobs that have it keep their own."""
    require(connection, item_id)
    with transaction(connection):
        supplies.set_retired(connection, item_id, now() if retired else None)


def into_job(connection: sqlite3.Connection, job_id: int, base: int, item_id: int) -> str:
    """Add an item to a job's products, or a colour into its palette; its key there."""
    item = require(connection, item_id)
    made: list[str] = []

    def edit(document: Document) -> Document:
        body = json.loads(item.body)
        place = "palette" if item.kind == "colour" else "products"
        held = dict(document.get(place) or {})
        entry = {"name": item.name, **body} if item.kind == "colour" else {"kind": item.kind, **body}
        key = item.name if item.kind != "colour" else free_key(item.name, held, "colour")
        made.append(key)
        held[key] = entry
        return {**document, place: held}

    change(connection, job_id, base, f"Added {item.name} from Supplies", edit)
    return made[-1]


def out_of_job(connection: sqlite3.Connection, document: Document, key: str) -> int:
    """Save one of a job's products in Supplies. Raises BadInput, BadJob."""
    product = (document.get("products") or {}).get(key)
    if not isinstance(product, dict):
        raise BadInput("This job has no such product.", "product")
    body = {name: value for name, value in product.items() if name != "kind"}
    kind = str(product.get("kind"))
    if kind == "tape" and isinstance(body.get("width"), str | int | float):
        body["width"] = _with_unit(body["width"], str(document.get("units", "mm")))
    check(kind, key, body)
    with transaction(connection):
        there = supplies.find_named(connection, kind, key)
        if there is not None:
            supplies.update_item(connection, there.id, key, json.dumps(body), now())
            return there.id
        return supplies.insert_item(connection, kind, key, json.dumps(body), False, now())


def _with_unit(written: Any, unit: str) -> str:
    """A length that means the same outside its job."""
    text = str(written)
    return text if any(letter.isalpha() or letter in "'\"" for letter in text) else f"{text} {unit}"


def as_csv(connection: sqlite3.Connection) -> str:
    return write_supplies((item.kind, item.name, json.loads(item.body)) for item in items(connection) if not item.retired_at)


def as_gpl(connection: sqlite3.Connection) -> str:
    colours = [
        (item.name, json.loads(item.body)["hex"]) for item in items(connection) if item.kind == "colour" and not item.retired_at
    ]
    return write_gpl("Supplies", colours)


def take_rows(connection: sqlite3.Connection, rows: list[Row]) -> tuple[int, int]:
    """Keep the good lines of a table; items of the same kind and name are replaced. How many are new, and how many replaced."""
    new = replaced = 0
    with transaction(connection):
        for row in rows:
            if row.faults:
                continue
            there = supplies.find_named(connection, row.kind, row.name)
            if there:
                supplies.update_item(connection, there.id, row.name, json.dumps(row.body), now())
                replaced += 1
            else:
                supplies.insert_item(connection, row.kind, row.name, json.dumps(row.body), False, now())
                new += 1
    return new, replaced


def take_colours(connection: sqlite3.Connection, colours: list[tuple[str, str]]) -> tuple[int, int]:
    """Keep the colours of a palette."""
    return take_rows(connection, [Row(n, "colour", name[:120], {"hex": code}) for n, (name, code) in enumerate(colours)])
