"""The plan as the JSON document that outside readers rely on (docs/job-and-plan.md). Geometry in mm, rounded to the nanometre."""

import gc
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

import numpy as np
import orjson

from dividers.core.cells.layout import Layout, corners
from dividers.core.cells.lit_sides import lit_sides
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Floats, Ints, Shapes, moved_to
from dividers.core.job.surface import Panel
from dividers.core.job.usual import CUT_IN_MIN_M, coats_of
from dividers.core.marks.marks import Mark
from dividers.core.plan.lines_found import PieceLine, lines_found
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.plan.strips_told import covered, segments_on_panels, sides_in_words, strip_kinds, strip_places
from dividers.core.rounds.options import figures
from dividers.core.rounds.rounds import Round, edges_of_round

PLAN_FORMAT = "dividers-plan/2"
DIGITS = 6


def plan_text(plan: Plan, more: Mapping[str, Any] | None = None) -> str:
    """The plan's JSON text; the same plan always gives the same bytes. `more` has what is added to the whole."""
    with _uncollected():
        return orjson.dumps(plan_document(plan) | dict(more or {}), option=orjson.OPT_SERIALIZE_NUMPY).decode() + "\n"


@contextmanager
def _uncollected() -> Iterator[None]:
    """Without the search for garbage in rings: it walks over all that a large plan's document has so far, again and again, for nothing."""
    searching = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if searching:
            gc.enable()


def plan_document(plan: Plan) -> dict[str, Any]:
    return {
        "format": PLAN_FORMAT,
        "pieces": [_piece(piece) for piece in plan.pieces],
        "materials": [entry for piece in plan.pieces for entry in _materials(piece)],
        "warnings": [vars(warning) for warning in plan.warnings],
    }


def _piece(plan: PiecePlan) -> dict[str, Any]:
    cells, reserves = _cells(plan)
    return {
        "name": plan.piece.name,
        "panels": [_panel(placed.panel) for sheet in plan.sheets for placed in sheet.placed],
        "cells": cells,
        "reserves": reserves,
        "marks": [_mark(plan, number, mark) for number, mark in enumerate(plan.marks, 1)],
        "lines": [_line(plan, number, found) for number, found in enumerate(lines_found(plan), 1)],
        "checks": [
            {"panel": c.panel, "what": c.what, "from": list(c.start), "to": list(c.end), "reading": c.reading.text}
            for c in plan.checks
        ],
        "rounds": _rounds(plan),
        "hand": _hand(plan),
        "taping": {
            "chosen": plan.taping.chosen.taping,
            "reason": plan.taping.reason,
            "fewest_rounds_proved": plan.taping.proved,
            "options": [figures(option) for option in plan.taping.options],
        },
        "lit_sides": [
            {"cell": plan.cell_keys[sheet][side.cell], "kind": side.kind, "line": _rounded(np.array([side.start, side.end]))}
            for sheet, layout in enumerate(plan.layouts)
            for side in lit_sides(layout)
        ],
        "loads": [{"color": color, "cells": list(cells)} for color, cells in plan.loads],
        "facts": [fact.message for fact in plan.facts],
    }


def _panel(panel: Panel) -> dict[str, Any]:
    return {
        "name": panel.name,
        "outline": _rounded(np.array(panel.outline_ring)),
        "field": _rounded(np.array(panel.field_ring)),
        "openings": [
            _rounded(np.array(opening.ring)) if opening.ring else [list(point) for point in corners(opening.box)]
            for opening in panel.openings
        ],
    }


def _rounded(values: Floats) -> list[Any]:
    rounded: list[Any] = (np.round(values, DIGITS) + 0.0).tolist()  # + 0.0 turns -0.0 into 0.0
    return rounded


def _rings(shapes: Shapes) -> list[list[list[list[float]]]]:
    """The rings of every shape."""
    points = _rounded(shapes.points)
    rings = [points[a:b] for a, b in zip(shapes.ring_starts, shapes.ring_starts[1:], strict=False)]
    return [rings[a:b] for a, b in zip(shapes.shape_starts, shapes.shape_starts[1:], strict=False)]


def cell_rounds(plan: PiecePlan, sheet: int) -> Ints:
    """The number of the last pass that paints each cell of a sheet; 0 for cells that stay base, and reserves."""
    numbers = np.zeros(len(plan.layouts[sheet].cells), np.int64)
    for each in plan.taping.chosen.rounds:
        numbers[each.painted[sheet]] = each.number
    return numbers


def _hand(plan: PiecePlan) -> list[dict[str, Any]]:
    """What is painted along edges without tape, by round, colour and kind; lengths on one copy, minutes for all coats."""
    found: list[dict[str, Any]] = []
    for each in plan.taping.chosen.rounds:
        method = plan.piece_in(each.layer).method
        for (color, kind), edges in edges_of_round(plan.layouts, each).items():
            metres = sum(edge.length_mm for edge in edges) / 1000
            found.append(
                {
                    "id": f"h{len(found) + 1}",
                    "layer": plan.piece.stack[each.layer].name,
                    "kind": kind,
                    "color": color,
                    "places": [],
                    "sides": sorted({(edge.panel, edge.side) for edge in edges}),
                    "length_m": round(metres, 4),
                    "minutes": round(metres * CUT_IN_MIN_M * coats_of(method.coats, color), 1),
                }
            )
    for work in plan.hand:
        panels = [panel for panel, *_ in (*work.places, *work.lines)]
        found.append(
            {
                "id": f"h{len(found) + 1}",
                "layer": work.layer.name,
                "kind": work.layer.kind,
                "color": work.color,
                "places": _rounded(np.array([point for _, point in work.places]).reshape(-1, 2)),
                "lines": _rounded(np.array([(start, end) for _, start, end in work.lines]).reshape(-1, 2, 2)),
                "panels": panels,
                "tool": work.layer.tool if work.places else None,
                "size": _rounded(np.array([float(work.layer.width_mm), float(work.layer.height_mm)])) if work.places else None,
                "line_mm": round(float(work.layer.line_mm), DIGITS) if work.lines else None,
                "length_m": round(work.length_mm / 1000, 4),
                "area_m2": round(work.area_m2, DIGITS),
                "minutes": round(work.minutes * work.coats(plan.piece), 1),
            }
        )
        strips = work.registration(plan.job.graduation)
        if strips:
            found[-1]["registration"] = [
                {"readings": [reading.text for reading in each.readings], "rows": each.rows, "down": each.down}
                for each in strips
            ]
    return found


def _shapes_on_panels(shapes: Shapes, panels: Ints, layout: Layout) -> Shapes:
    """Shapes of a sheet, each in the coordinates of its panel."""
    if not any(placed.moved for placed in layout.sheet.placed):
        return shapes
    owner = panels[shapes.ring_shape[shapes.point_ring]]
    points = shapes.points.copy()
    for number, placed in enumerate(layout.sheet.placed):
        points[owner == number] = placed.to_panel(points[owner == number])
    return moved_to(shapes, points)


def _cells(plan: PiecePlan) -> tuple[list[dict[str, Any]], list[dict[str, Any]]]:
    cells: list[dict[str, Any]] = []
    reserves: list[dict[str, Any]] = []
    for number, layout in enumerate(plan.layouts):
        rounds = cell_rounds(plan, number).tolist()
        names = [placed.panel.name for placed in layout.sheet.placed]
        name = plan.layer_of(number).name
        shapes = _rings(_shapes_on_panels(layout.cells, layout.panels, layout))
        rows = zip(
            plan.cell_keys[number],
            layout.panels.tolist(),
            layout.slots.tolist(),
            shapes,
            rounds,
            layout.reserved.tolist(),
            strict=True,
        )
        for index, (key, panel, slot, rings, last, reserved) in enumerate(rows):
            if reserved:
                reserves.append({"id": key, "panel": names[panel], "rings": rings, "layer": name})
                continue
            cell = {
                "id": key,
                "panel": names[panel],
                "color": layout.colors[slot],
                "rings": rings,
                "round": last or None,
                "layer": name,
            }
            if layout.under[index] != NOTHING:
                cell["under"] = layout.colors[layout.under[index]]
            cells.append(cell)
    return cells, reserves


def _mark(plan: PiecePlan, number: int, mark: Mark) -> dict[str, Any]:
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
        "what": mark.what or "line",
        "side": mark.side,
        "layer": plan.piece.layer_names[mark.layer],
        **({"origin": list(mark.origin)} if mark.origin else {}),
        **({"hook": list(mark.hook)} if mark.hook and not mark.origin else {}),
    }


def _line(plan: PiecePlan, number: int, found: PieceLine) -> dict[str, Any]:
    line = found.line
    return {
        "id": f"l{number}",
        "panel": line.panel,
        "layer": plan.piece.layer_names[found.layer],
        "line": _rounded(np.array([line.start, line.end])),
        "how": line.how,
        "marks": [f"m{mark}" for mark in found.marks],
        "corners": [list(corner) for corner in line.corners],
        **({"chalk": True} if line.chalk else {}),
    }


def _rounds(plan: PiecePlan) -> list[dict[str, Any]]:
    rounds = []
    laid = 0
    for each in plan.taping.chosen.rounds:
        strips = _strips(plan, each, laid)
        cells = [
            plan.cell_keys[sheet][index]
            for sheet, painted in enumerate(each.painted)
            for index in np.flatnonzero(painted).tolist()
        ]
        for pull, strip in enumerate(reversed(strips), 1):
            strip["pull"] = pull
        laid += len(strips)
        rounds.append(
            {
                "number": each.number,
                "layer": plan.piece.stack[each.layer].name,
                "colors": list(each.colors),
                "cells": cells,
                "strips": strips,
            }
        )
    return rounds


def _strips(plan: PiecePlan, each: Round, laid: int) -> list[dict[str, Any]]:
    """The strips of a pass over all sheets, numbered on from `laid`."""
    documents: list[dict[str, Any]] = []
    for sheet, strips in enumerate(each.strips):
        layout = plan.layouts[sheet]
        first = laid + len(documents) + 1
        shapes = _rings(_shapes_on_panels(strips.shapes, strips.panel, layout))
        lengths, ends = _rounded(strips.lengths), _rounded(strips.ends.round(3))
        segments = _rounded(segments_on_panels(strips, layout))
        places = strip_places(strips, layout)
        tabs, sides = strips.free_ends(), sides_in_words(strips, layout.sheet)
        beneath = covered(plan, each, sheet)
        kinds = strip_kinds(layout, strips)
        slits = np.round(strips.slit_mm, DIGITS).tolist()
        names = [placed.panel.name for placed in layout.sheet.placed]
        panels, goes_on = strips.panel.tolist(), strips.goes_on.tolist()
        for index, rings in enumerate(shapes):
            documents.append(
                {
                    "id": f"s{first + index}",
                    "panel": names[panels[index]],
                    "kind": kinds[index],
                    "tape": plan.piece_in(each.layer).method.tape.key,
                    "rings": rings,
                    "line": segments[index],
                    "side": sides[index],
                    "where": places[index].words,
                    "length": lengths[index],
                    "ends": ends[index],
                    "slit": None if slits[index] != slits[index] else slits[index],
                    "tab": tabs[index],
                    "edge": "torn" if layout.tiles.torn else "straight",
                    "covers": [plan.cell_keys[on][cell] for on, cell in beneath[index]],
                    "after": [f"s{first + under}" for under in strips.after[index].tolist()],
                }
            )
            if goes_on[index] >= 0:
                documents[-1]["goes_on"] = f"s{first + goes_on[index]}"
                documents[-1]["at_fold"] = "crease" if strips.crease(index) else "cut"
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
    tapes = [
        {
            "item": need.tape.key,
            "kind": "tape",
            "piece": plan.piece.name,
            "length_m": round(need.metres, 3),
            "waste_percent": need.waste_percent,
            "rolls": need.rolls,
            "amount": f"{need.metres:.1f} m",
        }
        for need in plan.tapes
    ]
    return [*paints, *tapes]
