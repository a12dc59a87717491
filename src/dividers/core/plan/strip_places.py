"""Where each strip lies, in words that a person can find on the wall: by its line counted from the left or the top, or by its column."""

from collections import defaultdict
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.geometry.shapes import Floats
from dividers.core.job.surface import Panel

UPRIGHT, LEVEL, RISING, FALLING = "upright", "level", "rising", "falling"
STEEP = np.tan(np.radians(1.5))  # so little off the plumb or the level counts as it
NEAR_MM = 1.0
OVER = {"top": "over", "bottom": "under", "left": "left of", "right": "right of"}


@dataclass(frozen=True)
class StripPlace:
    """`group` is the kind of line (upright, level, rising, falling, or outer for the field's own sides), `line` counts in it; `words` say all."""

    group: str
    line: int
    words: str


def places_of(
    segments: Floats, panels: Sequence[int], by_panel: Sequence[Panel], perimeter: Sequence[bool]
) -> list[StripPlace]:
    """The place of every strip of a sheet. `segments` (n, 2, 2) are the edges that face the paint, in mm on their own panels.

    >>> from dividers.core.job.surface import Rectangle
    >>> panel = Panel("wall", 1000, 800, Rectangle(0, 0, 1000, 800))
    >>> lines = np.array([[[200, 0], [200, 800]], [[500, 0], [500, 300]], [[500, 400], [500, 800]]], float)
    >>> [place.words for place in places_of(lines, [0, 0, 0], [panel], [False] * 3)]
    ['line 1 from the left', 'line 2 from the left, part 1 from the top', 'line 2 from the left, part 2 from the top']
    """
    found: list[StripPlace | None] = [None] * len(segments)
    kinds = _kinds(segments)
    for panel, own in enumerate(by_panel):
        here = [n for n in range(len(segments)) if panels[n] == panel]
        for number in here:
            side = (perimeter[number] and _side(segments[number], own)) or _opening(segments[number], kinds[number], own)
            if side:
                found[number] = StripPlace("outer", 0, side)
        for kind in (UPRIGHT, LEVEL):
            _on_lines([n for n in here if found[n] is None and kinds[n] == kind], segments, kind, found)
        for kind in (RISING, FALLING):
            _slanted([n for n in here if found[n] is None and kinds[n] == kind], segments, kind, found)
        _part_alike(here, segments, found)
    return [place or StripPlace("outer", 0, "outer edge") for place in found]


def _kinds(segments: Floats) -> list[str]:
    way = segments[:, 1] - segments[:, 0]
    x, y = way[:, 0], way[:, 1]
    slant = np.where(x * y < 0, RISING, FALLING)
    return [
        str(kind)
        for kind in np.where(np.abs(x) <= STEEP * np.abs(y), UPRIGHT, np.where(np.abs(y) <= STEEP * np.abs(x), LEVEL, slant))
    ]


def _side(segment: Floats, panel: Panel) -> str:
    """The side of the field that a strip runs along; "" where it is none."""
    for number, name in enumerate(("top", "right", "bottom", "left")):
        (ax, ay), (bx, by) = panel.field_quad.side(number)
        normal = np.array([ay - by, bx - ax]) / max(np.hypot(bx - ax, by - ay), 1e-9)
        if (np.abs((segment - np.array([ax, ay])) @ normal) < NEAR_MM).all():
            return f"{name} edge"
    return ""


def _on_lines(here: list[int], segments: Floats, kind: str, found: list[StripPlace | None]) -> None:
    """Upright and level strips: their line, and their part of it where several lie on one."""
    across = 0 if kind == UPRIGHT else 1
    start, start_of_parts = ("left", "top") if kind == UPRIGHT else ("top", "left")
    lines: dict[int, list[int]] = defaultdict(list)
    middles = segments[here].mean(axis=1) if here else np.zeros((0, 2))
    for place, number in zip(_ranks(middles[:, across]), here, strict=True):
        lines[place].append(number)
    for line, strips in lines.items():
        parts = _ranks(segments[strips].mean(axis=1)[:, 1 - across])
        for part, number in zip(parts, strips, strict=True):
            words = f"line {line} from the {start}"
            if len(set(parts)) > 1:
                words += f", part {part} from the {start_of_parts}"
            found[number] = StripPlace(kind, line, words)


def _slanted(here: list[int], segments: Floats, kind: str, found: list[StripPlace | None]) -> None:
    """Strips that rise or fall to the right: by column where they stand in columns, else one after the other."""
    if not here:
        return
    middles = segments[here].mean(axis=1)
    columns = _ranks(middles[:, 0])
    in_columns = len(set(columns)) * 1.5 <= len(here)
    order = sorted(
        range(len(here)), key=lambda n: (columns[n], middles[n, 1]) if in_columns else (middles[n].sum(), middles[n, 1])
    )
    rows: dict[int, int] = defaultdict(int)
    for line, turn in enumerate(order, 1):
        column = columns[turn]
        rows[column] += 1
        words = (
            f"column {column}, {kind} line {rows[column]} from the top" if in_columns else f"{kind} line {line} from the left"
        )
        found[here[turn]] = StripPlace(kind, column if in_columns else line, words)


def _part_alike(here: list[int], segments: Floats, found: list[StripPlace | None]) -> None:
    """Strips along one side of the field or of an opening are counted along it."""
    alike: dict[str, list[int]] = defaultdict(list)
    for number in here:
        place = found[number]
        if place and place.group == "outer":
            alike[place.words].append(number)
    for words, strips in alike.items():
        way = segments[strips].mean(axis=1)
        along = 0 if np.ptp(way[:, 0]) >= np.ptp(way[:, 1]) else 1
        parts = _ranks(way[:, along])
        if len(set(parts)) > 1:
            for part, number in zip(parts, strips, strict=True):
                found[number] = StripPlace("outer", 0, f"{words}, part {part} from the {('left', 'top')[along]}")


def _ranks(values: Floats) -> list[int]:
    """For each value its place among the different ones, from 1; those within half a millimetre of their neighbour are one."""
    if not len(values):
        return []
    order = np.argsort(values, kind="stable")
    steps = np.concatenate([[0], np.cumsum(np.diff(values[order]) > 10 * SAME_POINT_MM)])
    ranks = np.empty(len(values), int)
    ranks[order] = steps + 1
    return [int(rank) for rank in ranks]


def _opening(segment: Floats, kind: str, panel: Panel) -> str:
    """The opening that a strip runs along; "" where it is none."""
    if kind not in (UPRIGHT, LEVEL):
        return ""
    for opening in panel.openings:
        if opening.ring:
            continue
        box = opening.box
        sides = (
            (("left", 0, box.left), ("right", 0, box.right))
            if kind == UPRIGHT
            else (("top", 1, box.top), ("bottom", 1, box.bottom))
        )
        along = 1 if kind == UPRIGHT else 0
        low, high = (float(box.top), float(box.bottom)) if kind == UPRIGHT else (float(box.left), float(box.right))
        middle = segment.mean(axis=0)
        for name, axis, at in sides:
            if np.abs(segment[:, axis] - float(at)).max() < NEAR_MM and low < middle[along] < high:
                return f"{OVER[name]} {opening.name or 'the opening'}"
    return ""
