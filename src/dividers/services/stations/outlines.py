"""Outlines from drawings: looked at with their size, then taken as a panel, an opening, or the points and lines of facets."""

import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from itertools import pairwise
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import read_length
from dividers.core.base.texts import counted
from dividers.core.base.whole import whole
from dividers.core.geometry.shapes import Point
from dividers.core.job.reader import LONGEST_NAME
from dividers.core.job_file.outline_reader import MOST_CORNERS
from dividers.formats.drawings.dxf import Drawn, read_dxf
from dividers.formats.drawings.outline_svg import read_svg
from dividers.services.careful import carefully
from dividers.services.jobs import editing
from dividers.services.jobs.editing import Opened

TOLERANCE_MM = 0.5
READ_WITHIN_S = 20  # the largest drawing that is read takes 5 s on a quick machine
MOST_SHOWN, MOST_POINTS = 60, 300
SAME_MM = 1.0  # points of facets that lie closer are one
SKEW_MM = 2.0  # a rectangle's sides may be off by so much


@dataclass(frozen=True)
class Chain:
    """A closed or open chain of a drawing: its number, layer, points in mm from the drawing's top left, and its size."""

    number: int
    layer: str
    closed: bool
    points: tuple[Point, ...]
    width: float
    height: float

    @property
    def axis_aligned(self) -> bool:
        """Whether it is an axis-aligned rectangle."""
        xs, ys = [x for x, _ in self.points], [y for _, y in self.points]
        return (
            self.closed
            and len(self.points) == 4
            and all(
                min(abs(x - min(xs)), abs(x - max(xs))) < SKEW_MM and min(abs(y - min(ys)), abs(y - max(ys))) < SKEW_MM
                for x, y in self.points
            )
        )


@dataclass(frozen=True)
class Looked:
    """What a drawing holds, at a scale: the larger chains first; `sure` where the file states its own unit."""

    chains: tuple[Chain, ...]
    left: float
    top: float
    width: float
    height: float
    mm_a_unit: float
    sure: bool
    said: tuple[str, ...]
    name: str
    kept: str
    left_out: int


def look(content: bytes, name: str, scale: str, units: str) -> Looked:
    """Read a DXF or SVG. `scale` says how long one unit of the drawing is, where it isn't what the file states. Raises BadInput."""
    if not content:
        raise BadInput("Choose a drawing first: DXF or SVG.", "file")
    reader = read_svg if name.lower().endswith(".svg") or content.lstrip()[:1] == b"<" else read_dxf
    drawn: Drawn = carefully(reader, content, TOLERANCE_MM, seconds=READ_WITHIN_S)
    factor = _scale(scale, units) if scale.strip() else (drawn.mm_a_unit or 1.0)
    chains = [_chain(number, layer, closed, points, factor) for number, (layer, closed, points) in enumerate(drawn.chains, 1)]
    if not chains:
        raise BadInput("This drawing holds no lines or outlines.", "file")
    chains.sort(key=lambda chain: -(chain.width * chain.height + chain.width + chain.height))
    xs = [x for chain in chains for x, _ in chain.points]
    ys = [y for chain in chains for _, y in chain.points]
    return Looked(
        tuple(chains[:MOST_SHOWN]), min(xs), min(ys), max(max(xs) - min(xs), 1e-6), max(max(ys) - min(ys), 1e-6), factor,
        drawn.mm_a_unit is not None, drawn.said, name[:80], content.decode("latin-1"), max(len(chains) - MOST_SHOWN, 0),
    )  # fmt: skip


def _scale(written: str, units: str) -> float:
    mm = float(read_length(written, units).mm)
    if not 1e-3 <= mm <= 1e5:
        raise BadInput(f"One unit of the drawing can't be {mm:g} mm; allowed are 0.001 to 100000.", "scale", written)
    return mm


def _chain(number: int, layer: str, closed: bool, points: tuple[Point, ...], factor: float) -> Chain:
    own = tuple((x * factor, y * factor) for x, y in points)
    xs, ys = [x for x, _ in own], [y for _, y in own]
    return Chain(number, layer, closed, own, max(xs) - min(xs), max(ys) - min(ys))


def take(connection: sqlite3.Connection, opened: Opened, piece_key: str, looked: Looked, typed: Mapping[str, str]) -> str:
    """Take what was chosen into a piece; what was done, in words. Raises BadInput, BadJob."""
    what = typed.get("as", "")
    number = whole(typed.get("chain", "0")) or 0
    chain = next((each for each in looked.chains if each.number == number), None)
    base = -1 if (shown := whole(typed.get("revision", ""))) is None else shown
    if what == "facets":
        return _facets(connection, opened, piece_key, looked, base)
    if chain is None:
        raise BadInput("Choose one of the outlines first.", "chain")
    if what not in ("panel", "opening"):
        raise BadInput("Say what the outline is: the panel, an opening, or facets.", "as")
    if not chain.closed:
        raise BadInput("This chain is open: only a closed outline can be a panel or an opening.", "chain")
    if len(chain.points) > MOST_CORNERS:
        raise BadInput(
            f"This outline has {len(chain.points)} corners; at most {MOST_CORNERS} are allowed. Flatten its curves more coarsely.",
            "chain",
        )
    piece = opened.piece(piece_key)
    if what == "panel":
        first = (min(x for x, _ in chain.points), min(y for _, y in chain.points))
        changes: dict[str, Any] = {"surface.panels.0.outline": _corners(chain, first)}
        if chain.axis_aligned:
            changes = {
                "surface.panels.0.width": _mm(chain.width),
                "surface.panels.0.height": _mm(chain.height),
                "surface.panels.0.outline": None,
            }
        editing.edit_piece(connection, opened.id, piece_key, "measure", base, changes, {})
        return f"The panel is {_mm(chain.width)} × {_mm(chain.height)} now."
    panel = max(
        (each for each in looked.chains if each.closed and each is not chain),
        key=lambda each: each.width * each.height,
        default=None,
    )
    left = min(x for x, _ in chain.points) - (min(x for x, _ in panel.points) if panel else looked.left)
    top = min(y for _, y in chain.points) - (min(y for _, y in panel.points) if panel else looked.top)
    taken = opened.document["pieces"][opened.piece_number(piece_key)]["surface"]["panels"][0].get("openings") or []
    size = {"left": _mm(left), "top": _mm(top), "width": _mm(chain.width), "height": _mm(chain.height)}
    start = (min(x for x, _ in chain.points) - left, min(y for _, y in chain.points) - top)
    opening = {
        "name": (typed.get("called") or "opening")[:LONGEST_NAME],
        **(size if chain.axis_aligned else {"outline": _corners(chain, start)}),
    }
    editing.edit_piece(connection, opened.id, piece_key, "measure", base, {"surface.panels.0.openings": [*taken, opening]}, {})
    return f"{piece.name} has an opening of {size['width']} × {size['height']} now, {size['left']} from the left and {size['top']} from the top."


def _corners(chain: Chain, start: Point) -> list[list[str]]:
    """A chain's corners from a place on, as a job file has them."""
    points = chain.points[:-1] if chain.points[0] == chain.points[-1] else chain.points
    return [[_mm(x - start[0]), _mm(y - start[1])] for x, y in points]


def _facets(connection: sqlite3.Connection, opened: Opened, piece_key: str, looked: Looked, base: int) -> str:
    """All chains as points and lines of a facets pattern, cut at the field, which points are measured from."""
    frame = max((each for each in looked.chains if each.axis_aligned), key=lambda each: each.width * each.height, default=None)
    left, top = (min(x for x, _ in frame.points), min(y for _, y in frame.points)) if frame else (looked.left, looked.top)
    points: dict[str, Point] = {}

    def named(point: Point) -> str:
        x, y = point
        for name, (px, py) in points.items():
            if abs(px - x) < SAME_MM and abs(py - y) < SAME_MM:
                return name
        points[f"P{len(points) + 1}"] = (x, y)
        return f"P{len(points)}"

    field = opened.piece(piece_key).surface.panels[0].field
    left, top = left + float(field.left), top + float(field.top)
    box = (0.0, 0.0, float(field.width), float(field.height))
    lines: list[list[str]] = []
    for chain in looked.chains:
        if chain is frame:
            continue
        lines += _inside([(x - left, y - top) for x, y in chain.points], chain.closed, box, named)
        if len(points) > MOST_POINTS:
            raise BadInput(
                f"These are more than {MOST_POINTS} points; facets need straight lines between a few points. Save fewer, or flatten curves more coarsely.",
                "file",
            )
    if not lines:
        raise BadInput("Apart from the outer rectangle the drawing has no lines for facets.", "file")
    pattern = {
        "kind": "facets",
        "points": {name: [_mm(x), _mm(y)] for name, (x, y) in points.items()},
        "lines": lines,
        "fills": [],
        "reserve": None,
    }
    editing.edit_piece(connection, opened.id, piece_key, "pattern", base, {"pattern": pattern}, {})
    return f"{counted(len(lines), 'line')} between {counted(len(points), 'point')} {'is' if len(lines) == 1 else 'are'} now facets: choose a colour for each region at Pattern."


def _inside(points: list[Point], closed: bool, box: tuple[float, ...], named: Callable[[Point], str]) -> list[list[str]]:
    """What of a chain lies in a box, as lines of named points."""
    found: list[list[str]] = []
    ends = [*points, points[0]] if closed else points
    for one, other in pairwise(ends):
        part = _clipped(one, other, box)
        if part is None:
            continue
        first, last = named(part[0]), named(part[1])
        if first == last:
            continue
        if found and found[-1][-1] == first:
            found[-1].append(last)
        else:
            found.append([first, last])
    return found


def _clipped(one: Point, other: Point, box: tuple[float, ...]) -> tuple[Point, Point] | None:
    """The part of a segment in an axis-aligned box (Liang and Barsky's way); None where it lies outside or along an edge."""
    low, high = 0.0, 1.0
    dx, dy = other[0] - one[0], other[1] - one[1]
    for step, room in ((-dx, one[0] - box[0]), (dx, box[2] - one[0]), (-dy, one[1] - box[1]), (dy, box[3] - one[1])):
        if abs(step) < 1e-9:
            if room <= SAME_MM / 2:  # along an edge or beyond it: no line of its own
                return None
            continue
        at = room / step
        if step < 0:
            low = max(low, at)
        else:
            high = min(high, at)
    if low >= high:
        return None
    return (one[0] + low * dx, one[1] + low * dy), (one[0] + high * dx, one[1] + high * dy)


def _mm(mm: float) -> str:
    """A length as a job file has it: to a hundredth of a millimetre."""
    return f"{float(Fraction(round(mm * 100), 100)):g} mm"
