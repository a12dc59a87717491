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
