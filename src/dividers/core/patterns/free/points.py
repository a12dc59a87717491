"""Free shapes as people give them: named points, paths through them, fills at places. In the job file, and as lines of text.

A point is measured from edges (`12, 20` across and down; `right 6, top 10`), along a line between two others (`on A B at 14`),
or lies where two lines cross (`where A B meets C D`). It may lie where an edge, or another line, is met by a line of its own: one so far
beside two points (`where top edge is 6 left of A B`), or one from a point at an angle, along two others or square to them (`where right
edge meets E at 45`, `where C D meets E along A B`, `where C D meets E square to A B`). It may lie so far from a point, at an angle, along a
line or square to it (`12 from E at 45`, `12 from E along A B`); or be another one's mirror image, in the field's middle or in a line
(`E mirrored left to right`, `E mirrored top to bottom`, `E mirrored in A B`).
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.job.reader import read_bounded

NAME = r"[A-Za-z0-9_'’]{1,12}"
EDGES = ("left", "right", "top", "bottom")
POINT_FORMS = (
    "Write it like “12, 20” (across, down), “right 6, top 10”, “on A B at 14” (from A towards B), “where A B meets C D”, "
    "“where top edge is 6 left of A B”, “where right edge meets E at 45”, “12 from E at 45”, or “E mirrored in A B”."
)
AXES = {"left to right": "x", "top to bottom": "y"}
FILL_FORMS = "Write it like “30, 20: ink”, or “30, 20: ink, cream in stripes of 2 1/2 at 45”."
NONE = Fraction(0)


@dataclass(frozen=True)
class Place:
    """Where a point is. `edges` has one of left, right and one of top, bottom, in mm; or `on` two points at `at_mm` from the
    first; or `cross`, two pairs of points whose lines meet there; or where a `way` meets an edge or the line through two points; or the
    `mirror` image of a point."""

    edges: tuple[tuple[str, Fraction], ...] = ()
    on: tuple[str, str] | None = None
    at_mm: Fraction = Fraction(0)
    cross: tuple[tuple[str, str], tuple[str, str]] | None = None
    way: "OwnLine | None" = None
    mirror: "Mirror | None" = None

    @property
    def needs(self) -> tuple[str, ...]:
        """The points that it is found from."""
        crossed = self.cross[0] + self.cross[1] if self.cross else ()
        return (self.on or ()) + crossed + (self.way.needs if self.way else ()) + (self.mirror.needs if self.mirror else ())


@dataclass(frozen=True)
class Mirror:
    """The mirror image of a point: in the line through two others, or in the middle of the field, across ("x") or down ("y")."""

    point: str
    axis: str | tuple[str, str]

    @property
    def needs(self) -> tuple[str, ...]:
        return (self.point, *(self.axis if isinstance(self.axis, tuple) else ()))


@dataclass(frozen=True)
class OwnLine:
    """A line of its own, and what it `meets`: an edge by name, or two points; nothing where it ends `length_mm` from its start.

    It lies `by_mm` beside `line`, to the left (`side` 1) or right (-1) as one looks along it; or runs from `start`, at `turn` degrees from
    level (rising to the right), else along `line`, else `square` to it.
    """

    meets: str | tuple[str, str] | None
    line: tuple[str, str] | None = None
    by_mm: Fraction = Fraction(0)
    side: int = 0
    start: str | None = None
    turn: Fraction | None = None
    square: bool = False
    length_mm: Fraction = Fraction(0)

    @property
    def needs(self) -> tuple[str, ...]:
        met = self.meets if isinstance(self.meets, tuple) else ()
        return met + (self.line or ()) + ((self.start,) if self.start else ())


@dataclass(frozen=True)
class Fill:
    """The colours of the region that holds (x, y) mm: one, or several in stripes of a width and direction (degrees from level)."""

    x_mm: Fraction
    y_mm: Fraction
    colors: tuple[str | None, ...]
    stripe_mm: Fraction | None = None
    direction: Fraction = Fraction(0)


def read_place(written: object, unit: str) -> Place:
    """A point of the job file. Raises BadInput."""
    if isinstance(written, list) and len(written) == 2:
        return Place(
            (("left", read_bounded(written[0], unit, NONE, None)), ("top", read_bounded(written[1], unit, NONE, None)))
        )
    if isinstance(written, Mapping):
        if isinstance(written.get("cross"), list) and len(written["cross"]) == 2:
            one, other = (_pair(line) for line in written["cross"])
            return Place(cross=(one, other))
        if "meets" in written or "length" in written:
            return Place(way=_read_way(written, unit))
        if "mirror" in written:
            return Place(mirror=_read_mirror(written))
        if "on" in written:
            return Place(on=_pair(written["on"]), at_mm=read_bounded(written.get("at"), unit, NONE, None))
        edges = [key for key in EDGES if key in written]
        if len(edges) == 2 and edges[0] in EDGES[:2] and edges[1] in EDGES[2:]:
            return Place(tuple((key, read_bounded(written[key], unit, NONE, None)) for key in edges))
    raise BadInput(f"A point can't be read here. {POINT_FORMS}")


def _pair(written: object) -> tuple[str, str]:
    if not isinstance(written, list) or len(written) != 2 or not all(isinstance(name, str) for name in written):
        raise BadInput(f"A line is named by two points. {POINT_FORMS}")
    return written[0], written[1]


def _read_mirror(written: Mapping[str, Any]) -> Mirror:
    point, axis = written["mirror"], written.get("in")
    if not isinstance(point, str):
        raise BadInput(f"A mirror image is of one point. {POINT_FORMS}")
    return Mirror(point, AXES[axis] if isinstance(axis, str) and axis in AXES else _pair(axis))


def _read_way(written: Mapping[str, Any], unit: str) -> OwnLine:
    met = written.get("meets")
    length = read_bounded(written["length"], unit, Fraction(1), None) if "length" in written and met is None else NONE
    meets: str | tuple[str, str] | None = met if length or (isinstance(met, str) and met in EDGES) else _pair(met)
    if "beside" in written and not length:
        by = read_bounded(written.get("by"), unit, NONE, None)
        return OwnLine(meets, _pair(written["beside"]), by, {"left": 1, "right": -1}.get(str(written.get("side")), 1))
    start = written.get("from")
    if not isinstance(start, str):
        raise BadInput(f"A line starts from a point, or lies beside two. {POINT_FORMS}")
    if "turn" in written:
        return OwnLine(meets, start=start, turn=_turn(written["turn"]), length_mm=length)
    square = "square" in written
    return OwnLine(meets, _pair(written.get("square" if square else "along")), start=start, square=square, length_mm=length)


def _turn(written: object) -> Fraction:
    try:
        turn = Fraction(str(written).replace(",", ".")) if len(str(written)) < 20 else None
    except (ValueError, ZeroDivisionError):
        turn = None
    if turn is None or not -360 <= turn <= 360:
        raise BadInput(f"“{str(written)[:20]}” is no angle: degrees from level, -360 to 360.")
    return turn


def read_path(written: object) -> tuple[str, ...]:
    """A path through named points. Raises BadInput."""
    if not isinstance(written, list) or len(written) < 2 or not all(isinstance(name, str) for name in written):
        raise BadInput("A line names two or more points, like A B C.")
    return tuple(written)


def read_fill(
    written: object, unit: str, read_color: Callable[[object], str], read_direction: Callable[[object], Fraction]
) -> Fill:
    """A fill of the job file. Raises BadInput."""
    at = written.get("at") if isinstance(written, Mapping) else None
    if not isinstance(written, Mapping) or not isinstance(at, list) or len(at) != 2:
        raise BadInput(f"A fill can't be read here. {FILL_FORMS}")
    x, y = (read_bounded(each, unit, NONE, None) for each in at)
    stripes = written.get("stripes")
    if stripes is None:
        color = written.get("color")
        return Fill(x, y, (None if color is None else read_color(color),))
    if not isinstance(stripes, Mapping) or not isinstance(stripes.get("colors"), list) or not stripes["colors"]:
        raise BadInput(f"Stripes need a width, a direction and colors. {FILL_FORMS}")
    return Fill(
        x,
        y,
        tuple(None if color is None else read_color(color) for color in stripes["colors"][:24]),
        read_bounded(stripes.get("width"), unit, Fraction(1), None),
        read_direction(stripes.get("direction", 0)),
    )


# As lines of text, for forms: each line is one entry, and reads back as it was.


def place_text(name: str, written: Any) -> str:
    """A point of the job file as a line of text."""
    if isinstance(written, Mapping):
        if "cross" in written:
            (a, b), (c, d) = written["cross"]
            return f"{name}: where {a} {b} meets {c} {d}"
        if "meets" in written or "length" in written:
            return f"{name}: {_way_text(written)}"
        if "mirror" in written:
            axis = written.get("in")
            return f"{name}: {written['mirror']} mirrored {axis if isinstance(axis, str) else 'in ' + ' '.join(axis or ())}"
        if "on" in written:
            return f"{name}: on {' '.join(written['on'])} at {written.get('at')}"
        return f"{name}: " + ", ".join(f"{key} {written[key]}" for key in EDGES if key in written)
    return f"{name}: {written[0]}, {written[1]}"


def _way_text(written: Mapping[str, Any]) -> str:
    met = written.get("meets")
    if met is None:
        turned = f"at {written['turn']}" if "turn" in written else _side_text(written)
        return f"{written['length']} from {written.get('from')} {turned}"
    where = f"where {met} edge" if isinstance(met, str) else f"where {' '.join(met)}"
    if "beside" in written:
        return f"{where} is {written.get('by')} {written.get('side', 'left')} of {' '.join(written['beside'])}"
    if "turn" in written:
        return f"{where} meets {written.get('from')} at {written['turn']}"
    return f"{where} meets {written.get('from')} {_side_text(written)}"


def _side_text(written: Mapping[str, Any]) -> str:
    square = "square" in written
    return f"{'square to' if square else 'along'} {' '.join(written['square' if square else 'along'])}"


WAY = re.compile(
    rf"where\s+(?:(left|right|top|bottom)\s+edge|({NAME})\s+({NAME}))\s+"
    rf"(?:is\s+(.{{1,40}}?)\s+(left|right)\s+of\s+({NAME})\s+({NAME})"
    rf"|meets\s+({NAME})\s+(?:at\s+(\S{{1,12}})|(along|square\s+to)\s+({NAME})\s+({NAME})))"
)
FAR = re.compile(rf"(.{{1,40}}?)\s+from\s+({NAME})\s+(?:at\s+(\S{{1,12}})|(along|square\s+to)\s+({NAME})\s+({NAME}))")
MIRRORED = re.compile(rf"({NAME})\s+mirrored\s+(?:({'|'.join(AXES)})|in\s+({NAME})\s+({NAME}))")


def _far_from(found: re.Match[str]) -> dict[str, Any]:
    length, start, turn, how, a, b = found.groups()
    far = {"length": length, "from": start}
    return far | ({"turn": turn.rstrip("°")} if turn else {"along" if how == "along" else "square": [a, b]})


def _way_from(found: re.Match[str]) -> dict[str, Any]:
    edge, a, b, by, side, c, d, start, turn, how, e, f = found.groups()
    way: dict[str, Any] = {"meets": edge or [a, b]}
    if by:
        return way | {"beside": [c, d], "by": by, "side": side}
    if turn:
        return way | {"from": start, "turn": turn.rstrip("°")}
    return way | {"from": start, "along" if how == "along" else "square": [e, f]}


def place_from(line: str) -> tuple[str, Any]:
    """A line of text as a point of the job file; what can't be read is passed on as it is, for the reader to refuse."""
    name, _, rest = (part.strip() for part in line.partition(":"))
    if found := re.fullmatch(rf"where\s+({NAME})\s+({NAME})\s+meets\s+({NAME})\s+({NAME})", rest):
        a, b, c, d = found.groups()
        return name, {"cross": [[a, b], [c, d]]}
    if found := re.fullmatch(rf"on\s+({NAME})\s+({NAME})\s+at\s+(.+)", rest):
        return name, {"on": [found[1], found[2]], "at": found[3]}
    if found := WAY.fullmatch(rest):
        return name, _way_from(found)
    if found := FAR.fullmatch(rest):
        return name, _far_from(found)
    if found := MIRRORED.fullmatch(rest):
        return name, {"mirror": found[1], "in": found[2] or [found[3], found[4]]}
    parts = _halves(rest)
    words = [re.fullmatch(r"(left|right|top|bottom)\s+(.+)", part) for part in parts]
    if len(parts) == 2 and words[0] and words[1]:
        return name, {word[1]: word[2] for word in words if word}
    return name, parts if len(parts) == 2 else rest


def _halves(text: str) -> list[str]:
    """Two lengths parted by a comma; by one with a space behind it where decimals have commas too."""
    parts = [part.strip() for part in re.split(r"[,;]\s+|;", text)]
    return parts if len(parts) == 2 else [part.strip() for part in text.split(",")]


def fill_text(written: Any) -> str:
    """A fill of the job file as a line of text."""
    if not isinstance(written, Mapping) or not isinstance(written.get("at"), list):
        return str(written)
    at = ", ".join(str(each) for each in written["at"])
    stripes = written.get("stripes")
    if isinstance(stripes, Mapping):
        colors = ", ".join(color or "base" for color in stripes.get("colors", []))
        return f"{at}: {colors} in stripes of {stripes.get('width')} at {stripes.get('direction', 0)}"
    return f"{at}: {written.get('color') or 'base'}"


def fill_from(line: str, names: Mapping[str, str]) -> Any:
    """A line of text as a fill of the job file; `names` gives the palette key of a colour's name or key."""
    at, _, rest = (part.strip() for part in line.rpartition(":"))
    place = _halves(at)
    before, striped, after = " ".join(rest.split()).partition(" in stripes of ")
    colors = [None if name.lower() == "base" else names.get(name.lower(), name) for name in map(str.strip, before.split(","))]
    if striped:
        width, turned, direction = after.rpartition(" at ")
        return {"at": place, "stripes": {"width": width or after, "direction": direction if turned else "0", "colors": colors}}
    return {"at": place, "color": colors[0]}
