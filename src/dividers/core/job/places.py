"""Places on a panel, as a job file and a form have them."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.job.kinds import NO_NAMES, Kind, LengthText
from dividers.core.job.layers import Place
from dividers.core.job.reader import Reader

MOST_PLACES = 2000
LENGTH = LengthText()


@dataclass(frozen=True)
class PlacesKind(Kind):
    """Places on a panel: pairs of lengths from its left and its top."""

    most: int = MOST_PLACES
    exactly: int = 0

    @property
    def allowed(self) -> str:
        many = f"{self.exactly}" if self.exactly else f"at most {self.most}"
        return f"list of {many}: [from the left, from the top]"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[Place, ...]:
        def place(written: Any) -> Place:
            if not isinstance(written, list) or len(written) != 2:
                raise BadInput("must be two lengths: from the panel's left and from its top.")
            x, y = (LENGTH.parse(each, reader) for each in written)
            return x, y

        if self.exactly and reader.has(key) and len(reader.items(key, self.most)) != self.exactly:
            reader.fault(key, f"must be {self.exactly} places, each from the panel's left and its top, like 0, 24; 60, 12.")
            return default or ()
        found = [reader.entry(f"{key}.{n}", place, each, None) for n, each in enumerate(reader.items(key, self.most))]
        return tuple(each for each in found if each)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if not isinstance(written, list):
            return written
        return [[LENGTH.in_units(each, old, new) for each in pair] if isinstance(pair, list) else pair for pair in written]

    def shown(self, written: Any) -> str:
        return "; ".join(", ".join(str(each) for each in pair) for pair in written or [])

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> list[list[str]]:
        return [[part.strip() for part in pair.split(",")] for pair in text.split(";") if pair.strip()]
