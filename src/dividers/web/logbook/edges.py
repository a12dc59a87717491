"""The page on which the edge on a photo is measured: two lines are laid on the picture, the rest is worked out."""

import sqlite3

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact, write_small
from dividers.core.risk.edge_by_photo import EdgeFound
from dividers.formats.photos import MOST_BYTES
from dividers.services.jobs import editing
from dividers.services.jobs.laying_out import usual_units
from dividers.services.logbook import photo_edges as edges
from dividers.services.logbook.logbook import BadForm
from dividers.services.logbook.photo_edges import Photo
from dividers.web.database import connection, photo_folder

blueprint = Blueprint("edges", __name__)
OF_JOB, OF_FIELD = "/jobs/<int:job_id>/logbook/photos/<int:photo_id>/edge", "/patches/<int:patch_id>/<int:number>/edge"
STARTS = {"a": (0.1, 0.5), "b": (0.9, 0.5), "k1": (0.4, 0.2), "k2": (0.6, 0.2)}  # shares of the picture
CLASS_WORDS = {"clean": "clean", "slight": "slight bleed", "bleed": "bled"}


@blueprint.get(OF_JOB)
def show(job_id: int, photo_id: int) -> ResponseReturnValue:
    return _of_job(job_id, photo_id)


@blueprint.post(OF_JOB)
def measure(job_id: int, photo_id: int) -> ResponseReturnValue:
    """Measure it; what can't be judged is said where it is typed, and nothing that was pointed at is lost."""
    try:
        found = edges.measure_finding(connection(), job_id, photo_id, request.form, photo_folder())
    except BadForm as bad:
        return _of_job(job_id, photo_id, dict(request.form), bad.faults)
    finding = edges.finding_of(connection(), job_id, photo_id)
    if finding and finding.strip:
        flash(f"Strip {finding.strip} counts as {CLASS_WORDS[found.judged]} now.")
    return redirect(url_for("edges.show", job_id=job_id, photo_id=photo_id), 303)


@blueprint.get(OF_FIELD)
def show_field(patch_id: int, number: int) -> ResponseReturnValue:
    return _of_field(patch_id, number)


@blueprint.post(OF_FIELD)
def measure_field(patch_id: int, number: int) -> ResponseReturnValue:
    """Measure the edge of a field of a test patch, which takes its class."""
    try:
        units = usual_units(connection())
        found = edges.measure_cell(connection(), patch_id, number, request.form, photo_folder(), units)
    except BadForm as bad:
        return _of_field(patch_id, number, dict(request.form), bad.faults)
    flash(f"Field {number} counts as {CLASS_WORDS[found.judged]} now.")
    return redirect(url_for("edges.show_field", patch_id=patch_id, number=number), 303)


@blueprint.post("/patches/<int:patch_id>/<int:number>/photo")
def add_photo(patch_id: int, number: int) -> ResponseReturnValue:
    """Keep a photo of a field that was pulled, to measure its edge on."""
    upload = request.files.get("photo")
    try:
        edges.add_cell_photo(connection(), patch_id, number, upload.read() if upload else b"", photo_folder())
    except BadInput as fault:
        flash(f"Field {number}: {fault.message}")
        return redirect(url_for("patches.show", _anchor=f"patch-{patch_id}"), 303)
    return redirect(url_for("edges.show_field", patch_id=patch_id, number=number), 303)


@blueprint.before_request
def _allow_photos() -> None:
    """Photos may be larger than what else is sent."""
    if request.endpoint == "edges.add_photo":
        request.max_content_length = MOST_BYTES + 200_000


def _of_job(
    job_id: int, photo_id: int, typed: dict[str, str] | None = None, faults: dict[str, str] | None = None
) -> ResponseReturnValue:
    job = editing.open_job(connection(), job_id).job
    photo = edges.photo_of(connection(), job_id, photo_id)
    finding = edges.finding_of(connection(), job_id, photo_id)
    about = (
        f"{finding.piece_name}, round {finding.round}{f', strip {finding.strip}' if finding.strip else ''}"
        if finding
        else job.title
    )
    back = (url_for("logbook.show", job_id=job_id, _anchor="findings"), "Logbook")
    return _page(photo, job.units, about, back, typed, faults)


def _of_field(
    patch_id: int, number: int, typed: dict[str, str] | None = None, faults: dict[str, str] | None = None
) -> ResponseReturnValue:
    cell, photo = edges.cell_photo(connection(), patch_id, number)
    back = (url_for("patches.show", _anchor=f"patch-{patch_id}"), "Test patches")
    return _page(photo, usual_units(connection()), f"Field {number}, {cell.tape}", back, typed, faults)


def _page(
    photo: Photo,
    units: str,
    about: str,
    back: tuple[str, str],
    typed: dict[str, str] | None,
    faults: dict[str, str] | None,
) -> ResponseReturnValue:
    """The page; what was typed is shown again with its faults, else what was measured last."""
    kept = edges.kept_edge(photo)
    values = typed if typed is not None else kept[1] if kept else {}
    found = kept[0] if kept and not faults else None
    body = render_template(
        "logbook/edge.html",
        photo=photo,
        units=units,
        about=about,
        back=back,
        found=found,
        said=said_of(found, units) if found else [],
        typed=values,
        places={name: _start(name, values, photo) for name in edges.PLACES},
        faults=faults or {},
        words=CLASS_WORDS,
    )
    return body, 422 if faults else 200


def _start(name: str, typed: dict[str, str], photo: Photo) -> tuple[str, str]:
    """Where a handle stands: where it was put, or where handles begin; nowhere for a second known size."""
    if typed.get(f"{name}x") and typed.get(f"{name}y"):
        return typed[f"{name}x"], typed[f"{name}y"]
    if name not in STARTS:
        return "", ""
    x, y = STARTS[name]
    return f"{photo.width * x:.0f}", f"{photo.height * y:.0f}"


def fine(mm: float, units: str) -> str:
    """A length of hundredths of a millimetre: no tape measure has marks for it."""
    return f"{mm / 25.4:.3f} in" if units == "in" else f"{mm:.2f} mm"


def edges_by_photo(connection: sqlite3.Connection, job_id: int, units: str) -> dict[int, str]:
    """What was measured on a job's photos, in a few words, by photo."""
    found = {photo.id: edges.kept_edge(photo) for photo in edges.photos_of(connection, job_id)}
    return {
        number: f"{CLASS_WORDS[each[0].judged]}, ragged by {fine(each[0].rms_mm, units)}"
        for number, each in found.items()
        if each
    }


def said_of(found: EdgeFound, units: str) -> list[str]:
    """What was found of an edge, in sentences."""

    def say(mm: float) -> str:
        return fine(mm, units)

    said = [
        f"Ragged by {say(found.rms_mm)} (root mean square), at most {say(found.worst_mm)}, over {write_small(exact(round(found.length_mm)), units)} of edge."
    ]
    if found.feathers:
        many = len(found.feathers)
        per, each_run = (found.feathers_per_m * 0.9144, "yard") if units == "in" else (found.feathers_per_m, "metre")
        largest = max(found.feathers, key=lambda each: each.reach_mm)
        said.append(
            f"{many} feather{'s' if many > 1 else ''} of more than {say(0.5)}, {per:.0f} in a {each_run}; the largest, "
            f"{say(largest.reach_mm)}, {write_small(exact(round(largest.at_mm)), units)} along."
        )
    else:
        said.append(f"No feather of more than {say(0.5)}.")
    return said
