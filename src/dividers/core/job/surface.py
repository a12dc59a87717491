"""The surface of a piece: panels as measured, with their openings, folds and readings. Exact fractions of millimetres, y down."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction

from dividers.core.geometry.quads import Quad, rectangle
from dividers.core.geometry.shapes import Point

SIDES = ("top", "right", "bottom", "left")
TAPE, CUT_IN, FREE, WRAP = EDGE_KINDS = ("tape", "cut-in", "free", "wrap")
SURFACE_KINDS = ("wall", "ceiling", "floor", "stairs", "furniture", "paper", "canvas")
FLAT_KINDS = ("ceiling", "floor", "paper", "canvas")  # on these nothing is plumb, and level is no way across


TEXTURES = ("glass", "smooth", "light", "rough", "grain", "canvas", "hot-pressed", "cold-pressed")


TO_PAINT, BASE_ON = "to paint", "on"
BASE_STATES = (TO_PAINT, BASE_ON)
FINISH_STATES = ("bare", "sealed", "painted")


@dataclass(frozen=True)
class Rectangle:
    """An axis-aligned rectangle in a panel: (left, top) to (right, bottom), in mm."""

    left: Fraction
    top: Fraction
    right: Fraction
    bottom: Fraction

    @property
    def width(self) -> Fraction:
        return self.right - self.left

    @property
    def height(self) -> Fraction:
        return self.bottom - self.top

    def overlap(self, other: "Rectangle") -> "Rectangle | None":
        """What both cover, or None when they share no area."""
        both = Rectangle(
            max(self.left, other.left), max(self.top, other.top), min(self.right, other.right), min(self.bottom, other.bottom)
        )
        return both if both.width > 0 and both.height > 0 else None


def quad_of(box: Rectangle) -> Quad:
    return rectangle(float(box.left), float(box.top), float(box.right), float(box.bottom))


@dataclass(frozen=True)
class Opening:
    """A door, a window, anything in a panel that isn't painted."""

    name: str
    box: Rectangle
    ring: tuple[Point, ...] = ()  # of one that is no rectangle; `box` is then what it lies in

    @property
    def corners(self) -> tuple[Point, ...]:
        """Its ring, whatever its shape, clockwise to the eye."""
        return self.ring or quad_of(self.box).corners


@dataclass(frozen=True)
class CornerDistance:
    """A straight distance between two corners, by their numbers from 1, as read in mm."""

    start: int
    end: int
    mm: Fraction


@dataclass(frozen=True)
class JudgedDistance:
    """How a distance fits the others: what it reads more than the adjusted corners, None where nothing checks it.

    One that doesn't fit has what the others give in `expected_mm`, and isn't used.
    """

    distance: CornerDistance
    off_mm: float | None
    expected_mm: float | None = None


@dataclass(frozen=True)
class Contour:
    """A panel that is no rectangle: its outline as a ring (arcs flattened), and the ring of what is painted, inside the margins.

    `corners` are those that were written, as adjusted; `judged` the distances between them that were measured.
    """

    outline: tuple[Point, ...]
    field: tuple[Point, ...]
    corners: tuple[Point, ...] = ()
    judged: tuple[JudgedDistance, ...] = ()


@dataclass(frozen=True)
class SurveyReading:
    """One reading of a survey as taken, in mm.

    `kind` is width (at `at_mm` down from the top), height (at `at_mm` from the left), diagonal, level or plumb. `way` is for a diagonal
    falling or rising to the right; for a level reading what lies where: top (the top edge so far below the level line), up (so far
    above it) or bottom (the bottom edge below it), at `at_mm` along; for a plumb reading the side, left or right, that lies so far to the
    right (negative: left) of a plumb line from its top, `at_mm` down. Widths and heights without a place are evenly spaced. `place` is
    its path in the survey, like widths.1; one set `aside` isn't used. `story` says who took it when, and what was read before.
    """

    kind: str
    place: str
    mm: Fraction
    at_mm: Fraction | None = None
    way: str = ""
    aside: bool = False
    story: str = field(default="", compare=False)


@dataclass(frozen=True)
class Marked:
    """What was measured after marking: readings of a mark line's marks in the order along it, and both diagonals of the field."""

    lines: Mapping[str, tuple[Fraction | None, ...]] = field(default_factory=dict)
    diagonals: tuple[Fraction | None, ...] = ()


@dataclass(frozen=True)
class Shape:
    """What a panel measures when it is no true rectangle: its outline, and the field inside the margins.

    Where the field `follows`, the pattern is laid on the stated rectangle and mapped onto it; else it is laid true and cut to it.
    `stated` is the field that the stated size and margins would give. A true pattern that goes on over a fold goes by `size` (width, height)
    in place of the stated one, so that nothing is lost at the fold.
    """

    outline: Quad
    field: Quad
    stated: Rectangle
    follows: bool = False
    size: tuple[Fraction, Fraction] | None = None


@dataclass(frozen=True)
class Panel:
    """One flat panel: its stated size, the rectangle that its pattern is laid on, and its openings.

    With a `contour` size and field are those of the boxes around it; the pattern is laid on the field's box and cut to it.
    `shape` is there when the readings say that it is no true rectangle. `edges` says how each of SIDES is done; paint goes round
    those that it wraps by `wrap_depth_mm`. One that stands on a fold, as a ceiling does on a wall, is measured up from it.
    """

    name: str
    width_mm: Fraction
    height_mm: Fraction
    field: Rectangle
    openings: tuple[Opening, ...] = ()
    readings: tuple[SurveyReading, ...] = ()
    shape: Shape | None = None
    marked: Marked = Marked()
    edges: tuple[str, ...] = (TAPE,) * 4
    wrap_depth_mm: Fraction = Fraction(0)
    contour: Contour | None = None
    on_fold: bool = False

    @property
    def sheet_size(self) -> tuple[Fraction, Fraction]:
        """How wide and high it is on a sheet that is laid over its folds."""
        return self.shape.size if self.shape and self.shape.size else (self.width_mm, self.height_mm)

    @property
    def outline_ring(self) -> tuple[Point, ...]:
        """The outline as measured, clockwise to the eye, whatever its shape."""
        return self.contour.outline if self.contour else self.outline_quad.corners

    @property
    def field_ring(self) -> tuple[Point, ...]:
        """What is painted, openings not taken off, whatever its shape."""
        return self.contour.field if self.contour else self.field_quad.corners

    @property
    def outline(self) -> Rectangle:
        return Rectangle(Fraction(0), Fraction(0), self.width_mm, self.height_mm)

    @property
    def outline_quad(self) -> Quad:
        """The outline as measured."""
        return self.shape.outline if self.shape else quad_of(self.outline)

    @property
    def field_quad(self) -> Quad:
        """What is painted, as measured."""
        return self.shape.field if self.shape else quad_of(self.field)


@dataclass(frozen=True)
class Fold:
    """Two panels joined along a side of each."""

    panel: str
    side: str
    other_panel: str
    other_side: str


@dataclass(frozen=True)
class Surface:
    kind: str
    texture: str
    finish: str
    panels: tuple[Panel, ...]
    folds: tuple[Fold, ...] = ()
    base: str = ""  # of BASE_STATES; or since when the base colour is on; "" where nothing is said

    @property
    def base_on(self) -> bool:
        """Whether the base colour is on already."""
        return self.base not in ("", TO_PAINT)

    @property
    def painted_on(self) -> str | None:
        """Since when the base colour is on, where that is known."""
        return self.base if self.base_on and self.base != BASE_ON else None
