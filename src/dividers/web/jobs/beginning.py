"""Lay out something: which surface, what it measures, and whether its base colour is on; one thing a screen."""

from flask import Blueprint, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.units import JOB_UNITS
from dividers.core.job.beginnings import BEGINNINGS, BY_SURFACE
from dividers.formats.photos import MOST_BYTES
from dividers.services.files import photo_preview
from dividers.services.jobs import editing, laying_out
from dividers.web.database import connection, photo_folder
from dividers.web.numbers import asked

blueprint = Blueprint("beginning", __name__, url_prefix="/new")


@blueprint.get("")
def surfaces() -> ResponseReturnValue:
    """Which surface: by pictures."""
    opened = _job()
    units = opened.job.units if opened else request.args.get("units", "")
    return render_template(
        "jobs/surfaces.html",
        opened=opened,
        beginnings=BEGINNINGS,
        units=units if units in JOB_UNITS else laying_out.usual_units(connection()),
        all_units=JOB_UNITS,
    )


@blueprint.get("/<surface>")
def sizes(surface: str) -> ResponseReturnValue:
    return _page(surface)


@blueprint.before_request
def _allow_photos() -> None:
    if request.endpoint == "beginning.begin":
        request.max_content_length = MOST_BYTES + 200_000


@blueprint.post("/<surface>")
def begin(surface: str) -> ResponseReturnValue:
    """Lay it out, and go on at Pattern."""
    form = request.form
    opened = _job()
    wanted = laying_out.ToLayOut(
        surface,
        form.get("width", ""),
        form.get("height", ""),
        form.get("more", ""),
        form.get("copies", ""),
        form.get("base") == "on",
        form.get("units", ""),
        opened.id if opened else None,
        form.get("pattern", ""),
    )
    upload = request.files.get("photo")
    content = upload.read() if upload else b""
    try:
        photo = photo_preview.read_photo(content) if content else None
    except BadInput as bad:
        return _page(surface, dict(form), {"photo": bad.message}, 422)
    again = {"photo": "Choose the photo once more."} if photo else {}
    if form.get("base") == "ask":  # Enter in a field: both answers are there to be pressed
        return _page(
            surface, dict(form), {"base": "Press one of the two: is the base colour on, or is it painted first?"} | again, 422
        )
    try:
        job_id, piece = laying_out.begin(connection(), wanted)
    except laying_out.BadSizes as bad:
        return _page(surface, dict(form), bad.faults | again, 422)
    if photo is None:
        return redirect(
            url_for("stations.show", job_id=job_id, piece=piece, station="pattern", choose=None if wanted.pattern else "look"),
            303,
        )
    photo_preview.put_photo(connection(), job_id, piece, photo, photo_folder())
    return redirect(url_for("photo_preview.show", job_id=job_id, piece=piece), 303)


def _job() -> editing.Opened | None:
    """The job that it is to be a piece of, where there is one."""
    job_id = asked(request.values, "job", None)
    return editing.open_job(connection(), job_id) if job_id is not None else None


def _page(
    surface: str, typed: dict[str, str] | None = None, faults: dict[str, str] | None = None, status: int = 200
) -> ResponseReturnValue:
    if surface not in BY_SURFACE:
        raise NotFound("There is no such surface to begin with.")
    opened = _job()
    units = opened.job.units if opened else request.values.get("units", "")
    page = render_template(
        "jobs/sizes.html",
        opened=opened,
        of=BY_SURFACE[surface],
        typed=typed or request.args.to_dict(),
        faults=faults or {},
        units=units if units in JOB_UNITS else laying_out.usual_units(connection()),
    )
    return page, status
