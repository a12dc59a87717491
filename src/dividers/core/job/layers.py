"""Layers: what is painted over what on one piece, each in its zone. Lengths are exact fractions of millimetres from a panel's top left."""

from dataclasses import dataclass
from fractions import Fraction

from dividers.core.job.method import Method, PatternChoice
from dividers.core.job.surface import Rectangle

ALL, RECT, POINTS, CELLS = "all", "rect", "points", "cells"

Place = tuple[Fraction, Fraction]


@dataclass(frozen=True)
class Zone:
    """Where a layer is laid: `kind` is all of the field, a rectangle, a ring of points, or cells of a layer below.

    Cells are chosen by `color` (None: those that stay unpainted there) or, where `at` is given, by a place in each. With `each` the
    pattern is laid in every cell by itself. `panel` names the panel that a rectangle or places are on, "" for the first.
    """

    kind: str = ALL
    box: Rectangle | None = None
    points: tuple[Place, ...] = ()
    layer: str = ""
    color: str | None = None
    at: tuple[Place, ...] = ()
    each: bool = False
    panel: str = ""


WHOLE = Zone()


@dataclass(frozen=True)
class AsPainted:
    """Where a line of a layer really came out: `line` like “band 3, top”, its distance `at_mm` from the panel's top or left, `along_mm` on."""

    line: str
    at_mm: Fraction
    along_mm: Fraction | None = None


@dataclass(frozen=True)
class Layer:
    """One layer: its pattern, where it is laid, how it is done, and what was measured of it once it was painted."""

    name: str
    pattern: PatternChoice
    method: Method
    zone: Zone = WHOLE
    as_painted: tuple[AsPainted, ...] = ()


MOTIFS, SHADING = HAND_KINDS = ("motifs", "shading")
CROSSINGS, CENTRES, BETWEEN = MOTIF_PLACES = ("crossings", "centres", "between")
STAMP, STENCIL, DOT, NAIL_HEAD = TOOLS = ("stamp", "stencil", "dot", "nail head")
AUTO, EACH, STRIP, PAINT = MARKED_BY = ("auto", "each", "strip", "paint")
LIGHTS = ("top left", "top", "top right", "right", "bottom right", "bottom", "bottom left", "left")


@dataclass(frozen=True)
class HandLayer:
    """What is done by hand over a layer, without tape: `kind` is motifs or shading, `of` the layer's name.

    Motifs of `width` x `height` mm lie `at` its crossings, its centres, between what it paints, or at places on `panel`; of centres those
    of parts of the colour `inside` (where it is given) and one of `every`; between stripes so far apart as `spacing_mm`. They are marked
    each, by a registration strip, or go by what is painted. Shading draws a line
    of `line_mm` along each side of what it paints: `bright` where it faces the light, `dark` where it faces away. Minutes are those of one motif,
    of one metre.
    """

    name: str
    kind: str
    of: str
    at: str | tuple[Place, ...] = CROSSINGS
    panel: str = ""
    tool: str = DOT
    width_mm: Fraction = Fraction(0)
    height_mm: Fraction = Fraction(0)
    color: str = ""
    inside: str = ""
    every: int = 1
    spacing_mm: Fraction | None = None
    minutes_each: float = 0.0
    light: str = LIGHTS[0]
    dark: str | None = None
    bright: str | None = None
    line_mm: Fraction = Fraction(0)
    minutes_per_m: float = 0.0
    marked_by: str = AUTO

    @property
    def marking(self) -> str:
        """How its motifs are marked: where lines cross what is painted shows the place; else rows by a strip, which leaves short ones as they are."""
        return self.marked_by if self.marked_by != AUTO else PAINT if self.at == CROSSINGS else STRIP

    @property
    def colors(self) -> tuple[str, ...]:
        """The colours that it is done in, in working order: of shading all dark lines first."""
        return tuple(color for color in (self.color, self.dark, self.bright) if color)
