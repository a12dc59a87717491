"""A photo of the place with the finished pattern on it: four corners to drag, by hand or by keys."""

from flask import Blueprint, Response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput
from dividers.formats.photos import MOST_BYTES
from dividers.services.files import photo_preview
from dividers.services.jobs import editing
from dividers.services.stations.standing import standing
from dividers.web.database import connection, photo_folder
from dividers.web.htmx import is_htmx
from dividers.web.stations.stations import STATIONS

blueprint = Blueprint("photo_preview", __name__, url_prefix="/jobs/<int:job_id>/<piece>")


@blueprint.before_request
def _allow_photos() -> None:
    if request.endpoint == "photo_preview.put_photo":
        request.max_content_length = MOST_BYTES + 200_000


@blueprint.get("/preview")
def show(job_id: int, piece: str) -> ResponseReturnValue:
    return _page(job_id, piece)


def _page(job_id: int, piece: str, fault: str = "", status: int = 200) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    shown = photo_preview.find(connection(), job_id, piece)
    page = render_template(
        "files/_preview.html" if is_htmx() else "files/preview.html",
        opened=opened,
        job=opened.job,
        piece=opened.piece(piece),
        stations=STATIONS,
        station="preview",
        standing=standing(connection(), opened, piece),
        shown=shown,
        cells=shown.svg if shown else "",
        names=photo_preview.CORNERS,
        fault=fault,
    )
    return page, 200 if is_htmx() else status


@blueprint.post("/preview/photo")
def put_photo(job_id: int, piece: str) -> ResponseReturnValue:
    upload = request.files.get("photo")
    try:
        photo = photo_preview.read_photo(upload.read() if upload else b"")
        photo_preview.put_photo(connection(), job_id, piece, photo, photo_folder())
    except BadInput as fault:
        return _page(job_id, piece, fault.message, 422)
    return redirect(url_for("photo_preview.show", job_id=job_id, piece=piece), 303)


@blueprint.post("/preview/corners")
def put_corners(job_id: int, piece: str) -> ResponseReturnValue:
    try:
        photo_preview.put_corners(connection(), job_id, piece, request.form)
    except BadInput as fault:
        return _page(job_id, piece, fault.message, 422)
    if is_htmx():
        return _page(job_id, piece)
    return redirect(url_for("photo_preview.show", job_id=job_id, piece=piece), 303)


@blueprint.get("/preview.png")
def as_png(job_id: int, piece: str) -> ResponseReturnValue:
    content = photo_preview.as_png(connection(), job_id, piece, photo_folder())
    return Response(
        content, mimetype="image/png", headers={"Content-Disposition": f'attachment; filename="{piece}-on-the-wall.png"'}
    )


@blueprint.get("/preview/flat.jpg")
def as_flat(job_id: int, piece: str) -> ResponseReturnValue:
    return Response(photo_preview.as_flat(connection(), job_id, piece, photo_folder()), mimetype="image/jpeg")
