"""Test patches: lay out a grid, say when a field is painted and pulled, and how it came out."""

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.quantities import spoken
from dividers.core.job.products import SEALS
from dividers.core.job.surface import TEXTURES
from dividers.core.practice.exercises import SEAL_WORDS
from dividers.core.risk.lift import LIFT_WORDS
from dividers.services.clock import now
from dividers.services.jobs.editing import open_job
from dividers.services.jobs.job_list import list_jobs
from dividers.services.jobs.laying_out import usual_units
from dividers.services.logbook import patches
from dividers.services.logbook.logbook import EDGES, BadForm
from dividers.web.database import connection
from dividers.web.logbook.edges import fine

blueprint = Blueprint("patches", __name__, url_prefix="/patches")


@blueprint.get("")
def show() -> ResponseReturnValue:
    return _page({}, {}, "")


def _page(typed: dict[str, str], faults: dict[str, str], form: str, status: int = 200) -> ResponseReturnValue:
    units = usual_units(connection())
    figures: dict[tuple[int, int], str] = {}
    grids = []
    for patch in patches.list_patches(connection()):
        cells = patches.list_cells(connection(), patch.id)
        ragged = patches.ragged_of(connection(), cells)
        figures |= {(patch.id, number): fine(mm, units) for number, mm in ragged.items()}
        ranks = patches.ranking(cells, ragged)
        grids.append((patch, [(cell, patches.ready_at(cell)) for cell in cells], ranks, patches.said(ranks) if ranks else ""))
    return (
        render_template(
            "logbook/patches.html",
            grids=grids,
            figures=figures,
            seal_wait=patches.seal_wait_min,
            places=[
                (f"{job.id}/{piece.key}", f"{job.title}: {piece.name}")
                for job in list_jobs(connection())
                for piece in open_job(connection(), job.id).job.pieces
            ]
            if any(ranks for _, _, ranks, _ in grids)
            else [],
            now=now(),
            edges=[(each, each) for each in EDGES],
            lifts=[
                *((key, f"{words} ({key})") for key, words in LIFT_WORDS.items()),
                (patches.NOT_LOOKED_AT, patches.NOT_LOOKED_AT),
            ],
            spoken=spoken,
            textures=[(each, each) for each in TEXTURES],
            seals=[(seal, SEAL_WORDS[seal]) for seal in SEALS[1:]],
            chosen=request.form.getlist("seals"),
            typed=typed,
            faults=faults,
            form=form,
        ),
        status,
    )


@blueprint.post("")
def plan() -> ResponseReturnValue:
    try:
        patch_id = patches.plan(connection(), request.form, {"seals": request.form.getlist("seals")})
    except BadForm as bad:
        return _page(dict(request.form), bad.faults, "grid", 422)
    return redirect(url_for("patches.show", _anchor=f"patch-{patch_id}"), 303)


@blueprint.get("/<int:patch_id>.csv")
def as_csv(patch_id: int) -> ResponseReturnValue:
    headers = {"Content-Disposition": f'attachment; filename="patch-{patch_id}.csv"'}
    return Response("\ufeff" + patches.as_csv(connection(), patch_id), mimetype="text/csv", headers=headers)


@blueprint.post("/<int:patch_id>/<int:number>")
def record(patch_id: int, number: int) -> ResponseReturnValue:
    try:
        patches.record(connection(), patch_id, number, request.form)
    except BadForm as bad:
        return _page(dict(request.form) | {"number": f"{patch_id}/{number}"}, bad.faults, "cell", 422)
    return redirect(url_for("patches.show", _anchor=f"patch-{patch_id}"), 303)


@blueprint.post("/<int:patch_id>/use")
def use(patch_id: int) -> ResponseReturnValue:
    """Take a grid's best tape for a piece."""
    try:
        flash(patches.use_in_job(connection(), patch_id, request.form.get("tape", ""), request.form.get("place", "")))
    except BadForm as bad:
        return _page(dict(request.form) | {"number": str(patch_id)}, bad.faults, "use", 422)
    return redirect(url_for("patches.show", _anchor=f"patch-{patch_id}"), 303)


@blueprint.post("/<int:patch_id>/retire")
def retire(patch_id: int) -> ResponseReturnValue:
    patches.retire(connection(), patch_id, request.form.get("retired") == "1")
    return redirect(url_for("patches.show", _anchor=f"patch-{patch_id}"), 303)
