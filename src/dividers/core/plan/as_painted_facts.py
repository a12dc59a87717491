"""What is said of bands that were measured: how wide they came out, and what is left on both sides of what is centred in them."""

from collections.abc import Sequence

import numpy as np

from dividers.core.base.lengths import exact, read_off
from dividers.core.cells.as_painted import PaintedBand, as_they_came_out, axis_of, sides_of
from dividers.core.job.layers import CELLS, Layer
from dividers.core.job.model import Job, Piece
from dividers.core.plan.piece_plan import Caution, PiecePlan, write_rounded

BANDS_NAMED = 12
NOTHING_MM = 0.1


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
    """What is left of each measured band on both sides of what is painted in it, from where that lies."""
    layout = part.layouts[0]
    axis, along = bands[0].axis, _middle(piece, bands)
    if axis_of(layer.pattern) != axis:
        return []
    bounds = layout.cells.bounds()
    middle = (bounds[:, axis] + bounds[:, axis + 2]) / 2
    alike, apart = [], []
    for band in bands:
        low, high = (edge.at(along) for edge in band.edges)
        own = np.flatnonzero(layout.painted & (middle > low) & (middle < high) & (layout.panels == 0))
        if not band.measured or not len(own):
            continue
        # Of what leans with the band, what counts is where it lies half way along.
        lean = abs(band.edges[0].slope + band.edges[1].slope) / 4 * (bounds[own, 3 - axis] - bounds[own, 1 - axis])
        before, after = float((bounds[own, axis] + lean).min()) - low, high - float((bounds[own, axis + 2] - lean).max())
        if max(before, after) < NOTHING_MM:  # it fills the band
            continue
        if abs(before - after) < float(job.graduation.step_mm) / 2:
            alike.append(f"{write_rounded(exact((before + after) / 2), job)} (band {band.number})")
        else:
            apart.append(f"{write_rounded(exact(before), job)} and {write_rounded(exact(after), job)} (band {band.number})")
    found = [
        (alike, f"“{layer.name}” is centred in each band as it came out, with on both sides"),
        (apart, f"“{layer.name}” lies in each band as it came out, with at its {' and its '.join(sides_of(layer.pattern))}"),
    ]
    return [Caution("centred", piece.name, f"{words} {_listed(said)}.") for said, words in found if said]


def _listed(said: Sequence[str]) -> str:
    more = f", and more in {len(said) - BANDS_NAMED} others" if len(said) > BANDS_NAMED else ""
    return ", ".join(said[:BANDS_NAMED]) + more


def _middle(piece: Piece, bands: Sequence[PaintedBand]) -> float:
    """Half way along the bands, mm."""
    field = piece.surface.panels[0].field
    return float(field.left + field.right if bands[0].axis else field.top + field.bottom) / 2
