"""The kinds of values that only patterns have: directions, origins, colours in turn, and free shapes."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.job.kinds import NO_NAMES, Kind, LengthText, OneOf, PaletteKey, Plain
from dividers.core.job.reader import Reader, read_bounded
from dividers.core.patterns.free.points import (
    EDGES,
    NAME,
    Fill,
    Place,
    fill_from,
    fill_text,
    place_from,
    place_text,
    read_fill,
    read_path,
    read_place,
)

MOST_COLOURS = 24
MOST_LENGTHS = 60
MOST_FREE = 200
DIRECTIONS = {"vertical": Fraction(90), "horizontal": Fraction(0)}
LENGTH = LengthText()
COLOR = PaletteKey(base=True)


class Direction(Plain):
    """The way lines run, in degrees from level, rising to the right: vertical, horizontal or a number. In [0, 180)."""

    allowed = "vertical, horizontal, or degrees from level, -180 to 180"

    def parse(self, written: Any, reader: Reader | None = None) -> Fraction:
        text = str(written).strip().lower().rstrip("°")
        if text in DIRECTIONS:
            return DIRECTIONS[text]
        try:
            degrees = Fraction(text.replace(",", ".")) if len(text) < 20 and not isinstance(written, bool) else None
        except (ValueError, ZeroDivisionError):
            degrees = None
        if degrees is None or not -180 <= degrees <= 180:
            raise BadInput(
                f"“{text[:40]}” isn't a direction. Write vertical, horizontal, or degrees from level, -180 to 180.",
                value=written,
            )
        return degrees % 180


@dataclass(frozen=True)
class Origin(LengthText):
    """Where repeats begin: one of three words, or a length from the field's left or top."""

    words: tuple[str, ...] = ()

    @property
    def allowed(self) -> str:
        return f"{', '.join(self.words)}, or length"

    def parse(self, written: Any, reader: Reader) -> Any:
        text = str(written).strip().lower()
        if text in self.words:
            return text
        try:
            return read_bounded(written, reader.findings.unit, Fraction(0), None)
        except BadInput as fault:
            raise BadInput(f"{fault.message} Or one of: {', '.join(self.words)}.", value=written) from fault

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return written if str(written).strip().lower() in self.words else super().in_units(written, old, new)


@dataclass(frozen=True)
class WayOrFlag(OneOf):
    """A choice; a plain yes or no is the first way that isn't none, or the first."""

    def parse(self, written: Any, reader: Reader) -> str:
        return self.options[int(written)] if isinstance(written, bool) else super().parse(written, reader)


class ColorsInTurn(Kind):
    """Colours of the palette that take turns; null stays in the base colour."""

    allowed = f"list of 1 to {MOST_COLOURS}: {COLOR.allowed}"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[str | None, ...]:
        if not reader.has(key) and default is not None:
            turns: tuple[str | None, ...] = default
            return turns
        written = reader.items(key, MOST_COLOURS)
        if not written:
            reader.fault(key, f"needs 1 to {MOST_COLOURS} colours from the palette; null stays in the base colour.")
            return (None,)
        entries = [(f"{key}.{number}", color) for number, color in enumerate(written)]
        return tuple(reader.entry(at, lambda entry: COLOR.parse(entry, reader), color, None) for at, color in entries)


@dataclass(frozen=True)
class Points(Kind):
    """Named points: each a pair of lengths, or an object that says where it lies."""

    most: int = MOST_FREE

    @property
    def allowed(self) -> str:
        return f"for each of at most {self.most} points, by its name: [across, down], or an object"

    def read(self, reader: Reader, key: str, default: Any) -> dict[str, Place]:
        written = reader.child(key).raw
        unit = reader.findings.unit
        if len(written) > self.most:
            reader.fault(key, f"has {len(written)} points; at most {self.most} are allowed.")
        found: dict[str, Place] = {}
        for name in list(written)[: self.most]:
            if not re.fullmatch(NAME, name):
                reader.fault(key, f"“{name[:40]}” can't name a point: 1 to 12 letters or digits, like A or B2.")
                continue
            place = reader.entry(f"{key}.{name}", lambda entry: read_place(entry, unit), written[name], None)
            if place:
                found[name] = place
        return found

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return (
            {name: _place_in_units(place, old, new) for name, place in written.items()}
            if isinstance(written, dict)
            else written
        )

    def shown(self, written: Any) -> str:
        return "\n".join(place_text(name, place) for name, place in (written or {}).items())

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> dict[str, Any]:
        """Lines of text as points; a point named twice keeps both, the second with a prime."""
        found: dict[str, Any] = {}
        for line in _lines(text):
            name, place = place_from(line)
            while name in found:
                name += "'"
            found[name or "?"] = place
        return found


@dataclass(frozen=True)
class Paths(Kind):
    """Lines through named points."""

    most: int = MOST_FREE

    @property
    def allowed(self) -> str:
        return f"list of at most {self.most}: list of two or more names of points"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[tuple[str, ...], ...]:
        entries = reader.items(key, self.most)
        paths = (reader.entry(f"{key}.{number}", read_path, entry, None) for number, entry in enumerate(entries))
        return tuple(path for path in paths if path)

    def shown(self, written: Any) -> str:
        return "\n".join(" ".join(path) for path in written or [])

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> list[list[str]]:
        return [re.split(r"[\s,]+", line) for line in _lines(text)]


@dataclass(frozen=True)
class Fills(Kind):
    """The colours of regions, each named by a place in it."""

    most: int = MOST_FREE

    @property
    def allowed(self) -> str:
        return f"list of at most {self.most}: object with at [across, down] and color, or stripes with width, direction, colors"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[Fill, ...]:
        def fill_of(entry: object) -> Fill | None:
            return read_fill(entry, reader.findings.unit, lambda color: str(COLOR.parse(color, reader)), Direction().parse)

        entries = reader.items(key, self.most)
        fills = (reader.entry(f"{key}.{number}", fill_of, entry, None) for number, entry in enumerate(entries))
        return tuple(fill for fill in fills if fill)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return [_fill_in_units(fill, old, new) for fill in written] if isinstance(written, list) else written

    def shown(self, written: Any) -> str:
        return "\n".join(fill_text(fill) for fill in written or [])

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> list[Any]:
        return [fill_from(line, names) for line in _lines(text)]


def _lines(text: str) -> list[str]:
    return [line.strip() for line in text.splitlines() if line.strip()]


def _place_in_units(place: Any, old: str, new: str) -> Any:
    if isinstance(place, list):
        return [LENGTH.in_units(each, old, new) for each in place]
    if not isinstance(place, dict):
        return place
    return {
        key: LENGTH.in_units(value, old, new) if key in (*EDGES, "at", "by", "length") else value
        for key, value in place.items()
    }


def _fill_in_units(fill: Any, old: str, new: str) -> Any:
    found = {**fill, "at": [LENGTH.in_units(each, old, new) for each in fill["at"]]}
    if fill.get("stripes"):
        found["stripes"] = {**fill["stripes"], "width": LENGTH.in_units(fill["stripes"].get("width"), old, new)}
    return found
