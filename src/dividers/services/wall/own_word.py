"""After how long a paint takes tape, by the painter's own word: said at the wait, kept with the job, weighed by the forecast."""

import json
import sqlite3
from typing import Any

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.base.quantities import read_minutes, spoken
from dividers.core.job.document import free_key
from dividers.core.order.network import Task
from dividers.services.jobs import editing
from dividers.services.jobs.job_list import dump
from dividers.services.wall.at_the_wall import go_by
from dividers.services.wall.progress import Progress, progress_of
from dividers.store import wall_runs

WAIT = "tape-safe"  # the group of the waits that this is about


def colours_waited_for(progress: Progress, task: Task) -> tuple[str, ...]:
    """The colours that a step's tape lies on, whose paint it waits for."""
    number = progress.tasks.index(task)
    lags = [lag for lag in progress.live.lags if lag.then == number and lag.group == WAIT]
    found = [str(progress.tasks[lag.first].color) for lag in lags]
    if task.kind == "tape" and task.not_before_why:
        found.append(_piece(progress, task).base)
    return tuple(dict.fromkeys(found))


def takes_tape(connection: sqlite3.Connection, run: wall_runs.WallRun, key: str, written: str) -> str:
    """Keep with the job after how long the paint that a step waits for takes tape, and go by it; what was done, in words. Raises BadInput."""
    progress = progress_of(connection, run)
    task = progress.by_key.get(key)
    colours = colours_waited_for(progress, task) if task else ()
    if task is None or not colours:
        raise BadInput("This step waits for no paint.", "takes_tape", written)
    try:
        minutes = read_minutes(written)
    except BadInput as fault:
        raise BadInput(fault.message, "takes_tape", written) from fault
    if progress.kept:
        raise BadInput(
            "This run goes by the steps it was begun with. Use today's plan first (above); then the time is kept with the job.",
            "takes_tape",
            written,
        )
    if minutes < 1:
        raise BadInput("Paint doesn't take tape at once; allowed is from 1 min on.", "takes_tape", written)

    def edit(document: dict[str, Any]) -> dict[str, Any]:
        return _with(json.loads(json.dumps(document)), task.name.piece, colours, spoken_time(int(minutes)), progress)

    behind = editing.open_job(connection, run.job_id).revision.number != run.revision
    said = f"{_names(progress, colours)} take{'s' if len(colours) == 1 else ''} tape after {spoken(int(minutes))}"
    try:
        editing.change(connection, run.job_id, None, said, edit)
    except BadJob as fault:
        raise BadInput(fault.faults[0].message, "takes_tape", written) from fault
    revision = run.revision if behind else editing.open_job(connection, run.job_id).revision.number
    go_by(connection, run, revision, dump(edit(json.loads(run.document))))
    return f"Kept with the job: {said}. The forecast weighs what that does to the paint under the tape."


def spoken_time(minutes: int) -> str:
    """Minutes as a job file has them.

    >>> spoken_time(90), spoken_time(120)
    ('90 min', '2 h')
    """
    return f"{minutes // 60} h" if minutes % 60 == 0 else f"{minutes} min"


def _with(document: dict[str, Any], piece_key: str, colours: tuple[str, ...], time: str, progress: Progress) -> dict[str, Any]:
    """A document with the time at the paints of some colours of a piece; a colour of which no paint is named gets one."""
    products = document.setdefault("products", {})
    piece = next((each for each in document["pieces"] if each["id"] == piece_key), None)
    if piece is None:
        raise BadInput("This piece isn't in the job any more.", "takes_tape")
    for colour in colours:
        key = _paint_key(document, piece, colour)
        if key is None:
            key = free_key(f"{document['palette'][colour].get('name') or colour} paint", products)
            products[key] = {"kind": "paint"}
            piece.setdefault("method", {}).setdefault("paint", {})[colour] = key
        products[key]["takes_tape"] = time
    return document


def _paint_key(document: dict[str, Any], piece: dict[str, Any], colour: str) -> str | None:
    """The paint that is named for a colour, at the piece or at one of its layers."""
    methods = [piece.get("method") or {}, *((layer.get("method") or {}) for layer in piece.get("layers") or [])]
    named = [(method.get("paint") or {}).get(colour) for method in methods]
    return next((key for key in named if key in document["products"]), None)


def _piece(progress: Progress, task: Task) -> Any:
    found = progress.job.piece(task.name.piece)
    assert found is not None
    return found


def _names(progress: Progress, colours: tuple[str, ...]) -> str:
    return " and ".join(progress.job.palette[colour].name.lower() for colour in colours)
