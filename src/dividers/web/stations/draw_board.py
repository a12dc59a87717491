"""What the drawing needs where tape is laid in it: what can be taken hold of, and the photo that can lie under it."""

from typing import Any

from flask import url_for

from dividers.core.job.model import Piece
from dividers.core.survey.sheet import sheets_of
from dividers.services.files import photo_preview
from dividers.services.jobs import editing
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
