"""The history of a job: every state with when, who and what changed; looked at, and brought back."""

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadJob
from dividers.services.jobs import editing
from dividers.services.jobs import history as kept
from dividers.services.jobs.planning import job_of
from dividers.services.stations import pictures
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("history", __name__, url_prefix="/jobs/<int:job_id>/history")


@blueprint.get("")
def show(job_id: int) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    found = kept.states(connection(), job_id, asked(request.args, "before", None))
    earlier = found[-1].revision.number if len(found) == kept.AT_ONCE else None
    return render_template("jobs/history.html", opened=opened, states=found, earlier=earlier)


@blueprint.get("/<int:number>")
def look(job_id: int, number: int) -> ResponseReturnValue:
    """A state beside the one in force: where they differ, and the pieces that look different."""
    opened = editing.open_job(connection(), job_id)
    state = kept.state_of_job(connection(), job_id, number)
    then, now = pictures.thumbnails(state.revision.document), pictures.thumbnails(opened.revision.document)
    names = {piece.key: piece.name for job in (job_of(state.revision.document), opened.job) for piece in job.pieces}
    changed = [(names[key], then.get(key), now.get(key)) for key in {**now, **then} if then.get(key) != now.get(key)]
    return render_template("jobs/state.html", opened=opened, state=state, changed=changed)


@blueprint.post("/<int:number>")
def bring_back(job_id: int, number: int) -> ResponseReturnValue:
    editing.open_job(connection(), job_id)
    try:
        kept.bring_back(connection(), job_id, number)
        flash(f"State {number} is in force again. Undo takes that back.")
    except BadJob as bad:
        flash(f"State {number} can't be brought back: {bad.faults[0].message}")
    return redirect(url_for("history.show", job_id=job_id), 303)
