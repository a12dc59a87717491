"""A finished pattern on a photo of its place."""

import json
import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path

from markupsafe import Markup

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.geometry.shapes import Point
from dividers.core.output.photo_overlay import Rings, seen
from dividers.formats.drawings.photo_preview import flat_jpg, preview_png, preview_svg
from dividers.formats.photos import cleaned
from dividers.services.careful import carefully
from dividers.services.files.exports import piece_document
from dividers.services.hashing import hashed
from dividers.services.jobs.editing import open_job
from dividers.services.logbook.logbook import keep_photo, photo_file
from dividers.store import photos, previews
from dividers.store.database import transaction

CORNERS = ("top left", "top right", "bottom right", "bottom left")
Corners = tuple[Point, Point, Point, Point]
Cleaned = tuple[bytes, tuple[int, int]]  # a photo as JPEG, and its size


@dataclass(frozen=True)
class Shown:
    """A photo with the corners of a panel on it, in dots, and the cells as they lie there."""

    photo: photos.Photo
    corners: Corners
    cells: tuple[tuple[str, Rings], ...]

    @property
    def svg(self) -> Markup:
        return preview_svg(self.cells, (self.photo.width, self.photo.height))


def read_photo(content: bytes) -> Cleaned:
    """A photo of a place, made smaller, without what a camera adds. Raises BadInput."""
    return carefully(cleaned, content, path="photo")


def put_photo(connection: sqlite3.Connection, job_id: int, piece: str, saved: Cleaned, folder: Path) -> None:
    """Take a photo of the place; the corners begin well inside it. Raises NotFound."""
    name = open_job(connection, job_id).piece(piece).name
    wide, high = saved[1]
    corners = [[wide * x, high * y] for x, y in ((0.2, 0.2), (0.8, 0.2), (0.8, 0.8), (0.2, 0.8))]
    with transaction(connection):
        photo_id = keep_photo(connection, job_id, saved, folder, f"Photo for {name}")
        previews.put_preview(connection, job_id, piece, photo_id or 0, json.dumps(corners))


def put_corners(connection: sqlite3.Connection, job_id: int, piece: str, typed: Mapping[str, str]) -> None:
    """Move the corners: x0, y0 to x3, y3 in dots. Raises BadInput, NotFound."""
    shown = find(connection, job_id, piece)
    if shown is None:
        raise NotFound("Add a photo of the place first.")
    limit = 4 * max(shown.photo.width, shown.photo.height)
    corners: list[Point] = []
    for turn, name in enumerate(CORNERS):
        try:
            x, y = (float(typed.get(f"{axis}{turn}", "").replace(",", ".")) for axis in "xy")
        except ValueError as fault:
            raise BadInput(
                f"The {name} corner needs two numbers: pixels from the left and from the top.", f"x{turn}"
            ) from fault
        if not (abs(x) <= limit and abs(y) <= limit):
            raise BadInput(f"The {name} corner lies too far outside the photo.", f"x{turn}")
        corners.append((x, y))
    _cells(connection, job_id, piece, (corners[0], corners[1], corners[2], corners[3]))
    with transaction(connection):
        previews.put_preview(connection, job_id, piece, shown.photo.id, json.dumps(corners))


def find(connection: sqlite3.Connection, job_id: int, piece: str) -> Shown | None:
    """What is shown of a piece; None before there is a photo."""
    kept = previews.find_preview(connection, job_id, piece)
    photo = photos.find_photo(connection, kept.photo_id) if kept else None
    if kept is None or photo is None:
        return None
    a, b, c, d = (tuple(corner) for corner in json.loads(kept.corners))
    return Shown(photo, (a, b, c, d), tuple(_cells(connection, job_id, piece, (a, b, c, d))))


def _cells(connection: sqlite3.Connection, job_id: int, piece: str, corners: Corners) -> list[tuple[str, Rings]]:
    opened = open_job(connection, job_id)
    own = opened.piece(piece)
    document = piece_document(opened.revision.document, piece)
    return seen(document, opened.job.palette, own.base, own.surface.panels[0].name, corners)


def as_png(connection: sqlite3.Connection, job_id: int, piece: str, folder: Path) -> bytes:
    """The photo with the pattern on it. Raises NotFound."""
    shown = find(connection, job_id, piece)
    if shown is None:
        raise NotFound("Add a photo of the place first.")
    return preview_png(photo_file(connection, shown.photo.id, folder), shown.cells)


def flat_at(connection: sqlite3.Connection, job_id: int, piece: str) -> str:
    """What names the present photo with its corners; "" where there is none."""
    kept = previews.find_preview(connection, job_id, piece)
    return hashed(f"{kept.photo_id} {kept.corners}")[:12] if kept else ""


def as_flat(connection: sqlite3.Connection, job_id: int, piece: str, folder: Path) -> bytes:
    """The first panel on the photo as it looks from straight ahead, as JPEG. Raises BadInput, NotFound."""
    kept = previews.find_preview(connection, job_id, piece)
    if kept is None:
        raise NotFound("Add a photo of the place first.")
    panel = open_job(connection, job_id).piece(piece).surface.panels[0]
    a, b, c, d = (tuple(corner) for corner in json.loads(kept.corners))
    return flat_jpg(
        photo_file(connection, kept.photo_id, folder), (a, b, c, d), (float(panel.width_mm), float(panel.height_mm))
    )
