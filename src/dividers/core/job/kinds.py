"""The kinds of values a job file holds: how each is read, rewritten in other units, shown as text and taken from text.

A new kind is a class here; reader, unit conversion, forms and the key table need nothing else.
"""

import re
from abc import ABC, abstractmethod
from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.base.dates import read_moment
from dividers.core.base.errors import BadInput, quoted
from dividers.core.base.lengths import LONGEST_TEXT, read_length, rewrite, write_exact, write_kept
from dividers.core.base.quantities import read_celsius, temperature_in
from dividers.core.job.reader import LONGEST_NAME, NOTHING, Reader, read_bounded, read_count

NO_NAMES: Mapping[str, str] = {}
EMPTY: tuple[Any, ...] = (None, "", [])  # what nothing typed may be taken as


class Kind(ABC):
    """One kind of value."""

    @property
    @abstractmethod
    def allowed(self) -> str:
        """What is allowed, in words, for the key table."""

    @abstractmethod
    def read(self, reader: Reader, key: str, default: Any) -> Any:
        """The value at a key; `default` where there is none or it is faulty. Faults go to the reader."""

    def in_units(self, written: Any, old: str, new: str) -> Any:
        """What was written for the unit `old`, so that it means the same in a job in `new`."""
        return written

    def shown(self, written: Any) -> str:
        """A value of a job file as a form or a table shows it."""
        return "" if written is None else f"{written:g}" if isinstance(written, float) else str(written)

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> Any:
        """What was typed, as a job file has it; one of EMPTY for nothing. `names` gives the palette key of a colour's name."""
        return text.strip()

    def inner(self, name: str) -> "Kind | None":
        """The kind of what stands inside under a name or a number."""
        return None


class Plain(Kind):
    """A value that is read by itself."""

    @abstractmethod
    def parse(self, written: Any, reader: Reader) -> Any:
        """Raises BadInput."""

    def read(self, reader: Reader, key: str, default: Any) -> Any:
        return reader.value(key, lambda written: self.parse(written, reader), default)


@dataclass(frozen=True)
class Text(Plain):
    longest: int = LONGEST_NAME

    @property
    def allowed(self) -> str:
        return f"text, 1 to {self.longest} characters"

    def parse(self, written: Any, reader: Reader) -> str:
        if not isinstance(written, str) or not written.strip():
            raise BadInput("must be text and must not be empty.")
        if len(written) > self.longest:
            raise BadInput(f"has {len(written)} characters; at most {self.longest} are allowed.")
        return written


@dataclass(frozen=True)
class OneOf(Plain):
    """One of some words; `said` has those whose everyday words differ from their own."""

    options: tuple[str, ...]
    said: Mapping[str, str] = field(default_factory=dict, hash=False)

    @property
    def allowed(self) -> str:
        return ", ".join(self.options)

    def parse(self, written: Any, reader: Reader) -> str:
        if isinstance(written, int | float) and not isinstance(written, bool):
            written = f"{written:g}"
        if written not in self.options:
            raise BadInput(f"{quoted(written)} isn't known. Choose one of: {self.allowed}.")
        return str(written)

    def worded(self, first: Any = None) -> tuple[tuple[str, str], ...]:
        """The options with their everyday words, one of them first."""
        ordered = sorted(self.options, key=lambda option: option != first)
        return tuple((option, self.said.get(option, option.replace("-", " ").capitalize())) for option in ordered)


@dataclass(frozen=True)
class Flag(Plain):
    @property
    def allowed(self) -> str:
        return "true or false"

    def parse(self, written: Any, reader: Reader) -> bool:
        if not isinstance(written, bool):
            raise BadInput("must be true or false.")
        return written

    def shown(self, written: Any) -> str:
        return "on" if written else ""

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> bool | None:
        return text.strip().lower() in ("on", "yes", "true", "1") or None


@dataclass(frozen=True)
class WholeNumber(Plain):
    """A whole number, as a number or as its digits."""

    least: int
    most: int

    @property
    def allowed(self) -> str:
        return f"whole number, {self.least} to {self.most}"

    def parse(self, written: Any, reader: Reader) -> int:
        return read_count(written, self.least, self.most)


@dataclass(frozen=True)
class Number(Plain):
    least: int
    most: int

    @property
    def allowed(self) -> str:
        return f"number, {self.least} to {self.most}"

    def parse(self, written: Any, reader: Reader) -> Fraction:
        if isinstance(written, bool) or not isinstance(written, int | float) or not self.least <= written <= self.most:
            raise BadInput(f"must be a number from {self.least} to {self.most}.")
        return Fraction(str(written))

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> Any:
        plain = text.strip().replace(",", ".")
        return float(plain) if re.fullmatch(r"[0-9]{1,15}(\.[0-9]{1,15})?", plain) else plain


@dataclass(frozen=True)
class Rate(Number):
    """A number that need not be exact, such as how fast someone works."""

    def parse(self, written: Any, reader: Reader) -> float:  # type: ignore[override]
        return float(super().parse(written, reader))


@dataclass(frozen=True)
class LengthText(Plain):
    """A length as people write it: millimetres, exactly. A bare number is in the job's units."""

    least: Fraction = NOTHING
    most: Fraction | None = None

    @property
    def allowed(self) -> str:
        parts = (
            f"at least {write_exact(self.least, 'mm')}" if self.least else "",
            f"at most {write_exact(self.most, 'mm')}" if self.most else "",
        )
        return ", ".join(["length", *filter(None, parts)])

    def parse(self, written: Any, reader: Reader) -> Fraction:
        return read_bounded(written, reader.findings.unit, self.least, self.most)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if written in (None, ""):
            return written  # a mark that wasn't measured
        length = read_length(written, old)
        text = rewrite(length, old, new)
        return text if len(text) <= LONGEST_TEXT else write_kept(length.mm, new)


@dataclass(frozen=True)
class FoundLength(LengthText):
    """A length, or an empty text for what wasn't measured."""

    def parse(self, written: Any, reader: Reader) -> Any:
        return read_length(written, reader.findings.unit).mm if str(written or "").strip() else None


@dataclass(frozen=True)
class Measure(Plain):
    """A value that a function of its text reads, such as a time, a spread rate or a temperature."""

    function: Callable[[Any], Any]
    allowed: str = ""

    def parse(self, written: Any, reader: Reader) -> Any:
        return self.function(written)


@dataclass(frozen=True)
class Temperature(Plain):
    """A temperature in °C, written with C or F; `usual` is an example in °C."""

    usual: int = 21

    @property
    def allowed(self) -> str:
        return f"temperature, like {self.usual} C or {self.usual * 9 / 5 + 32:.0f} F"

    def parse(self, written: Any, reader: Reader) -> Fraction:
        return read_celsius(written, reader.findings.unit)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return written if written in (None, "") else temperature_in(written, old, new)


@dataclass(frozen=True)
class Moment(Plain):
    """A date as people write it, with or without a time; or one of some `words` instead."""

    words: tuple[str, ...] = ()

    @property
    def allowed(self) -> str:
        return ", ".join([*self.words, "date as people write it, like 2027-03-06, 6 March 2027 or 2027-03-06 08:00"])

    def parse(self, written: Any, reader: Reader) -> str:
        if written in self.words:
            return str(written)
        return read_moment(written, reader.findings.unit == "in")


@dataclass(frozen=True)
class PaletteKey(Plain):
    """The key of a colour; None, where it may be, stays in the base colour."""

    base: bool = False

    @property
    def allowed(self) -> str:
        return "key of the palette" + (", or null for the base colour" if self.base else "")

    def parse(self, written: Any, reader: Reader) -> str | None:
        palette = reader.findings.palette
        if self.base and written is None:
            return None
        if not isinstance(written, str) or written not in palette:
            known = ", ".join(palette) or "none yet"
            more = "; or none, to stay in the base colour" if self.base else ""
            raise BadInput(f"{quoted(written)} isn't in the palette. Choose one of: {known}{more}.")
        return written


@dataclass(frozen=True)
class ProductKey(Plain):
    """The name of one of the job's products of a type; read as the product."""

    made: type

    @property
    def allowed(self) -> str:
        return f"key of one of the products that is a {self.made.__name__.lower()}"

    def parse(self, written: Any, reader: Reader) -> Any:
        there = {key: product for key, product in reader.findings.products.items() if isinstance(product, self.made)}
        if not isinstance(written, str) or written not in there:
            raise BadInput(f"{quoted(written)} isn't known. Choose one of: {', '.join(there)}.")
        return there[written]


@dataclass(frozen=True)
class ListOf(Kind):
    """Several of a plain kind. A faulty one is None in its place; `needs` is said of an empty list that is there."""

    of: Plain
    most: int
    needs: str = ""
    separator: str = "; "
    cut: str = ";\n"

    @property
    def allowed(self) -> str:
        return f"list of at most {self.most}: {self.of.allowed}"

    def read(self, reader: Reader, key: str, default: Any) -> Any:
        written = reader.items(key, self.most)
        if not written:
            if self.needs and reader.has(key):
                reader.fault(key, self.needs)
            return default
        return tuple(
            reader.entry(f"{key}.{number}", lambda entry: self.of.parse(entry, reader), entry, None)
            for number, entry in enumerate(written)
        )

    def in_units(self, written: Any, old: str, new: str) -> Any:
        return [self.of.in_units(each, old, new) for each in written] if isinstance(written, list) else written

    def shown(self, written: Any) -> str:
        return self.separator.join(self.of.shown(each) for each in written or [])

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> Any:
        parts = re.split(rf"[{self.cut}]+", text.strip())
        return [self.of.taken(part, names) for part in parts if part.strip()]

    def inner(self, name: str) -> Kind:
        return self.of


@dataclass(frozen=True)
class Span(Plain):
    """Two of something, from and to, such as hours of the day."""

    function: Callable[[list[Any]], tuple[str, str]]
    allowed: str = ""

    def parse(self, written: Any, reader: Reader) -> tuple[str, str]:
        return self.function(written if isinstance(written, list) else [])

    def shown(self, written: Any) -> str:
        return "-".join(str(part) for part in written)

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> list[str]:
        return [part.strip() for part in re.split(r"-|–|to", text)]


@dataclass(frozen=True)
class ByColor(Kind):
    """A value for each colour that has one, by its key in the palette."""

    of: Plain

    @property
    def allowed(self) -> str:
        return f"for each colour, by its key: {self.of.allowed}"

    def read(self, reader: Reader, key: str, default: Any) -> dict[str, Any]:
        child = reader.child(key)
        palette = reader.findings.palette
        for color in child.raw:
            if color not in palette:
                child.fault(color[:60], f"isn't a colour of the palette: {', '.join(palette)}.")
        found = {color: self.of.read(child, color, None) for color in child.raw if color in palette}
        return {color: value for color, value in found.items() if value is not None}
