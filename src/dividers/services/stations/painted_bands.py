"""Measuring a layer once it is on: which lines are read, what was read of them so far, and keeping it."""

import sqlite3
from collections.abc import Mapping
from dataclasses import dataclass

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact, read_length, read_off, write_kept
from dividers.core.cells.as_painted import axis_of, bands_of, sides_of
from dividers.core.job.document import Document
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs import layer_edits
from dividers.services.jobs.planning import piece_plan

ENDS = ("near", "far")
MOST_BANDS = 200


@dataclass(frozen=True)
class LineRow:
    """An edge of a band: its name in fields, what it is called, what it should read, and what was read at its two ends ("" for nothing)."""

    name: str
    line: str
    planned: str
    read: tuple[str, str]


@dataclass(frozen=True)
class MeasuredLayer:
    """What the page shows of a layer. `ends` are what its lines' ends are called; `hook` where the tape is hooked."""

    name: str
    rows: tuple[LineRow, ...]
    ends: tuple[str, str]
    hook: str
    length: str


def measured_layer(document: str, piece_key: str, layer: int) -> MeasuredLayer:
    """The lines of a layer that may be measured. Raises BadInput where there are none, NotFound."""
    plan = piece_plan(document, piece_key)
    stack = plan.piece.stack
    if not 0 <= layer < len(stack):
        raise BadInput("This layer isn't there any more.", "layer")
    own = stack[layer]
    layout = plan.layers[layer].layouts[0]
    bands = bands_of(layout, own.pattern)
    if not bands:
        raise BadInput("Only horizontal or vertical stripes on one panel can be measured band by band.", "layer")
    axis = axis_of(own.pattern) or 0
    bounds = layout.cells.bounds()[layout.painted]
    middles = ((bounds[:, axis] + bounds[:, axis + 2]) / 2).tolist()
    read = _read(plan, layer)
    field = plan.piece.surface.panels[0].field
    half = float(field.left + field.right if axis else field.top + field.bottom) / 2
    rows = []
    for number, edges in enumerate(bands[:MOST_BANDS], 1):
        low, high = (edge.at(half) for edge in edges)
        if any(low < middle < high for middle in middles):
            for side, edge in zip(sides_of(own.pattern), edges, strict=True):
                planned = read_off(exact(edge.at_mm), plan.job.graduation).text
                rows.append(
                    LineRow(f"{number}.{side}", f"band {number}, {side}", planned, read.get(f"band {number}, {side}", ("", "")))
                )
    length = field.width if axis else field.height
    hook = "the panel's top" if axis else "the panel's left"
    return MeasuredLayer(
        own.name,
        tuple(rows),
        ("left end", "right end") if axis else ("top", "bottom"),
        hook,
        write_kept(length, plan.job.units),
    )


def _read(plan: PiecePlan, layer: int) -> dict[str, tuple[str, str]]:
    """What was read so far, by line: the first and the last reading along it."""
    found: dict[str, list[tuple[float, str]]] = {}
    for each in plan.piece.stack[layer].as_painted:
        text = write_kept(each.at_mm, plan.job.units)
        found.setdefault(each.line, []).append((float(each.along_mm or 0), text))
    return {line: (min(own)[1], max(own)[1] if len(own) > 1 else "") for line, own in found.items()}


def keep(
    connection: sqlite3.Connection,
    job_id: int,
    base: int | None,
    document: str,
    piece_key: str,
    layer: int,
    typed: Mapping[str, str],
) -> dict[str, str]:
    """Keep what was read, `typed` by field: NAME.near, NAME.far, and NAME.ok where a line is as planned; returns faults by field.

    Raises BadJob, BadInput, NotFound.
    """
    shown = measured_layer(document, piece_key, layer)
    units = piece_plan(document, piece_key).job.units
    readings: list[Document] = []
    faults: dict[str, str] = {}
    for row in shown.rows:
        near, far = (typed.get(f"{row.name}.{end}", "").strip() for end in ENDS)
        if not near and typed.get(f"{row.name}.ok"):
            near = row.planned
        for end, text in zip(ENDS, (near, far), strict=True):
            try:
                if text:
                    read_length(text, units)
            except BadInput as fault:
                faults[f"{row.name}.{end}"] = fault.message
        if near and far:
            readings += [{"line": row.line, "at": near, "along": "0"}, {"line": row.line, "at": far, "along": shown.length}]
        elif near or far:
            readings.append({"line": row.line, "at": near or far})
    if not faults:
        layer_edits.measured(connection, job_id, base, piece_key, layer, readings)
    return faults
