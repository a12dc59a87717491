"""The page on which the edge on a photo is measured: two lines are laid on the picture, the rest is worked out."""

import sqlite3
from typing import Any

from flask import Blueprint, flash, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue

from dividers.core.base.lengths import exact, write_small
from dividers.core.risk.edge_by_photo import EdgeFound
from dividers.services.jobs import editing
from dividers.services.logbook import edges
from dividers.services.logbook.logbook import BadForm
from dividers.web.database import connection, photo_folder

blueprint = Blueprint("edges", __name__, url_prefix="/jobs/<int:job_id>/logbook/photos/<int:photo_id>/edge")
STARTS = {"a": (0.1, 0.5), "b": (0.9, 0.5), "k1": (0.4, 0.2), "k2": (0.6, 0.2)}  # shares of the picture
CLASS_WORDS = {"clean": "clean", "slight": "slight bleed", "bleed": "bled"}


@blueprint.get("")
def show(job_id: int, photo_id: int) -> ResponseReturnValue:
    return _page(job_id, photo_id)


@blueprint.post("")
def measure(job_id: int, photo_id: int) -> ResponseReturnValue:
    """Measure it; what can't be judged is said where it is typed, and nothing that was pointed at is lost."""
    try:
        found = edges.measure(connection(), job_id, photo_id, request.form, photo_folder())
    except BadForm as bad:
        return _page(job_id, photo_id, dict(request.form), bad.faults, 422)
    finding = edges.finding_of(connection(), job_id, photo_id)
    if finding and finding.strip:
        flash(f"Strip {finding.strip} counts as {CLASS_WORDS[found.judged]} now.")
    return redirect(url_for("edges.show", job_id=job_id, photo_id=photo_id), 303)


def _page(
    job_id: int, photo_id: int, typed: dict[str, str] | None = None, faults: dict[str, str] | None = None, status: int = 200
) -> ResponseReturnValue:
    opened = editing.open_job(connection(), job_id)
    photo = edges.photo_of(connection(), job_id, photo_id)
    kept = edges.kept_edge(photo)
    values = typed if typed is not None else kept[1] if kept else {}
    body = render_template(
        "logbook/edge.html",
        opened=opened,
        photo=photo,
        finding=edges.finding_of(connection(), job_id, photo_id),
        found=kept[0] if kept and not faults else None,
        said=said_of(kept[0], opened.job.units) if kept and not faults else [],
        typed=values,
        places={name: _start(name, values, photo) for name in edges.PLACES},
        faults=faults or {},
        words=CLASS_WORDS,
    )
    return body, status


def _start(name: str, typed: dict[str, str], photo: Any) -> tuple[str, str]:
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
