"""Sheets to print: the mark sheet, as a page and as PDF."""

from flask import Blueprint, Response, render_template, request
from flask.typing import ResponseReturnValue

from dividers.core.output.scene import View
from dividers.formats.print.ink import SIZES
from dividers.services.files import sheets
from dividers.services.jobs import editing
from dividers.services.jobs.planning import piece_plan
from dividers.services.stations import pictures
from dividers.services.stations.large_plans import require_ready
from dividers.web.database import connection
from dividers.web.numbers import asked
from dividers.web.stations.mark_list import grouped, tape_picture

blueprint = Blueprint("sheets", __name__, url_prefix="/jobs/<int:job_id>/<piece>")


@blueprint.get("/mark-sheet")
def mark_sheet(job_id: int, piece: str) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    require_ready(job_id, opened.revision.document, piece, marks=True)
    plan = piece_plan(opened.revision.document, piece)
    return render_template(
        "stations/mark_sheet.html",
        opened=opened,
        job=opened.job,
        plan=plan,
        piece=plan.piece,
        graduation=opened.document.get("graduation") or ("1/16 in" if opened.job.units == "in" else "1 mm"),
        mark_groups=grouped(plan),
        tapes={f"m{n}": tape_picture(mark, opened.job.graduation) for n, mark in enumerate(plan.marks, 1)},
        drawing=pictures.drawing(opened.revision.document, piece, View(marks=True)),
    )


@blueprint.get("/mark-sheet.pdf")
def mark_sheet_pdf(job_id: int, piece: str) -> ResponseReturnValue:
    name, content = sheets.mark_sheet_pdf(connection(), job_id, piece, _size())
    return Response(content, mimetype="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'})


@blueprint.get("/story-poles.pdf")
def story_poles(job_id: int, piece: str) -> ResponseReturnValue:
    name, content = sheets.story_poles_pdf(connection(), job_id, piece, _size(), asked(request.args, "line", 0))
    return Response(content, mimetype="application/pdf", headers={"Content-Disposition": f'inline; filename="{name}"'})


def _size() -> str:
    """The paper asked for; "" for the usual one."""
    wanted = request.args.get("size", "")
    return wanted if wanted in SIZES else ""
