"""Layouts for tests, made of cells that no pattern makes."""

from fractions import Fraction

import numpy as np

from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import borders_of
from dividers.core.geometry.shapes import from_rings
from dividers.core.job.surface import Panel, Rectangle
from dividers.core.patterns.base.parameters import Tiles
from dividers.core.survey.sheet import Placed, Sheet

SIZE = 400


def box(left, top, right, bottom):
    return [(left, top), (right, top), (right, bottom), (left, bottom)]


def layout_of(rings, painted, size=SIZE):
    cells = from_rings(np.array(rings, float))
    whole = Rectangle(Fraction(0), Fraction(0), Fraction(size), Fraction(size))
    panel = Panel("p", Fraction(size), Fraction(size), whole)
    none, count = np.full(len(cells), -1), len(cells)
    slots = np.where(painted, 0, 1)
    return Layout(
        sheet=Sheet((Placed(panel),)),
        cells=cells,
        slots=slots,
        colors=("ink", None),
        borders=borders_of(cells),
        panels=np.zeros(count, np.int64),
        under=none,
        layers=np.zeros(count, np.int64),
        reserved=np.zeros(count, bool),
        origins=np.arange(count),
        tiles=Tiles(cells, slots, ("ink", None)),
    )
