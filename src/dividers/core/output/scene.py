"""What to draw of a piece, apart from who draws it: shapes with a role, in millimetres.

`core.drawing` makes scenes, the SVG and PDF writers give the roles their looks. Keys ("c3", "s1", "m2") are the plan's ids, so
that lists and drawing can light each other up.
"""

from dataclasses import dataclass

from dividers.core.geometry.shapes import Point


@dataclass(frozen=True)
class Area:
    """A shape, filled where it has a `fill`. `state` is paint (this round), done, later, keep, reserve or "" where rounds don't matter.

    `sign` is a point well inside, for a sign to paint or to keep; `sheen` that of the paint, where it has one of its own.
    """

    key: str
    rings: tuple[tuple[Point, ...], ...]
    fill: str
    state: str = ""
    sign: Point | None = None
    title: str = ""
    sheen: str = ""
    layer: int = 0


@dataclass(frozen=True)
class Stroke:
    """A straight line with a role: snap, level, check, tick, facing, ruler, fold, start, bright or shade."""

    role: str
    start: Point
    end: Point
    key: str = ""


@dataclass(frozen=True)
class Dot:
    """A round mark at a point: a dot of the pattern."""

    at: Point
    key: str = ""


@dataclass(frozen=True)
class Label:
    """A short text at a point; `anchor` says where on the text the point is: start, middle or end."""

    role: str
    at: Point
    text: str
    anchor: str = "middle"
    key: str = ""


@dataclass(frozen=True)
class Scene:
    """A drawing of `width` x `height` mm from (left, top). `em` is the height in mm of a text that reads well at page size.

    A `simplified` scene has too many parts to be pointed at one by one.
    """

    left: float
    top: float
    width: float
    height: float
    em: float
    cells: tuple[Area, ...]
    openings: tuple[Area, ...]
    strips: tuple[Area, ...] = ()
    strokes: tuple[Stroke, ...] = ()
    labels: tuple[Label, ...] = ()
    dots: tuple[Dot, ...] = ()
    outlines: tuple[tuple[Point, ...], ...] = ()
    simplified: bool = False
    by_hand: tuple[Area, ...] = ()


@dataclass(frozen=True)
class View:
    """What a station wants to see: pencil marks, the strips of one round, or only the finished look; and which layers. With `corners`
    those of outlines are numbered.

    Without `layers` all are seen; marks are shown of `marks_of`, or of every layer where that is None.
    """

    marks: bool = False
    strips_of: int | None = None
    layers: frozenset[int] | None = None
    marks_of: int | None = None
    corners: bool = False
