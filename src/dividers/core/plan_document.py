"""The plan as the JSON document that outside readers rely on (docs/job-and-plan.md). Geometry in mm, rounded to the nanometre."""

import json
from typing import Any

import numpy as np

from dividers.core.geometry.shapes import Floats, Ints, Shapes
from dividers.core.layout import Layout, corners
from dividers.core.marks import Mark
from dividers.core.passes import Pass, figures
from dividers.core.plan import PiecePlan, Plan

PLAN_FORMAT = "dividers-plan/1"
DIGITS = 6


def plan_text(plan: Plan) -> str:
    """The plan's JSON text; the same plan always gives the same bytes."""
    return json.dumps(plan_document(plan), ensure_ascii=False, separators=(",", ":")) + "\n"


def plan_document(plan: Plan) -> dict[str, Any]:
    return {
        "format": PLAN_FORMAT,
        "pieces": [_piece(piece) for piece in plan.pieces],
        "materials": [entry for piece in plan.pieces for entry in _materials(piece)],
        "warnings": [vars(warning) for warning in plan.warnings],
    }


def _piece(plan: PiecePlan) -> dict[str, Any]:
    return {
        "name": plan.piece.name,
        "panels": [_panel(layout) for layout in plan.layouts],
        "cells": _cells(plan),
        "reserves": [],
        "marks": [_mark(number, mark) for number, mark in enumerate(plan.marks, 1)],
        "checks": [
            {"panel": c.panel, "what": c.what, "from": list(c.start), "to": list(c.end), "reading": c.reading.text}
            for c in plan.checks
        ],
        "passes": _passes(plan),
        "taping": {
            "chosen": plan.taping.chosen.taping,
            "reason": plan.taping.reason,
            "options": [figures(option) for option in plan.taping.options],
        },
    }


def _panel(layout: Layout) -> dict[str, Any]:
    panel = layout.panel
    return {
        "name": panel.name,
        "outline": [list(point) for point in corners(panel.outline)],
        "field": [list(point) for point in corners(panel.field)],
        "openings": [[list(point) for point in corners(opening.box)] for opening in panel.openings],
    }


def _rounded(values: Floats) -> list[Any]:
    rounded: list[Any] = (np.round(values, DIGITS) + 0.0).tolist()  # + 0.0 turns -0.0 into 0.0
    return rounded


def _rings(shapes: Shapes) -> list[list[list[list[float]]]]:
    """The rings of every shape."""
    points = _rounded(shapes.points)
    rings = [points[a:b] for a, b in zip(shapes.ring_starts, shapes.ring_starts[1:], strict=False)]
    return [rings[a:b] for a, b in zip(shapes.shape_starts, shapes.shape_starts[1:], strict=False)]


def cell_passes(plan: PiecePlan, panel: int) -> Ints:
    """The number of the pass that paints each cell of a panel; 0 for cells that stay base."""
    numbers = np.zeros(len(plan.layouts[panel].cells), np.int64)
    for each in plan.taping.chosen.passes:
        numbers[each.painted[panel]] = each.number
    return numbers


def _cells(plan: PiecePlan) -> list[dict[str, Any]]:
    cells = []
    for number, layout in enumerate(plan.layouts):
        first = plan.first_cell[number] + 1
        passes = cell_passes(plan, number).tolist()
        for index, rings in enumerate(_rings(layout.cells)):
            cells.append(
                {
                    "id": f"c{first + index}",
                    "panel": layout.panel.name,
                    "color": layout.color(index),
                    "rings": rings,
                    "pass": passes[index] or None,
                }
            )
    return cells


def _mark(number: int, mark: Mark) -> dict[str, Any]:
    x, y = _rounded(np.array([mark.x, mark.y]))
    return {
        "id": f"m{number}",
        "panel": mark.panel,
        "x": x,
        "y": y,
        "line": mark.line,
        "from": mark.datum,
        "reading": mark.reading.text,
        "error": round(float(mark.reading.error_mm), DIGITS) + 0.0,
        "order": mark.order,
    }


def _passes(plan: PiecePlan) -> list[dict[str, Any]]:
    passes = []
    laid = 0
    for each in plan.taping.chosen.passes:
        strips = _strips(plan, each, laid)
        laid += len(strips)
        cells = [
            f"c{plan.first_cell[panel] + index + 1}"
            for panel, painted in enumerate(each.painted)
            for index in np.flatnonzero(painted).tolist()
        ]
        passes.append({"number": each.number, "colors": [each.color], "cells": cells, "strips": strips})
    return passes


def _strips(plan: PiecePlan, each: Pass, laid: int) -> list[dict[str, Any]]:
    """The strips of a pass over all panels, numbered on from `laid`."""
    documents: list[dict[str, Any]] = []
    for panel, strips in enumerate(each.strips):
        first, first_cell = laid + len(documents) + 1, plan.first_cell[panel] + 1
        for index, rings in enumerate(_rings(strips.shapes)):
            slit = float(strips.slit_mm[index])
            documents.append(
                {
                    "id": f"s{first + index}",
                    "panel": plan.layouts[panel].panel.name,
                    "kind": "perimeter" if strips.perimeter[index] else "edge",
                    "tape": plan.piece.method.tape.key,
                    "rings": rings,
                    "line": _rounded(np.array(strips.segment(index))),
                    "side": strips.side_in_words(index),
                    "length": round(float(strips.lengths[index]), DIGITS),
                    "ends": _rounded(strips.ends[index].round(3)),
                    "slit": None if np.isnan(slit) else round(slit, DIGITS),
                    "covers": [f"c{first_cell + int(cell)}" for cell in strips.covers[index]],
                    "after": [f"s{first + int(under)}" for under in strips.after[index]],
                }
            )
    return documents


def _materials(plan: PiecePlan) -> list[dict[str, Any]]:
    paints = [
        {
            "item": need.color,
            "kind": "paint",
            "piece": plan.piece.name,
            "use": "base" if need.is_base else "pattern",
            "product": need.product or None,
            "area_m2": round(need.area_m2, DIGITS),
            "coats": need.coats,
            "amount": f"{need.litres:.3f} L",
        }
        for need in plan.paints
    ]
    tape = {
        "item": plan.tape.tape.key,
        "kind": "tape",
        "piece": plan.piece.name,
        "length_m": round(plan.tape.metres, 3),
        "waste_percent": plan.tape.waste_percent,
        "rolls": plan.tape.rolls,
        "amount": f"{plan.tape.metres:.1f} m",
    }
    return [*paints, tape]
