"""Writes scenes and drawn tape measures as SVG. Looks come from classes; only the paint's own colours are written in."""

from collections.abc import Iterable
from html import escape

from dividers.core.drawn_tape import DrawnTape
from dividers.core.geometry.shapes import Point
from dividers.core.scene import Area, Label, Scene, Stroke

TORN_TEETH = 5


def scene_svg(scene: Scene, title: str) -> str:
    """A scene as one SVG element, true to scale, with its layers as named groups."""
    return "".join(
        [
            f'<svg class="drawing" xmlns="http://www.w3.org/2000/svg" role="img" aria-label="{escape(title)}" '
            f'viewBox="{_n(scene.left)} {_n(scene.top)} {_n(scene.width)} {_n(scene.height)}" '
            f'font-size="{_n(scene.em)}" preserveAspectRatio="xMidYMid meet">',
            _group("cells", (_cell(cell, scene.em) for cell in scene.cells)),
            _group("openings", (_path("opening", opening) for opening in scene.openings)),
            _group("strips", (_strip(strip, scene.em) for strip in scene.strips)),
            _group("lines", (_stroke(stroke) for stroke in scene.strokes)),
            _group("outlines", (f'<path class="outline" d="{_ring(ring)}"/>' for ring in scene.outlines)),
            _group("labels", (_label(label) for label in scene.labels)),
            "</svg>",
        ]
    )


def thumbnail_svg(scene: Scene) -> str:
    """The cells and openings alone, for a small picture."""
    xs = [x for ring in scene.outlines for x, _ in ring]
    ys = [y for ring in scene.outlines for _, y in ring]
    box = f"{_n(min(xs))} {_n(min(ys))} {_n(max(xs) - min(xs))} {_n(max(ys) - min(ys))}"
    cells = "".join(
        f'<path fill="{cell.fill}" stroke="{cell.fill}" fill-rule="evenodd" d="{_rings(cell)}"/>' for cell in scene.cells
    )
    openings = "".join(f'<path class="opening" d="{_rings(opening)}"/>' for opening in scene.openings)
    outlines = "".join(f'<path class="outline" d="{_ring(ring)}"/>' for ring in scene.outlines)
    return f'<svg class="thumbnail" aria-hidden="true" viewBox="{box}">{cells}{openings}{outlines}</svg>'


def icon_svg(rings: Iterable[Iterable[Point]], width: float, height: float) -> str:
    """A pattern's painted parts alone, cut at the edge of the picture."""
    paths = "".join(f'<path d="{_ring(ring)}"/>' for ring in rings)
    return f'<svg class="icon" aria-hidden="true" viewBox="0 0 {_n(width)} {_n(height)}">{paths}</svg>'


def _n(number: float) -> str:
    """A number to a hundredth of a millimetre, as short as it goes."""
    return f"{number:.2f}".rstrip("0").rstrip(".")


def _group(name: str, items: Iterable[str]) -> str:
    inner = "".join(items)
    return f'<g class="layer-{name}">{inner}</g>' if inner else ""


def _ring(ring: Iterable[Point]) -> str:
    return "M" + "L".join(f"{_n(x)} {_n(y)}" for x, y in ring) + "Z"


def _rings(area: Area) -> str:
    return "".join(_ring(ring) for ring in area.rings)


def _path(name: str, area: Area) -> str:
    title = f"<title>{escape(area.title)}</title>" if area.title else ""
    return f'<path class="{name}" d="{_rings(area)}">{title}</path>'


def _cell(cell: Area, em: float) -> str:
    path = (
        f'<path class="cell {cell.state}" data-link="{cell.key}" fill="{cell.fill}" stroke="{cell.fill}" fill-rule="evenodd" d="{_rings(cell)}">'
        f"<title>{escape(cell.title)}</title></path>"
    )
    if cell.state != "keep" or not cell.sign:
        return path
    x, y, arm = *cell.sign, em * 0.5
    cross = f"M{_n(x - arm)} {_n(y - arm)}L{_n(x + arm)} {_n(y + arm)}M{_n(x + arm)} {_n(y - arm)}L{_n(x - arm)} {_n(y + arm)}"
    return path + f'<path class="keep-sign" d="{cross}"/>'


def _strip(strip: Area, em: float) -> str:
    return (
        f'<path class="strip {strip.state}" data-link="{strip.key}" d="{_torn(strip.rings[0], em * 0.18)}">'
        f"<title>{strip.key}: {escape(strip.title)}</title></path>"
    )


def _torn(ring: tuple[Point, ...], depth: float) -> str:
    """A strip's outline with its two short ends torn: a zigzag inward, so that the drawn edge stays true."""
    if len(ring) != 4:
        return _ring(ring)
    sides = [(ring[i], ring[(i + 1) % 4]) for i in range(4)]
    lengths = [((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5 for a, b in sides]
    ends = {0, 2} if lengths[0] + lengths[2] < lengths[1] + lengths[3] else {1, 3}
    middle = (sum(x for x, _ in ring) / 4, sum(y for _, y in ring) / 4)
    points: list[Point] = []
    for number, (a, b) in enumerate(sides):
        points.append(a)
        if number in ends:
            points += _teeth(a, b, middle, depth)
    return _ring(points)


def _teeth(a: Point, b: Point, middle: Point, depth: float) -> list[Point]:
    reach = ((middle[0] - a[0]) ** 2 + (middle[1] - a[1]) ** 2) ** 0.5 or 1.0
    centre = ((a[0] + b[0]) / 2, (a[1] + b[1]) / 2)
    away = ((middle[0] - centre[0]) ** 2 + (middle[1] - centre[1]) ** 2) ** 0.5 or 1.0
    step = min(depth, reach / 4)
    inward = ((middle[0] - centre[0]) / away * step, (middle[1] - centre[1]) / away * step)
    count = 2 * TORN_TEETH
    return [
        (a[0] + (b[0] - a[0]) * k / count + inward[0] * (k % 2), a[1] + (b[1] - a[1]) * k / count + inward[1] * (k % 2))
        for k in range(1, count)
    ]


def _stroke(stroke: Stroke) -> str:
    link = f' data-link="{stroke.key}"' if stroke.key else ""
    return (
        f'<line class="{stroke.role}"{link} x1="{_n(stroke.start[0])}" y1="{_n(stroke.start[1])}" '
        f'x2="{_n(stroke.end[0])}" y2="{_n(stroke.end[1])}"/>'
    )


def _label(label: Label) -> str:
    link = f' data-link="{label.key}"' if label.key else ""
    return (
        f'<text class="label-{label.role}"{link} x="{_n(label.at[0])}" y="{_n(label.at[1])}" '
        f'text-anchor="{label.anchor}">{escape(label.text)}</text>'
    )


def tape_svg(tape: DrawnTape, reading: str) -> str:
    """A drawn piece of tape measure, the mark in its middle. 1 unit is 1 mm; as high as 14 mm."""
    reach = tape.reach_mm
    parts = [
        f'<svg class="tape-measure" xmlns="http://www.w3.org/2000/svg" role="img" aria-label="Tape measure at {escape(reading)}" '
        f'viewBox="{_n(-reach)} -5 {_n(2 * reach)} 21">',
        f'<rect class="blade" x="{_n(tape.starts_at_mm)}" y="0" width="{_n(reach - tape.starts_at_mm)}" height="15"/>',
    ]
    if tape.starts_at_mm > -reach:
        parts.append(f'<rect class="hook" x="{_n(tape.starts_at_mm - 1.2)}" y="-1" width="1.2" height="17"/>')
    for tick in tape.ticks:
        parts.append(
            f'<line class="graduation" x1="{_n(tick.at_mm)}" y1="0" x2="{_n(tick.at_mm)}" y2="{_n(tick.height * 9)}"/>'
        )
        if tick.label and abs(tick.at_mm) < reach - 3:
            parts.append(f'<text class="figure" x="{_n(tick.at_mm)}" y="13.6" text-anchor="middle">{tick.label}</text>')
    parts.append('<path class="pointer" d="M0 0L-1.8 -4L1.8 -4Z"/><line class="pointer" x1="0" y1="0" x2="0" y2="15"/></svg>')
    return "".join(parts)
