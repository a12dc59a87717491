"""What is told of strips on a layout: what each is, where it lies, on which side of its line, and what lies under it."""

import numpy as np

from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Bools, Floats
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.strip_places import StripPlace, places_of
from dividers.core.rounds.rounds import Round
from dividers.core.survey.sheet import Placed, Sheet
from dividers.core.tape.strips import Strips


def _on_panel(points: Floats, placed: Placed) -> Floats:
    return placed.to_panel(points) if placed.moved else points


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


def segments_on_panels(strips: Strips, layout: Layout) -> Floats:
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
    return places_of(segments_on_panels(strips, layout), strips.panel.tolist(), panels, strips.perimeter.tolist())


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
