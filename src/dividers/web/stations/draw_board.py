"""What the drawing needs where something is done in it: what tape can take hold of, the photo that can lie under it, handles to drag."""

from dataclasses import asdict
from typing import Any

from flask import url_for

from dividers.core.advice.fit.counts import runs_of
from dividers.core.base.lengths import Graduation, write_kept
from dividers.core.job.layers import ALL
from dividers.core.job.model import Piece
from dividers.core.output import handles
from dividers.core.patterns.free.holds import round_steps
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.survey.sheet import sheets_of
from dividers.services.files import photo_preview
from dividers.services.jobs import editing
from dividers.services.jobs.layer_view import seen_in
from dividers.services.stations import tape_drawing
from dividers.web.database import connection


def draw_board(opened: editing.Opened, piece: Piece, layer: int) -> dict[str, Any]:
    """As data for the page's script. Raises BadInput."""
    found = tape_drawing.drawn(opened.job, piece, layer)
    kept = photo_preview.flat_at(connection(), opened.id, piece.key)
    if not kept:
        return found | {"photo": None}
    placed = sheets_of(piece.surface)[0].placed[0]
    box = placed.box(placed.panel.outline)
    return found | {
        "photo": {
            "href": url_for("photo_preview.as_flat", job_id=opened.id, piece=piece.key, v=kept),
            "box": [float(box.left), float(box.top), float(box.right - box.left), float(box.bottom - box.top)],
        }
    }


def handle_board(plan: PiecePlan, unit: str, graduation: Graduation, station: str, layer: int | None) -> dict[str, Any]:
    """The handles of the drawing at a station, as data for the page's script; none where nothing can be dragged."""
    found: list[handles.Handle] = []
    if station == "measure":
        found = handles.of_surface(plan.sheets)
    elif station == "pattern" and layer is not None and plan.piece.stack[layer].zone.kind == ALL and plan.sheet_count == 1:
        found = handles.of_pattern(plan.piece, layer, plan.sheets)
        runs = runs_of(seen_in(plan.piece, layer), plan.sheets[0])
        found += handles.of_counts(plan.piece, layer, plan.sheets[0], runs, graduation)
    elif station == "pattern" and layer is not None:
        found = handles.of_zone(plan.piece, layer, plan.sheets)
    if not found:
        return {"handles": None}
    steps = [float(step) for step in round_steps(unit, graduation)]
    box = plan.piece.stack[layer].zone.box if layer is not None and station == "pattern" else None
    sides = ("left", "top", "width", "height") if box else ()
    zone = {side: write_kept(getattr(box, side), unit) for side in sides}
    return {"handles": {"unit": unit, "steps": steps, "zone": zone, "layer": layer, "all": [asdict(each) for each in found]}}
