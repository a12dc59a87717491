"""Recipes: looks that were liked, kept and laid on other surfaces; a dozen of our own come with the program."""

import json
import sqlite3
from fractions import Fraction
from functools import lru_cache

from markupsafe import Markup

from dividers.core.base.errors import BadInput, DividersError, NotFound
from dividers.core.job.document import Document
from dividers.core.job_file.job_reader import read_job
from dividers.core.output.drawing import draw
from dividers.core.output.scene import View
from dividers.core.plan.layered import plan_piece
from dividers.core.recipes.recipe import Recipe, fit, laid, recipe_of
from dividers.core.recipes.starters import STARTERS
from dividers.formats.drawings.scene_svg import look_svg
from dividers.services.clock import now
from dividers.services.jobs import editing
from dividers.services.jobs.planning import alone_of
from dividers.store import recipes
from dividers.store.database import transaction

OWN, STARTER = "kept", "begin"  # what keys of recipes begin with
LONGEST_NAME = 120


def shelf(connection: sqlite3.Connection) -> dict[str, Recipe]:
    """Every recipe by its key: those that were kept, then those that came along."""
    kept = {f"{OWN}-{number}": _read(name, body) for number, name, body in recipes.list_recipes(connection)}
    return kept | {f"{STARTER}-{turn}": recipe for turn, recipe in enumerate(STARTERS, 1)}


def keep(connection: sqlite3.Connection, job_id: int, piece_key: str, name: str) -> None:
    """Keep the look of a piece. Raises BadInput, NotFound."""
    name = name.strip()
    if not 0 < len(name) <= LONGEST_NAME:
        raise BadInput(f"Give the look a name of 1 to {LONGEST_NAME} characters.", "name", name)
    opened = editing.open_job(connection, job_id)
    recipe = recipe_of(opened.document, opened.job, opened.piece(piece_key), name)
    with transaction(connection):
        recipes.insert_recipe(connection, name, _write(recipe), now())


def let_go(connection: sqlite3.Connection, key: str) -> str:
    """Take a kept recipe out of sight; its name. Raises NotFound."""
    found = _require(connection, key)
    if key.startswith(OWN):
        with transaction(connection):
            recipes.retire_recipe(connection, int(key.rpartition("-")[2]), now())
    return found.name


def lay(connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, key: str) -> tuple[str, tuple[str, ...]]:
    """Lay a recipe on a piece; its name, and what had to be changed for it. Raises BadInput, NotFound, Conflict."""
    recipe = _require(connection, key)
    changed: list[tuple[str, ...]] = []

    def edit(document: Document) -> Document:
        job = read_job(document)
        piece = job.piece(piece_key)
        if piece is None:
            raise NotFound("This job has no such piece. It may have been deleted or renamed.")
        fitted = fit(recipe, document, job, piece)
        changed.append(fitted.changed)
        return laid(fitted, document, job.pieces.index(piece))

    editing.change(connection, job_id, base, f"Laid {recipe.name}", edit, piece_key)
    return recipe.name, changed[-1] if changed else ()


def picture(connection: sqlite3.Connection, document: str, piece_key: str, key: str) -> Markup:
    """A recipe as it would look on a piece, as SVG that stands alone; empty where it can't be laid there. Raises NotFound."""
    recipe = _require(connection, key)
    return _picture(_write(recipe), recipe.name, alone_of(document, piece_key), piece_key)


@lru_cache(maxsize=200)
def _picture(body: str, name: str, document: str, piece_key: str) -> Markup:
    written = json.loads(document)
    job = read_job(written)
    try:
        read = read_job(laid(fit(_read(name, body), written, job, job.pieces[0]), written, 0))
        return look_svg(draw(plan_piece(read, read.pieces[0]), read.palette, read.units, View()))
    except DividersError:
        return Markup("")


def _require(connection: sqlite3.Connection, key: str) -> Recipe:
    found = shelf(connection).get(key)
    if found is None:
        raise NotFound("There is no such recipe.")
    return found


def _write(recipe: Recipe) -> str:
    return json.dumps({**vars(recipe), "width": str(recipe.width), "height": str(recipe.height)}, ensure_ascii=False)


def _read(name: str, body: str) -> Recipe:
    values = json.loads(body)
    return Recipe(**{**values, "name": name, "width": Fraction(values["width"]), "height": Fraction(values["height"])})
