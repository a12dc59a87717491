"""The edge on a photo in the logbook: measured between the places that were pointed at, kept with the photo and its finding."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import asdict, replace
from itertools import chain
from pathlib import Path
from typing import Any

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.lengths import read_length
from dividers.core.risk.edge_by_photo import CLASSES, EdgeFound, Feather, Known, in_inches, in_mm, measure_edge
from dividers.formats.photos import cleaned, dots_of
from dividers.services.careful import carefully
from dividers.services.jobs import editing
from dividers.services.logbook.logbook import BadForm, Fields, keep_photo, photo_file
from dividers.store import logbook, patches, photos
from dividers.store.database import transaction

LONGEST = 100_000
FOOT_M = 0.3048
PLACES = ("a", "b", "k1", "k2", "l1", "l2")  # the ends of the line along the edge, of what is known, of another known size


Photo = photos.Photo
photos_of = photos.list_photos


def photo_of(connection: sqlite3.Connection, job_id: int, photo_id: int) -> photos.Photo:
    """A photo of a job. Raises NotFound."""
    photo = photos.find_photo(connection, photo_id)
    if photo is None or photo.job_id != job_id:
        raise NotFound("There is no such photo.")
    return photo


def finding_of(connection: sqlite3.Connection, job_id: int, photo_id: int) -> logbook.Finding | None:
    """The finding that a photo belongs to."""
    return next((each for each in logbook.list_findings(connection, job_id) if each.photo_id == photo_id), None)


def measure_finding(
    connection: sqlite3.Connection, job_id: int, photo_id: int, typed: Mapping[str, str], folder: Path
) -> EdgeFound:
    """Measure the edge on a photo of a job; a finding of one strip takes its class. Raises BadForm, NotFound."""
    photo = photo_of(connection, job_id, photo_id)
    found = _measure(connection, photo, typed, folder, editing.open_job(connection, job_id).job.units)
    finding = finding_of(connection, job_id, photo_id)
    if finding and finding.strip and finding.id:
        with transaction(connection):
            logbook.judge_strip(connection, job_id, finding.id, found.judged)
    return found


def measure_cell(
    connection: sqlite3.Connection, patch_id: int, number: int, typed: Mapping[str, str], folder: Path, units: str
) -> EdgeFound:
    """Measure the edge on the photo of a field of a test patch, which takes its class. Raises BadForm, NotFound."""
    cell, photo = cell_photo(connection, patch_id, number)
    found = _measure(connection, photo, typed, folder, units)
    with transaction(connection):
        patches.update_cell(connection, patch_id, replace(cell, edge=found.judged))
    return found


def cell_photo(connection: sqlite3.Connection, patch_id: int, number: int) -> tuple[patches.Cell, photos.Photo]:
    """A pulled field of a test patch with its photo. Raises NotFound."""
    cell = _pulled(connection, patch_id, number)
    photo = photos.find_photo(connection, cell.photo_id) if cell.photo_id else None
    if photo is None:
        raise NotFound("There is no photo of this field.")
    return cell, photo


def add_cell_photo(connection: sqlite3.Connection, patch_id: int, number: int, content: bytes, folder: Path) -> None:
    """Keep a photo of a pulled field. Raises BadInput, NotFound."""
    cell = _pulled(connection, patch_id, number)
    saved = carefully(cleaned, content, path="photo")
    with transaction(connection):
        photo_id = keep_photo(connection, None, saved, folder, f"Field {number}, {cell.tape}")
        patches.update_cell(connection, patch_id, replace(cell, photo_id=photo_id))


def _pulled(connection: sqlite3.Connection, patch_id: int, number: int) -> patches.Cell:
    cell = next((each for each in patches.list_cells(connection, patch_id) if each.number == number), None)
    if cell is None or not cell.edge:
        raise NotFound("There is no such field that was pulled.")
    return cell


def _measure(
    connection: sqlite3.Connection, photo: photos.Photo, typed: Mapping[str, str], folder: Path, units: str
) -> EdgeFound:
    """Measure the edge on a photo and keep what came out with it."""
    fields = Fields(typed)
    places = {name: _place(fields, name, photo) for name in PLACES}
    sizes = [_size(fields, name, units) for name in ("known", "known2")]
    feet = units == "in"
    away = fields.number("from", 0.5, 60, "feet to look from" if feet else "metres to look from")
    from_m = 1.0 if away is None else away * FOOT_M if feet else away
    fields.close()
    known = [Known(places["k1"], places["k2"], sizes[0])] if places["k1"] and places["k2"] and sizes[0] else []
    if places["l1"] and places["l2"] and sizes[1]:
        known.append(Known(places["l1"], places["l2"], sizes[1]))
    if not places["a"] or not places["b"]:
        raise BadForm({"along": "Draw the line along the edge: drag its two ends onto it."})
    try:
        found = measure_edge(
            dots_of(photo_file(connection, photo.id, folder).read_bytes()),
            (places["a"], places["b"]),
            known,
            from_m,
            in_inches if feet else in_mm,
        )
    except BadInput as fault:
        raise BadForm({fault.path or "along": fault.message}) from fault
    kept = {
        "typed": {name: str(typed.get(name, ""))[:20] for name in (*_names(), "known", "known2", "from")},
        **asdict(found),
    }
    with transaction(connection):
        photos.put_edge(connection, photo.id, json.dumps(kept))
    return found


def kept_edge(photo: photos.Photo) -> tuple[EdgeFound, dict[str, str]] | None:
    """What was measured on a photo, with what was typed then."""
    return edge_of(photo.edge) if photo.edge else None


def edge_of(text: str) -> tuple[EdgeFound, dict[str, str]]:
    """A kept measurement, and what was typed for it."""
    kept: dict[str, Any] = json.loads(text)
    typed = kept.pop("typed")
    kept["feathers"] = tuple(Feather(**each) for each in kept["feathers"])
    kept["line"] = tuple((x, y) for x, y in kept["line"])
    (ax, ay), (bx, by) = kept["straight"]
    return EdgeFound(**{**kept, "straight": ((ax, ay), (bx, by))}), typed


def readable_edge(text: str) -> bool:
    """Whether a text from elsewhere is a measurement as this program keeps it."""
    try:
        found, typed = edge_of(text)
        numbers = (
            found.length_mm,
            found.rms_mm,
            found.worst_mm,
            found.dots_per_mm,
            found.blur_mm,
            *chain(*found.line, *found.straight),
        )
        return (
            len(text) <= LONGEST
            and found.judged in CLASSES
            and found.length_mm > 0
            and all(isinstance(number, int | float) and abs(number) < 1e7 for number in numbers)
            and all(abs(each.at_mm) < 1e7 and abs(each.reach_mm) < 1e7 for each in found.feathers)
            and all(isinstance(value, str) for value in typed.values())
        )
    except (ValueError, TypeError, KeyError, AttributeError, RecursionError):
        return False


def _names() -> list[str]:
    return [f"{name}{axis}" for name in PLACES for axis in "xy"]


def _place(fields: Fields, name: str, photo: photos.Photo) -> tuple[float, float] | None:
    x = fields.number(f"{name}x", 0, photo.width, "dots from the left")
    y = fields.number(f"{name}y", 0, photo.height, "dots from the top")
    return None if x is None or y is None else (x, y)


def _size(fields: Fields, name: str, units: str) -> float | None:
    written = fields.text(name, 20)
    if not written:
        return None
    try:
        return float(read_length(written, units).mm)
    except BadInput as fault:
        fields.faults[name] = fault.message
        return None
