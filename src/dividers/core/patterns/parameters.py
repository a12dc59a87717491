"""What a pattern is made of: its parameters as data, and one function from an area and their values to coloured tiles.

The job file's keys, the form, its checks and the docs all come from the parameters: a pattern is one file and a line in
`patterns/__init__.py`.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.errors import BadInput
from dividers.core.geometry.shapes import Floats, Ints
from dividers.core.job import Rectangle
from dividers.core.reader import Reader, read_bounded, read_count

Values = Mapping[str, Any]
MOST_COLOURS = 24


@dataclass(frozen=True)
class Parameter:
    """One thing a person sets.

    `kind` is length | lengths | count | choice | direction | colors. `least` and `most` bound a count or a length (mm).
    Parameters with the same `group` exclude each other: exactly one of them is given. A `needed` one has no default.
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


@dataclass(frozen=True)
class Note:
    """Something a pattern has to say of what it laid out: a code, a sentence, and the parameter it is about.

    The sentence has a {} for each of `lengths` (mm), to be written in the reader's units.
    """

    code: str
    message: str
    key: str = ""
    lengths: tuple[Fraction, ...] = ()


@dataclass(frozen=True)
class Tiles:
    """What a pattern lays over an area: rings (n, points, 2) in mm that tile it, may reach beyond it, and never overlap.

    `slots` (n,) picks from `colors`, the palette keys in use; None there stays in the base colour.
    """

    rings: Floats
    slots: Ints
    colors: tuple[str | None, ...]
    notes: tuple[Note, ...] = ()


@dataclass(frozen=True)
class Pattern:
    """A kind of pattern.

    `lay` raises BadInput, with the key as its path, for values that can't be laid over that area. `first` gives values to
    start from on an area: counts, choices, and lengths in mm.
    """

    key: str
    title: str
    summary: str
    parameters: tuple[Parameter, ...]
    lay: Callable[[Rectangle, Values], Tiles]
    first: Callable[[Rectangle], dict[str, object]]

    def groups(self) -> dict[str, tuple[Parameter, ...]]:
        """The parameters that exclude each other, by group, in order."""
        names = dict.fromkeys(parameter.group for parameter in self.parameters if parameter.group)
        return {name: tuple(p for p in self.parameters if p.group == name) for name in names}


def read_values(pattern: Pattern, reader: Reader, palette: Mapping[str, Any]) -> Values:
    """Read a pattern's parameters from its object in the job file. Faults go to the reader."""
    values: dict[str, Any] = {p.key: _read(p, reader, palette) for p in pattern.parameters}
    for members in pattern.groups().values():
        given = [p.key for p in members if reader.has(p.key)]
        names = ", ".join(p.key for p in members)
        if len(given) > 1:
            reader.fault(given[1], f"excludes {given[0]}: give only one of {names}.")
        if not given:
            reader.fault(members[0].key, f"is missing: give one of {names}.")
    return values


def _read(parameter: Parameter, reader: Reader, palette: Mapping[str, Any]) -> Any:
    key, default = parameter.key, parameter.default if not parameter.group else None
    unit = reader.findings.unit
    if parameter.needed:
        reader.need(key, f"Give it: {parameter.help}.")
    match parameter.kind:
        case "length":
            return reader.value(key, lambda w: read_bounded(w, unit, parameter.least, parameter.most), default)
        case "lengths":
            written = reader.lengths(key, 60, parameter.least)
            if reader.has(key) and not written:
                reader.fault(key, "needs at least one length.")
            return written
        case "count":
            return reader.value(key, lambda w: read_count(w, int(parameter.least), int(parameter.most or 0)), default)
        case "choice":
            return reader.choice(key, parameter.choices, str(default))
        case "direction":
            return reader.value(key, read_direction, default)
        case "colors":
            return _read_colors(key, reader, palette)
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


def _read_colors(key: str, reader: Reader, palette: Mapping[str, Any]) -> tuple[str | None, ...]:
    written = reader.items(key, MOST_COLOURS)
    if not written:
        reader.fault(key, f"needs 1 to {MOST_COLOURS} colours from the palette; null stays in the base colour.")
        return (None,)
    for index, color in enumerate(written):
        if color is not None and (not isinstance(color, str) or color not in palette):
            known = ", ".join(palette) or "none yet"
            reader.fault(
                f"{key}.{index}", f"“{str(color)[:40]}” isn't in the palette. Choose one of: {known}; or null for the base."
            )
    return tuple(color if isinstance(color, str) and color in palette else None for color in written)
