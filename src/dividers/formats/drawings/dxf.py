"""Writes a piece's layers as DXF and reads outlines back from one (ezdxf's one door). Millimetres; y goes up in these files."""

import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import islice
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Point
from dividers.core.output.cad_layers import TEXT_MM, Layers

MILLIMETRES = 4  # $INSUNITS
UNITS_MM = {1: 25.4, 2: 304.8, 4: 1.0, 5: 10.0, 6: 1000.0}  # inches, feet, mm, cm, m
MOST_BYTES, MOST_SHAPES, MOST_POINTS = 2_000_000, 20_000, 200_000
FURTHEST = 1e7  # of its units: 10 km in mm
VERSION = "R2010"


def layer_dxf(layers: Layers) -> str:
    """The file's text: closed polylines for areas, points and texts for marks, each on its layer."""
    from ezdxf.filemanagement import new

    document = new(VERSION, setup=False)
    document.header["$INSUNITS"] = MILLIMETRES
    document.header["$MEASUREMENT"] = 1
    space = document.modelspace()
    for turn, name in enumerate(layers.names):
        document.layers.add(layer_name(name), color=turn % 7 + 1)
    for shape in layers.shapes:
        looks = {"layer": layer_name(shape.layer)}
        if shape.kind == "point":
            x, y = shape.rings[0][0]
            space.add_point((x, -y), dxfattribs=looks)
        elif shape.kind == "text":
            x, y = shape.rings[0][0]
            space.add_text(shape.text, height=TEXT_MM, dxfattribs=looks | {"insert": (x + 4, -y + 2)})
        else:
            for ring in shape.rings:
                space.add_lwpolyline([(x, -y) for x, y in ring], close=True, dxfattribs=looks)
    _show_all(document)
    out = io.StringIO()
    document.write(out)
    return out.getvalue()


def _show_all(document: Any) -> None:
    """Say how far the drawing reaches, and open it seen whole."""
    from ezdxf import bbox, zoom

    around = bbox.extents(document.modelspace(), fast=True)
    if around.has_data:
        document.modelspace().reset_extents(around.extmin, around.extmax)
        document.modelspace().reset_limits(around.extmin.vec2, around.extmax.vec2)
        zoom.window(document.modelspace(), around.extmin, around.extmax)


def layer_name(name: str) -> str:
    """A layer's name in letters that every reader takes."""
    return re.sub(r"[^A-Za-z0-9_-]+", "_", name).upper()[:60] or "LAYER"


@dataclass(frozen=True)
class Drawn:
    """Shapes read from a file: closed or open chains of points in mm, y down, with the layer; `mm_a_unit` as the file says, or None."""

    chains: tuple[tuple[str, bool, tuple[Point, ...]], ...]
    mm_a_unit: float | None
    said: tuple[str, ...]


def read_dxf(content: bytes, tolerance_mm: float) -> Drawn:
    """Lines, polylines, arcs, circles and splines of the model space; curves flattened within the tolerance. Raises BadInput."""
    from ezdxf import path
    from ezdxf.filemanagement import read
    from ezdxf.lldxf.const import DXFError

    if len(content) > MOST_BYTES:
        raise BadInput(f"This file has {len(content) / 1e6:.1f} MB; at most {MOST_BYTES // 1_000_000} are read.", "file")
    try:
        text = content.decode("utf-8", "replace") if b"\x00" not in content[:4096] else ""  # text has no zero bytes
        document = read(io.StringIO(text)) if text else None
    except (DXFError, ValueError, KeyError, IndexError, TypeError, AttributeError, RecursionError) as fault:
        raise BadInput("This is not a readable DXF file: save it as text DXF (R2000 or newer).", "file") from fault
    if document is None:
        raise BadInput("Binary DXF isn't read: save it as text DXF.", "file")
    unit = UNITS_MM.get(int(document.header.get("$INSUNITS", 0)))
    chains: list[tuple[str, bool, tuple[Point, ...]]] = []
    curves = skipped = points = 0
    for entity in document.modelspace():
        kind = entity.dxftype()
        if kind not in ("LINE", "LWPOLYLINE", "POLYLINE", "ARC", "CIRCLE", "ELLIPSE", "SPLINE"):
            skipped += 1
            continue
        curves += kind in ("ARC", "CIRCLE", "ELLIPSE", "SPLINE")
        try:
            drawn = path.make_path(entity)
            if any(not max(abs(at.x), abs(at.y)) < FURTHEST for at in drawn.control_vertices()):
                raise BadInput(f"This drawing reaches further than {FURTHEST:g} units; save only what you need.", "file")
            found = list(islice(_points(drawn, tolerance_mm / (unit or 1.0)), MOST_POINTS + 1))
        except (DXFError, TypeError, ValueError, ZeroDivisionError):
            skipped += 1
            continue
        points += len(found)
        if len(chains) >= MOST_SHAPES or points > MOST_POINTS:
            raise BadInput(
                f"This drawing has more than {MOST_SHAPES} shapes or {MOST_POINTS} points; save only what you need.",
                "file",
            )
        if len(found) < 2:
            skipped += 1
            continue
        closed = len(found) > 2 and _same(found[0], found[-1])
        chains.append((str(entity.dxf.layer), closed, tuple(found[:-1] if closed else found)))
    said = []
    if curves:
        said.append(f"{curves} curves were flattened to within {tolerance_mm:g} mm.")
    if skipped:
        said.append(f"{skipped} entities that are not lines (texts, points, hatches, blocks) were left out.")
    return Drawn(tuple(chains), unit, tuple(said))


def _points(found: Any, tolerance: float) -> Iterator[Point]:
    for vertex in found.flattening(tolerance):
        yield float(vertex.x), -float(vertex.y)


def _same(one: Point, other: Point) -> bool:
    return abs(one[0] - other[0]) < 1e-6 and abs(one[1] - other[1]) < 1e-6
