"""Laying out something: a job, or one more piece of one, from a surface and its sizes as they were measured."""

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import BadInput, BadJob, Fault
from dividers.core.base.units import JOB_UNITS
from dividers.core.base.whole import whole
from dividers.core.job.beginnings import BY_SURFACE, FIRST_PATTERN, PALETTE, Beginning, begun_piece, products_of
from dividers.core.job.document import Document
from dividers.core.job.model import JOB_FORMAT
from dividers.core.job_file.job_reader import read_job
from dividers.services.jobs import editing, job_list
from dividers.services.jobs.planning import check_plans
from dividers.services.jobs.tools import usual_way
from dividers.store import jobs

MOST_COPIES = 999
PANEL = "pieces.0.surface.panels.0."


@dataclass(frozen=True)
class ToLayOut:
    """What was said of something to lay out: texts as typed. `job_id` is of the job that it is a piece of, None for a new one."""

    surface: str
    width: str
    height: str
    more: str = ""
    copies: str = ""
    base_on: bool = False
    units: str = "in"
    job_id: int | None = None
    pattern: str = ""  # of a sum that is made a job: JSON as in a job file


class BadSizes(BadInput):
    """What can't be laid out so, by the field that it is about."""

    def __init__(self, faults: dict[str, str]) -> None:
        super().__init__(" ".join(faults.values()))
        self.faults = faults


def usual_units(connection: sqlite3.Connection) -> str:
    """The units of the job that was changed last."""
    latest = next(iter(jobs.list_jobs(connection)), None)
    return editing.open_job(connection, latest.id).job.units if latest else "in"


def begin(connection: sqlite3.Connection, wanted: ToLayOut) -> tuple[int, str]:
    """Lay out what is wanted; the job and the key of its piece. Raises BadSizes, NotFound."""
    of = BY_SURFACE.get(wanted.surface)
    if of is None:
        raise BadSizes({"surface": "Choose one of the surfaces."})
    if wanted.job_id is not None:
        return wanted.job_id, _one_more(connection, wanted.job_id, of, wanted)
    if wanted.units not in JOB_UNITS:
        raise BadSizes({"units": f"Choose one of: {', '.join(JOB_UNITS)}."})
    piece = _piece(connection, of, wanted, wanted.units, ("base", "first"))
    document: Document = {
        "format": JOB_FORMAT,
        "title": of.name,
        "units": wanted.units,
        "palette": PALETTE,
        "products": products_of(of),
        "pieces": [piece],
    }
    _check(document)
    job_id = job_list.add_job(connection, document | {"title": _title(connection, of.name)}, "Laid out")
    return job_id, editing.open_job(connection, job_id).job.pieces[0].key


def _title(connection: sqlite3.Connection, name: str) -> str:
    """A title that no job has yet."""
    taken = {row.title for row in job_list.list_jobs(connection)}
    return next(title for n in range(1, len(taken) + 2) if (title := name if n == 1 else f"{name} {n}") not in taken)


def _one_more(connection: sqlite3.Connection, job_id: int, of: Beginning, wanted: ToLayOut) -> str:
    opened = editing.open_job(connection, job_id)
    colors = list(opened.document["palette"])
    piece = _piece(connection, of, wanted, opened.job.units, (colors[0], colors[min(1, len(colors) - 1)]))
    names = {each.name for each in opened.job.pieces}
    piece["name"] = next(
        name for n in range(1, len(names) + 2) if (name := of.name if n == 1 else f"{of.name} {n}") not in names
    )
    products = {**products_of(of), **(opened.document.get("products") or {})}  # the job's own stay as they are
    _check(opened.document | {"products": products, "pieces": [piece]})
    return editing.add_piece(connection, job_id, opened.revision.number, piece, products)


def _piece(
    connection: sqlite3.Connection, of: Beginning, wanted: ToLayOut, units: str, colors: tuple[str, str]
) -> dict[str, Any]:
    sizes = {"width": wanted.width, "height": wanted.height} | ({"more": wanted.more} if of.more else {})
    faults = {key: "Measure it, and type what the tape reads." for key, text in sizes.items() if not text.strip()}
    copies = whole(wanted.copies, MOST_COPIES) if of.copies else 1
    if not copies:
        faults["copies"] = f"Say how many are alike: a whole number from 1 to {MOST_COPIES}."
    if faults:
        raise BadSizes(faults)
    piece = begun_piece(
        of, wanted.width.strip(), wanted.height.strip(), wanted.more.strip(), wanted.base_on, copies or 1, colors, units
    )
    piece["method"] |= usual_way(connection, of.kind, units)
    if wanted.pattern:
        piece["pattern"] = {**_pattern(wanted.pattern), "colors": [colors[1], None]}
    return piece


def _pattern(text: str) -> dict[str, Any]:
    try:
        found = json.loads(text)
    except (ValueError, RecursionError):
        found = None
    return found if isinstance(found, dict) else dict(FIRST_PATTERN)


def _check(document: Document) -> None:
    """Make sure that what was measured can be laid out. Raises BadSizes."""
    try:
        check_plans(read_job(document))
    except BadJob as bad:
        raise BadSizes(dict(_field_of(fault) for fault in bad.faults[::-1])) from bad
    except BadInput as bad:
        raise BadSizes({"width": bad.message}) from bad


def _field_of(fault: Fault) -> tuple[str, str]:
    """The question that a fault is about, and what it says."""
    number, _, key = fault.path.removeprefix("pieces.0.surface.panels.").partition(".")
    if key in ("width", "height"):
        return ("more" if number == "1" and key == "height" else key), fault.message
    return "width", fault.message
