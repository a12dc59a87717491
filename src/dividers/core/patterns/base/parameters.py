"""What a pattern is made of: its parameters as data, and one function from a ground and their values to coloured tiles.

The job file's keys, the form, its checks and the docs all come from the parameters: a pattern is one file and a line in
`patterns/__init__.py`.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.geometry.shapes import Floats, Ints, Point, Shapes
from dividers.core.job.kinds import Flag, Kind, LengthText, ListOf, Number, PaletteKey, WholeNumber
from dividers.core.job.places import PlacesKind
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.pattern_kinds import (
    MOST_FREE,
    MOST_LENGTHS,
    ColorsInTurn,
    Direction,
    Fills,
    Origin,
    Paths,
    Points,
    WayOrFlag,
)
from dividers.core.survey.sheet import Placed

Values = Mapping[str, Any]
FREE: Mapping[str, Callable[[int], Kind]] = {"points": Points, "paths": Paths, "fills": Fills}


@dataclass(frozen=True)
class Parameter:
    """One value that a person sets.

    `kind` is length | lengths | count | share | choice | flag | direction | origin | color | colors | line | points | paths | fills. `least` and
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

    @property
    def holds(self) -> Kind:
        """The kind of its value."""
        least, most = self.least, self.most
        match self.kind:
            case "length":
                return LengthText(least, most)
            case "lengths":
                return ListOf(LengthText(least), MOST_LENGTHS, "needs at least one length.")
            case "count":
                return WholeNumber(int(least), int(most or 0))
            case "share":
                return Number(int(least), int(most or 1))
            case "choice":
                return WayOrFlag(self.choices)
            case "flag":
                return Flag()
            case "direction":
                return Direction()
            case "origin":
                return Origin(words=self.choices)
            case "color":
                return PaletteKey(base=True)
            case "colors":
                return ColorsInTurn()
            case "line":
                return PlacesKind(2, 2)
        return FREE[self.kind](int(most or MOST_FREE))

    def names_color(self, written: Mapping[str, Any]) -> bool:
        """Whether it is a colour of something that is there in a pattern as written: that of a pinstripe only where there is one.

        >>> Parameter("pinstripe_color", "", "color", "").names_color({"count": 7})
        False
        """
        of = self.key.removesuffix("_color")
        return written.get(of) is not None if self.kind == "colors" or of != self.key else self.kind == "color"

    @property
    def as_key(self) -> Key:
        """It as a key of the job file; where others exclude it, nothing holds by default."""
        default = () if self.kind in ("lengths", "line") else None if self.group else self.default
        needed = f"Give it: {self.help}." if self.needed else ""
        return Key(self.key, self.holds, self.title, self.help, default, needed=needed)


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

        def on_panel(line: tuple[Point, Point]) -> tuple[Point, Point]:
            a, b = points(np.array(line))
            return a, b

        dots = zip(self.dots, points(np.array([s.point for s in self.dots]).reshape(-1, 2)), strict=True)
        lines = self.start_lines
        light = placed.to_panel_direction(np.array(self.light)) if self.light else None
        return replace(
            self,
            dots=tuple(replace(s, point=p) for s, p in dots if _on(placed, p)),
            start_lines=None if lines is None else tuple(line for line in map(on_panel, lines) if _runs_on(placed, line)),
            light=(float(light[0]), float(light[1])) if light is not None else None,
        )


def _on(placed: Placed, point: Point) -> bool:
    """Whether a place of a panel lies on it."""
    if placed.panel.shape:
        return bool(placed.panel.outline_quad.holds(np.array([point]), SAME_POINT_MM)[0])
    box = placed.panel.outline
    return 0 <= point[0] <= box.right and 0 <= point[1] <= box.bottom


def _runs_on(placed: Placed, line: tuple[Point, Point]) -> bool:
    """Whether a line is a panel's own: over measured panels each has its own, over others one runs on over the whole sheet."""
    (ax, ay), (bx, by) = line
    return not placed.panel.shape or _on(placed, ((ax + bx) / 2, (ay + by) / 2))


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

    @property
    def keys(self) -> tuple[Key, ...]:
        """Its keys in the job file, besides its kind."""
        return tuple(parameter.as_key for parameter in self.parameters)

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


TORN = "Tear the tape lengthwise and lay two torn strips back to back: the edge follows the line by eye, no closer."
RESERVE = Parameter(
    "reserve", "Reserve line", "length", "width of tape left as a line in the base colour; empty for none", least=Fraction(1)
)


def read_values(pattern: Pattern, reader: Reader) -> Values:
    """Read a pattern's parameters from its object in the job file. Faults go to the reader."""
    values = {each.key: each.read(reader) for each in pattern.keys}
    for members in pattern.groups().values():
        given = [p.key for p in members if reader.get(p.key) not in (None, False)]
        names = ", ".join(p.key for p in members)
        if len(given) > 1:
            reader.fault(given[1], f"excludes {given[0]}: give only one of {names}.")
        if not given:
            reader.fault(members[0].key, f"is missing: give one of {names}.")
    return values
