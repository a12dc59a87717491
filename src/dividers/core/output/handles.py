"""What can be dragged in a drawing instead of typed: margins and openings of the first sheet, horizons, borders, the first line of what is counted.

Each stands for a field of the form.
"""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction

from dividers.core.base.lengths import Graduation, read_off
from dividers.core.job.layers import RECT
from dividers.core.job.model import Piece
from dividers.core.job.surface import SIDES, Rectangle
from dividers.core.patterns.base.origin import Run
from dividers.core.survey.sheet import Placed, Sheet

LEAST_MM = Fraction(1)  # a border or an opening is never dragged away
NEAR = 4  # counts on either side of the present one, where none near it lies on the marks


@dataclass(frozen=True)
class Handle:
    """A handle for the length in one field (of `turn`, where the field holds several): it lies at (x, y) mm in the drawing and moves along `axis`.

    The length is how far it is from `zero` in the direction of `way` (1 or -1), from `least` to `most` mm. Where there are `counts`, the field
    holds a whole number: each (count, length in mm) is one that the handle comes to rest at.
    """

    field: str
    name: str
    axis: int
    x: float
    y: float
    zero: float
    way: int
    least: float
    most: float
    turn: int | None = None
    counts: tuple[tuple[int, float], ...] = ()


def of_surface(sheets: tuple[Sheet, ...]) -> list[Handle]:
    """Of the margins and openings of the panels that lie upright on the first sheet."""
    sheet = sheets[0]
    origin = _origin(sheet)
    found: list[Handle] = []
    for number, placed in enumerate(sheet.placed):
        if not placed.quarters:
            key = f"surface.panels.{number}"
            found += _of_margins(key, placed, origin)
            found += _of_openings(key, placed, origin)
    return found


def of_pattern(piece: Piece, layer: int, sheets: tuple[Sheet, ...]) -> list[Handle]:
    """Of a layer's pattern, where it is a horizon or a frame over the whole of one sheet."""
    own = piece.stack[layer].pattern
    sheet = sheets[0]
    area, (left, top) = sheet.area, _origin(sheet)
    box = Rectangle(area.left - left, area.top - top, area.right - left, area.bottom - top)
    if own.kind == "horizon" and own.values.get("drop"):
        at = box.top + own.values["drop"]
        return [_handle("pattern.drop", "Horizon", 1, (box.left + box.width / 2, at), box.top, 1, (LEAST_MM, box.height - 1))]
    if own.kind == "frame":
        return list(_of_borders(own.values["widths"], box))
    return []


def of_counts(piece: Piece, layer: int, sheet: Sheet, runs: Sequence[Run], graduation: Graduation) -> list[Handle]:
    """Of the first line of each run that a whole number divides and whose repeats begin at its end; it goes through counts that come out."""
    values = piece.stack[layer].pattern.values
    (left, top), area, found = _origin(sheet), sheet.area, []
    middle = ((area.left + area.right) / 2 - left, (area.top + area.bottom) / 2 - top)
    for run in runs:
        if not run.count or run.counted is None or values.get(run.origin_key):
            continue
        axis, shift = (0, left) if run.axis == "across" else (1, top)
        zero, counts = run.low - shift, _counts_of(run.length, run.count, int(run.counted.most or 2 * run.count), graduation)
        at = zero + run.length / run.count
        place = (middle[0], at) if axis else (at, middle[1])
        bounds = (Fraction(counts[-1][1]), Fraction(counts[0][1]))
        found.append(
            replace(_handle(f"pattern.{run.counted.key}", run.counted.title, axis, place, zero, 1, bounds), counts=counts)
        )
    return found


def _counts_of(length: Fraction, count: int, most: int, graduation: Graduation) -> tuple[tuple[int, float], ...]:
    """From half to twice as many those whose size lies on the tape's marks, and the present one; of few that do, the near ones too."""
    wide = range(max((count + 1) // 2, 1), min(2 * count, most) + 1)
    found = {each for each in wide if not read_off(length / each, graduation).error_mm}
    if len(found - {count}) < 2:
        found |= set(range(max(count - NEAR, 1), min(count + NEAR, most) + 1))
    return tuple((each, float(length / each)) for each in sorted(found | {count}))


def of_zone(piece: Piece, layer: int, sheets: tuple[Sheet, ...]) -> list[Handle]:
    """Of the four sides of a layer's rectangle on a panel that lies upright on the first sheet; its fields are zone.left, zone.top, zone.width, zone.height."""
    zone, sheet = piece.stack[layer].zone, sheets[0]
    name = zone.panel or sheet.placed[0].panel.name
    placed = next((each for each in sheet.placed if each.panel.name == name and not each.quarters), None)
    if zone.kind != RECT or zone.box is None or placed is None:
        return []
    origin, box = _origin(sheet), zone.box
    left, top = placed.left - origin[0], placed.top - origin[1]
    wide, high = placed.panel.width_mm, placed.panel.height_mm
    x, y = left + box.left + box.width / 2, top + box.top + box.height / 2
    own = piece.stack[layer].name
    return [
        _handle(
            "zone.left", f"{own}, left", 0, (left + box.left, y), left, 1, (Fraction(0), max(wide - box.width, Fraction(0)))
        ),
        _handle("zone.top", f"{own}, top", 1, (x, top + box.top), top, 1, (Fraction(0), max(high - box.height, Fraction(0)))),
        _handle(
            "zone.width",
            f"{own}, width",
            0,
            (left + box.right, y),
            left + box.left,
            1,
            (LEAST_MM, max(wide - box.left, LEAST_MM)),
        ),
        _handle(
            "zone.height",
            f"{own}, height",
            1,
            (x, top + box.bottom),
            top + box.top,
            1,
            (LEAST_MM, max(high - box.top, LEAST_MM)),
        ),
    ]


def _origin(sheet: Sheet) -> tuple[Fraction, Fraction]:
    """Where the drawing of a sheet begins."""
    boxes = [placed.box(placed.panel.outline) for placed in sheet.placed]
    return min(box.left for box in boxes), min(box.top for box in boxes)


def _of_margins(key: str, placed: Placed, origin: tuple[Fraction, Fraction]) -> Iterator[Handle]:
    field, outline = placed.panel.field, placed.panel.outline
    left, top = placed.left - origin[0], placed.top - origin[1]
    middle = (left + field.left + field.width / 2, top + field.top + field.height / 2)
    for side in SIDES:
        axis = 1 if side in ("top", "bottom") else 0
        way = 1 if side in ("top", "left") else -1
        at, zero = getattr(field, side), getattr(outline, side)
        far = (field.height if axis else field.width) + abs(at - zero)
        shift = top if axis else left
        place = (middle[0], shift + at) if axis else (shift + at, middle[1])
        yield _handle(f"{key}.margin.{side}", f"Margin, {side}", axis, place, shift + zero, way, (Fraction(0), far - 1))


def _of_openings(key: str, placed: Placed, origin: tuple[Fraction, Fraction]) -> Iterator[Handle]:
    left, top = placed.left - origin[0], placed.top - origin[1]
    wide, high = placed.panel.width_mm, placed.panel.height_mm
    for number, opening in enumerate(placed.panel.openings):
        box, own = opening.box, f"{key}.openings.{number}"
        x, y = left + box.left + box.width / 2, top + box.top + box.height / 2
        yield _handle(f"{own}.left", f"{opening.name}, left", 0, (left + box.left, y), left, 1, (Fraction(0), wide - box.width))
        yield _handle(f"{own}.top", f"{opening.name}, top", 1, (x, top + box.top), top, 1, (Fraction(0), high - box.height))
        most = (LEAST_MM, wide - box.left)
        yield _handle(f"{own}.width", f"{opening.name}, width", 0, (left + box.right, y), left + box.left, 1, most)
        most = (LEAST_MM, high - box.top)
        yield _handle(f"{own}.height", f"{opening.name}, height", 1, (x, top + box.bottom), top + box.top, 1, most)


def _of_borders(widths: tuple[Fraction, ...], box: Rectangle) -> Iterator[Handle]:
    """The inner edge of each border at the top."""
    at = box.top
    for turn, width in enumerate(widths):
        far = min(box.width, box.height) / 2 - (at - box.top) - 1
        place = (box.left + box.width / 2, at + width)
        yield _handle("pattern.widths", f"Border {turn + 1}", 1, place, at, 1, (LEAST_MM, far), turn)
        at += width


def _handle(
    field: str,
    name: str,
    axis: int,
    at: tuple[Fraction, Fraction],
    zero: Fraction,
    way: int,
    bounds: tuple[Fraction, Fraction],
    turn: int | None = None,
) -> Handle:
    least, most = bounds
    return Handle(field, name, axis, float(at[0]), float(at[1]), float(zero), way, float(least), float(max(most, least)), turn)
