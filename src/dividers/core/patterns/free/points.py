"""Free shapes as people give them: named points, paths through them, fills at places. In the job file, and as lines of text.

A point is measured from edges (`12, 20` across and down; `right 6, top 10`), along a line between two others (`on A B at 14`),
or lies where two lines cross (`where A B meets C D`).
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
    "Write it like “12, 20” (across, down), “right 6, top 10”, “on A B at 14” (from A towards B), or “where A B meets C D”."
)
FILL_FORMS = "Write it like “30, 20: ink”, or “30, 20: ink, cream in stripes of 2 1/2 at 45”."
NONE = Fraction(0)


@dataclass(frozen=True)
class Place:
    """Where a point is. `edges` has one of left, right and one of top, bottom, in mm; or `on` two points at `at_mm` from the
    first; or `cross`, two pairs of points whose lines meet there."""

    edges: tuple[tuple[str, Fraction], ...] = ()
    on: tuple[str, str] | None = None
    at_mm: Fraction = Fraction(0)
    cross: tuple[tuple[str, str], tuple[str, str]] | None = None

    @property
    def needs(self) -> tuple[str, ...]:
        """The points that it is found from."""
        return (self.on or ()) + (self.cross[0] + self.cross[1] if self.cross else ())


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
        if "on" in written:
            return f"{name}: on {' '.join(written['on'])} at {written.get('at')}"
        return f"{name}: " + ", ".join(f"{key} {written[key]}" for key in EDGES if key in written)
    return f"{name}: {written[0]}, {written[1]}"


def place_from(line: str) -> tuple[str, Any]:
    """A line of text as a point of the job file; what can't be read is passed on as it is, for the reader to refuse."""
    name, _, rest = (part.strip() for part in line.partition(":"))
    if found := re.fullmatch(rf"where\s+({NAME})\s+({NAME})\s+meets\s+({NAME})\s+({NAME})", rest):
        a, b, c, d = found.groups()
        return name, {"cross": [[a, b], [c, d]]}
    if found := re.fullmatch(rf"on\s+({NAME})\s+({NAME})\s+at\s+(.+)", rest):
        return name, {"on": [found[1], found[2]], "at": found[3]}
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
