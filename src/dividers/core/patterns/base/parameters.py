"""What a pattern is made of: its parameters as data, and one function from a ground and their values to coloured tiles.

The job file's keys, the form, its checks and the docs all come from the parameters: a pattern is one file and a line in
`patterns/__init__.py`.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Floats, Ints, Point, Shapes
from dividers.core.job.reader import Reader, read_bounded, read_count
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.free.points import NAME, Fill, Place, read_fill, read_path, read_place
from dividers.core.survey.sheet import Placed

Values = Mapping[str, Any]
MOST_COLOURS = 24


@dataclass(frozen=True)
class Parameter:
    """One value that a person sets.

    `kind` is length | lengths | count | share | choice | flag | direction | origin | color | colors | points | paths | fills. `least` and
    `most` bound a count, a length (mm) or a share. Parameters with the same `group` exclude each other: exactly one of them is
    given. A `needed` one has no default. A count that `divides` a run into equal parts says which: across, down, or run, the way
    across the pattern's direction; so does a length that `repeats` along one, or along both. Where it is empty, that of `usual` holds.
    """

    key: str
    title: str
    kind: str
    help: str
    default: Any = None
    least: Fraction = Fraction(0)
    most: Fraction | None = None
    choices: tuple[str, ...] = ()
    group: str = ""
    needed: bool = False
    divides: str = ""
    repeats: str = ""
    usual: str = ""


@dataclass(frozen=True)
class Note:
    """Something a pattern has to say of what it laid out: a code, a sentence, and the parameter it is about.

    The sentence has a {} for each of `lengths` (mm), to be written in the reader's units. A `fact` is good to know and no warning.
    """

    code: str
    message: str
    key: str = ""
    lengths: tuple[Fraction, ...] = ()
    fact: bool = False


@dataclass(frozen=True)
class PatternDot:
    """A point of its own to be marked: a stud, a dot, the middle of a stencil."""

    name: str
    point: Point


@dataclass(frozen=True)
class Tiles:
    """What a pattern lays over its ground: shapes that tile it, may reach beyond it, and never overlap.

    `slots` (n,) picks from `colors`, the palette keys in use; None there stays in the base colour. `regions` (n,) numbers tiles
    that belong together: no line runs between tiles of one number; without it each tile is by itself. `under` (n,) is the
    slot of a translucent colour that is painted below, or -1. `start_lines` are the lines (angle in degrees, a point) that are
    measured where nothing else is; None means that everything is. `light` is the direction that light comes from, as a unit
    vector. `torn` edges are torn by hand and have no marks along them; `toned` parts are
    that differ in tone and are painted in loads. `layers` (n,) says which coat of a translucent pattern each
    tile's own colour belongs to: 0 where it isn't given.
    """

    shapes: Shapes
    slots: Ints
    colors: tuple[str | None, ...]
    notes: tuple[Note, ...] = ()
    regions: Ints | None = None
    under: Ints | None = None
    layers: Ints | None = None
    start_lines: tuple[tuple[Point, Point], ...] | None = None
    dots: tuple[PatternDot, ...] = ()
    light: Point | None = None
    torn: bool = False
    toned: bool = False

    def seen_by(self, placed: Placed) -> "Tiles":
        """Points and directions in the coordinates of a panel on the sheet; the shapes are left as they are."""

        def points(given: Floats) -> list[Point]:
            return [(float(x), float(y)) for x, y in placed.to_panel(given)]

        box = placed.panel.outline
        dots = zip(self.dots, points(np.array([s.point for s in self.dots]).reshape(-1, 2)), strict=True)
        lines = self.start_lines
        light = placed.to_panel_direction(np.array(self.light)) if self.light else None
        return replace(
            self,
            dots=tuple(replace(s, point=p) for s, p in dots if 0 <= p[0] <= box.right and 0 <= p[1] <= box.bottom),
            start_lines=None if lines is None else tuple((a, b) for a, b in (points(np.array(line)) for line in lines)),
            light=(float(light[0]), float(light[1])) if light is not None else None,
        )


@dataclass(frozen=True)
class Region:
    """One region of free lines: a place well inside it, measured as fills are (mm from the field's left and top), and its fill by
    number."""

    x_mm: float
    y_mm: float
    fill: int | None


@dataclass(frozen=True)
class Pattern:
    """A kind of pattern.

    `lay` raises BadInput, with the key as its path, for values that can't be laid over that ground. `first` gives values to
    start from on a ground: counts, choices, and lengths in mm. `reserve_key` names the parameter that is the width of tape left
    as a line along every line of the pattern. `inks` are the colours of its picture, dark, mid or None; `regions` finds the regions that
    are filled one by one, for patterns that have `fills`.
    """

    key: str
    title: str
    summary: str
    parameters: tuple[Parameter, ...]
    lay: Callable[[Ground, Values], Tiles]
    first: Callable[[Ground], dict[str, object]]
    reserve_key: str = ""
    inks: tuple[str | None, ...] = ("dark", None)
    regions: "Callable[[Ground, Values], list[Region]] | None" = None

    def groups(self) -> dict[str, tuple[Parameter, ...]]:
        """The parameters that exclude each other, by group, in order."""
        names = dict.fromkeys(parameter.group for parameter in self.parameters if parameter.group)
        return {name: tuple(p for p in self.parameters if p.group == name) for name in names}

    def reserve_mm(self, values: Values) -> Fraction:
        """How wide a line is left along the pattern's lines; 0 for none."""
        width: Fraction | None = values.get(self.reserve_key)
        return width or Fraction(0)

    def colors_in(self, values: Values) -> tuple[str, ...]:
        """The palette keys that its values name, in order."""
        named: list[str | None] = []
        for parameter in self.parameters:
            value: Any = values.get(parameter.key)
            if parameter.kind == "colors":
                named += value
            elif parameter.kind == "color":
                named.append(value)
            elif parameter.kind == "fills":
                named += [color for fill in value for color in fill.colors]
        return tuple(dict.fromkeys(color for color in named if color))


RESERVE = Parameter(
    "reserve", "Reserve line", "length", "width of tape left as a line in the base colour; empty for none", least=Fraction(1)
)


def read_values(pattern: Pattern, reader: Reader, palette: Mapping[str, Any]) -> Values:
    """Read a pattern's parameters from its object in the job file. Faults go to the reader."""
    values: dict[str, Any] = {p.key: _read(p, reader, palette) for p in pattern.parameters}
    for members in pattern.groups().values():
        given = [p.key for p in members if reader.get(p.key) not in (None, False)]
        names = ", ".join(p.key for p in members)
        if len(given) > 1:
            reader.fault(given[1], f"excludes {given[0]}: give only one of {names}.")
        if not given:
            reader.fault(members[0].key, f"is missing: give one of {names}.")
    return values


def _read(parameter: Parameter, reader: Reader, palette: Mapping[str, Any]) -> Any:
    """One parameter's value; after a fault its default, or None."""
    key, default = parameter.key, parameter.default if not parameter.group else None
    unit = reader.findings.unit
    if parameter.needed:
        reader.need(key, f"Give it: {parameter.help}.")
    match parameter.kind:
        case "length":
            return reader.value(key, lambda w: read_bounded(w, unit, parameter.least, parameter.most), default)
        case "lengths":
            written = reader.lengths(key, 60, parameter.least)
            if (reader.has(key) or parameter.needed) and not written:
                reader.fault(key, "needs at least one length.")
            return written
        case "count":
            return reader.value(key, lambda w: read_count(w, int(parameter.least), int(parameter.most or 0)), default)
        case "choice":
            if isinstance(reader.get(key), bool):  # a plain yes or no: the first way that isn't none, or the first
                return parameter.choices[int(reader.get(key))]
            return reader.choice(key, parameter.choices, str(default))
        case "share":
            return reader.number(key, int(parameter.least), int(parameter.most or 1), parameter.default)
        case "flag":
            return reader.flag(key, bool(default))
        case "direction":
            return reader.value(key, read_direction, default)
        case "origin":
            return reader.value(key, lambda w: read_origin(w, unit, parameter.choices), None)
        case "color":
            return reader.value(key, lambda w: _read_color(w, palette), default)
        case "points" | "paths" | "fills":
            return _read_free(parameter, reader, palette)
        case "colors":
            return _read_colors(key, reader, palette) if reader.has(key) or default is None else default
    raise AssertionError(parameter.kind)


DIRECTIONS = {"vertical": Fraction(90), "horizontal": Fraction(0)}


def read_direction(written: object) -> Fraction:
    """The way lines run, in degrees from level, rising to the right: vertical, horizontal or a number. In [0, 180)."""
    text = str(written).strip().lower().rstrip("°")
    if text in DIRECTIONS:
        return DIRECTIONS[text]
    try:
        degrees = Fraction(text.replace(",", ".")) if len(text) < 20 and not isinstance(written, bool) else None
    except (ValueError, ZeroDivisionError):
        degrees = None
    if degrees is None or not -180 <= degrees <= 180:
        raise BadInput(
            f"“{text[:40]}” isn't a direction. Write vertical, horizontal, or degrees from level, -180 to 180.", value=written
        )
    return degrees % 180


def read_origin(written: object, unit: str, words: tuple[str, ...]) -> str | Fraction:
    """Where repeats begin: one of three words, or a length from the field's left or top. Raises BadInput."""
    text = str(written).strip().lower()
    if text in words:
        return text
    try:
        return read_bounded(written, unit, Fraction(0), None)
    except BadInput as fault:
        raise BadInput(f"{fault.message} Or one of: {', '.join(words)}.", value=written) from fault


def _read_color(written: object, palette: Mapping[str, Any]) -> str:
    if not isinstance(written, str) or written not in palette:
        known = ", ".join(palette) or "none yet"
        raise BadInput(f"“{str(written)[:40]}” isn't in the palette. Choose one of: {known}; or null for the base.")
    return written


def _read_free(parameter: Parameter, reader: Reader, palette: Mapping[str, Any]) -> Any:
    """Points by name, paths through them, fills at places."""
    key, unit = parameter.key, reader.findings.unit
    most = int(parameter.most or 200)
    if parameter.kind == "points":
        written = reader.child(key).raw
        if len(written) > most:
            reader.fault(key, f"has {len(written)} points; at most {most} are allowed.")
        found: dict[str, Place] = {}
        for name in list(written)[:most]:
            if not re.fullmatch(NAME, name):
                reader.fault(key, f"“{name[:40]}” can't name a point: 1 to 12 letters or digits, like A or B2.")
                continue
            place = reader.entry(f"{key}.{name}", lambda w: read_place(w, unit), written[name], None)
            if place:
                found[name] = place
        return found
    entries = reader.items(key, most)
    if parameter.kind == "paths":
        paths = (reader.entry(f"{key}.{number}", read_path, entry, None) for number, entry in enumerate(entries))
        return tuple(path for path in paths if path)

    def fill_of(written: object) -> Fill | None:
        return read_fill(written, unit, lambda color: _read_color(color, palette), read_direction)

    fills = (reader.entry(f"{key}.{number}", fill_of, entry, None) for number, entry in enumerate(entries))
    return tuple(fill for fill in fills if fill)


def _read_colors(key: str, reader: Reader, palette: Mapping[str, Any]) -> tuple[str | None, ...]:
    written = reader.items(key, MOST_COLOURS)
    if not written:
        reader.fault(key, f"needs 1 to {MOST_COLOURS} colours from the palette; null stays in the base colour.")
        return (None,)
    for index, color in enumerate(written):
        if color is not None:
            reader.entry(f"{key}.{index}", lambda w: _read_color(w, palette), color, "")
    return tuple(color if isinstance(color, str) and color in palette else None for color in written)
