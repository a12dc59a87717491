"""The plan as the JSON document that outside readers rely on (docs/job-and-plan.md). Geometry in mm, rounded to the nanometre."""

import gc
import json
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout, corners
from dividers.core.cells.lit_sides import lit_sides
from dividers.core.geometry import polygons
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Floats, Ints, Shapes, moved_to
from dividers.core.job.surface import Panel
from dividers.core.job.usual import CUT_IN_MIN_M, coats_of
from dividers.core.marks.marks import Mark
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.plan import Plan
from dividers.core.plan.strip_places import StripPlace, places_of
from dividers.core.rounds.options import figures
from dividers.core.rounds.rounds import Round, edges_of_round
from dividers.core.survey.sheet import Placed, Sheet
from dividers.core.tape.strips import Strips

PLAN_FORMAT = "dividers-plan/2"
DIGITS = 6


def plan_text(plan: Plan, more: Mapping[str, Any] | None = None) -> str:
    """The plan's JSON text; the same plan always gives the same bytes. `more` has what is added to the whole."""
    with _uncollected():
        return json.dumps(plan_document(plan) | dict(more or {}), ensure_ascii=False, separators=(",", ":")) + "\n"


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


def _on_panel(points: Floats, placed: Placed) -> Floats:
    return placed.to_panel(points) if placed.moved else points


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
        segments = _rounded(_segments_on_panels(strips, layout))
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


def strip_kinds(layout: Layout, strips: Strips) -> list[str]:
    """What each strip on a layout is; one along the edge of a zone inside the field is no perimeter strip."""
    kinds = [strips.kind(index) for index in range(len(strips))]
    if not layout.parts:
        return kinds
    return [
        "edge" if kind == "perimeter" and not on_rim else kind
        for kind, on_rim in zip(kinds, on_the_rim(layout, strips).tolist(), strict=True)
    ]


def on_the_rim(layout: Layout, strips: Strips) -> Bools:
    """Which strips of a layer in a zone lie along a side of their panel's field."""
    middles = (strips.start + strips.end) / 2
    found = np.zeros(len(strips), bool)
    for number, placed in enumerate(layout.sheet.placed):
        here = strips.panel == number
        points = _on_panel(middles[here], placed)
        if placed.panel.contour:
            rim = polygons.ring(placed.panel.contour.field).exterior
            found[here] = [rim.distance(polygons.point((x, y))) < 2 * SAME_POINT_MM for x, y in points.tolist()]
            continue
        found[here] = (np.abs(placed.panel.field_quad.away(points)) < 2 * SAME_POINT_MM).any(axis=1)
    return found


def covered(plan: PiecePlan, each: Round, sheet: int) -> list[list[tuple[int, int]]]:
    """What each strip on a layout lies on: (layout, cell), layer by layer from below."""
    found: list[list[tuple[int, int]]] = [[] for _ in range(len(each.strips[sheet]))]
    for other in each.under(sheet):
        for strip, cell in zip(*(column.tolist() for column in each.lies_on(sheet, other)), strict=True):
            found[strip].append((other, cell))
    return found


def _segments_on_panels(strips: Strips, layout: Layout) -> Floats:
    """The strips' edges that face the paint, (n, 2, 2), each in the coordinates of its panel."""
    ends = [strips.start.copy(), strips.end.copy()]
    for number, placed in enumerate(layout.sheet.placed):
        here = strips.panel == number
        for points in ends:
            points[here] = _on_panel(points[here], placed)
    return np.stack(ends, axis=1)


def strip_places(strips: Strips, layout: Layout) -> list[StripPlace]:
    """Where each strip of a sheet lies."""
    panels = [placed.panel for placed in layout.sheet.placed]
    return places_of(_segments_on_panels(strips, layout), strips.panel.tolist(), panels, strips.perimeter.tolist())


def sides_in_words(strips: Strips, sheet: Sheet) -> list[str]:
    """On which side of its line each strip lies, as its panel hangs."""
    out = (
        np.array([sheet.placed[panel].to_panel_direction(way) for panel, way in zip(strips.panel, strips.out, strict=True)])
        if any(p.moved for p in sheet.placed)
        else strips.out
    )
    x, y = out.reshape(-1, 2).T
    level = np.where(y > 0, "below the line", "above the line")
    vertical = np.where(x > 0, "right of the line", "left of the line")
    words = np.where(np.abs(y) >= np.abs(x), level, vertical)
    words = np.where(strips.twin, "between two lines", words)
    return [str(word) for word in np.where(strips.reserve, "on the line", words).tolist()]


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
