"""Devices: the door for their readings, the page that shows them, and what waits for them at the stations."""

from flask import Blueprint, Response, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.lengths import read_length
from dividers.services.access.letting_in import TooMany
from dividers.services.supplies import devices
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("devices", __name__)
MOST_SHOWN = 30


@blueprint.post("/device")
def receive() -> ResponseReturnValue:
    """Readings from a device, by its token; answers in plain text."""
    given = request.headers.get("Authorization", "").removeprefix("Bearer ").strip()
    text = request.get_data(as_text=True)[:100_000]
    try:
        many = devices.receive(connection(), given, text, request.remote_addr or "")
    except TooMany as fault:
        return Response(f"{fault.message}\n", status=429, mimetype="text/plain")
    except NotFound as fault:
        return Response(f"{fault}\n", status=401, mimetype="text/plain")
    except BadInput as fault:
        return Response(f"{fault.message}\n", status=422, mimetype="text/plain")
    return Response(f"{many} received\n", mimetype="text/plain")


@blueprint.get("/devices")
def show() -> ResponseReturnValue:
    return _page()


def _page(fault: str = "", status: int = 200, token: str = "") -> ResponseReturnValue:
    page = render_template(
        "supplies/devices.html",
        token=token,
        has_token=devices.has_token(connection()),
        readings=devices.list_readings(connection(), MOST_SHOWN),
        address=request.host_url.rstrip("/") + url_for("devices.receive"),
        fault=fault,
        typed=request.form,
    )
    return page, status


@blueprint.post("/devices/pretend")
def pretend() -> ResponseReturnValue:
    """Have a stand-in send a reading."""
    device = request.form.get("device", "")
    try:
        true_mm = float(read_length(request.form.get("length") or "100 in", "mm").mm) if device != "hygrometer" else 0.0
        readings = devices.pretend(connection(), device, true_mm)
    except BadInput as fault:
        return _page(fault.message, 422)
    flash(f"Sent: {readings[0].line}" + (f" and {len(readings) - 1} more" if len(readings) > 1 else ""))
    return redirect(url_for("devices.show"), 303)


@blueprint.post("/devices/token")
def renew() -> ResponseReturnValue:
    """Make a token; it is shown this once."""
    return _page(token=devices.renew(connection()))


@blueprint.post("/jobs/<int:job_id>/devices/length")
def next_length(job_id: int) -> ResponseReturnValue:
    """The next length from a range finder, for the field that waits for it."""
    found = devices.next_length(connection(), job_id)
    return jsonify({"text": found[0], "read": found[1]} if found else {})


@blueprint.post("/jobs/<int:job_id>/<piece>/devices/offsets")
def offsets(job_id: int, piece: str) -> ResponseReturnValue:
    """Put the laser's readings into a panel's survey."""
    try:
        many = devices.take_offsets(connection(), job_id, piece, asked(request.form, "panel", 0))
        flash(f"{many} level readings added from the laser.")
    except BadInput as fault:
        flash(fault.message)
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="measure"), 303)
