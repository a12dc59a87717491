"""Readings of a survey: one added from the station, many in and out as a table."""

from typing import Any

from flask import Blueprint, Response, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.survey.kept_readings import kind_words
from dividers.services.jobs import editing
from dividers.services.stations import panel_outlines, survey
from dividers.web.database import connection
from dividers.web.htmx import is_htmx
from dividers.web.numbers import asked
from dividers.web.stations import stations

blueprint = Blueprint("measure", __name__, url_prefix="/jobs/<int:job_id>/<piece>")


@blueprint.post("/readings")
def add(job_id: int, piece: str) -> ResponseReturnValue:
    """Add one reading; what is not valid is shown again with what is wrong at its field."""
    typed = {name: request.form.get(name, "") for name in ("what", "length", "at", "panel")}
    reading = survey.NewReading(typed["what"], typed["length"], typed["at"], asked(request.form, "panel", 0))
    adding = dict(typed)
    try:
        survey.add(connection(), job_id, asked(request.form, "revision", -1), piece, reading)
        adding = {"what": _next(typed["what"]), "panel": typed["panel"]}
    except BadInput as fault:
        adding |= {"fault": fault.message, "fault_at": fault.path}
    faulty = "fault" in adding
    if not is_htmx() and not faulty:
        return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="measure"), 303)
    return stations.page_of(job_id, piece, "measure", 422 if faulty and not is_htmx() else 200, adding=adding)


@blueprint.post("/measure/outline")
def outline(job_id: int, piece: str) -> ResponseReturnValue:
    """Give a panel an outline; what is not valid is shown again with what is wrong at its field."""
    form = request.form
    panel = asked(form, "panel", 0)
    typed: dict[str, Any] = dict(form.items()) | {"faults": {}}
    try:
        panel_outlines.put(connection(), job_id, asked(form, "revision", -1), piece, panel, form.get("shape", ""), form)
    except BadInput as fault:
        typed["faults"] = {fault.path: fault.message}
    except BadJob as bad:
        editing.drop_draft(connection(), job_id, piece, "measure")
        typed["said"] = [fault.message for fault in bad.faults]
    if typed["faults"] or typed.get("said"):
        return stations.page_of(job_id, piece, "measure", 422, adding={"outline": typed})
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="measure"), 303)


def _next(what: str) -> str:
    """What is likely measured next: the other diagonal after one, else the same again."""
    return {"falling": "rising", "rising": "falling"}.get(what, what)


@blueprint.post("/check-marks")
def as_marked(job_id: int, piece: str) -> ResponseReturnValue:
    """Keep what was found after marking; what can't be read is shown again with what is wrong."""
    panel, line, found = request.form.get("panel", ""), request.form.get("line", ""), request.form.getlist("found")[:1000]
    typed: dict[str, Any] = {"panel": panel, "line": line}
    try:
        survey.note_marked(connection(), job_id, asked(request.form, "revision", -1), piece, panel, line, found)
    except BadJob as bad:
        faults = {fault.path.rsplit(".", 1)[-1]: fault.message for fault in bad.faults if ".marked." in fault.path}
        typed |= {"found": found, "faults": faults or {"0": str(bad.faults[0])}}
    faulty = "faults" in typed
    if not is_htmx() and not faulty:
        return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="marks", panel=panel, line=line), 303)
    return stations.page_of(job_id, piece, "marks", 422 if faulty and not is_htmx() else 200, adding=typed)


@blueprint.get("/readings.csv")
def as_csv(job_id: int, piece: str) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    opened.piece(piece)
    text = survey.table_of(opened, piece)
    headers = {"Content-Disposition": f'attachment; filename="{piece}-survey.csv"'}
    return Response("\ufeff" + text, mimetype="text/csv", headers=headers)


@blueprint.get("/readings/table")
def table(job_id: int, piece: str) -> ResponseReturnValue:
    return _table_page(job_id, piece, "")


@blueprint.post("/readings/table")
def read_table(job_id: int, piece: str) -> ResponseReturnValue:
    """Show what a table says, or take its good lines."""
    opened = editing.open_job(connection(), job_id)
    text = request.form.get("table", "")
    uploaded = request.files.get("file")
    if uploaded and uploaded.filename:
        text = _text_of(uploaded.read())
    try:
        lines = survey.preview(opened, piece, text)
        if request.form.get("action") != "take":
            return _table_page(job_id, piece, text, lines=lines)
        if not any(line.taken for line in lines):
            raise BadInput("No line is valid yet. Correct the lines marked below.", "table")
        replace = request.form.get("mode") == "replace"
        many = survey.take(connection(), job_id, asked(request.form, "revision", -1), piece, lines, replace)
    except BadInput as fault:
        return _table_page(job_id, piece, text, fault=fault.message, status=422)
    except BadJob as bad:
        return _table_page(job_id, piece, text, fault=str(bad.faults[0]), status=422)
    flash(f"{many} readings added from the table. Undo removes them.")
    return redirect(url_for("stations.show", job_id=job_id, piece=piece, station="measure"), 303)


def _text_of(content: bytes) -> str:
    """A file's text: UTF-8 or UTF-16 with its sign, else what western spreadsheets write."""
    for encoding in ("utf-16",) if content[:2] in (b"\xff\xfe", b"\xfe\xff") else ("utf-8-sig", "cp1252"):
        try:
            return content.decode(encoding)
        except UnicodeDecodeError:
            continue
    return content.decode("latin-1")


def _table_page(job_id: int, piece: str, text: str, status: int = 200, **more: Any) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    page = render_template(
        "stations/readings_table.html",
        opened=opened,
        job=opened.job,
        piece=opened.piece(piece),
        text=text,
        words=kind_words(opened.piece(piece).surface.kind),
        **more,
    )
    return page, status
