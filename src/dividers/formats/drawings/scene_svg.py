"""Writes scenes and drawn tape measures as SVG. Looks come from classes; only the paint's own colours are written in."""

from collections.abc import Iterable, Mapping
from html import escape

from dividers.core.geometry.shapes import Point
from dividers.core.marks.tape_measure import DrawnTape
from dividers.core.output.scene import Area, Dot, Label, Scene, Stroke
from dividers.core.output.section import Section
from dividers.core.practice.exercises import Split

TORN_TEETH = 5


GLOSS = (
    '<defs><pattern id="gloss" width="24" height="24" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">'
    '<rect class="gloss" width="6" height="24"/></pattern></defs>'
)


def scene_svg(scene: Scene, title: str) -> str:
    """A scene as one SVG element, true to scale, with its layers as named groups."""
    cells = _merged(scene.cells) if scene.simplified else [_cell(cell, scene.em) for cell in scene.cells]
    strips = _merged_strips(scene.strips) if scene.simplified else [_strip(strip, scene.em) for strip in scene.strips]
    signs = [] if scene.simplified else [_sign(cell, scene.em) for cell in scene.cells if cell.sign]
    return "".join(
        [
            f'<svg class="drawing" xmlns="http://www.w3.org/2000/svg" role="img" aria-label="{escape(title)}" '
            f'viewBox="{_n(scene.left)} {_n(scene.top)} {_n(scene.width)} {_n(scene.height)}" '
            f'font-size="{_n(scene.em)}" preserveAspectRatio="xMidYMid meet">',
            GLOSS if any(_shines(cell) for cell in scene.cells) else "",
            _group("cells", cells),
            _group("openings", (_path("opening", opening) for opening in scene.openings)),
            _group("strips", strips),
            _group("signs", signs),
            _group("lines", _strokes(scene)),
            _group("dots", (_dot(dot, scene.em) for dot in scene.dots)),
            _group("outlines", (f'<path class="outline" d="{_ring(ring)}"/>' for ring in scene.outlines)),
            _group("labels", (_label(label) for label in scene.labels)),
            "</svg>",
        ]
    )


def _shines(cell: Area) -> bool:
    return cell.sheen in ("gloss", "semi-gloss", "satin")


def _merged(cells: Iterable[Area]) -> list[str]:
    """Cells of one look as one path."""
    looks: dict[tuple[str, str], list[str]] = {}
    for cell in cells:
        looks.setdefault((cell.state, cell.fill), []).append(_rings(cell))
    return [
        f'<path class="cell {state}" fill="{fill}" fill-rule="evenodd" d="{"".join(rings)}"/>'
        for (state, fill), rings in looks.items()
    ]


def _merged_strips(strips: Iterable[Area]) -> list[str]:
    paths = "".join(_rings(strip) for strip in strips)
    return [f'<path class="strip edge" d="{paths}"/>'] if paths else []


def _strokes(scene: Scene) -> list[str]:
    if not scene.simplified:
        return [_stroke(stroke) for stroke in scene.strokes]
    roles: dict[str, list[str]] = {}
    for stroke in scene.strokes:
        (ax, ay), (bx, by) = stroke.start, stroke.end
        roles.setdefault(stroke.role, []).append(f"M{_n(ax)} {_n(ay)}L{_n(bx)} {_n(by)}")
    return [f'<path class="{role}" d="{"".join(lines)}"/>' for role, lines in roles.items()]


def thumbnail_svg(scene: Scene) -> str:
    """The cells and openings alone, for a small picture."""
    xs = [x for ring in scene.outlines for x, _ in ring]
    ys = [y for ring in scene.outlines for _, y in ring]
    box = f"{_n(min(xs))} {_n(min(ys))} {_n(max(xs) - min(xs))} {_n(max(ys) - min(ys))}"
    cells = "".join(_merged(scene.cells))
    openings = "".join(f'<path class="opening" d="{_rings(opening)}"/>' for opening in scene.openings)
    outlines = "".join(f'<path class="outline" d="{_ring(ring)}"/>' for ring in scene.outlines)
    return f'<svg class="thumbnail" aria-hidden="true" viewBox="{box}">{cells}{openings}{outlines}</svg>'


SWATCH_MM = (76.2, 50.8)


def swatch_svg(scene: Scene) -> str:
    """The middle of a scene at true size on a screen of the usual density, with a bar of 50 mm to check it by."""
    wide, high = SWATCH_MM
    xs = [x for ring in scene.outlines for x, _ in ring]
    ys = [y for ring in scene.outlines for _, y in ring]
    middle = (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2
    corners = [point for cell in scene.cells for ring in cell.rings for point in ring]
    clear = [point for point in corners if not any(_near_opening(point, opening) for opening in scene.openings)]
    at = min(clear or corners, key=lambda point: (point[0] - middle[0]) ** 2 + (point[1] - middle[1]) ** 2, default=middle)
    left, top = at[0] - wide / 2, at[1] - high / 2
    cells = "".join(_merged(scene.cells))
    bar = f"M{_n(left + 6)} {_n(top + high - 8)}v3h50v-3"
    return (
        f'<svg class="swatch-picture" role="img" aria-label="The middle of the pattern at true size" width="{wide}mm" height="{high}mm" '
        f'viewBox="{_n(left)} {_n(top)} {_n(wide)} {_n(high)}">{cells}<path class="bar-ground" d="{bar}"/><path class="bar" d="{bar}"/></svg>'
    )


def _near_opening(point: Point, opening: Area) -> bool:
    """Whether a swatch about a point would show an opening."""
    wide, high = SWATCH_MM
    xs, ys = [x for x, _ in opening.rings[0]], [y for _, y in opening.rings[0]]
    across = min(xs) - wide / 2 < point[0] < max(xs) + wide / 2
    return across and min(ys) - high / 2 < point[1] < max(ys) + high / 2


def icon_svg(inks: Mapping[str, Iterable[Iterable[Point]]], width: float, height: float) -> str:
    """A pattern's painted parts alone, by ink, cut at the edge of the picture."""
    paths = "".join(
        f'<path class="ink-{ink}" fill-rule="evenodd" d="{"".join(_ring(ring) for ring in rings)}"/>'
        for ink, rings in inks.items()
    )
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
    rings = _rings(cell)
    path = (
        f'<path class="cell {cell.state}" data-link="{cell.key}" fill="{cell.fill}" stroke="{cell.fill}" fill-rule="evenodd" d="{rings}">'
        f"<title>{escape(cell.title)}</title></path>"
    )
    return path + (f'<path class="shine" fill="url(#gloss)" d="{rings}"/>' if _shines(cell) else "")


def _sign(cell: Area, em: float) -> str:
    """A cross on what to keep, a dot of tape on it; a brush stroke on what to paint in this round."""
    assert cell.sign is not None
    x, y, arm = *cell.sign, em * 0.5
    if cell.state == "keep":
        cross = (
            f"M{_n(x - arm)} {_n(y - arm)}L{_n(x + arm)} {_n(y + arm)}M{_n(x + arm)} {_n(y - arm)}L{_n(x - arm)} {_n(y + arm)}"
        )
        return f'<path class="keep-sign" d="{cross}"/>'
    if cell.state == "paint":
        stroke = f"M{_n(x - arm)} {_n(y + arm * 0.4)}q{_n(arm * 0.5)} {_n(-arm * 1.4)} {_n(arm)} {_n(-arm * 0.4)}t{_n(arm)} {_n(-arm * 0.4)}"
        return f'<path class="paint-sign" d="{stroke}"/>'
    return ""


def _dot(dot: Dot, em: float) -> str:
    link = f' data-link="{dot.key}"' if dot.key else ""
    return f'<circle class="dot"{link} cx="{_n(dot.at[0])}" cy="{_n(dot.at[1])}" r="{_n(em * 0.45)}"/>'


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
    lines = "".join(f"M{_n(tick.at_mm)} 0v{_n(tick.height * 9)}" for tick in tape.ticks)
    parts.append(f'<path class="graduation" d="{lines}"/>')
    for tick in tape.ticks:
        if tick.label and abs(tick.at_mm) < reach - 3:
            parts.append(f'<text class="figure" x="{_n(tick.at_mm)}" y="13.6" text-anchor="middle">{tick.label}</text>')
    parts.append('<path class="pointer" d="M0 0L-1.8 -4L1.8 -4Z"/><line class="pointer" x1="0" y1="0" x2="0" y2="15"/></svg>')
    return "".join(parts)


def split_svg(split: Split) -> str:
    """A line between what is painted and what is kept, with both signs; a sketch."""
    paint, keep = ("0 0h100v120h-100z", "100 0h100v120h-100z") if split.vertical else ("0 0h200v60h-200z", "0 60h200v60h-200z")
    if not split.first:
        paint, keep = keep, paint
    line = "M100 0V120" if split.vertical else "M0 60H200"
    wave = {True: (42, 60), False: (142, 60)}[split.first] if split.vertical else (92, 30 if split.first else 90)
    cross = (150 if split.first else 50, 60) if split.vertical else (100, 90 if split.first else 30)
    return (
        f'<svg class="split" role="img" aria-label="A line; one side is painted, marked with a wave, the other kept, marked with a cross" viewBox="0 0 200 120">'
        f'<path d="M{paint}" fill="{split.paint}"/><path d="M{keep}" fill="{split.keep}"/><path class="line-mark" d="{line}"/>'
        f'<path class="paint-sign" d="M{wave[0]} {wave[1]}q4 -8 8 0t8 0"/><path class="keep-sign" d="M{cross[0] - 6} {cross[1] - 6}l12 12m0 -12l-12 12"/></svg>'
    )


def section_svg(section: Section, width: str) -> str:
    """A cut across a strip: surface, what lies on it, tape and wet paint. A sketch, not to scale in height."""
    left, right = section.paints[0], section.paints[-1]
    below, ground = section.below.hex, "surface"
    both = section.both_sides
    bare = "beyond the field" if section.perimeter else f"on {section.below.name}"
    parts = [
        '<svg class="section" xmlns="http://www.w3.org/2000/svg" viewBox="0 0 320 92" role="img" '
        f'aria-label="Cross-section: tape {escape(width)} wide, {escape(left.name)} {"on both sides" if both else "on one side"}">',
        f'<rect class="{ground}" x="0" y="56" width="320" height="22"/>',
        f'<rect x="0" y="50" width="320" height="6" fill="{below}"/>',
        f'<rect x="{0 if both else 160}" y="43" width="{100 if both else 160}" height="7" fill="{left.hex}"/>',
    ]
    if both:
        parts.append(f'<rect x="220" y="43" width="100" height="7" fill="{right.hex}"/>')
    tape_left, tape_right = (100, 220) if both else (40, 160)
    parts.append(f'<path class="tape-cut" d="M{tape_left} 50v-10h{tape_right - tape_left}v10z"/>')
    parts.append(f'<path class="wet" d="M{tape_right - 26} 38h26v5h34" stroke="{right.hex}"/>')
    line = (tape_left + tape_right) / 2 if both else tape_right
    parts.append(f'<path class="line-mark" d="M{line} 14V84"/>')
    parts.append(
        f'<text class="note" x="{line + (0 if both else 4)}" y="11" text-anchor="{"middle" if both else "start"}">line</text>'
    )
    parts.append(
        f'<text class="note" x="{(tape_left + tape_right) / 2 - (24 if both else 0)}" y="33" text-anchor="middle">tape {escape(width)}</text>'
    )
    parts.append(f'<text class="note" x="{316}" y="33" text-anchor="end">{escape(right.name)}</text>')
    if both and left != right:
        parts.append(f'<text class="note" x="4" y="33">{escape(left.name)}</text>')
    parts.append(f'<text class="note" x="4" y="90">{escape(bare)}</text></svg>')
    return "".join(parts)
