"""A job's pieces and its history: add, copy, move, rename, delete; units; undo, redo and refused versions."""

from collections.abc import Callable

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput
from dividers.core.base.whole import whole
from dividers.services.jobs import editing
from dividers.services.stations import pictures
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("pieces", __name__, url_prefix="/jobs/<int:job_id>")
FIRST_STATION = "measure"


def base() -> int:
    """The revision that the page showed; -1 when the form doesn't say."""
    return asked(request.form, "revision", -1)


def _station(job_id: int, piece: str) -> ResponseReturnValue:
    """Back to the station that the form was sent from."""
    station = request.form.get("station", FIRST_STATION)
    if station not in ("measure", "pattern", "marks", "tape", "schedule", "materials"):
        station = FIRST_STATION
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station=station), 303)


def _attempt(job_id: int, piece: str, act: Callable[[], str | None]) -> ResponseReturnValue:
    """Do something that gives the key of the piece to show next; say so where it can't be done."""
    try:
        piece = act() or piece
    except BadInput as fault:
        flash(fault.message)
    return _station(job_id, piece)


@blueprint.get("")
def first(job_id: int) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    return redirect(url_for("stations.show", job_id=job_id, piece=opened.job.pieces[0].key, station=FIRST_STATION))


@blueprint.post("/pieces/<piece>/copy")
def copy(job_id: int, piece: str) -> ResponseReturnValue:
    return _attempt(job_id, piece, lambda: editing.copy_piece(connection(), job_id, base(), piece))


@blueprint.post("/pieces/<piece>/rename")
def rename(job_id: int, piece: str) -> ResponseReturnValue:
    name = request.form.get("name", "")
    return _attempt(job_id, piece, lambda: editing.rename_piece(connection(), job_id, base(), piece, name))


@blueprint.post("/pieces/<piece>/move")
def move(job_id: int, piece: str) -> ResponseReturnValue:
    by = -1 if request.form.get("way") == "up" else 1
    return _attempt(job_id, piece, lambda: editing.move_piece(connection(), job_id, base(), piece, by))


@blueprint.post("/pieces/<piece>/delete")
def delete(job_id: int, piece: str) -> ResponseReturnValue:
    def act() -> str:
        editing.delete_piece(connection(), job_id, base(), piece)
        flash("The piece was deleted. Undo brings it back.")
        return editing.open_job(connection(), job_id).job.pieces[0].key

    return _attempt(job_id, piece, act)


@blueprint.post("/units")
def units(job_id: int) -> ResponseReturnValue:
    wanted = request.form.get("units", "")
    return _attempt(job_id, request.form.get("piece", ""), lambda: editing.change_units(connection(), job_id, base(), wanted))


@blueprint.post("/undo")
def undo(job_id: int) -> ResponseReturnValue:
    editing.undo(connection(), job_id)
    return _where_it_was(job_id)


@blueprint.post("/redo")
def redo(job_id: int) -> ResponseReturnValue:
    editing.redo(connection(), job_id)
    return _where_it_was(job_id)


def _where_it_was(job_id: int) -> ResponseReturnValue:
    """The station that undo or redo was asked from, on a piece that is still there."""
    opened = editing.open_job(connection(), job_id)
    asked = opened.job.piece(request.form.get("piece", ""))
    return _station(job_id, (asked or opened.job.pieces[0]).key)


@blueprint.get("/refused/<int:refused_id>")
def refused(job_id: int, refused_id: int) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    version = editing.require_refused(connection(), job_id, refused_id)
    differences = [(_worded(opened, p), a, b) for p, a, b in editing.compare_refused(connection(), job_id, refused_id)]
    documents = (opened.revision.document, version.document)
    shown = {piece.key: tuple(pictures.thumbnail(text, piece.key) for text in documents) for piece in opened.job.pieces}
    pairs = {key: pair for key, pair in shown.items() if pair[0] != pair[1]}
    return render_template("jobs/refused.html", opened=opened, version=version, differences=differences, pairs=pairs)


def _worded(opened: editing.Opened, path: str) -> str:
    """A path with its piece called by name."""
    first, _, rest = path.partition(".")
    number, _, rest_of_piece = rest.partition(".")
    if first == "pieces" and whole(number, len(opened.job.pieces) - 1) is not None:
        path = f"{opened.job.pieces[int(number)].name}.{rest_of_piece}"
    return path.strip(".").replace(".", " › ").replace("_", " ")


@blueprint.post("/refused/<int:refused_id>")
def settle(job_id: int, refused_id: int) -> ResponseReturnValue:
    editing.settle(connection(), job_id, refused_id, take=request.form.get("take") == "mine")
    return redirect(url_for("pieces.first", job_id=job_id), 303)
