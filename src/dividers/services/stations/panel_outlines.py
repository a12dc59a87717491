"""A panel gets an outline as people measure it, or goes back to a rectangle."""

import sqlite3
from collections.abc import Mapping
from fractions import Fraction

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import read_length, write_kept
from dividers.core.job.outline_shapes import OUTLINE_SHAPES, corners_of, written
from dividers.services.jobs import editing


def put(
    connection: sqlite3.Connection, job_id: int, base: int, piece_key: str, panel: int, shape: str, typed: Mapping[str, str]
) -> None:
    """Give a panel an outline; "rect" makes it the rectangle around it. Raises BadInput at the key of a size, BadJob."""
    unit = editing.open_job(connection, job_id).job.units
    path = f"surface.panels.{panel}.outline"
    if shape == "rect":
        editing.edit_piece(connection, job_id, piece_key, "measure", base, {path: None}, {})
        return
    sizes: dict[str, Fraction] = {}
    for key, _ in OUTLINE_SHAPES[shape].asked if shape in OUTLINE_SHAPES else ():
        if typed.get(key, "").strip():
            try:
                sizes[key] = read_length(typed[key], unit).mm
            except BadInput as fault:
                raise BadInput(fault.message, key) from fault
    corners = written(corners_of(shape, sizes), lambda mm: write_kept(mm, unit))
    editing.edit_piece(connection, job_id, piece_key, "measure", base, {path: corners}, {})
