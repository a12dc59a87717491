"""Practice: one exercise after the other, about an own job or a made-up one."""

import secrets

from flask import Blueprint, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.output.scene import View
from dividers.core.practice.exercises import KINDS, Exercise, Score
from dividers.formats.drawings.sketch_svg import split_svg, tape_svg
from dividers.services.jobs import editing, job_list
from dividers.services.practice import practice
from dividers.services.stations import pictures
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("practice", __name__, url_prefix="/practice")
MOST_SEED = 1_000_000


@blueprint.get("")
def show() -> ResponseReturnValue:
    kind = request.args.get("kind", "read")
    seed = asked(request.args, "seed", None)
    seed = secrets.randbelow(MOST_SEED) if seed is None else seed % MOST_SEED
    return _page(kind if kind in KINDS else "read", seed, asked(request.args, "job", None))


def _page(
    kind: str, seed: int, job_id: int | None, given: str = "", score: Score | None = None, fault: str = "", status: int = 200
) -> ResponseReturnValue:
    asked: Exercise | None = None
    picture, units, nothing = Markup(""), "", ""
    try:
        asked, piece, units = practice.exercise(connection(), kind, seed, job_id)
        picture = _picture(asked, piece, seed, job_id)
    except NotFound as missing:
        nothing = str(missing)
    body = render_template(
        "practice/page.html",
        kinds=KINDS,
        kind=kind,
        seed=seed,
        job_id=job_id,
        all_jobs=job_list.list_jobs(connection()),
        asked=asked,
        picture=picture,
        units=units,
        nothing=nothing,
        given=given,
        score=score,
        fault=fault,
        tally=practice.tally(connection()),
        next_address=url_for("practice.show", kind=kind, job=job_id, seed=secrets.randbelow(MOST_SEED)),
    )
    return body, status


def _picture(asked: Exercise, piece: str, seed: int, job_id: int | None) -> Markup:
    """What to look at: a tape measure without its reading, the drawing with its marks, or a line between paint and base."""
    if asked.tape:
        return tape_svg(asked.tape, "the pointer")
    if asked.split:
        return split_svg(asked.split)
    if asked.kind == "place":
        document = editing.open_job(connection(), job_id).revision.document if job_id else practice.made_up(seed)
        return pictures.drawing(document, piece, View(marks=True))
    return Markup("")


@blueprint.post("")
def answer() -> ResponseReturnValue:
    kind, seed = request.form.get("kind", ""), asked(request.form, "seed", 0) % MOST_SEED
    job_id = asked(request.form, "job", None)
    given = request.form.get("answer", "").strip()[:60]
    if kind not in KINDS:
        raise NotFound("There is no such exercise.")
    try:
        score = practice.answer(connection(), kind, seed, job_id, given)
    except BadInput as fault:
        return _page(kind, seed, job_id, given, fault=fault.message, status=422)
    return _page(kind, seed, job_id, given, score)
