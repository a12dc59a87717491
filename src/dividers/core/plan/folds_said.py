"""Where the misfit goes where panels that are out of square are joined: by how much each of their sides is off the rectangle that is planned."""

from collections.abc import Callable
from fractions import Fraction

import numpy as np

from dividers.core.base.lengths import Graduation, exact
from dividers.core.geometry.shapes import Point
from dividers.core.job.model import Piece
from dividers.core.job.surface import SIDES, Panel
from dividers.core.survey.adjustment import stated
from dividers.core.survey.blunders import NOTHING_MM
from dividers.core.survey.outline import adjusted_outline

INWARD = ((0, 1), (-1, 0), (0, -1), (1, 0))  # by side: top, right, bottom, left
ENDS = (("left", "right"), ("top", "bottom"), ("left", "right"), ("top", "bottom"))


def folds_said(piece: Piece, graduation: Graduation, unit: str, say: Callable[[Fraction], str]) -> list[tuple[str, str]]:
    """For joined panels with readings: that they are planned as stated, and which sides lie elsewhere, by how much. `say` writes a length."""
    at_fold = {(fold.panel, fold.side): fold.other_panel for fold in piece.surface.folds}
    at_fold |= {(fold.other_panel, fold.other_side): fold.panel for fold in piece.surface.folds}
    joined = {name for name, _ in at_fold}
    measured = [panel for panel in piece.surface.panels if panel.name in joined and panel.readings]
    if not measured:
        return []
    found = [
        (
            "survey-folds",
            f"{', '.join(panel.name for panel in measured)}: joined at folds, so the pattern is laid on true rectangles of their stated sizes, "
            "and runs over the folds without a break.",
        )
    ]
    for panel in measured:
        found += [("fold-misfit", words) for words in _sides(panel, at_fold, graduation, unit, say)]
    return found


def _sides(
    panel: Panel, at_fold: dict[tuple[str, str], str], graduation: Graduation, unit: str, say: Callable[[Fraction], str]
) -> list[str]:
    """The sides that lie off the stated rectangle by more than anybody can mark."""
    quad = adjusted_outline(panel, graduation.step_mm, unit)[0].quad
    found = []
    for side, name in enumerate(SIDES):
        ends = _off(quad.points[side], quad.points[(side + 1) % 4], stated(panel).points[side], INWARD[side])
        if side in (2, 3):  # a ring runs from right to left along the bottom and up the left side
            ends = ends[::-1]
        worst = int(np.argmax(np.abs(ends)))
        if abs(ends[worst]) < NOTHING_MM:
            continue
        where = "" if abs(ends[0] - ends[1]) < NOTHING_MM else f", most at the {ENDS[side][worst]}"
        beside = f", the fold to {at_fold[panel.name, name]}," if (panel.name, name) in at_fold else ""
        way, then = ("inside", "narrower") if ends[worst] > 0 else ("beyond", "wider")
        found.append(
            f"{panel.name}: its {name} side{beside} lies {say(exact(round(abs(ends[worst]), 2)))} {way} the rectangle that is planned{where}. "
            f"What lies along it comes out so much {then} there: end the tape at the real edge."
        )
    return found


def _off(start: Point, end: Point, corner: Point, inward: tuple[int, int]) -> list[float]:
    """How far both ends of a side lie inside the stated one, mm."""
    return [float(np.dot(np.subtract(point, corner), inward)) for point in (start, end)]
