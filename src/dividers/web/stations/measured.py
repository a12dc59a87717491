"""A layer as it came out: its lines are typed or ticked, and what is laid in its bands follows."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob, Conflict, NotFound
from dividers.services.jobs import editing
from dividers.services.stations import painted_bands
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("measured", __name__, url_prefix="/jobs/<int:job_id>/<piece>/layers/<int:layer>/measured")


@blueprint.get("")
def show(job_id: int, piece: str, layer: int) -> ResponseReturnValue:
    return _page(job_id, piece, layer, {}, {}, ())


@blueprint.post("")
def put(job_id: int, piece: str, layer: int) -> ResponseReturnValue:
    typed = dict(request.form.items())
    opened = editing.open_job(connection(), job_id)
    said: tuple[str, ...] = ()
    try:
        faults = painted_bands.keep(
            connection(), job_id, asked(request.form, "revision", -1), opened.revision.document, piece, layer, typed
        )
    except Conflict:
        faults, said = {}, ("The job was changed meanwhile. What you typed is still here: look at it, and keep it again.",)
    except BadJob as bad:
        faults, said = {}, tuple(dict.fromkeys(fault.message for fault in bad.faults))
    except BadInput as bad_input:
        raise NotFound(bad_input.message) from bad_input
    if faults or said:
        return _page(job_id, piece, layer, typed, faults, said), 422
    if request.form.get("back") == "wall":
        return redirect(url_for("wall.show", job_id=job_id), 303)
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="pattern", layer=layer), 303)


def _page(job_id: int, piece: str, layer: int, typed: dict[str, str], faults: dict[str, str], said: tuple[str, ...]) -> str:
    opened = editing.open_job(connection(), job_id)
    try:
        shown = painted_bands.measured_layer(opened.revision.document, piece, layer)
    except BadInput as bad_input:
        raise NotFound(bad_input.message) from bad_input
    return render_template(
        "stations/measured.html",
        opened=opened,
        job=opened.job,
        piece=opened.piece(piece),
        number=layer,
        shown=shown,
        typed=typed,
        faults=faults,
        said=said,
        back=request.values.get("back", ""),
    )
