"""A registration strip: paper with the middles of a row of motifs on it, laid along each row instead of marking every one.

Only the first and the last motif of each row are marked; rows whose motifs lie equally far apart share a strip.
"""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace

import numpy as np

from dividers.core.base.lengths import Graduation, Reading, exact, read_off
from dividers.core.geometry.ledger import numbered
from dividers.core.geometry.shapes import Point

ROW_MM = 0.05  # motifs whose middles lie so near one line are one row


@dataclass(frozen=True)
class RegistrationStrip:
    """What is marked on a strip: readings from its first mark; `rows` is how many rows it is laid along, across or down."""

    readings: tuple[Reading, ...]
    rows: int
    down: bool

    @property
    def length_mm(self) -> float:
        return float(self.readings[-1].rounded_mm)


def rows_of(points: Sequence[Point]) -> list[tuple[int, ...]]:
    """The motifs (their numbers) row by row, or column by column where that makes fewer, each in the order of the tape measure."""
    ways = [_rows(points, axis) for axis in (0, 1)]
    return min(ways, key=len)


def _rows(points: Sequence[Point], axis: int) -> list[tuple[int, ...]]:
    """The motifs that share a place on the other axis, in order along this one."""
    across = np.array([point[1 - axis] for point in points])
    rows: dict[int, list[int]] = {}
    for number, row in enumerate(numbered(across, ROW_MM).tolist()):
        rows.setdefault(row, []).append(number)
    found = [tuple(sorted(row, key=lambda number: points[number][axis])) for row in rows.values()]
    return sorted(found, key=lambda row: points[row[0]][1 - axis])


def ends_of_rows(points: Sequence[Point]) -> list[Point]:
    """The motifs that are marked all the same: the first and the last of each row."""
    return [points[number] for row in rows_of(points) for number in dict.fromkeys((row[0], row[-1]))]


def strips_for(panels: Iterable[Sequence[Point]], graduation: Graduation) -> tuple[RegistrationStrip, ...]:
    """The strips that the motifs of some panels take, longest first. Each reading is rounded once, from the first mark.

    A row whose motifs are the first ones of a longer row's strip is marked by that.
    """
    found: dict[tuple[bool, tuple[Reading, ...]], int] = {}
    for points in panels:
        for row in rows_of(points):
            if len(row) < 3:
                continue  # both of its motifs are marked
            down = abs(points[row[-1]][1] - points[row[0]][1]) > abs(points[row[-1]][0] - points[row[0]][0])
            start = points[row[0]][1 if down else 0]
            readings = tuple(read_off(exact(points[number][1 if down else 0] - start), graduation) for number in row)
            found[down, readings] = found.get((down, readings), 0) + 1
    strips: list[RegistrationStrip] = []
    for (down, readings), rows in sorted(
        found.items(), key=lambda each: (-each[0][1][-1].rounded_mm, -len(each[0][1]), each[0][0])
    ):
        for number, longer in enumerate(strips):
            if longer.down == down and longer.readings[: len(readings)] == readings:
                strips[number] = replace(longer, rows=longer.rows + rows)
                break
        else:
            strips.append(RegistrationStrip(readings, rows, down))
    return tuple(strips)
