"""Everything of a job to print and save; a whole job as one archive; outlines taken out of drawings."""

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob
from dividers.formats.archive import MOST_BYTES
from dividers.formats.print.ink import SIZES
from dividers.formats.print.paper import paper_for
from dividers.services.files import archives, exports, sheets, unpacking
from dividers.services.jobs import editing
from dividers.services.stations import large_plans, outlines
from dividers.services.stations.standing import standing
from dividers.web.database import connection, photo_folder
from dividers.web.numbers import asked
from dividers.web.stations.stations import STATIONS

blueprint = Blueprint("files", __name__)
MOST_NAMED = 12  # so many things that were left out are named


@blueprint.get("/jobs/<int:job_id>/<piece>/files")
def show(job_id: int, piece: str) -> ResponseReturnValue:
    return _page(job_id, piece)


def _page(
    job_id: int, piece: str, faults: dict[str, str] | None = None, taken: object = None, status: int = 200
) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    here = opened.piece(piece)
    wanted = request.args.get("size", "")
    size = wanted if wanted in SIZES else paper_for(opened.job.units)
    ready = large_plans.is_ready(job_id, opened.revision.document, piece, marks=True)  # else counting sheets would take long
    return (
        render_template(
            "files/page.html",
            opened=opened,
            job=opened.job,
            piece=here,
            stations=STATIONS,
            station="files",
            standing=standing(connection(), opened, piece),
            kinds=exports.KINDS,
            size=size,
            poles=sheets.pole_words(connection(), job_id, piece, size) if ready else [],
            shapes=exports.template_sheets(connection(), job_id, piece, size) if ready else [],
            sizes=SIZES,
            faults=faults or {},
            typed=request.form,
            drawn=taken,
        ),
        status,
    )


@blueprint.get("/jobs/<int:job_id>/<piece>/files/<which>")
def save(job_id: int, piece: str, which: str) -> ResponseReturnValue:
    made = exports.make(connection(), job_id, piece, which, request.args.get("size", ""), asked(request.args, "shape", 0))
    way = "inline" if made.kind == exports.PDF else "attachment"
    charset = "; charset=utf-8" if made.kind.startswith("text/") else ""
    headers = {"Content-Disposition": f'{way}; filename="{made.name}"', "Content-Type": made.kind + charset}
    return Response(made.content, headers=headers)


@blueprint.get("/jobs/<int:job_id>/archive.zip")
def archive(job_id: int) -> ResponseReturnValue:
    """The whole job with its logbook and photos."""
    packed = archives.pack(connection(), job_id, photo_folder())
    if packed.left_out:
        flash(f"The archive that was saved last doesn't hold: {_listed(packed.left_out)}.")
    headers = {"Content-Disposition": f'attachment; filename="{packed.name}"'}
    return Response(packed.content, mimetype="application/zip", headers=headers)


def _listed(words: tuple[str, ...]) -> str:
    more = len(words) - MOST_NAMED
    return "; ".join(words[:MOST_NAMED]) + (f"; and {more} more" if more > 0 else "")


@blueprint.before_request
def _allow_archives() -> None:
    if request.endpoint == "files.unpack":
        request.max_content_length = MOST_BYTES + 200_000


@blueprint.post("/jobs/archive")
def unpack() -> ResponseReturnValue:
    """Import a whole job from an archive."""
    upload = request.files.get("file")
    try:
        brought = unpacking.unpack(connection(), upload.read() if upload else b"", photo_folder())
    except BadJob as bad:
        flash(f"This archive was not imported: {bad.faults[0]}")
        return redirect(url_for("jobs.show"), 303)
    except BadInput as fault:
        flash(fault.message)
        return redirect(url_for("jobs.show"), 303)
    if brought.left_out:
        flash(f"The job was imported, but for: {_listed(brought.left_out)}.")
    return redirect(url_for("pieces.first", job_id=brought.job_id), 303)


@blueprint.post("/jobs/<int:job_id>/<piece>/outline")
def outline(job_id: int, piece: str) -> ResponseReturnValue:
    """Look at a drawing's outlines, or take one as the panel, an opening or facets."""
    opened = editing.open_job(connection(), job_id)
    try:
        upload = request.files.get("file")
        content = upload.read() if upload and upload.filename else request.form.get("kept", "").encode("latin-1", "replace")
        name = upload.filename if upload and upload.filename else request.form.get("name", "")
        drawn = outlines.look(content, name or "", request.form.get("scale", ""), opened.job.units)
        if request.form.get("act") == "take":
            said = outlines.take(connection(), opened, piece, drawn, request.form)
            flash(said)
            return redirect(
                url_for(
                    "stations.show",
                    job_id=job_id,
                    piece=piece,
                    station="pattern" if request.form.get("as") == "facets" else "measure",
                ),
                303,
            )
    except BadInput as fault:
        return _page(job_id, piece, {fault.path or "file": fault.message}, status=422)
    except BadJob as bad:
        return _page(job_id, piece, {"file": str(bad.faults[0])}, status=422)
    return _page(job_id, piece, taken=drawn)
