"""The drawing as a place where tape is laid: each strip, move and colour comes here and gives the whole page back."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob
from dividers.services.stations import tape_drawing
from dividers.web.database import connection
from dividers.web.htmx import is_htmx
from dividers.web.numbers import asked
from dividers.web.stations.stations import page_of

blueprint = Blueprint("drawing", __name__, url_prefix="/jobs/<int:job_id>/<piece>/draw")


@blueprint.post("")
def act(job_id: int, piece: str) -> ResponseReturnValue:
    layer = asked(request.args, "layer", 0)
    typed = dict(request.form.items())
    fault = ""
    try:
        tape_drawing.act(connection(), job_id, asked(request.form, "revision", -1), piece, layer, typed)
    except BadJob as bad:
        fault = " ".join(dict.fromkeys(each.message for each in bad.faults))
    except BadInput as bad_input:
        fault = bad_input.message
    if fault or is_htmx():
        return page_of(
            job_id, piece, "pattern", 422 if fault and not is_htmx() else 200, {"draw_fault": fault, "draw_typed": typed}
        )
    return redirect(
        url_for("stations.show", job_id=job_id, piece=piece, station="pattern", layer=request.args.get("layer")), 303
    )
