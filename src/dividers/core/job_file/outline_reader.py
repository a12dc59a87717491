"""An outline in a job file: corners clockwise, each from the left and top of its bounding box; a corner with a `bulge` begins an arc."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact, write_kept
from dividers.core.base.whole import whole
from dividers.core.geometry.contours import box_of, flattened
from dividers.core.geometry.polygons import simple
from dividers.core.geometry.shapes import Point
from dividers.core.job.kinds import NO_NAMES, Kind, LengthText
from dividers.core.job.reader import Findings, Reader
from dividers.core.job.surface import CornerDistance

MOST_CORNERS = 400
LEAST_CORNERS = 2  # two arcs make a round
LENGTH = LengthText()
FORMS = "two lengths, from the left and from the top, like 1500, 0; with “out 40” behind them where an arc begins that rises so far outward"
MOST_DISTANCES = 400
DISTANCE = LengthText(Fraction(1))
DISTANCE_FORM = "two corners by their numbers and what lies between them, like 1-3 2410"
BETWEEN = re.compile(r"\s*(\d{1,3})\s*(?:-|–|to|,)\s*(\d{1,3})\s*[:,=]?\s(.+?)\s*")
CORNER = re.compile(r"\s*(.+?)\s*(?:\b(out|in)\s+(.+?))?\s*")


@dataclass(frozen=True)
class OutlineKind(Kind):
    """Corners of an outline; read as a ring of points in mm, arcs flattened."""

    @property
    def allowed(self) -> str:
        return f"list of at most {MOST_CORNERS}: [from the left, from the top], or object with at and bulge"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[Point, ...]:
        written = reader.items(key, MOST_CORNERS)
        known = corners_in(reader, key)
        if not written or len(known) < len(written):
            return ()
        bent = any(rise for _, rise in known)
        if len(known) < (LEAST_CORNERS if bent else 3):
            reader.fault(key, "needs at least three corners, or two with arcs between them.")
            return ()
        ring = flattened(known)
        if not simple(ring):
            reader.fault(key, "crosses itself, or encloses nothing. Give the corners in turn, clockwise.")
            return ()
        return tuple(ring)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if not isinstance(written, list):
            return written
        return [_in_units(each, old, new) for each in written]

    def shown(self, written: Any) -> str:
        return "; ".join(_shown(each) for each in written or [])

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> list[Any]:
        return [_taken(part) for part in re.split(r"[;\n]", text) if part.strip()]


def corners_in(reader: Reader, key: str) -> list[tuple[Point, float]]:
    """The corners as they are written, those that can be read: in mm, each with the rise of the arc that begins there."""
    written = reader.items(key, MOST_CORNERS)
    corners = [reader.entry(f"{key}.{n}", lambda each: _corner(each, reader), each, None) for n, each in enumerate(written)]
    return [corner for corner in corners if corner]


@dataclass(frozen=True)
class DistancesKind(Kind):
    """Distances between corners of an outline, by their numbers."""

    @property
    def allowed(self) -> str:
        return f"list of at most {MOST_DISTANCES}: [corner, corner, length]"

    def read(self, reader: Reader, key: str, default: Any) -> tuple[CornerDistance, ...]:
        written = reader.items(key, MOST_DISTANCES)
        found = [reader.entry(f"{key}.{n}", lambda each: _distance(each, reader), each, None) for n, each in enumerate(written)]
        return tuple(each for each in found if each)

    def in_units(self, written: Any, old: str, new: str) -> Any:
        if not isinstance(written, list):
            return written
        return [
            [*each[:2], LENGTH.in_units(each[2], old, new)] if isinstance(each, list) and len(each) == 3 else each
            for each in written
        ]

    def shown(self, written: Any) -> str:
        return "; ".join(
            f"{each[0]}-{each[1]} {each[2]}" for each in written or [] if isinstance(each, list) and len(each) == 3
        )

    def taken(self, text: str, names: Mapping[str, str] = NO_NAMES) -> list[Any]:
        return [_distance_taken(part) for part in re.split(r"[;\n]", text) if part.strip()]


def _distance(written: Any, reader: Reader) -> CornerDistance:
    if not isinstance(written, list) or len(written) != 3:
        raise BadInput(f"A distance is {DISTANCE_FORM}.")
    start, end = (whole(str(each), MOST_CORNERS) for each in written[:2])
    if not start or not end or start == end:
        raise BadInput(f"A distance is {DISTANCE_FORM}.")
    return CornerDistance(start, end, DISTANCE.parse(written[2], reader))


def _distance_taken(text: str) -> list[str]:
    """The corners and the length, as far as they are there."""
    found = BETWEEN.fullmatch(text)
    return list(found.groups()) if found else [text.strip()]


def _corner(written: Any, reader: Reader) -> tuple[Point, float]:
    at = written.get("at") if isinstance(written, Mapping) else written
    if not isinstance(at, list) or len(at) != 2:
        raise BadInput(f"A corner is {FORMS}.")
    x, y = (LENGTH.parse(each, reader) for each in at)
    rise = 0.0
    if isinstance(written, Mapping) and written.get("bulge") not in (None, ""):
        sign, size = _signed(written["bulge"])
        rise = sign * float(LENGTH.parse(size, reader))
    return (float(x), float(y)), rise


def _signed(bulge: Any) -> tuple[int, Any]:
    """The sign of an arc's rise, and its size as a length."""
    if isinstance(bulge, int | float) and not isinstance(bulge, bool):
        return (-1 if bulge < 0 else 1), abs(bulge)
    text = str(bulge).strip()
    return (-1, text[1:].strip()) if text.startswith("-") else (1, text)


def _in_units(corner: Any, old: str, new: str) -> Any:
    if isinstance(corner, list):
        return [LENGTH.in_units(each, old, new) for each in corner]
    if not isinstance(corner, dict):
        return corner
    bent = {}
    if corner.get("bulge") not in (None, ""):
        sign, size = _signed(corner["bulge"])
        bent = {"bulge": ("-" if sign < 0 else "") + str(LENGTH.in_units(size, old, new))}
    return {**corner, "at": _in_units(corner.get("at"), old, new), **bent}


def _shown(corner: Any) -> str:
    if not isinstance(corner, Mapping):
        return ", ".join(str(each) for each in corner)
    bulge = str(corner.get("bulge", "0"))
    way = f"in {bulge[1:]}" if bulge.startswith("-") else f"out {bulge}"
    return f"{', '.join(str(each) for each in corner.get('at', []))} {way}"


def _taken(text: str) -> Any:
    found = CORNER.fullmatch(text)
    assert found
    at = [part.strip() for part in (re.split(r",\s+|,(?=\S*$)", found[1]) if ", " in found[1] else found[1].split(","))]
    if not found[2]:
        return at
    return {"at": at, "bulge": found[3] if found[2] == "out" else f"-{found[3]}"}


def size_by_outline(before: Any, panel: Any, units: str) -> None:
    """A written panel that got an outline loses its width and height, which the outline gives; one that lost it gets those of its box."""
    if not isinstance(panel, dict):
        return
    if panel.get("outline"):
        for key in ("width", "height", "curve"):
            panel.pop(key, None)
        return
    panel.pop("outline", None)
    old = before.get("outline") if isinstance(before, dict) else None
    if not old:
        return
    findings = Findings(units, {})
    reader = Reader({"outline": old}, "", findings)
    ring = OutlineKind().read(reader, "outline", ())
    if ring:
        _, _, right, bottom = box_of(ring)
        panel.setdefault("width", write_kept(exact(right), units))
        panel.setdefault("height", write_kept(exact(bottom), units))
