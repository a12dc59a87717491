"""What another layer starts from: what people would lay where they pointed, in a colour that shows there."""

from collections.abc import Mapping
from typing import Any

from dividers.core.base.contrast import contrast
from dividers.core.base.lengths import write_kept
from dividers.core.base.units import EASY_STEP_MM
from dividers.core.cells.as_painted import axis_of, bands_of
from dividers.core.job.document import Document
from dividers.core.job.layers import Layer
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.planning import piece_plan

PINSTRIPE_SHARE = 5  # a pinstripe takes one part in so many of its band


def first_pattern(document: str, piece_key: str, zone: Any, on: str | None) -> Document:
    """A pinstripe where bands are filled one by one, one plain shape where an area was drawn, stripes elsewhere; `on` is the colour there."""
    plan = piece_plan(document, piece_key)
    color = _color(plan, on)
    if isinstance(zone, Mapping) and "cells" in zone:
        below = next(n for n, each in enumerate(plan.piece.stack) if each.name == zone["cells"])
        pin = _pinstripe(plan, below, color) if zone.get("each") else None
        return pin or {"kind": "stripes", "direction": "vertical", "count": 5, "colors": [color, None]}
    if isinstance(zone, Mapping):
        return {"kind": "stripes", "direction": "vertical", "count": 1, "colors": [color]}
    return {"kind": "stripes", "direction": "vertical", "count": 5, "colors": [color, None]}


def _pinstripe(plan: PiecePlan, number: int, color: str) -> Document | None:
    layer: Layer = plan.piece.stack[number]
    axis = axis_of(layer.pattern)
    bands = bands_of(plan.layers[number].layouts[0], layer.pattern)
    if axis is None or not bands:
        return None
    step = EASY_STEP_MM[plan.job.units]
    least = min(high.at_mm - low.at_mm for low, high in bands)
    width = max(round(least / PINSTRIPE_SHARE / float(step)), 1) * step
    return {
        "kind": "stripes",
        "direction": "horizontal" if axis else "vertical",
        "count": 1,
        "colors": [None],
        "pinstripe": write_kept(width, plan.job.units),
        "pinstripe_color": color,
    }


def _color(plan: PiecePlan, on: str | None) -> str:
    """The palette's colour that differs most from what the layer is laid on."""
    palette = plan.job.palette
    ground = palette[on or plan.piece.base]
    return max(palette, key=lambda key: contrast(palette[key].hex, ground.hex).delta_e)
