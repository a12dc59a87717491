"""Recipes at the Pattern station: laid, kept, let go, and seen on the very surface."""

from flask import Blueprint, Response, flash, redirect, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput
from dividers.services.jobs import editing
from dividers.services.supplies import looks_kept
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("recipes", __name__, url_prefix="/jobs/<int:job_id>/<piece>/recipes")


@blueprint.get("/<recipe>.svg")
def picture(job_id: int, piece: str, recipe: str) -> ResponseReturnValue:
    """A recipe on this piece. Its address changes with what it shows."""
    opened = editing.open_job(connection(), job_id)
    made = Response(looks_kept.picture(connection(), opened.revision.document, piece, recipe), mimetype="image/svg+xml")
    made.headers["Cache-Control"] = "private, max-age=86400"
    return made


@blueprint.post("")
def act(job_id: int, piece: str) -> ResponseReturnValue:
    """Lay a recipe, let one go, or keep this look."""
    form = request.form
    try:
        if key := form.get("lay"):
            name, changed = looks_kept.lay(connection(), job_id, asked(form, "revision", -1), piece, key)
            flash(f"“{name}” is laid here. " + (" ".join(changed) if changed else "Nothing had to be changed for it."))
        elif key := form.get("let-go"):
            flash(f"“{looks_kept.let_go(connection(), key)}” is no longer kept.")
        else:
            looks_kept.keep(connection(), job_id, piece, form.get("name", ""))
            flash("This look is kept: lay it on any other piece, at its Pattern.")
    except BadInput as fault:
        flash(fault.message)
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="pattern"), 303)
