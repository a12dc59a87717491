"""What becomes of joined panels that are out of square, in words: how they are laid, what ends at which fold, and what doesn't meet there."""

import math
from collections.abc import Callable, Iterator, Sequence
from fractions import Fraction

import numpy as np

from dividers.core.base.lengths import Graduation, exact
from dividers.core.cells.fold_breaks import fold_breaks, stated_sheet
from dividers.core.cells.layout import Layout, lay_out
from dividers.core.geometry.quads import Quad
from dividers.core.geometry.shapes import Point
from dividers.core.job.model import Piece
from dividers.core.job.surface import SIDES, Fold, Panel
from dividers.core.survey.adjustment import sigma_mm, stated
from dividers.core.survey.blunders import NOTHING_MM
from dividers.core.survey.folded import measured_quad, sides_of_fold

INWARD = ((0, 1), (-1, 0), (0, -1), (1, 0))  # by side: top, right, bottom, left
UNLIKELY = 2.0  # two lengths of a fold that differ by more times what readings usually do are worth measuring again
ENDS = (("left", "right"), ("top", "bottom"), ("left", "right"), ("top", "bottom"))
LAID = {
    "square": "laid with the corners that were measured. Lines are true on each panel, level ones run on over the folds; what lies along a fold is cut to it.",
    "follow": "bent to the corners that were measured, so that lines meet at the folds.",
    "hide": "laid true inside a border along the outer sides; what lies along a fold is cut to the fold as it was measured.",
}

Say = Callable[[float], str]  # a length in mm, to the tape measure's step


def folds_said(
    piece: Piece, layouts: Sequence[Layout], graduation: Graduation, unit: str, write: Callable[[Fraction], str]
) -> list[tuple[str, str]]:
    """Codes and sentences for joined panels with readings. `layouts` are those of the first layer; `write` writes a length."""

    def say(mm: float) -> str:
        return write(max(round(exact(mm) / graduation.step_mm), 1) * graduation.step_mm)

    joined = {name for fold in piece.surface.folds for name in (fold.panel, fold.other_panel)}
    measured = [panel for panel in piece.surface.panels if panel.name in joined and panel.readings]
    found = [*_stated(piece, measured, graduation, unit, say), *_laid(piece, joined, say)]
    found += [("fold-length", words) for words in _lengths(piece, graduation, unit, say)]
    for layout in layouts:
        if any(placed.turned for placed in layout.sheet.placed) and not layout.parts:
            found += [("fold-break", words) for words in _breaks(piece, layout, say)]
    return found


def _stated(piece: Piece, measured: Sequence[Panel], graduation: Graduation, unit: str, say: Say) -> Iterator[tuple[str, str]]:
    """Of panels that are joined to an outline that is no rectangle, and so are laid as stated: where their sides really lie."""
    off = [panel for panel in measured if not panel.shape and measured_quad(panel, graduation, unit)]
    if off:
        names = ", ".join(panel.name for panel in off)
        yield "survey-folds", f"{names}: joined to a panel that is no rectangle, so the pattern is laid on the stated sizes."
    for panel in off:
        quad = measured_quad(panel, graduation, unit)
        if quad:
            yield from (("fold-misfit", words) for words in _sides(piece, panel, quad, say))


def _laid(piece: Piece, joined: set[str], say: Say) -> Iterator[tuple[str, str]]:
    """How the measured panels are laid, and which of their sides lie off what was stated."""
    shaped = [panel for panel in piece.surface.panels if panel.name in joined and panel.shape]
    if shaped:
        yield "survey-folds", f"{', '.join(panel.name for panel in shaped)}: joined at folds, and {LAID[piece.method.fit]}"
    for panel in shaped:
        if panel.shape and not panel.shape.follows:
            yield from (("fold-misfit", words) for words in _sides(piece, panel, panel.shape.outline, say))


def _sides(piece: Piece, panel: Panel, quad: Quad, say: Say) -> Iterator[str]:
    """The sides at folds that lie off the stated rectangle by more than anybody can mark."""
    beyond = {(fold.panel, fold.side): fold.other_panel for fold in piece.surface.folds}
    beyond |= {(fold.other_panel, fold.other_side): fold.panel for fold in piece.surface.folds}
    for side, name in enumerate(SIDES):
        ends = _off(quad.points[side], quad.points[(side + 1) % 4], stated(panel).points[side], INWARD[side])
        if side in (2, 3):  # a ring runs from right to left along the bottom and up the left side
            ends = ends[::-1]
        worst = int(np.argmax(np.abs(ends)))
        if abs(ends[worst]) < NOTHING_MM or (panel.name, name) not in beyond:
            continue
        where = "" if abs(ends[0] - ends[1]) < NOTHING_MM else f", most at the {ENDS[side][worst]}"
        way, then = ("inside", "narrower") if ends[worst] > 0 else ("beyond", "wider")
        yield (
            f"{panel.name}: its {name} side, the fold to {beyond[panel.name, name]}, lies {say(abs(ends[worst]))} {way} what was stated{where}. "
            f"What lies along it comes out so much {then} there."
        )


def _off(start: Point, end: Point, corner: Point, inward: tuple[int, int]) -> list[float]:
    """How far both ends of a side lie inside the stated one, mm."""
    return [float(np.dot(np.subtract(point, corner), inward)) for point in (start, end)]


def _lengths(piece: Piece, graduation: Graduation, unit: str, say: Say) -> Iterator[str]:
    """The folds whose two panels were read to different lengths."""
    panels = {panel.name: panel for panel in piece.surface.panels}
    for fold in piece.surface.folds:
        pair = panels[fold.panel], panels[fold.other_panel]
        quads = {panel.name: measured_quad(panel, graduation, unit) for panel in pair}
        if not all(panel.shape and quads[panel.name] for panel in pair):
            continue
        read = {name: quad for name, quad in quads.items() if quad}
        used = sides_of_fold(fold, {panel.name: panel.shape.outline for panel in pair if panel.shape})
        chance = UNLIKELY * math.hypot(*(sigma_mm(mm, float(graduation.step_mm)) for mm in used))
        if abs(used[0] - used[1]) < NOTHING_MM and abs(np.subtract(*sides_of_fold(fold, read))) > chance:
            one, other, between = (say(mm) for mm in (*sides_of_fold(fold, read), used[0]))
            yield (
                f"The fold of {_names(fold)} is {one} long by the readings of {fold.panel}, {other} by those of {fold.other_panel}: "
                f"{between} is used. Measure it once more."
            )


def _names(fold: Fold) -> str:
    return f"{fold.panel} and {fold.other_panel}"


def _breaks(piece: Piece, layout: Layout, say: Say) -> Iterator[str]:
    """The folds over which lines of the pattern don't meet, and by how much."""
    as_stated = lay_out(stated_sheet(layout.sheet), piece.pattern, piece.base, float(piece.method.tape.width_mm))
    for each in fold_breaks(layout, as_stated):
        one, other = each.panels
        cure = "" if piece.method.fit == "follow" else " “Follow the outline” at Measure bends the pattern so that they meet."
        yield f"Over the fold of {one} and {other} lines meet up to {say(each.longest_mm)} apart.{cure}"
