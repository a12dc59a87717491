"""The job: what is to be painted, as valid typed data. `job_reader.read_job` makes one from a job file.

Lengths are exact fractions of millimetres; x to the right, y down from a panel's top-left corner.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.errors import Fault
from dividers.core.evidence import Counts
from dividers.core.geometry.quads import Quad, rectangle
from dividers.core.lengths import Graduation

JOB_FORMAT = "dividers-job/1"
SURFACE_KINDS = ("wall", "ceiling", "floor", "stairs", "furniture", "paper", "canvas")
TEXTURES = ("glass", "smooth", "light", "rough", "grain", "canvas", "hot-pressed", "cold-pressed")
FINISH_STATES = ("bare", "sealed", "painted")
BINDERS = ("water", "oil", "shellac")
SHEENS = ("flat", "matte", "satin", "semi-gloss", "gloss")
ADHESIONS = ("delicate", "medium", "strong")
FITS = ("square", "follow", "hide")
TAPINGS = ("auto", "strips", "pieces", "reserve")
SEALS = ("auto", "none", "moisten", "base", "clear", "matte-medium", "caulk")
EXITS = ("bottom", "left", "right", "top")
PREPS = ("clean", "fill", "sand", "prime")
TOOLS = ("brush", "roller", "spray")
PULLS = ("auto", "wet", "touch-dry", "dry")
MARK_SIDES = ("auto", "painted-side", "tape-side")
MARK_ORDERS = ("centre-first", "along")
MARK_WAYS = ("auto", "perimeter", "verticals")
DATUMS = ("left", "right", "centre")
DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


@dataclass(frozen=True)
class Colour:
    key: str
    name: str
    hex: str
    sheen: str = ""


@dataclass(frozen=True)
class Paint:
    """A paint as its label states it. Times in minutes, None where the label is silent."""

    key: str
    binder: str
    sheen: str
    spread_m2_l: Fraction
    touch_dry_min: Fraction | None = None
    recoat_min: Fraction | None = None
    tape_safe_min: Fraction | None = None
    full_dry_min: Fraction | None = None
    wet_edge_min: Fraction | None = None
    least_c: Fraction | None = None
    most_c: Fraction | None = None
    most_percent: Fraction | None = None
    glaze_parts: Fraction | None = None  # of glaze to one of paint


@dataclass(frozen=True)
class Tape:
    """A masking tape: its actual width, and the length of a roll."""

    key: str
    width_mm: Fraction
    adhesion: str
    swelling_edge: bool
    roll_mm: Fraction
    remove_within_min: Fraction | None = None


@dataclass(frozen=True)
class Seal:
    """A seal of the tape's edge by one of SEALS' methods, where it differs from what is usual.

    `dry_min` is the wait before paint goes on, `skin_min` by when the tape must be off again, `sealed_m_per_h` how fast it goes.
    """

    key: str
    method: str
    dry_min: Fraction | None = None
    skin_min: Fraction | None = None
    sealed_m_per_h: Fraction | None = None


@dataclass(frozen=True)
class Supply:
    """What there is of an item and how it is sold: stock and sizes in litres, or metres of tape; a price for each size."""

    stock: Fraction = Fraction(0)
    sizes: tuple[Fraction, ...] = ()
    prices: tuple[Fraction, ...] = ()


@dataclass(frozen=True)
class Rectangle:
    """An upright rectangle in a panel: (left, top) to (right, bottom), in mm."""

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


@dataclass(frozen=True)
class SurveyReading:
    """One reading of a survey as taken, in mm.

    `kind` is width (at `at_mm` down from the top), height (at `at_mm` from the left), diagonal, level or plumb. `way` is for a diagonal
    falling or rising to the right; for a level reading what lies where: top (the top edge so far below the level line), up (so far
    above it) or bottom (the bottom edge below it), at `at_mm` along; for a plumb reading the side, left or right, that lies so far to the
    right (negative: left) of a plumb line from its top, `at_mm` down. Widths and heights without a place are evenly spaced. `place` is
    where it stands in the survey, like widths.1; one set `aside` isn't used. `story` tells who took it when, and what was read before.
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
    `stated` is the field that the stated size and margins would give.
    """

    outline: Quad
    field: Quad
    stated: Rectangle
    follows: bool = False


@dataclass(frozen=True)
class Panel:
    """One flat panel: its stated size, the rectangle that its pattern is laid on, and its openings.

    `shape` is there when the readings say that it is no true rectangle.
    """

    name: str
    width_mm: Fraction
    height_mm: Fraction
    field: Rectangle
    openings: tuple[Opening, ...] = ()
    readings: tuple[SurveyReading, ...] = ()
    shape: Shape | None = None
    marked: Marked = Marked()

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
    painted_on: str | None = None


@dataclass(frozen=True)
class PatternChoice:
    """A pattern's kind with its parameters' values, read and checked as that pattern states them."""

    kind: str
    values: Mapping[str, Any]


@dataclass(frozen=True)
class Rates:
    """How fast the work goes: all common practice with no source, to be changed to one's own."""

    taped_m_per_h: float = 60.0
    cut_min: float = 0.5
    round_min: float = 15.0
    painted_m2_per_h: float = 8.0
    sealed_m_per_h: float = 90.0
    pulled_m_per_h: float = 180.0
    mark_min: float = 0.75


@dataclass(frozen=True)
class Limits:
    """What the eye lets pass, in mm and degrees: all common practice with no source, to be changed to one's own.

    A difference up to `unnoticed` needs nothing done. Shared out, each repeat may differ by `per_repeat` and lines slope by
    `slope_deg`. A remainder up to `stretch` can be stretched into the last repeat.
    """

    unnoticed_mm: Fraction = Fraction(3)
    per_repeat_mm: Fraction = Fraction(3)
    slope_deg: Fraction = Fraction(1, 2)
    stretch_mm: Fraction = Fraction(13)


@dataclass(frozen=True)
class Method:
    """How the piece is to be taped and painted. `paint` and `coats` go by colour key; `order` is the wished order of colours."""

    tape: Tape
    fit: str = "square"
    border_mm: Fraction = Fraction(0)
    limits: Limits = Limits()
    taping: str = "auto"
    paint: Mapping[str, Paint] = field(default_factory=dict)
    coats: Mapping[str, int] = field(default_factory=dict)
    seal: str = "auto"
    pull: str = "auto"
    marks: str = "auto"
    mark_order: str = "centre-first"
    mark_way: str = "auto"
    datum: str = "left"
    order: tuple[str, ...] = ()
    rates: Rates = Rates()
    tape_waste_percent: int = 10
    prep: tuple[str, ...] = ()
    clear_coats: int = 0
    exit: str = "bottom"
    window_percent: int = 80
    seals: Mapping[str, Seal] = field(default_factory=dict)
    tool: str = "roller"


@dataclass(frozen=True)
class Piece:
    """One thing to paint: a surface with a pattern and a method. `key` names it in addresses."""

    key: str
    name: str
    base: str
    surface: Surface
    pattern: PatternChoice
    method: Method
    copies: int = 1


@dataclass(frozen=True)
class Crew:
    painters: int = 1
    start: str | None = None
    days: tuple[str, ...] = DAYS[:6]
    hours: tuple[tuple[str, str], ...] = (("08:00", "12:00"), ("12:30", "17:30"))
    busy: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Climate:
    temperature_c: Fraction = Fraction(23)
    humidity_percent: Fraction = Fraction(50)
    surface_c: Fraction | None = None


@dataclass(frozen=True)
class Job:
    """A whole job. `document` is the job file as read, unknown keys and all; `warnings` what was odd in it.

    `evidence` is what the logbook found on grounds like these, where the job file tells it.
    """

    title: str
    units: str
    graduation: Graduation
    palette: Mapping[str, Colour]
    products: Mapping[str, "Paint | Tape | Seal"]
    pieces: tuple[Piece, ...]
    crew: Crew
    climate: Climate
    document: Mapping[str, Any] = field(repr=False)
    warnings: tuple[Fault, ...] = ()
    evidence: Counts = field(default_factory=dict)
    supplies: Mapping[str, Supply] = field(default_factory=dict)
    currency: str = ""

    def piece(self, key: str) -> Piece | None:
        return next((piece for piece in self.pieces if piece.key == key), None)
