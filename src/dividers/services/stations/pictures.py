"""Pictures of pieces for pages: the drawing of a station, and small ones for lists."""

import json
import sqlite3
from collections import OrderedDict
from dataclasses import dataclass, field, replace
from fractions import Fraction
from functools import lru_cache
from typing import Any

from markupsafe import Markup

from dividers.core.base.errors import DividersError
from dividers.core.cells.layout import lay_out
from dividers.core.geometry.shapes import Point
from dividers.core.job.method import PatternChoice
from dividers.core.job.reader import Findings, Reader
from dividers.core.job.surface import Panel, Rectangle
from dividers.core.job_file.first_values import first_document
from dividers.core.output.drawing import draw
from dividers.core.output.look_words import look_in_words
from dividers.core.output.scene import Scene, View
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import read_values
from dividers.core.survey.sheet import Placed, Sheet
from dividers.formats.drawings.scene_svg import icon_svg, scene_svg, swatch_svg, thumbnail_svg
from dividers.services.jobs.job_list import require_head
from dividers.services.jobs.planning import alone_of, ground_of, job_of, piece_plan
from dividers.store import jobs


def scene_of(document: str, piece_key: str, view: View) -> Scene:
    """The scene of one piece of a stored document."""
    job = job_of(document)
    return draw(piece_plan(document, piece_key), job.palette, job.units, view)


def drawing(document: str, piece_key: str, view: View) -> Markup:
    """A station's drawing of a piece, as SVG."""
    look = _remembered(document, piece_key) if view == View() else None
    return look.drawing if look else _drawing(document, piece_key, view)


@lru_cache(maxsize=64)
def _drawing(document: str, piece_key: str, view: View) -> Markup:
    return _titled(document, piece_key, scene_of(document, piece_key, view))


def _titled(document: str, piece_key: str, scene: Scene) -> Markup:
    return scene_svg(scene, look_in_words(piece_plan(document, piece_key)))


@dataclass(frozen=True)
class Look:
    """The pictures of a piece's finished look."""

    drawing: Markup
    thumbnail: Markup
    swatch: Markup


def look_of(document: str, piece_key: str) -> Look:
    """All pictures of a piece's finished look, from one scene."""
    scene = scene_of(document, piece_key, View())
    return Look(_titled(document, piece_key, scene), thumbnail_svg(scene), swatch_svg(scene))


LOOKS: OrderedDict[str, Look] = OrderedDict()  # of large pieces, by their document alone
MOST_LOOKS = 12


def remember(alone: str, look: Look) -> None:
    """Keep pictures that were made elsewhere, to be shown from now on."""
    LOOKS[alone] = look
    while len(LOOKS) > MOST_LOOKS:
        LOOKS.popitem(last=False)


def _remembered(document: str, piece_key: str) -> Look | None:
    return LOOKS.get(alone_of(document, piece_key)) if LOOKS else None


def thumbnails(document: str) -> dict[str, Markup]:
    """A small picture of the finished look of every piece, by its key."""
    return {piece.key: thumbnail(document, piece.key) for piece in job_of(document).pieces}


def thumbnails_since(connection: sqlite3.Connection, head: jobs.Revision, seen: int, piece_key: str) -> dict[str, Markup]:
    """The small pictures that a page which shows revision number `seen` may not have: where nothing else changed, that of one piece."""
    before = jobs.find_revision(connection, head.job_id, seen)
    if before is None or _around(before.document, piece_key) != _around(head.document, piece_key):
        return thumbnails(head.document)
    return {piece_key: thumbnail(head.document, piece_key)}


def _around(document: str, piece_key: str) -> dict[str, Any]:
    job: dict[str, Any] = json.loads(document)
    return job | {"pieces": [each if each.get("id") != piece_key else piece_key for each in job["pieces"]]}


def thumbnail(document: str, piece_key: str) -> Markup:
    """A small picture of a piece's finished look, as SVG; empty where it isn't there or can't be planned."""
    keys = [piece.key for piece in job_of(document).pieces]
    if piece_key not in keys:
        return Markup("")
    if look := _remembered(document, piece_key):
        return look.thumbnail
    return _thumbnail(_Pictured(ground_of(document, keys.index(piece_key)), document, piece_key))


@dataclass(frozen=True)
class _Pictured:
    """A piece of a document; those with the same ground look the same."""

    ground: str
    document: str = field(compare=False)
    piece_key: str = field(compare=False)


@lru_cache(maxsize=256)
def _thumbnail(shown: _Pictured) -> Markup:
    try:
        return thumbnail_svg(scene_of(shown.document, shown.piece_key, View()))
    except DividersError:
        return Markup("")


def layer_pictures(document: str, piece_key: str) -> tuple[Markup, ...]:
    """A small picture of each layer of a piece alone, taped ones first, then what is done by hand."""
    keys = [piece.key for piece in job_of(document).pieces]
    return _layer_pictures(_Pictured(ground_of(document, keys.index(piece_key)), document, piece_key))


@lru_cache(maxsize=32)
def _layer_pictures(shown: _Pictured) -> tuple[Markup, ...]:
    plan = piece_plan(shown.document, shown.piece_key)
    taped, hand = len(plan.layers), len(plan.piece.by_hand)
    alone = [scene_of(shown.document, shown.piece_key, View(layers=frozenset({number}))) for number in range(taped)]
    if hand:
        bare, areas = replace(alone[0], cells=()), scene_of(shown.document, shown.piece_key, View()).by_hand
        alone += [
            replace(bare, by_hand=tuple(each for each in areas if each.layer == taped + number)) for number in range(hand)
        ]
    return tuple(map(thumbnail_svg, alone))


ICON = Panel("icon", Fraction(900), Fraction(600), Rectangle(Fraction(0), Fraction(0), Fraction(900), Fraction(600)))
INKS = {"dark": None, "mid": None}


@lru_cache(maxsize=64)
def pattern_icon(kind: str) -> Markup:
    """A pattern's picture in the picker: laid by itself over a small panel, in two inks on the base."""
    sheet = Sheet((Placed(ICON),))
    written = first_document(kind, Ground.of(sheet, 24.0), "mm", BY_KEY[kind].inks)
    values = read_values(BY_KEY[kind], Reader(written, "", Findings("mm", INKS)))
    layout = lay_out(sheet, PatternChoice(kind, values), "", 24.0)
    inks: dict[str, list[list[Point]]] = {"dark": [], "mid": []}
    for cell, rings in enumerate(layout.cells):
        ink = layout.color(cell)
        if ink:
            inks["mid" if ink == "dark" and layout.translucent and layout.under[cell] < 0 else ink] += rings
    return icon_svg(inks, 900, 600)


def swatch(document: str, piece_key: str) -> Markup:
    """A piece of the pattern's middle at true size, as SVG."""
    look = _remembered(document, piece_key)
    return look.swatch if look else swatch_svg(scene_of(document, piece_key, View()))


def job_thumbnail(connection: sqlite3.Connection, job_id: int) -> Markup:
    """The first piece of a job, small."""
    return _first_thumbnail(require_head(connection, job_id).document)


@lru_cache(maxsize=1024)
def _first_thumbnail(document: str) -> Markup:
    """Kept apart from what stations keep: a long list of jobs must not push out the one that is worked on."""
    return thumbnail(document, json.loads(document)["pieces"][0]["id"])
