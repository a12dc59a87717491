"""Draws how far out a panel is, enlarged until it shows: the stated rectangle dashed, the outline as adjusted, each reading in its place."""

import numpy as np

from dividers.core.base.lengths import Graduation, exact, read_off
from dividers.core.geometry.quads import BOTTOM, CORNERS, LEFT, RIGHT, TOP, Quad
from dividers.core.geometry.shapes import Point
from dividers.core.job.surface import Panel
from dividers.core.output.scene import Label, Scene, Stroke
from dividers.core.survey.adjustment import LINE, shares_of, stated
from dividers.core.survey.outline import adjusted_outline, unshaped
from dividers.core.survey.readings import ReadingRow

SEEN_SHARE = 14  # the worst corner is shown out by a fourteenth of the diagonal, or a little less


def error_scale(outline: Quad, panel: Panel) -> int:
    """How many times to enlarge the error so that it can be seen: a round number."""
    off = outline.points - stated(panel).points
    worst = float(np.hypot(off[:, 0], off[:, 1]).max())
    wish = float(np.hypot(float(panel.width_mm), float(panel.height_mm))) / SEEN_SHARE / max(worst, 0.01)
    return next((n for n in (100, 50, 20, 10, 5, 2) if n <= wish), 1)


def draw_error(panel: Panel, rows: tuple[ReadingRow, ...], graduation: Graduation, unit: str) -> tuple[Scene, int]:
    """The scene of a panel's error, and how many times it is enlarged. Readings carry their place as key."""
    panel = unshaped(panel)
    adjusted, _ = adjusted_outline(panel, graduation.step_mm, unit)
    true, outline = stated(panel), adjusted.quad
    scale = error_scale(outline, panel)
    shown = Quad.of(true.points + (outline.points - true.points) * scale)
    em = max(float(panel.width_mm) / 34, float(panel.height_mm) / 22)
    line_y = float(adjusted.parameters[LINE]) if any(row.reading.kind == "level" for row in rows) else None
    strokes = [Stroke("stated", *true.side(side)) for side in range(4)]
    if line_y is not None:
        strokes.append(Stroke("level", (-em, line_y), (float(panel.width_mm) + em, line_y)))
    shares = shares_of(panel, panel.readings)
    for row, share in zip(rows, shares, strict=True):
        ends = _ends(row, share, shown, line_y)
        role = "reading-line" + (" aside" if row.reading.aside else " doubt" if row.doubt else "")
        strokes.append(Stroke(role, *ends, key=f"r-{row.reading.place}"))
    points = np.concatenate([true.points, shown.points])
    left, top = (points.min(axis=0) - em * 2.6).tolist()
    right, bottom = (points.max(axis=0) + em * 2.6).tolist()
    scene = Scene(
        left, top, right - left, bottom - top, em, (), (),
        strokes=tuple(strokes), labels=tuple(_labels(outline, shown, em, graduation)), outlines=(shown.corners,),
    )  # fmt: skip
    return scene, scale


def _ends(row: ReadingRow, share: float, shown: Quad, line_y: float | None) -> tuple[Point, Point]:
    """From where to where a reading was taken, on the enlarged outline."""

    def on(u: float, v: float) -> Point:
        x, y = shown.at(np.array([[u, v]]))[0].tolist()
        return x, y

    match row.reading.kind, row.reading.way:
        case "width", _:
            return on(0, share), on(1, share)
        case "height", _:
            return on(share, 0), on(share, 1)
        case "diagonal", "falling":
            return on(0, 0), on(1, 1)
        case "diagonal", _:
            return on(0, 1), on(1, 0)
        case "level", way:
            edge = on(share, 1 if way == "bottom" else 0)
            return edge, (edge[0], line_y if line_y is not None else edge[1])
        case _, side:
            edge, start = on(1 if side == "right" else 0, share), on(1 if side == "right" else 0, 0)
            return (start[0], edge[1]), edge


def _labels(outline: Quad, shown: Quad, em: float, graduation: Graduation) -> list[Label]:
    """Each side's length and each corner's angle, as adjusted."""
    labels = []
    angles = [outline.angle_deg(corner) for corner in range(len(CORNERS))]
    sharp = min(angles)
    for corner, (x, y) in enumerate(shown.corners):
        out_x, out_y = (-1, 1, 1, -1)[corner], (-1, -1, 1, 1)[corner]
        role = "sharp" if angles[corner] == sharp and sharp < 89.99 else "ruler"
        at = (x + out_x * em * 0.4, y + out_y * em * (0.5 if out_y < 0 else 1.2))
        labels.append(Label(role, at, f"{angles[corner]:.1f}°", "end" if out_x < 0 else "start"))
    for side in (TOP, RIGHT, BOTTOM, LEFT):
        (ax, ay), (bx, by) = shown.side(side)
        x, y = (ax + bx) / 2, (ay + by) / 2
        text = read_off(exact(outline.length(side)), graduation).text
        if side in (TOP, BOTTOM):
            labels.append(Label("ruler", (x, y + (-0.6 if side == TOP else 1.4) * em), text))
        else:
            anchor, way = ("start", 0.5) if side == RIGHT else ("end", -0.5)
            labels.append(Label("ruler", (x + way * em, y), text, anchor))
    return labels
