"""Pictures of pieces for pages: the drawing of a station, and small ones for lists."""

import json
import sqlite3
from fractions import Fraction
from functools import lru_cache

from dividers.core.errors import DividersError
from dividers.core.job import Rectangle
from dividers.core.patterns import BY_KEY
from dividers.core.scene import Scene, View, draw
from dividers.formats.svg import icon_svg, scene_svg, thumbnail_svg
from dividers.services.planning import job_of, piece_plan
from dividers.services.shelf import require_head


def scene_of(document: str, piece_key: str, view: View) -> Scene:
    """The scene of one piece of a stored document."""
    job = job_of(document)
    return draw(piece_plan(document, piece_key), job.palette, job.units, view)


@lru_cache(maxsize=64)
def drawing(document: str, piece_key: str, view: View) -> str:
    """A station's drawing of a piece, as SVG."""
    name = piece_plan(document, piece_key).piece.name
    return scene_svg(scene_of(document, piece_key, view), f"{name}, to scale")


@lru_cache(maxsize=256)
def thumbnail(document: str, piece_key: str) -> str:
    """A small picture of a piece's finished look, as SVG; empty where it isn't there or can't be planned."""
    try:
        return thumbnail_svg(scene_of(document, piece_key, View()))
    except DividersError:
        return ""


ICON = Rectangle(Fraction(0), Fraction(0), Fraction(900), Fraction(600))


@lru_cache(maxsize=32)
def pattern_icon(kind: str) -> str:
    """A pattern's picture in the picker: its own tiles over a small area."""
    pattern = BY_KEY[kind]
    usual = {parameter.key: None for parameter in pattern.parameters} | {"direction": Fraction(90)}
    tiles = pattern.lay(ICON, usual | pattern.first(ICON) | {"direction": Fraction(90), "colors": ("dark", None)})
    return icon_svg([[(float(x), float(y)) for x, y in ring] for ring in tiles.rings[tiles.slots == 0]], 900, 600)


def job_thumbnail(connection: sqlite3.Connection, job_id: int) -> str:
    """The first piece of a job, small."""
    document = require_head(connection, job_id).document
    return thumbnail(document, json.loads(document)["pieces"][0]["id"])
