"""What is done with a whole run: closed, brought to the changed job, told for good when its paint takes tape; and the plans it had."""

from collections.abc import Callable
from itertools import groupby
from typing import TypeVar

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, NotFound
from dividers.services.jobs import editing
from dividers.services.wall import at_the_wall, kept_steps, own_word
from dividers.services.wall.progress import PlanInForce, WallRun, progress_of
from dividers.web.database import connection
from dividers.web.numbers import asked
from dividers.web.wall.steps_shown import keep_steps, moved, shown_of
from dividers.web.wall.wall import of_a_job_that_is_there, word_not_taken

T = TypeVar("T")

blueprint = Blueprint("run", __name__)
blueprint.before_request(of_a_job_that_is_there)


@blueprint.post("/jobs/<int:job_id>/wall/end")
def end(job_id: int) -> ResponseReturnValue:
    at_the_wall.end(connection(), at_the_wall.require_run(connection(), job_id))
    flash("Closed. The entries are in the logbook.")
    return redirect(url_for("wall.show", job_id=job_id), 303)


@blueprint.post("/jobs/<int:job_id>/wall/rebase")
def rebase(job_id: int) -> ResponseReturnValue:
    """Go by the changed job from now on."""
    run = at_the_wall.require_run(connection(), job_id)
    try:
        _with_ticks(run, lambda: at_the_wall.rebase(connection(), run))
        flash("The updated job is in use. What was done stays done.")
    except BadInput as fault:
        flash(fault.message)
    return redirect(url_for("wall.show", job_id=job_id), 303)


@blueprint.post("/jobs/<int:job_id>/wall/takes-tape")
def takes_tape(job_id: int) -> ResponseReturnValue:
    """Keep with the job after how long the paint that a step waits for takes tape."""
    task, written = request.form.get("task", ""), request.form.get("takes_tape", "")
    run = at_the_wall.require_run(connection(), job_id)
    try:
        flash(_with_ticks(run, lambda: own_word.takes_tape(connection(), run, task, written)))
    except BadInput as fault:
        return word_not_taken(progress_of(connection(), run), fault, task, written)
    return redirect(url_for("wall.show", job_id=job_id, task=task), 303)


def _with_ticks(run: WallRun, act: Callable[[], T]) -> T:
    """Do what lets a run go by other steps; ticks follow what was ticked, whatever number it has then."""
    progress = progress_of(connection(), run)
    before, made = shown_of(progress).boards, progress.facts.ticks
    done = act()
    now = at_the_wall.require_run(connection(), run.job_id)
    keep_steps(now, anew=True)
    kept_steps.move_ticks(connection(), now, made, moved(before, shown_of(progress_of(connection(), now)).boards))
    return done


@blueprint.get("/jobs/<int:job_id>/wall/plans")
def plans(job_id: int) -> ResponseReturnValue:
    """Every plan that was made on the way."""
    opened = editing.open_job(connection(), job_id)
    found = at_the_wall.runs_of(connection(), job_id)
    if not found:
        raise NotFound("This job hasn't been started at the wall yet.")
    progress = progress_of(connection(), found[0])
    made = at_the_wall.plans(connection(), found[0])
    shown = min(max(asked(request.args, "plan", len(made)), 1), len(made))
    return render_template(
        "wall/plans.html",
        opened=opened,
        job=opened.job,
        progress=progress,
        folded=[list(group) for _, group in groupby(reversed(made), key=_unchanged)],
        shown=made[shown - 1],
    )


def _unchanged(plan: PlanInForce) -> str:
    """What plans that say the same, one after the other, have in common; those that move something stand by themselves."""
    return "nothing moved" if plan.said.startswith("Nothing else moves") else f"{plan.number}"
