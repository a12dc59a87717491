"""Writes scenes as SVG. Looks come from classes; only the paint's own colours are written in."""

from collections.abc import Iterable, Mapping

from markupsafe import Markup

from dividers.core.geometry.shapes import Point
from dividers.core.output.scene import Area, Dot, Scene
from dividers.formats.drawings.svg_writer import drawing, element, joined, line, number, numbers, path, ring, rings, text

TORN_TEETH = 5
GLOSS = element(
    "defs",
    {},
    element(
        "pattern",
        {"id": "gloss", "width": "24", "height": "24", "patternUnits": "userSpaceOnUse", "patternTransform": "rotate(45)"},
        element("rect", {"class": "gloss", "width": "6", "height": "24"}),
    ),
)


def scene_svg(scene: Scene, title: str) -> Markup:
    """A scene as one SVG element, true to scale, with its layers as named groups."""
    cells = _layered(scene)
    strips = _merged_strips(scene.strips) if scene.simplified else [_strip(strip, scene.em) for strip in scene.strips]
    signs = [] if scene.simplified else [_sign(cell, scene.em) for cell in scene.cells if cell.sign]
    return drawing(
        "drawing",
        numbers(scene.left, scene.top, scene.width, scene.height),
        {"font-size": number(scene.em), "preserveAspectRatio": "xMidYMid meet"},
        GLOSS if any(_shines(cell) for cell in scene.cells) else "",
        _group("cells", cells),
        _group("by-hand", _by_hand(scene)),
        _group("openings", (path("opening", rings(opening.rings), opening.title) for opening in scene.openings)),
        _group("strips", strips),
        _group("signs", signs),
        _group("lines", _strokes(scene)),
        _group("dots", (_dot(dot, scene.em) for dot in scene.dots)),
        _group("outlines", (path("outline", ring(outline)) for outline in scene.outlines)),
        _group("labels", (text(f"label-{each.role}", each.at, each.text, each.anchor, each.key) for each in scene.labels)),
        label=title,
    )


def _layered(scene: Scene) -> list[Markup]:
    """The cells; those of several layers in a group each, to be shown and hidden."""
    layers = list(dict.fromkeys(cell.layer for cell in scene.cells))
    found = []
    for layer in layers:
        own = [cell for cell in scene.cells if cell.layer == layer]
        shapes = _merged(own) if scene.simplified else [_cell(cell) for cell in own]
        found += shapes if len(layers) == 1 else [element("g", {"data-layer": str(layer)}, joined(shapes))]
    return found


def _by_hand(scene: Scene) -> list[Markup]:
    """Motifs and shading: one path for each layer and colour."""
    looks: dict[tuple[int, str, str], list[str]] = {}
    for area in scene.by_hand:
        looks.setdefault((area.layer, area.fill, area.title), []).append(rings(area.rings))
    return [path("by-hand", "".join(found), title, fill=fill) for (_, fill, title), found in looks.items()]


def _shines(cell: Area) -> bool:
    return cell.sheen in ("gloss", "semi-gloss", "satin")


def _merged(cells: Iterable[Area]) -> list[Markup]:
    """Cells of one look as one path, layer by layer."""
    looks: dict[tuple[int, str, str], list[str]] = {}
    for cell in cells:
        looks.setdefault((cell.layer, cell.state, cell.fill), []).append(rings(cell.rings))
    return [
        path(f"cell {state}", "".join(found), fill=fill or "none", fill_rule="evenodd")
        for (_, state, fill), found in looks.items()
    ]


def _merged_strips(strips: Iterable[Area]) -> list[Markup]:
    found = "".join(rings(strip.rings) for strip in strips)
    return [path("strip edge", found)] if found else []


def _strokes(scene: Scene) -> list[Markup]:
    if not scene.simplified:
        return [line(stroke.role, stroke.start, stroke.end, stroke.key) for stroke in scene.strokes]
    roles: dict[str, list[str]] = {}
    for stroke in scene.strokes:
        roles.setdefault(stroke.role, []).append(f"M{numbers(*stroke.start)}L{numbers(*stroke.end)}")
    return [path(role, "".join(found)) for role, found in roles.items()]


def _bounds(scene: Scene) -> tuple[float, float, float, float]:
    """Left, top, right and bottom of a scene's panels."""
    xs = [x for outline in scene.outlines for x, _ in outline]
    ys = [y for outline in scene.outlines for _, y in outline]
    return min(xs), min(ys), max(xs), max(ys)


MOST_SMALL = 200  # motifs and lines in a small picture


def thumbnail_svg(scene: Scene) -> Markup:
    """The cells and openings alone, for a small picture."""
    left, top, right, bottom = _bounds(scene)
    return drawing(
        "thumbnail",
        numbers(left, top, right - left, bottom - top),
        {},
        *_merged(scene.cells),
        *(path("by-hand", rings(area.rings), fill=area.fill) for area in scene.by_hand[:MOST_SMALL]),
        *(path("opening", rings(opening.rings)) for opening in scene.openings),
        *(path("outline", ring(outline)) for outline in scene.outlines),
    )


def look_svg(scene: Scene) -> Markup:
    """The same as a file of its own, which no style sheet reaches."""
    left, top, right, bottom = _bounds(scene)
    wide, high = right - left, bottom - top
    thin = number(max(wide, high) / 150)
    return drawing(
        "look",
        numbers(left, top, wide, high),
        {"width": number(min(1.0, wide / high) * 120), "height": number(min(1.0, high / wide) * 120)},
        *_merged(scene.cells),
        *(path(None, rings(o.rings), fill="#f5f1e8", stroke="#5d5a52", stroke_width=thin) for o in scene.openings),
        *(path(None, ring(outline), fill="none", stroke="#2a2c2e", stroke_width=thin) for outline in scene.outlines),
    )


SWATCH_MM = (76.2, 50.8)


def swatch_svg(scene: Scene) -> Markup:
    """The middle of a scene at true size on a screen of the usual density, with a bar of 50 mm to check it by."""
    wide, high = SWATCH_MM
    left, top, right, bottom = _bounds(scene)
    middle = (left + right) / 2, (top + bottom) / 2
    corners = [point for cell in scene.cells for each in cell.rings for point in each]
    clear = [point for point in corners if not any(_near_opening(point, opening) for opening in scene.openings)]
    at = min(clear or corners, key=lambda point: (point[0] - middle[0]) ** 2 + (point[1] - middle[1]) ** 2, default=middle)
    left, top = at[0] - wide / 2, at[1] - high / 2
    bar = f"M{numbers(left + 6, top + high - 8)}v3h50v-3"
    return drawing(
        "swatch-picture",
        numbers(left, top, wide, high),
        {"width": f"{wide}mm", "height": f"{high}mm"},
        *_merged(cell for cell in scene.cells if _meets(cell, (left, top, left + wide, top + high))),
        path("bar-ground", bar),
        path("bar", bar),
        label="The middle of the pattern at true size",
    )


def _meets(cell: Area, window: tuple[float, float, float, float]) -> bool:
    """Whether anything of a cell may be seen in a window: left, top, right, bottom."""
    xs, ys = [x for each in cell.rings for x, _ in each], [y for each in cell.rings for _, y in each]
    return min(xs) <= window[2] and max(xs) >= window[0] and min(ys) <= window[3] and max(ys) >= window[1]


def _near_opening(point: Point, opening: Area) -> bool:
    """Whether a swatch about a point would show an opening."""
    wide, high = SWATCH_MM
    xs, ys = [x for x, _ in opening.rings[0]], [y for _, y in opening.rings[0]]
    across = min(xs) - wide / 2 < point[0] < max(xs) + wide / 2
    return across and min(ys) - high / 2 < point[1] < max(ys) + high / 2


def icon_svg(inks: Mapping[str, Iterable[Iterable[Point]]], width: float, height: float) -> Markup:
    """A pattern's painted parts alone, by ink, cut at the edge of the picture."""
    parts = [path(f"ink-{ink}", rings(shape), fill_rule="evenodd") for ink, shape in inks.items()]
    return drawing("icon", numbers(0, 0, width, height), {}, *parts)


def _group(name: str, items: Iterable[str]) -> Markup:
    inner = joined(items)
    return element("g", {"class": f"layer-{name}"}, inner) if inner else Markup("")


def _cell(cell: Area) -> Markup:
    shape = rings(cell.rings)
    look = {"fill": cell.fill or "none", "stroke": cell.fill or "none", "fill-rule": "evenodd"}
    found = path(f"cell {cell.state}", shape, cell.title, **{"data-link": cell.key}, **look)
    return found + path("shine", shape, fill="url(#gloss)") if _shines(cell) else found


def _sign(cell: Area, em: float) -> Markup:
    """A cross on what to keep, a dot of tape on it; a brush stroke on what to paint in this round."""
    assert cell.sign is not None
    x, y, arm = *cell.sign, em * 0.5
    if cell.state == "keep":
        falling = f"M{numbers(x - arm, y - arm)}L{numbers(x + arm, y + arm)}"
        return path("keep-sign", f"{falling}M{numbers(x + arm, y - arm)}L{numbers(x - arm, y + arm)}")
    if cell.state == "paint":
        wave = f"q{numbers(arm * 0.5, -arm * 1.4)} {numbers(arm, -arm * 0.4)}t{numbers(arm, -arm * 0.4)}"
        return path("paint-sign", f"M{numbers(x - arm, y + arm * 0.4)}{wave}")
    return Markup("")


def _dot(dot: Dot, em: float) -> Markup:
    places = {"cx": number(dot.at[0]), "cy": number(dot.at[1]), "r": number(em * 0.45)}
    return element("circle", {"class": "dot", "data-link": dot.key or None, **places})


def _strip(strip: Area, em: float) -> Markup:
    outline = _torn(strip.rings[0], em * 0.18)
    return path(f"strip {strip.state}", outline, f"{strip.key}: {strip.title}", **{"data-link": strip.key})


def _torn(outline: tuple[Point, ...], depth: float) -> str:
    """A strip's outline with its two short ends torn: a zigzag inward, so that the drawn edge stays true."""
    if len(outline) != 4:
        return ring(outline)
    sides = [(outline[i], outline[(i + 1) % 4]) for i in range(4)]
    lengths = [((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2) ** 0.5 for a, b in sides]
    ends = {0, 2} if lengths[0] + lengths[2] < lengths[1] + lengths[3] else {1, 3}
    middle = (sum(x for x, _ in outline) / 4, sum(y for _, y in outline) / 4)
    points: list[Point] = []
    for side, (a, b) in enumerate(sides):
        points.append(a)
        if side in ends:
            points += _teeth(a, b, middle, depth)
    return ring(points)


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
