"""What a panel really measures, and what is done about it: the pattern follows the outline, stays square, or hides it in a border."""

import math
from dataclasses import replace
from fractions import Fraction
from functools import lru_cache

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation, write_exact
from dividers.core.geometry.quads import Box, Quad
from dividers.core.job.method import Method
from dividers.core.job.surface import Panel, Rectangle, Shape, SurveyReading, quad_of
from dividers.core.survey.adjustment import Adjusted, Blunder, find_blunders, stated
from dividers.core.survey.blunders import NOTHING_MM, Judge

LEAST_FIELD_MM = Fraction(10)

# Corners are rounded to 0.01 mm, far below what is read: what is level or plumb to less than that then is so exactly.
CORNER_DIGITS = 2


def measured(panel: Panel, method: Method, graduation: Graduation, unit: str) -> Panel:
    """The panel with the shape its readings give, laid as the method says.

    Without readings, or where they show the stated rectangle to less than anybody can mark, it stays as it is. Raises BadInput where a
    border leaves nothing, with the key's path in the piece.
    """
    if not panel.readings:
        return panel
    outline = Quad.of(np.round(adjusted_outline(panel, graduation.step_mm, unit)[0].quad.points, CORNER_DIGITS))
    if np.abs(outline.points - stated(panel).points).max() < NOTHING_MM:
        return panel
    return shaped(panel, outline, method.fit, method.border_mm, graduation.step_mm, unit)


@lru_cache(maxsize=256)
def _adjusted(
    width_mm: Fraction, height_mm: Fraction, readings: tuple[SurveyReading, ...], step_mm: Fraction, unit: str
) -> tuple[Adjusted, tuple[Blunder, ...]]:
    bare = Panel("", width_mm, height_mm, Rectangle(Fraction(0), Fraction(0), width_mm, height_mm))
    return find_blunders(bare, readings, float(step_mm), Judge(readings, unit))


def adjusted_outline(panel: Panel, step_mm: Fraction, unit: str) -> tuple[Adjusted, tuple[Blunder, ...]]:
    """The outline that a panel's readings fit best, and the readings that don't fit it."""
    return _adjusted(panel.width_mm, panel.height_mm, panel.readings, step_mm, unit)


def shaped(panel: Panel, outline: Quad, fit: str, border_mm: Fraction, step_mm: Fraction, unit: str) -> Panel:
    """A panel with an outline: its field follows it, is cut square to it, or is the true rectangle that a border leaves.

    A square pattern is laid on the largest true rectangle inside the field, on the tape measure's marks, so that no size is larger than
    what was read, and its outermost parts run out to the field's sides. Raises BadInput.
    """
    own = panel.field
    field = outline.inset(*margins_of(panel))
    if fit == "follow":
        return replace(panel, shape=Shape(outline, field, own, follows=True))
    if fit == "hide":
        inside = true_inside(field, border_mm, step_mm)
        if min(inside.width, inside.height) < LEAST_FIELD_MM:
            raise BadInput(
                f"a border of {write_exact(border_mm, unit)} leaves nothing of {panel.name} to paint. Make it smaller.",
                "method.border",
            )
        return replace(panel, field=inside, shape=Shape(outline, quad_of(inside), own))
    inside = true_inside(field, Fraction(0), step_mm)
    if min(inside.width, inside.height) < LEAST_FIELD_MM:  # it leans by more than it is wide
        inside = _outward(field.box, step_mm)
    return replace(panel, field=inside, shape=Shape(outline, field, own))


def unshaped(panel: Panel) -> Panel:
    """A panel as stated, whatever its readings say."""
    return replace(panel, field=panel.shape.stated, shape=None) if panel.shape else panel


def margins_of(panel: Panel) -> tuple[float, float, float, float]:
    """A panel's stated margins: top, right, bottom, left."""
    own = unshaped(panel).field
    return float(own.top), float(panel.width_mm - own.right), float(panel.height_mm - own.bottom), float(own.left)


def true_inside(field: Quad, border_mm: Fraction, step_mm: Fraction) -> Rectangle:
    """The true rectangle inside a field that leaves a border at least so wide, on the tape measure's marks."""
    left, top, right, bottom = field.inner_box
    b, step = float(border_mm), float(step_mm)
    return Rectangle(
        math.ceil(_steps(left + b, step)) * step_mm,
        math.ceil(_steps(top + b, step)) * step_mm,
        math.floor(_steps(right - b, step)) * step_mm,
        math.floor(_steps(bottom - b, step)) * step_mm,
    )


def _outward(box: Box, step_mm: Fraction) -> Rectangle:
    left, top, right, bottom = (_steps(side, float(step_mm)) for side in box)
    return Rectangle(
        math.floor(left) * step_mm, math.floor(top) * step_mm, math.ceil(right) * step_mm, math.ceil(bottom) * step_mm
    )


def _steps(mm: float, step: float) -> float:
    """A length in steps of the tape measure, freed of float noise."""
    return round(mm / step, 6)
