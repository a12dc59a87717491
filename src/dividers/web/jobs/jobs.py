"""The page Jobs: every job there is, and what can be done with a whole one."""

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob
from dividers.services import time_zone
from dividers.services.jobs import demo, editing, evidence, job_list
from dividers.services.keeping.daily import last_copy
from dividers.services.stations import scheduling
from dividers.services.stations.pictures import job_thumbnail
from dividers.web.database import connection, photo_folder

blueprint = Blueprint("jobs", __name__)


@blueprint.get("/")
def index() -> ResponseReturnValue:
    return redirect(url_for("jobs.show"))


@blueprint.get("/jobs")
def show() -> ResponseReturnValue:
    return _page()


def _page(status: int = 200, **said: object) -> ResponseReturnValue:
    listed = [(row, job_thumbnail(connection(), row.id)) for row in job_list.list_jobs(connection())]
    deleted = [(row, job_list.gone_on(row)) for row in job_list.list_jobs(connection(), deleted=True)]
    return render_template(
        "jobs/page.html",
        jobs=listed,
        deleted=deleted,
        zones=time_zone.zones(),
        sample_title=demo.demo_document()["title"],
        copied=last_copy(photo_folder().parent),
        **{"file_faults": (), **said},
    ), status


@blueprint.post("/jobs/zone")
def put_zone() -> ResponseReturnValue:
    """Say which time zone the site's clock is in."""
    try:
        time_zone.keep(connection(), request.form.get("zone", ""))
    except BadInput as fault:
        return _page(422, zone_fault=fault.message)
    return redirect(url_for("jobs.show"), 303)


@blueprint.post("/jobs/sample")
def sample() -> ResponseReturnValue:
    """Add the sample job, or lay it anew, and begin the look round it."""
    job_id = demo.load_demo(connection(), fresh="fresh" in request.form)
    document = editing.open_job(connection(), job_id).revision.document
    scheduling.begin_early(job_id, evidence.informed(connection(), document))
    return redirect(url_for("stations.show", job_id=job_id, piece="booth-front", station="measure", look=1), 303)


@blueprint.post("/jobs/import")
def import_job() -> ResponseReturnValue:
    upload = request.files.get("file")
    if upload is None or not upload.filename:
        return _page(422, file_faults=("Choose a job file first: a file ending in .json that Dividers exported.",))
    try:
        job_id, job = job_list.import_job(connection(), upload.read())
    except BadJob as bad:
        return _page(422, file_faults=tuple(str(fault) for fault in bad.faults[:30]))
    for warning in job.warnings[:10]:
        flash(f"Please check: {warning}")
    return redirect(url_for("pieces.first", job_id=job_id), 303)


@blueprint.get("/jobs/<int:job_id>.json")
def export(job_id: int) -> ResponseReturnValue:
    text = job_list.export_job(connection(), job_id)
    name = f"job-{job_id}.json"
    return Response(text, mimetype="application/json", headers={"Content-Disposition": f'attachment; filename="{name}"'})


@blueprint.post("/jobs/<int:job_id>/copy")
def copy(job_id: int) -> ResponseReturnValue:
    job_list.copy_job(connection(), job_id)
    return redirect(url_for("jobs.show"), 303)


@blueprint.post("/jobs/<int:job_id>/rename")
def rename(job_id: int) -> ResponseReturnValue:
    title = request.form.get("title", "")
    try:
        job_list.rename_job(connection(), job_id, title)
    except BadInput as fault:
        return _page(422, renaming=(job_id, title, fault.message))
    return redirect(url_for("jobs.show"), 303)


@blueprint.post("/jobs/<int:job_id>/delete")
def delete(job_id: int) -> ResponseReturnValue:
    row = job_list.delete_job(connection(), job_id)
    flash(f"“{row.title}” was deleted. You can restore it below.")
    return redirect(url_for("jobs.show"), 303)


@blueprint.post("/jobs/<int:job_id>/restore")
def restore(job_id: int) -> ResponseReturnValue:
    job_list.restore_job(connection(), job_id)
    return redirect(url_for("jobs.show"), 303)
