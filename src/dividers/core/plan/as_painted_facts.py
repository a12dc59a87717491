"""What is said of bands that were measured: how wide they came out, and what is left on both sides of what is centred in them."""

from collections.abc import Sequence

import numpy as np

from dividers.core.base.lengths import exact, read_off
from dividers.core.cells.as_painted import PaintedBand, as_they_came_out, axis_of
from dividers.core.job.layers import CELLS, Layer
from dividers.core.job.model import Job, Piece
from dividers.core.plan.piece_plan import Caution, PiecePlan, write_rounded

BANDS_NAMED = 12


def as_painted_facts(job: Job, piece: Piece, parts: Sequence[PiecePlan]) -> list[Caution]:
    """Facts of the layers of a piece, those below first."""
    found = []
    bands: dict[str, list[PaintedBand]] = {}
    for layer, part in zip(piece.stack, parts, strict=True):
        if layer.as_painted:
            bands[layer.name] = as_they_came_out(part.layouts[0], layer.pattern, layer.as_painted)
            found += _widths(job, piece, layer, part, bands[layer.name])
        if layer.zone.kind == CELLS and layer.zone.each and layer.zone.layer in bands:
            found += _sides(job, piece, layer, part, bands[layer.zone.layer])
    return found


def _widths(job: Job, piece: Piece, layer: Layer, part: PiecePlan, bands: Sequence[PaintedBand]) -> list[Caution]:
    along = _middle(piece, bands)
    layout = part.layouts[0]
    bounds = layout.cells.bounds()[layout.painted][:, [bands[0].axis, bands[0].axis + 2]]
    middles = bounds.mean(axis=1)
    painted = [band for band in bands if ((middles > band.planned[0].at(along)) & (middles < band.planned[1].at(along))).any()]
    measured = [band for band in painted if band.measured]
    said = [
        f"band {band.number} {read_off(exact(band.wide_at(along)), job.graduation).text} "
        f"(planned {write_rounded(exact(band.planned[1].at(along) - band.planned[0].at(along)), job)})"
        for band in measured[:BANDS_NAMED]
    ]
    more = f", and {len(measured) - BANDS_NAMED} more" if len(measured) > BANDS_NAMED else ""
    return [Caution("as-painted", piece.name, f"“{layer.name}” as it came out: {', '.join(said)}{more}.")] if said else []


def _sides(job: Job, piece: Piece, layer: Layer, part: PiecePlan, bands: Sequence[PaintedBand]) -> list[Caution]:
    """What is left of each measured band on both sides of the stripes that are centred in it."""
    layout = part.layouts[0]
    axis, along = bands[0].axis, _middle(piece, bands)
    if axis_of(layer.pattern) != axis:
        return []
    bounds = layout.cells.bounds()
    said = []
    for band in bands:
        low, high = (edge.at(along) for edge in band.edges)
        middle = (bounds[:, axis] + bounds[:, axis + 2]) / 2
        own = np.flatnonzero(layout.painted & (middle > low) & (middle < high) & (layout.panels == 0))
        if not band.measured or not len(own):
            continue
        slope = abs(band.edges[0].slope + band.edges[1].slope) / 2
        other = 1 - axis
        wide = bounds[own, axis + 2] - bounds[own, axis] - slope * (bounds[own, other + 2] - bounds[own, other])
        said.append(f"{write_rounded(exact((high - low - float(wide.max())) / 2), job)} (band {band.number})")
    if not said:
        return []
    more = f", and more in {len(said) - BANDS_NAMED} others" if len(said) > BANDS_NAMED else ""
    listed = ", ".join(said[:BANDS_NAMED])
    return [
        Caution(
            "centred", piece.name, f"“{layer.name}” is centred in each band as it came out, with on both sides {listed}{more}."
        )
    ]


def _middle(piece: Piece, bands: Sequence[PaintedBand]) -> float:
    """Half way along the bands, mm."""
    field = piece.surface.panels[0].field
    return float(field.left + field.right if bands[0].axis else field.top + field.bottom) / 2
