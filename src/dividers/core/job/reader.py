"""Reads one JSON object key by key: gives each value its type, and gathers every fault with its path instead of stopping.

After a fault the default comes back, so that the rest can still be read and all faults shown at once.
"""

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, TypeVar

from dividers.core.base.errors import BadInput, Fault, quoted
from dividers.core.base.lengths import Graduation, read_graduation, read_length, usual_graduation, write_exact

T = TypeVar("T")
LONGEST_NAME = 120
NOTHING = Fraction(0)


@dataclass
class Findings:
    """What reading found: faults (the job is not valid) and warnings (it is)."""

    unit: str = "in"
    palette: Mapping[str, Any] = field(default_factory=dict)  # what keys of colours and products may name
    products: Mapping[str, Any] = field(default_factory=dict)
    graduation: Graduation = field(default_factory=lambda: read_graduation(usual_graduation("in")))
    faults: list[Fault] = field(default_factory=list)
    warnings: list[Fault] = field(default_factory=list)


class Reader:
    """A view of one object of the job file at `path`."""

    def __init__(self, raw: object, path: str, findings: Findings) -> None:
        self.path = path
        self.findings = findings
        self.asked: set[str] = set()
        if raw is not None and not isinstance(raw, Mapping):
            self.fault("", "must be an object with keys, in braces { }.")
        self.raw: Mapping[str, Any] = raw if isinstance(raw, Mapping) else {}

    def at(self, key: str) -> str:
        return ".".join(part for part in (self.path, key) if part)

    def fault(self, key: str, message: str) -> None:
        self.findings.faults.append(Fault(self.at(key), message))

    def warn(self, key: str, message: str) -> None:
        self.findings.warnings.append(Fault(self.at(key), message))

    def has(self, key: str) -> bool:
        return self.raw.get(key) is not None

    def get(self, key: str) -> Any:
        self.asked.add(key)
        return self.raw.get(key)

    def value(self, key: str, read: Callable[[Any], T], default: T) -> T:
        """Read a value with a function that raises BadInput; `default` when it is missing or wrong."""
        written = self.get(key)
        if written is None:
            return default
        try:
            return read(written)
        except BadInput as fault:
            self.fault(key, fault.message)
            return default

    def need(self, key: str, allowed: str) -> bool:
        """Fault a missing key; whether it is there."""
        if self.get(key) is None:
            self.fault(key, f"is missing. {allowed}")
            return False
        return True

    def entry(self, key: str, read: Callable[[Any], T], written: object, default: T) -> T:
        """Read one entry of a list that was asked for before."""
        try:
            return read(written)
        except BadInput as fault:
            self.fault(key, fault.message)
            return default

    def items(self, key: str, most: int) -> list[Any]:
        """A list of at most `most` entries; empty when missing or wrong."""
        written = self.get(key)
        if written is None:
            return []
        if not isinstance(written, list):
            self.fault(key, "must be a list, in brackets [ ].")
            return []
        if len(written) > most:
            self.fault(key, f"has {len(written)} entries; at most {most} are allowed.")
        return written[:most]

    def child(self, key: str) -> "Reader":
        return Reader(self.get(key), self.at(key), self.findings)

    def children(self, key: str, most: int) -> list["Reader"]:
        return [Reader(item, self.at(f"{key}.{index}"), self.findings) for index, item in enumerate(self.items(key, most))]

    def named(self, key: str, most: int) -> Iterator[tuple[str, "Reader"]]:
        """The entries of an object whose keys are names that people gave."""
        raw = self.child(key).raw
        if len(raw) > most:
            self.fault(key, f"has {len(raw)} entries; at most {most} are allowed.")
        for name in list(raw)[:most]:
            if not name.strip() or len(name) > LONGEST_NAME:
                self.fault(key, f"has a name that is empty or longer than {LONGEST_NAME} characters.")
                continue
            yield name, Reader(raw[name], self.at(f"{key}.{name}"), self.findings)

    def close(self) -> None:
        """Warn of keys that nothing asked for: they are kept, and do nothing."""
        for key in self.raw:
            if key not in self.asked:
                self.warn(key[:LONGEST_NAME], "is not a known key; it is kept but does nothing.")


def read_count(written: object, least: int, most: int) -> int:
    """A whole number, as a number or as its digits. Raises BadInput outside [least, most]."""
    digits = str(written).strip()
    if isinstance(written, bool) or not isinstance(written, int | str) or not digits.isascii() or not digits.isdigit():
        raise BadInput(f"{quoted(written)} isn't a whole number. Write a count from {least} to {most}.", value=written)
    if len(digits) > 9 or not least <= int(digits) <= most:
        raise BadInput(f"{digits[:40]} is outside what is allowed: {least} to {most}.", value=written)
    return int(digits)


def read_bounded(written: object, unit: str, least: Fraction, most: Fraction | None) -> Fraction:
    """A length in mm within bounds. Raises BadInput."""
    length = read_length(written, unit)
    if length.mm < least:
        raise BadInput(f"“{length.text}” is too small: at least {write_exact(least, unit)}.", value=written)
    if most is not None and length.mm > most:
        raise BadInput(f"“{length.text}” is too much: at most {write_exact(most, unit)}.", value=written)
    return length.mm
