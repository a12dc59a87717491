"""How a pattern's repeats lie along the field: what divides it or repeats across and down, and where the repeats begin.

Patterns lay their repeats from the ground's left and top. To begin elsewhere, the ground they get reaches beyond the field by part of
a repeat, and by a whole one more in all where they are counted: what lies outside is cut off.
"""

from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.grids import nearest_rows
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Note, Parameter, Pattern, Tiles, Values

AXES = ("across", "down")
ORIGIN_KEYS = {"across": "origin", "down": "origin_down"}
WORDS = {"across": ("left", "centre", "right"), "down": ("top", "centre", "bottom")}

ORIGIN = (
    Parameter(
        "origin",
        "Repeats begin",
        "origin",
        "left, centre or right; or how far from the left a repeat begins",
        choices=WORDS["across"],
    ),
    Parameter(
        "origin_down",
        "Repeats begin, down",
        "origin",
        "top, centre or bottom; or how far from the top a repeat begins",
        choices=WORDS["down"],
    ),
)


@dataclass(frozen=True)
class Run:
    """One way along a field, from `low` to `high` mm, and how the pattern repeats along it.

    `counted` divides it by a whole number, `sized` is a repeat's size; each None where the pattern has none. `size_mm` is that of one
    repeat as things are, `count` how many are asked for, None where a size is.
    """

    axis: str
    low: Fraction
    high: Fraction
    counted: Parameter | None
    sized: Parameter | None
    size_mm: Fraction
    count: int | None

    @property
    def length(self) -> Fraction:
        return self.high - self.low

    @property
    def origin_key(self) -> str:
        return ORIGIN_KEYS[self.axis]


def run_along(axis: str, area: Rectangle, pattern: Pattern, values: Values) -> Run | None:
    """How a pattern repeats along one axis of an area; None where it doesn't."""
    if values.get("along"):
        return None  # it repeats off a line of its own
    turn = {Fraction(90): "across", Fraction(0): "down"}.get(values.get("direction", Fraction(0)), "")
    counted = next((p for p in pattern.parameters if _along(p.divides, axis, turn)), None)
    sized = next((p for p in pattern.parameters if _along(p.repeats, axis, turn)), None)
    low, high = (area.left, area.right) if axis == "across" else (area.top, area.bottom)
    count = _count(counted, area, pattern, values)
    size = (high - low) / count if count else _size(sized, values)
    if not size or size <= 0:
        return None
    return Run(axis, low, high, counted, sized, size, count)


def _along(along: str, axis: str, turn: str) -> bool:
    return along in (axis, "both") or (along == "run" and turn == axis)


def _count(counted: Parameter | None, area: Rectangle, pattern: Pattern, values: Values) -> int | None:
    if counted is None:
        return None
    count: int | None = values[counted.key]
    if count is None and counted.key == "rows" and values.get("columns"):
        return nearest_rows(area, values["columns"])
    if count and counted.key == "rows" and not values.get("columns"):
        return None  # rows count only beside columns
    return count


def _size(sized: Parameter | None, values: Values) -> Fraction | None:
    if sized is None:
        return None
    value: Any = values[sized.key] or (values[sized.usual] if sized.usual else None)
    return sum(value, Fraction(0)) if isinstance(value, tuple) else value


def begins_mm(run: Run, origin: str | Fraction) -> Fraction:
    """How far from the low end the first whole repeat begins, less than a repeat."""
    if isinstance(origin, Fraction):
        return origin % run.size_mm
    rest = run.length % run.size_mm
    if origin in ("right", "bottom"):
        return rest
    if origin == "centre":
        return centred_part(run.length, run.size_mm)
    return Fraction(0)


def centred_part(length: Fraction, size: Fraction) -> Fraction:
    """The equal part at both ends of centred repeats: half of what is left, or with half a repeat more where that is a thin slice."""
    rest = length % size
    if not rest:
        return Fraction(0)
    return rest / 2 if rest / 2 >= size / 4 or length < size else (rest + size) / 2


def begun(ground: Ground, pattern: Pattern, values: Values) -> tuple[Ground, Values, tuple[Note, ...]]:
    """The ground and the values with which a pattern's repeats begin where they should, and what to say of it."""
    keys = [p.key for p in pattern.parameters if p.kind == "origin" and values[p.key] is not None]
    if not keys:
        return ground, values, ()
    area, changed, notes = ground.area, dict(values), []
    own_start = values.get("border") or values.get("spacer") or values.get("start") == "centre"
    for axis, key in ORIGIN_KEYS.items():
        run = run_along(axis, ground.area, pattern, values) if key in keys and not own_start else None
        if key in keys and run is None and values[key] not in (WORDS[axis][0], None):
            notes.append(
                Note("origin", "Where repeats begin has no effect here: this pattern has its own start.", key, fact=True)
            )
        begins = begins_mm(run, values[key]) if run else Fraction(0)
        if not run or not begins:
            continue
        before = run.size_mm - begins
        area = _stretched(area, axis, before, begins if run.count else Fraction(0))
        if run.count and run.counted:
            changed[run.counted.key] = run.count + 1
        notes.append(
            Note("origin", f"The first repeat {axis} is cut to {{}} of its {{}}.", key, (begins, run.size_mm), fact=True)
        )
    if area is not ground.area and "rows" in values and values.get("columns") and values["rows"] is None:
        changed["rows"] = changed["rows"] or nearest_rows(ground.area, values["columns"])
    return replace(ground, area=area), changed, tuple(notes)


def within(tiles: Tiles, area: Rectangle) -> Tiles:
    """Tiles without the studs that lie beyond an area."""
    left, top, right, bottom = (float(side) for side in (area.left, area.top, area.right, area.bottom))
    slack = SAME_POINT_MM
    inside = (
        s for s in tiles.dots if left - slack <= s.point[0] <= right + slack and top - slack <= s.point[1] <= bottom + slack
    )
    return replace(tiles, dots=tuple(inside))


def _stretched(area: Rectangle, axis: str, before: Fraction, behind: Fraction) -> Rectangle:
    if axis == "across":
        return replace(area, left=area.left - before, right=area.right + behind)
    return replace(area, top=area.top - before, bottom=area.bottom + behind)
