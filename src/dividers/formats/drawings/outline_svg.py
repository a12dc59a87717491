"""Reads outlines from an SVG file (svgelements, after defusedxml has looked at it): paths, polygons, rectangles, circles, transforms applied."""

import io
from collections.abc import Iterator
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Point
from dividers.formats.drawings.dxf import MOST_POINTS, MOST_SHAPES, Drawn

MOST_BYTES = 2_000_000
DOTS_A_MM = 96 / 25.4
FLATTEST, MOST_STEPS = 4, 512
LONGEST_TRANSFORM, DEEPEST = 4000, 200
XLINK = "{http://www.w3.org/1999/xlink}href"


def read_svg(content: bytes, tolerance_mm: float) -> Drawn:
    """Shapes of an SVG, in mm by its stated width and height where it has them. Raises BadInput."""
    if len(content) > MOST_BYTES:
        raise BadInput(f"This file has {len(content) / 1e6:.1f} MB; at most {MOST_BYTES // 1_000_000} are read.", "file")
    stated = _checked(content)
    from svgelements import SVG, Path, Shape

    try:
        root = SVG.parse(io.BytesIO(content), reify=True, ppi=96.0)
    except Exception as fault:  # the parser raises whatever it trips over; its text is of no use to a painter
        raise BadInput("This SVG can't be read: save it as plain SVG.", "file") from fault
    chains: list[tuple[str, bool, tuple[Point, ...]]] = []
    curves = skipped = points = 0
    for element in root.elements():
        if not isinstance(element, Shape):
            skipped += type(element).__name__ in ("Text", "Image", "Use")
            continue
        for part in Path(element).as_subpaths():
            found, curved = _flattened(Path(part), tolerance_mm)
            curves += curved
            points += len(found)
            if len(chains) >= MOST_SHAPES or points > MOST_POINTS:
                raise BadInput(
                    f"This drawing has more than {MOST_SHAPES} shapes or {MOST_POINTS} points; save only what you need.",
                    "file",
                )
            if len(found) > 1:
                closed = len(found) > 3 and abs(found[0][0] - found[-1][0]) < 1e-3 and abs(found[0][1] - found[-1][1]) < 1e-3
                chains.append((str(element.id or ""), closed, tuple(found[:-1] if closed else found)))
    said = []
    if curves:
        said.append(f"{curves} curves were flattened to within {tolerance_mm:g} mm.")
    if skipped:
        said.append(f"{skipped} texts and pictures were left out.")
    if not stated:
        said.append("The file gives no real size: say how long one unit is.")
    return Drawn(tuple(chains), 1.0 if stated else None, tuple(said))


def _checked(content: bytes) -> bool:
    """Whether the file states its size in true units; raises BadInput for entities, other XML and what is no XML."""
    from xml.etree.ElementTree import ParseError

    from defusedxml import DefusedXmlException
    from defusedxml.ElementTree import fromstring

    try:
        root = fromstring(content, forbid_dtd=False, forbid_entities=True, forbid_external=True)
    except DefusedXmlException as fault:
        raise BadInput("This file holds XML entities and was not read: save it as plain SVG.", "file") from fault
    except (ParseError, ValueError, RecursionError) as fault:
        raise BadInput("This is not a readable SVG file.", "file") from fault
    if _depth(root) > DEEPEST:
        raise BadInput(f"This drawing has groups in groups, more than {DEEPEST} deep: save it as plain SVG.", "file")
    if not str(root.tag).endswith("svg"):
        raise BadInput("This is XML, but not an SVG drawing.", "file")
    if any(len(element.get("transform") or "") > LONGEST_TRANSFORM for element in root.iter()):
        raise BadInput(f"This drawing has a transform of more than {LONGEST_TRANSFORM} letters: save it as plain SVG.", "file")
    if _drawn_by_use(root) > MOST_SHAPES:
        raise BadInput(f"This drawing uses its shapes again more than {MOST_SHAPES} times; save only what you need.", "file")
    width = str(root.get("width", ""))
    return width.strip().endswith(("mm", "cm", "in", "pt", "pc"))


def _depth(root: Any) -> int:
    """How deep elements lie in each other, at most; found without going down into them."""
    depth, level = 0, [root]
    while level and depth <= DEEPEST:
        depth, level = depth + 1, [part for element in level for part in element]
    return depth


def _drawn_by_use(root: Any) -> int:
    """How many elements there are once each `use` stands for what it uses; more than allowed where one uses itself."""
    named = {element.get("id"): element for element in root.iter() if element.get("id")}
    counts: dict[Any, int] = {}

    def count(element: Any, depth: int) -> int:
        if element not in counts:
            counts[element] = MOST_SHAPES + 1  # while it is being counted: met again, it is in a circle
            used = named.get((element.get("href") or element.get(XLINK) or "").lstrip("#")) if _is_use(element) else None
            parts = [*element, used] if used is not None and depth < DEEPEST else list(element)
            counts[element] = min(1 + sum(count(part, depth + 1) for part in parts), MOST_SHAPES + 1)
        return counts[element]

    return count(root, 0)


def _is_use(element: Any) -> bool:
    return str(element.tag).rpartition("}")[2] == "use"


def _flattened(path: Any, tolerance_mm: float) -> tuple[list[Point], int]:
    """A subpath as points in mm, and how many of its parts were curves."""
    found: list[Point] = []
    curves = 0
    for segment in path:
        name = type(segment).__name__
        if name == "Move":
            found.append(_mm(segment.end))
        elif name in ("Line", "Close"):
            if segment.end is not None:
                found.append(_mm(segment.end))
        else:
            curves += 1
            found += list(_curve(segment, tolerance_mm))
    return [point for turn, point in enumerate(found) if not turn or point != found[turn - 1]], curves


def _curve(segment: Any, tolerance_mm: float) -> Iterator[Point]:
    """A curve in so many equal steps that no chord is off by more than the tolerance at the step's middle."""
    steps = FLATTEST
    while steps < MOST_STEPS:
        places = [_mm(segment.point(n / (2 * steps))) for n in range(2 * steps + 1)]
        off = max(
            abs((places[n][0] + places[n + 2][0]) / 2 - places[n + 1][0])
            + abs((places[n][1] + places[n + 2][1]) / 2 - places[n + 1][1])
            for n in range(0, 2 * steps, 2)
        )
        if off <= tolerance_mm:
            break
        steps *= 2
    for n in range(1, steps + 1):
        yield _mm(segment.point(n / steps))


def _mm(point: Any) -> Point:
    return float(point.x) / DOTS_A_MM, float(point.y) / DOTS_A_MM
