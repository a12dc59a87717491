"""The logbook of a job: findings, touching up, final inspection, materials used, measured tape, suggestions; the record; the search."""

from collections.abc import Callable

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from dividers.core.base.errors import BadInput
from dividers.core.job.edge_counts import MOST_A_ROUND
from dividers.core.output.scene import View
from dividers.core.risk.lift import LIFT_WORDS
from dividers.formats.photos import MOST_BYTES
from dividers.services.jobs import editing, evidence
from dividers.services.logbook import logbook, proposals, record
from dividers.services.stations import pictures
from dividers.services.stations.standing import standing
from dividers.web.database import connection, photo_folder
from dividers.web.logbook.edges import edges_by_photo
from dividers.web.logbook.logbook_board import chances_of, pins_of
from dividers.web.numbers import asked
from dividers.web.stations.stations import STATIONS

blueprint = Blueprint("logbook", __name__)


@blueprint.get("/jobs/<int:job_id>/logbook")
def show(job_id: int) -> ResponseReturnValue:
    return _page(job_id, {}, {})


def _page(job_id: int, typed: dict[str, str], faults: dict[str, str], form: str = "", status: int = 200) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    document = logbook.document_of(connection(), job_id)
    rounds = logbook.rounds_of(connection(), job_id)
    keys = [each.piece.piece.key for each in rounds] or [opened.job.pieces[0].key]
    wanted = request.values.get("piece") or typed.get("round", "").partition("/")[0]
    key = wanted if wanted in keys else keys[0]
    own = [each for each in rounds if each.piece.piece.key == key]
    piece = own[0].piece.piece if own else opened.job.pieces[0]
    shown = min(max(asked(request.values, "shown", 1), 1), max(len(own), 1))
    findings = logbook.findings_of(connection(), job_id)
    touch_ups = logbook.touch_ups_of(connection(), job_id)
    signed = {each.piece: each for each in logbook.sign_offs_of(connection(), job_id)}
    body = render_template(
        "logbook/page.html",
        opened=opened,
        job=opened.job,
        piece=piece,
        pieces=[p for p in opened.job.pieces if p.key in keys],
        stations=STATIONS,
        station="logbook",
        standing=standing(connection(), opened, piece.key),
        rounds=own,
        every_round=rounds,
        own_steps=logbook.own_steps(connection(), job_id),
        taped=logbook.still_taped(connection(), job_id),
        shown=shown,
        drawing=pictures.drawing(document, key, View(strips_of=shown if own else None)),
        pins=pins_of(findings, touch_ups, key),
        findings=findings,
        touch_ups=touch_ups,
        signed=signed,
        used=logbook.used_in(connection(), job_id),
        measured=logbook.tapes_measured(connection(), job_id),
        edges=edges_by_photo(connection(), job_id, opened.job.units),
        proposals=proposals.proposals(connection(), job_id),
        most_a_round=MOST_A_ROUND,
        chances=chances_of(connection(), own),
        lifts=LIFT_WORDS,
        lift_options=[(name, f"{name}: {words}") for name, words in LIFT_WORDS.items()],
        tapes=[key for key, product in (opened.document.get("products") or {}).items() if product["kind"] == "tape"],
        typed=typed,
        faults=faults,
        form=form,
    )
    return body, status


def _done(job_id: int, form: str, act: Callable[[], str]) -> ResponseReturnValue:
    """Do what a form asks; back to the page, or the form again with what is wrong."""
    try:
        said = act()
    except logbook.BadForm as bad:
        return _page(job_id, dict(request.form), bad.faults, form, 422)
    except BadInput as bad:
        return _page(job_id, dict(request.form), {bad.path: bad.message}, form, 422)
    if said:
        flash(said)
    piece = request.form.get("piece") or request.form.get("round", "").partition("/")[0]
    return redirect(url_for("logbook.show", job_id=job_id, piece=piece or None, _anchor=form), 303)


@blueprint.post("/jobs/<int:job_id>/logbook/findings")
def add_finding(job_id: int) -> ResponseReturnValue:
    """Write down how edges came out; a strip without a judgement goes on to its photo, which decides."""
    found: list[int] = []

    def act() -> str:
        upload = request.files.get("photo")
        photo = upload.read() if upload and upload.filename else None
        found.append(logbook.add_finding(connection(), job_id, request.form, photo, photo_folder()))
        return "Saved."

    answer = _done(job_id, "finding", act)
    undecided = [each for each in logbook.findings_of(connection(), job_id) if each.id in found and not each.edge]
    return redirect(url_for("edges.show", job_id=job_id, photo_id=undecided[0].photo_id), 303) if undecided else answer


@blueprint.before_request
def _allow_photos() -> None:
    """Photos may be larger than what else is sent."""
    if request.endpoint == "logbook.add_finding":
        request.max_content_length = MOST_BYTES + 200_000


@blueprint.post("/jobs/<int:job_id>/logbook/findings/<int:finding_id>")
def change_finding(job_id: int, finding_id: int) -> ResponseReturnValue:
    """Take a finding out, or put it back."""
    back = request.form.get("back") == "1"
    logbook.remove_finding(connection(), job_id, finding_id, back)
    if not back:
        address = url_for("logbook.change_finding", job_id=job_id, finding_id=finding_id)
        flash(Markup(render_template("logbook/_taken_out.html", address=address)))
    return redirect(url_for("logbook.show", job_id=job_id, piece=request.form.get("piece") or None, _anchor="findings"), 303)


@blueprint.post("/jobs/<int:job_id>/logbook/touch-ups")
def add_touch_up(job_id: int) -> ResponseReturnValue:
    def act() -> str:
        logbook.add_touch_up(connection(), job_id, request.form)
        return ""

    return _done(job_id, "touching-up", act)


@blueprint.post("/jobs/<int:job_id>/logbook/touch-ups/<int:touch_up_id>")
def settle_touch_up(job_id: int, touch_up_id: int) -> ResponseReturnValue:
    def act() -> str:
        logbook.settle_touch_up(
            connection(), job_id, touch_up_id, request.form.get("done") == "1", request.form.get("minutes", "")
        )
        return ""

    return _done(job_id, "touching-up", act)


@blueprint.post("/jobs/<int:job_id>/logbook/sign-off")
def sign_off(job_id: int) -> ResponseReturnValue:
    def act() -> str:
        logbook.sign_off(connection(), job_id, request.form)
        return ""

    return _done(job_id, "last-look", act)


@blueprint.post("/jobs/<int:job_id>/logbook/used")
def add_used(job_id: int) -> ResponseReturnValue:
    def act() -> str:
        if drop := request.form.get("drop", type=int):
            logbook.drop_used(connection(), job_id, drop)
        else:
            logbook.add_used(connection(), job_id, request.form)
        return ""

    return _done(job_id, "what-went-in", act)


@blueprint.post("/jobs/<int:job_id>/logbook/measured")
def add_measured(job_id: int) -> ResponseReturnValue:
    def act() -> str:
        logbook.add_measured(connection(), job_id, request.form)
        return ""

    return _done(job_id, "measured", act)


@blueprint.post("/jobs/<int:job_id>/logbook/proposals")
def settle_proposal(job_id: int) -> ResponseReturnValue:
    return _done(
        job_id,
        "proposals",
        lambda: proposals.settle(connection(), job_id, request.form.get("proposal", ""), request.form.get("take") == "1"),
    )


@blueprint.get("/photos/<int:photo_id>.jpg")
def photo(photo_id: int) -> ResponseReturnValue:
    """A photo, as it was kept when it was uploaded."""
    response = Response(logbook.photo_file(connection(), photo_id, photo_folder()).read_bytes(), mimetype="image/jpeg")
    response.headers["Content-Security-Policy"] = "default-src 'none'; sandbox"
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


@blueprint.get("/jobs/<int:job_id>/record")
def show_record(job_id: int) -> ResponseReturnValue:
    """The job's record as a sheet to print."""
    opened = editing.open_job(connection(), job_id)
    found = record.record_of(connection(), job_id)
    thumbnails = {p.key: pictures.thumbnail(opened.revision.document, p.key) for p in opened.job.pieces}
    return render_template(
        "logbook/record.html", opened=opened, job=opened.job, record=found, thumbnails=thumbnails, lifts=LIFT_WORDS
    )


@blueprint.get("/jobs/<int:job_id>/record.json")
def record_json(job_id: int) -> ResponseReturnValue:
    found = record.record_of(connection(), job_id)
    return _file(record.record_json(found), "application/json", f"job-{job_id}-record.json")


@blueprint.get("/jobs/<int:job_id>/record.csv")
def record_csv(job_id: int) -> ResponseReturnValue:
    found = record.record_of(connection(), job_id)
    return _file(record.record_csv(found), "text/csv; charset=utf-8", f"job-{job_id}-record.csv")


def _file(text: str, kind: str, name: str) -> Response:
    return Response(
        text,
        mimetype=kind.split(";")[0],
        headers={"Content-Type": kind, "Content-Disposition": f'attachment; filename="{name}"'},
    )


@blueprint.get("/logbook")
def search() -> ResponseReturnValue:
    """Find something in the logbooks of all jobs."""
    words = request.args.get("q", "").strip()[:100]
    return render_template(
        "logbook/search.html", words=words, hits=logbook.search(connection(), words), unread=evidence.unread(connection())
    )
