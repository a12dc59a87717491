"""Sums: a number in ten seconds, without a job; each can become one."""

import json

from flask import Blueprint, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from dividers.core.base.errors import BadInput
from dividers.core.base.units import JOB_UNITS
from dividers.core.marks.tape_measure import draw_tape
from dividers.core.sums.asked import Sum, SumAnswer, SumAsked
from dividers.core.sums.length_sums import LENGTH_SUMS
from dividers.core.sums.material_sums import MATERIAL_SUMS
from dividers.formats.drawings.sketch_svg import tape_svg
from dividers.services.jobs.laying_out import usual_units
from dividers.web.database import connection

blueprint = Blueprint("sums", __name__, url_prefix="/sums")
SUMS = {each.key: each for each in (*LENGTH_SUMS, *MATERIAL_SUMS)}


@blueprint.get("")
def show() -> ResponseReturnValue:
    chosen = SUMS.get(request.args.get("sum", ""), LENGTH_SUMS[0])
    wanted = request.args.get("units", "")
    units = wanted if wanted in JOB_UNITS else usual_units(connection())
    answer, fault = _answer(chosen, units)
    return render_template(
        "sums/page.html",
        sums=SUMS.values(),
        chosen=chosen,
        units=units,
        all_units=JOB_UNITS,
        typed=request.args,
        answer=answer,
        fault=fault,
        tape=_tape(answer, chosen, units),
        job=_job(answer, units),
    )


def _answer(chosen: Sum, units: str) -> tuple[SumAnswer | None, BadInput | None]:
    """The answer, once something was typed; or what is wrong with it."""
    if not any(request.args.get(question.key, "").strip() for question in chosen.questions):
        return None, None
    try:
        return chosen.answer(request.args.to_dict(), units), None
    except BadInput as fault:
        return None, fault


def _tape(answer: SumAnswer | None, chosen: Sum, units: str) -> Markup | None:
    """The chief reading on a piece of tape measure."""
    if answer is None or answer.reading_mm is None:
        return None
    asked = SumAsked({}, chosen.questions, units)
    return tape_svg(draw_tape(answer.reading_mm, asked.graduation), asked.read(answer.reading_mm))


def _job(answer: SumAnswer | None, units: str) -> str:
    """Where a job of it begins; "" where it gives none."""
    if answer is None or not answer.job:
        return ""
    sizes = {key: answer.job[key] for key in ("width", "height") if key in answer.job}
    pattern = json.dumps(answer.job["pattern"]) if "pattern" in answer.job else None
    return url_for("beginning.sizes", surface="wall", units=units, pattern=pattern, **sizes)
