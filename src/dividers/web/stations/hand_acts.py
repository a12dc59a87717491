"""Motifs and shading at the Pattern station: their forms come here."""

from flask import Blueprint, redirect, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.base.whole import whole
from dividers.core.job_file.layer_reader import MOST_LAYERS
from dividers.services.jobs import hand_edits
from dividers.web.database import connection
from dividers.web.numbers import asked
from dividers.web.stations.hand_board import faults_by_key
from dividers.web.stations.stations import page_of

blueprint = Blueprint("hand", __name__, url_prefix="/jobs/<int:job_id>/<piece>/by-hand")


@blueprint.post("")
def put(job_id: int, piece: str) -> ResponseReturnValue:
    """Add or change a hand layer, or remove it."""
    form = request.form
    kind, number = form.get("kind", ""), whole(form.get("number", ""), MOST_LAYERS)
    values = {key: form.get(key, "") for key in hand_edits.KEYS.get(kind, ())}
    base = asked(form, "revision", -1)
    try:
        if form.get("do") == "remove":
            hand_edits.remove(connection(), job_id, base, piece, kind, -1 if number is None else number)
        else:
            hand_edits.put(connection(), job_id, base, piece, kind, values, number)
    except BadJob as bad:
        faults, said = faults_by_key(bad.faults)
        return _again(job_id, piece, {"kind": kind, "number": number, "values": values, "faults": faults, "said": said})
    except BadInput as bad_input:
        said = [bad_input.message]
        return _again(job_id, piece, {"kind": kind, "number": number, "values": values, "faults": {}, "said": said})
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="pattern"), 303)


def _again(job_id: int, piece: str, refused: dict[str, object]) -> ResponseReturnValue:
    """The page with what was typed, and what is wrong with it."""
    return page_of(job_id, piece, "pattern", 422, {"hand": refused})
