"""What was measured of a panel, in a job file: a survey's readings before marking, and marks checked after it."""

from collections.abc import Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from dividers.core.job.document import DIAGONALS, LEVEL_WAYS, READINGS
from dividers.core.job.kinds import Flag, FoundLength, Kind, LengthText, ListOf, OneOf, Text
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, Objects, Values
from dividers.core.job.surface import Marked, SurveyReading

MOST_READINGS = 300  # of a kind
MEASURE = "Measure it, like 119 or 2.4 m."
PLAIN = LengthText(Fraction(1))


@dataclass(frozen=True)
class Readings(Kind):
    """Readings of one sort: each a plain length, or an object that says more of it."""

    of: Object
    most: int = MOST_READINGS

    @property
    def allowed(self) -> str:
        return f"list of at most {self.most}: length, or object"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[SurveyReading | None, ...]:
        return tuple(self._one(reader, f"{key}.{n}", written) for n, written in enumerate(reader.items(key, self.most)))

    def _one(self, reader: Reader, place: str, written: Any) -> SurveyReading | None:
        if isinstance(written, dict):
            found: SurveyReading | None = self.of.read_in(Reader(written, reader.at(place), reader.findings))
            return found
        length = reader.entry(place, lambda entry: PLAIN.parse(entry, reader), written, None)
        return SurveyReading("", "", length) if length else None

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if not isinstance(written, list):
            return written
        return [(self.of if isinstance(each, dict) else PLAIN).in_units(each, old, new) for each in written]

    def inner(self, name: str) -> Kind:
        return self.of


def _plain(row: Reader, values: Values) -> SurveyReading | None:
    """A width, a height or a diagonal: its length, where it was taken, by whom and when."""
    row.need("length", MEASURE)
    length, at, way = values["length"], values.get("at"), values.get("way", "")
    return SurveyReading("", "", length, at, way, values["aside"], _story(row, values)) if length else None


def _level(row: Reader, values: Values) -> SurveyReading | None:
    """A distance to the level line: how far the top lies below it or above it, or the bottom below it."""
    given = [way for way in LEVEL_WAYS if row.has(way)]
    if len(given) != 1:
        row.fault(
            "top", "give one of: top (the top lies so far below the level line), up (above it), bottom (the bottom below it)."
        )
        return None
    length = values[given[0]] or Fraction(0)
    return SurveyReading("level", "", length, values["at"], given[0], values["aside"], _story(row, values))


def _plumb(row: Reader, values: Values) -> SurveyReading | None:
    """How far a side has moved from a plumb line at its top, to the left or the right, somewhere down."""
    off = values["off"] if values["to"] == "right" else -values["off"]
    return SurveyReading("plumb", "", off, values["at"], values["side"], values["aside"], _story(row, values))


def _story(row: Reader, values: Values) -> str:
    """The story of a reading in words: who took it when, and what was read before."""
    said = [_taken(values)]
    for was, before in zip(values["was"], row.children("was", MOST_READINGS), strict=True):
        length = str(before.get("length") or "")[:120]
        said.append("was " + ", ".join(filter(None, (length, *_taken(was).split("; ")))))
    return "; ".join(filter(None, said))


def _taken(values: Mapping[str, Any]) -> str:
    by, on = values["by"], (values["on"] or "").replace("T", " ")
    return "; ".join(filter(None, (f"by {by}" if by else "", on)))


TAKEN = (Key("by", Text(), help="who took it"), Key("on", Text(), help="when"))
WAS = Key("was", Objects(Object((Key("length", LengthText()), *TAKEN)), MOST_READINGS), help="what was read before")
STORY = (*TAKEN, WAS, Key("aside", Flag(), help="it isn't used", default=False))
LENGTH = Key("length", PLAIN, "Reads", default=None)
AT = Key("at", LengthText(), "At", "else evenly spaced")
ALONG = Key("at", LengthText(), "At", "along", Fraction(0))

ACROSS = Object((LENGTH, AT, *STORY), _plain)
DIAGONAL = Object(
    (LENGTH, Key("way", OneOf(DIAGONALS), help="falling or rising to the right, else in turn", default=""), *STORY), _plain
)
LEVEL = Object(
    (
        ALONG,
        Key("top", LengthText(), "Reads", "the top lies so far below the level line"),
        Key("up", LengthText(), "Reads", "the top lies so far above it"),
        Key("bottom", LengthText(), "Reads", "the bottom lies so far below it"),
        *STORY,
    ),
    _level,
)
PLUMB = Object(
    (
        Key("off", LengthText(), "Reads", "from the plumb line to the side", Fraction(0), needed="Measure from the plumb line to the side."),
        Key("at", LengthText(), "At", "so far down", Fraction(0), needed="Say how far down that was measured."),
        Key("side", OneOf(("left", "right")), default="left"),
        Key("to", OneOf(("right", "left")), help="to which side of the plumb line", default="right"),
        *STORY,
    ),
    _plumb,
)  # fmt: skip


def _readings(entry: Reader, values: Values) -> tuple[SurveyReading, ...]:
    """All readings of a panel, each with its place in the survey; diagonals without a way fall and rise in turn."""
    found = []
    for key, sort in READINGS.items():
        for number, reading in enumerate(values[key]):
            way = DIAGONALS[number % 2] if sort == "diagonal" else ""
            if reading:
                found.append(replace(reading, kind=sort, place=f"{key}.{number}", way=reading.way or way))
    return tuple(found)


SURVEY = Object(
    (
        Key("widths", Readings(ACROSS), default=()),
        Key("heights", Readings(ACROSS), default=()),
        Key("diagonals", Readings(DIAGONAL), default=()),
        Key("level", Objects(LEVEL, MOST_READINGS), default=()),
        Key("plumb", Objects(PLUMB, MOST_READINGS), default=()),
        Key("by", Text(), "Measured by"),
    ),
    _readings,
)
FOUND = ListOf(FoundLength(), MOST_READINGS)


@dataclass(frozen=True)
class FoundLines(Kind):
    """What was found of the marks of each line, by the line's name."""

    @property
    def allowed(self) -> str:
        return f"for each line, by its name: {FOUND.allowed}"

    def read(self, reader: Reader, key: str, default: Any) -> dict[str, tuple[Fraction | None, ...]]:
        lines = reader.child(key)
        return {
            line: FOUND.read(lines, line, ()) for line in list(lines.raw)[:MOST_READINGS] if isinstance(lines.raw[line], list)
        }

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return (
            {line: FOUND.in_units(found, old, new) for line, found in written.items()} if isinstance(written, dict) else written
        )

    def inner(self, name: str) -> Kind:
        return FOUND


MARKED = Object(
    (
        Key("lines", FoundLines(), help="readings of a mark line's marks, in the order along it", default={}),
        Key("diagonals", ListOf(FoundLength(), 2), help="of the field, falling and rising", default=()),
    ),
    lambda entry, values: Marked(**values),
)
