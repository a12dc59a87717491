"""The Schedule station's other addresses: stop the search, print, calendar; and busy times imported from a calendar."""

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob, NotFound, NotYet
from dividers.core.order.schedule import HORIZON_DAYS, Schedule, start_of
from dividers.formats.ics import CalendarOf, read_busy, schedule_ics
from dividers.services import clock
from dividers.services.careful import carefully
from dividers.services.jobs import editing, evidence
from dividers.services.stations import scheduling
from dividers.services.supplies import supplies
from dividers.web.database import connection
from dividers.web.numbers import asked
from dividers.web.stations.days_board import days_of
from dividers.web.stations.schedule_board import status_said

blueprint = Blueprint("schedule", __name__, url_prefix="/jobs/<int:job_id>/<piece>")


def _document(opened: editing.Opened) -> str:
    """The job, with what the logbook knows."""
    return evidence.informed(connection(), opened.revision.document)


def _schedule(opened: editing.Opened) -> Schedule:
    schedule = scheduling.schedule_for(opened.id, _document(opened))
    if schedule is None:
        raise NotYet("the schedule")
    return schedule


@blueprint.post("/schedule/stop")
def stop(job_id: int, piece: str) -> ResponseReturnValue:
    """Be content with the best schedule found by now."""
    scheduling.stop(_document(editing.open_job(connection(), job_id)))
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="schedule"), 303)


@blueprint.post("/schedule/search-on")
def search_on(job_id: int, piece: str) -> ResponseReturnValue:
    """Search again, where the search was stopped."""
    scheduling.search_on(_document(editing.open_job(connection(), job_id)))
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="schedule"), 303)


@blueprint.get("/schedule.ics")
def calendar(job_id: int, piece: str) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    schedule = _schedule(opened)
    if schedule.solution.times is None:
        raise NotFound(f"There is no schedule to save. {schedule.said[0]}")
    headers = {"Content-Disposition": f'attachment; filename="job-{job_id}-order.ics"'}
    made, changed = editing.made_and_changed_at(connection(), job_id)
    about = CalendarOf(
        f"job-{job_id}-{made:%Y%m%d%H%M%S}.dividers", opened.job.title, int((changed - made).total_seconds()), changed
    )
    return Response(schedule_ics(schedule, about), mimetype="text/calendar", headers=headers)


@blueprint.get("/schedule/sheet")
def sheet(job_id: int, piece: str) -> ResponseReturnValue:
    """The day list to print."""
    opened = editing.open_job(connection(), job_id)
    schedule = _schedule(opened)
    return render_template(
        "stations/schedule_sheet.html",
        opened=opened,
        job=opened.job,
        piece=opened.piece(piece),
        schedule=schedule,
        order_days=days_of(schedule),
        status=status_said(schedule),
    )


@blueprint.post("/schedule/from-supplies")
def from_supplies(job_id: int, piece: str) -> ResponseReturnValue:
    """Add an item of Supplies to the job."""
    item, base = asked(request.form, "item", 0), asked(request.form, "revision", -1)
    name = supplies.into_job(connection(), job_id, base, item)
    flash(f"{name} is in this job now: choose it at Tape, Materials or Pattern.")
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="schedule"), 303)


@blueprint.post("/schedule/to-supplies")
def to_supplies(job_id: int, piece: str) -> ResponseReturnValue:
    """Save a product of the job in Supplies."""
    key = request.form.get("product", "")
    try:
        supplies.out_of_job(connection(), editing.open_job(connection(), job_id).document, key)
        flash(f"{key} is in Supplies now.")
    except BadInput as fault:
        flash(fault.message)
    except BadJob as bad:
        flash(str(bad.faults[0]))
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="schedule"), 303)


@blueprint.post("/schedule/busy")
def busy(job_id: int, piece: str) -> ResponseReturnValue:
    """Take busy times out of a calendar file, or forget them."""
    opened = editing.open_job(connection(), job_id)
    base = asked(request.form, "revision", -1)
    back = redirect(url_for("stations.show", job_id=job_id, piece=piece, station="schedule"), 303)
    if request.form.get("action") == "forget":
        editing.edit_piece(connection(), job_id, piece, "busy times", base, {"/crew.busy": None}, {})
        flash("Busy times removed.")
        return back
    upload = request.files.get("file")
    try:
        if upload is None or not upload.filename:
            raise BadInput("Choose a calendar file first: one ending in .ics.", "file")
        start = start_of(opened.job, f"{scheduling.next_morning()}T08:00")
        found = carefully(read_busy, upload.read(), start, HORIZON_DAYS, clock.zone())
    except BadInput as fault:
        flash(fault.message)
        return back
    spans = [[one.isoformat(timespec="minutes"), other.isoformat(timespec="minutes")] for one, other in found]
    editing.edit_piece(connection(), job_id, piece, "busy times", base, {"/crew.busy": spans or None}, {})
    flash(f"{len(found)} busy times added from the calendar." if found else "The calendar has no busy times in these days.")
    return back
