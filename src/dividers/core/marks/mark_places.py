"""Where marks go: on the field's sides where lines meet them, on the edges of openings, and down verticals where lines end inside."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from dividers.core.base.tolerances import GRID_SKEW, POINT_GRID_MM, SAME_POINT_MM, SHORTEST_LINE_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.contours import ends_in
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Floats, Ints, Point
from dividers.core.job.method import LASER
from dividers.core.job.surface import SIDES, Panel
from dividers.core.marks.rims import RIM, inward_of, on_rims, sharp_corners, straight_edge

# The sides of a field, clockwise from the top: names, and which coordinate a tape measure reads along them.
# The name of each side of a panel, and whether its marks are read across (0) or down (1).
MARKED_SIDES: dict[int, tuple[str, int]] = {number: (f"{side} edge", number % 2) for number, side in enumerate(SIDES)}
INSIDE = -1
LEAST_CROSSING = 0.01  # a line that turns less from a side than this (half a degree) runs along it

CARRIED = 1 - 1e-9  # a line whose normal is so nearly level or plumb can be carried by a level or a laser


@dataclass(frozen=True)
class Places:
    """Points to mark, in columns: (n, 2) in mm, the side of the field or INSIDE, and the supporting line that each is for."""

    points: Floats
    sides: Ints
    lines: Ints

    def __len__(self) -> int:
        return len(self.points)

    def pick(self, keep: Bools | Ints | list[int]) -> "Places":
        keep = np.asarray(keep, None if len(keep) else np.int64)
        return Places(self.points[keep], self.sides[keep], self.lines[keep])


def meeting(layout: Layout) -> Bools:
    """The borders that paint meets: between cells of two looks, or of two regions with a line between
    them, on a margin that isn't the panel's own edge, or on the edge of a zone that was drawn."""
    borders = layout.borders
    look = np.append(_looks(layout), -1)
    paint = np.append(layout.painted, False)
    plus, minus = borders.plus, borders.minus
    inside = (plus != NOTHING) & (minus != NOTHING)
    apart = look[plus] != look[minus]
    if layout.lined:
        apart |= inside & (_regions(layout)[plus] != _regions(layout)[minus])
    meets: Bools = apart & (paint[plus] | paint[minus]) & (inside | _on_margin(layout) | _on_zone_edge(layout))
    lengths = np.bincount(borders.line, borders.lengths * meets, minlength=len(borders.lines.offsets))
    return meets & (lengths >= SHORTEST_LINE_MM)[borders.line]


def _on_zone_edge(layout: Layout) -> Bools:
    """Which borders lie on the edge of a zone that doesn't show on the surface yet: neither a side of the field nor an opening's."""
    borders = layout.borders
    if all(part.cell for part in layout.parts):
        return on_bare_edge(layout) & ~_on_sides(layout)[borders.line]
    return ~_on_sides(layout)[borders.line]


def on_bare_edge(layout: Layout) -> Bools:
    """Which borders lie on an edge of a cell below that its own layer shows nothing of."""
    borders = layout.borders
    lines = borders.lines
    found = np.zeros(len(borders.line), bool)
    outer = (borders.plus == NOTHING) != (borders.minus == NOTHING)
    for stretch in {stretch for part in layout.parts for stretch in part.bare}:
        ends = np.array(stretch)
        on = (np.abs(lines.normals @ ends.T - lines.offsets[:, None]) < SAME_POINT_MM).all(axis=1)[borders.line]
        t = np.sort(lines.directions @ ends.T, axis=1)[borders.line]
        found |= on & outer & (borders.t0 < t[:, 1] - SAME_POINT_MM) & (borders.t1 > t[:, 0] + SAME_POINT_MM)
    return found


def _on_sides(layout: Layout) -> Bools:
    """Which supporting lines lie on a side of the field or of an opening."""
    lines = layout.borders.lines
    panel = layout.panel
    sides = [np.array(panel.field_quad.side(side)) for side in range(len(MARKED_SIDES))]
    for opening in panel.openings:
        box = opening.box
        left, top, right, bottom = (float(side) for side in (box.left, box.top, box.right, box.bottom))
        corners = [(left, top), (right, top), (right, bottom), (left, bottom)]
        sides += [np.array([corners[at], corners[(at + 1) % 4]]) for at in range(4)]
    there = np.zeros(len(lines.offsets), bool)
    for ends in sides:
        there |= (np.abs(lines.normals @ ends.T - lines.offsets[:, None]) < SAME_POINT_MM).all(axis=1)
    return there


def _regions(layout: Layout) -> Ints:
    """The pattern's region that each cell belongs to, and one more for what lies outside."""
    regions = layout.tiles.regions if layout.tiles.regions is not None else np.arange(len(layout.tiles.shapes))
    return np.append(regions[layout.origins], -1)


def _looks(layout: Layout) -> Ints:
    """A number for each cell, the same for cells that are painted alike."""
    names = list(dict.fromkeys(str(color) for color in layout.colors))
    number = np.array([names.index(str(color)) for color in layout.colors] + [len(names)])
    looks: Ints = number[layout.slots] * (len(names) + 2) + number[layout.under]
    return looks


def lines_to_mark(layout: Layout) -> Ints:
    """The supporting lines that paint will meet."""
    return np.unique(layout.borders.line[meeting(layout)])


def _on_margin(layout: Layout) -> Bools:
    """Which borders lie on a side of the field that is set in from the panel's edge."""
    lines = layout.borders.lines
    on = np.zeros(len(lines.offsets), bool)
    for side in margins_of(layout.panel):
        ends = np.array(layout.panel.field_quad.side(side))
        on |= (np.abs(lines.normals @ ends.T - lines.offsets[:, None]) < SAME_POINT_MM).all(axis=1)
    result: Bools = on[layout.borders.line]
    return result


def margins_of(panel: Panel) -> list[int]:
    """The sides of the field that are set in from the panel's edge."""
    if panel.contour and panel.contour.field == panel.contour.outline:
        return []  # its box may lie a hair outside a curve's chords
    inside = np.abs(panel.outline_quad.away(panel.field_quad.points))  # of each corner of the field from each side of the panel
    sides = range(len(MARKED_SIDES))
    return [side for side in sides if max(inside[side, side], inside[(side + 1) % 4, side]) > SAME_POINT_MM]


def corners_of(panel: Panel) -> list[Point]:
    """The panel's own corners, which need no mark: of an outline those that were written, unless an arc goes on smoothly there."""
    return sharp_corners(panel.contour) if panel.contour else list(panel.outline_quad.corners)


def find_places(layout: Layout, way: str) -> Places:
    """Every point to mark, once.

    A line that paint meets from one side of the field to another is marked on those two sides and snapped between. One that
    ends inside is marked where it ends, or, plumb and level ones, drawn out to the sides where that takes fewer marks. With `way` perimeter every line is drawn out to the sides; with verticals every corner
    of a cell is marked; with laser every level or plumb line has one mark, from which it is carried. Marks at the panel's own corners and in doorways are left out.
    """
    borders = layout.borders
    at = np.flatnonzero(meeting(layout))
    if not len(at):
        return Places(np.zeros((0, 2)), np.zeros(0, np.int64), np.zeros(0, np.int64))
    if way == LASER:
        own = np.unique(borders.line[at])
        own = own[np.abs(borders.lines.normals[own]).max(axis=1) > CARRIED]
        carried = _one_each(_kept(layout.panel, _drawn_out(layout, own)))
        rest = _found(layout, at[~np.isin(borders.line[at], carried.lines)], "auto")
        return _kept(layout.panel, _once(_both(carried, rest)))
    found = _markable(layout, at, way)
    return _fewest(layout, at, found) if way == "auto" and (found.sides == INSIDE).any() else found


def _markable(layout: Layout, at: Ints, way: str, drawn: Ints | None = None) -> Places:
    """The places along some borders, each once; lines that would be marked in a doorway, where they end beside it."""
    found = _found(layout, at, way, drawn)
    lost = np.unique(found.lines[_in_doorway(layout.panel, found)])
    if len(lost) and way != "verticals":
        found = _both(found, _segment_ends(layout, at[np.isin(layout.borders.line[at], lost)]))
    return _kept(layout.panel, _once(found))


def _fewest(layout: Layout, at: Ints, found: Places) -> Places:
    """The places of lines that end inside, or fewer: plumb or level lines drawn out and marked on the field's sides instead, where no
    opening lies in their way."""
    plumb, level = (_open_lines(layout, np.unique(found.lines[found.sides == INSIDE]), axis) for axis in (0, 1))
    tried = [found]
    for drawn in (plumb, level, np.concatenate([plumb, level])):
        if len(drawn):
            tried.append(_markable(layout, at, "auto", drawn))
    return min(tried, key=lambda places: marks_made(layout, places))


def _open_lines(layout: Layout, lines: Ints, axis: int) -> Ints:
    """Of some lines those that are plumb (axis 0) or level (1) and meet no opening, drawn out to the field's sides."""
    panel = layout.panel
    if panel.shape and panel.shape.follows:
        return lines[:0]
    own = lines[np.abs(layout.borders.lines.normals[lines, axis]) > CARRIED]
    places = layout.borders.lines.offsets[own] * layout.borders.lines.normals[own, axis]
    for opening in panel.openings:
        low, high = (opening.box.left, opening.box.right) if axis == 0 else (opening.box.top, opening.box.bottom)
        clear = (places < float(low) + SAME_POINT_MM) | (places > float(high) - SAME_POINT_MM)
        own, places = own[clear], places[clear]
    if panel.contour:  # in an L or a U a line may leave the panel and come back
        ring = np.array(panel.contour.field)[:, axis]
        beyond = ring[None, :] > places[:, None]
        own = own[(beyond != np.roll(beyond, 1, axis=1)).sum(axis=1) <= 2]
    result: Ints = own
    return result


def marks_made(layout: Layout, places: Places) -> int:
    """How many marks places take, with the two at the ends of each vertical that inner ones are read down."""
    inner = np.array(
        [
            side == INSIDE and not on_opening(layout.panel, (x, y))
            for (x, y), side in zip(places.points.tolist(), places.sides.tolist(), strict=True)
        ],
        bool,
    )
    across = np.unique(np.round(places.points[inner, 0] / POINT_GRID_MM + GRID_SKEW))
    outline = layout.panel.contour is not None
    ends = places.sides != INSIDE if outline else np.isin(places.sides, (SIDES.index("top"), SIDES.index("bottom")))
    there = np.round(places.points[ends, 0] / POINT_GRID_MM + GRID_SKEW)
    return len(places) + 2 * len(across) - int(np.isin(there, across).sum())


def _one_each(places: Places) -> Places:
    """One place a line, the one on the left or the top where there is one: the line is level or plumb, and carried from there."""
    near = np.isin(places.sides, (SIDES.index("left"), SIDES.index("top"))) | (places.sides >= RIM)
    order = np.lexsort([~near, places.lines])
    _, first = np.unique(places.lines[order], return_index=True)
    return places.pick(np.sort(order[first]))


def _found(layout: Layout, at: Ints, way: str, drawn: Ints | None = None) -> Places:
    """The places along some borders; `drawn` lines are drawn out to the field's sides."""
    borders = layout.borders
    if not len(at):
        return Places(np.zeros((0, 2)), np.zeros(0, np.int64), np.zeros(0, np.int64))
    line, t0, t1 = borders.line[at], borders.t0[at], borders.t1[at]
    places = _segment_ends(layout, at, every=way == "verticals")
    if way != "verticals":
        first, last = np.append(True, np.diff(line) != 0), np.append(np.diff(line) != 0, True)
        outer = _ends(layout, np.concatenate([line[first], line[last]]), np.concatenate([t0[first], t1[last]]))
        count = int(first.sum())
        through = np.zeros(len(borders.lines.offsets), bool)
        through[line[first]] = (outer.sides[:count] != INSIDE) & (outer.sides[count:] != INSIDE)
        on_margin = _on_margin(layout)[at[first]]
        if way == "perimeter":
            outer = _drawn_out(layout, line[first])
            through[:] = True
        elif on_margin.any() or drawn is not None:
            own = line[first][on_margin]  # the field's own side is marked end to end, however far paint reaches along it
            own = own if drawn is None else np.union1d(own, drawn)
            outer = _both(outer.pick(~np.isin(outer.lines, own)), _drawn_out(layout, own))
            through[own] = True
        places = _both(outer.pick(through[outer.lines]), places.pick(~through[places.lines]))
    return places


def _segment_ends(layout: Layout, at: Ints, every: bool = False) -> Places:
    """Both ends of each whole stretch of line along some borders, or of each border."""
    borders = layout.borders
    line, t0, t1 = borders.line[at], borders.t0[at], borders.t1[at]
    follows = (np.diff(line) == 0) & (t0[1:] - t1[:-1] <= SAME_POINT_MM) & (not every)
    starts, ends = np.append(True, ~follows), np.append(~follows, True)
    return _ends(layout, np.concatenate([line[starts], line[ends]]), np.concatenate([t0[starts], t1[ends]]))


def _ends(layout: Layout, line: Ints, t: Floats) -> Places:
    lines = layout.borders.lines
    points = lines.directions[line] * t[:, None] + lines.normals[line] * lines.offsets[line, None]
    sides = _sides_across(layout.panel, points, lines.normals[line])
    return Places(_exact(layout.panel, points, sides), sides, line)


def _exact(panel: Panel, points: Floats, sides: Ints) -> Floats:
    """Points with what lies on a side lying on it exactly."""
    field = panel.field
    if not panel.shape and not panel.contour:
        for side, edge in enumerate((field.top, field.right, field.bottom, field.left)):
            points[sides == side, 1 - side % 2] = float(edge)
    return points


def sides_of(panel: Panel, points: Floats) -> Ints:
    """The number of the field's side that each point lies on, RIM and more of an outline of its own; or INSIDE."""
    if panel.contour:
        return on_rims(panel, points)
    gaps = np.abs(panel.field_quad.away(points))
    on = gaps < SAME_POINT_MM
    return np.where(on.any(axis=1), on.argmax(axis=1), INSIDE)


def _sides_across(panel: Panel, points: Floats, normals: Floats) -> Ints:
    """The side of the field that each point of a line lies on, one that crosses the line where there is one: on the other it would be read
    along the line itself, and say nothing of where that lies."""
    if panel.contour:
        return on_rims(panel, points, normals)
    field = panel.field_quad
    on = np.abs(field.away(points)) < SAME_POINT_MM
    way = np.roll(field.points, -1, axis=0) - field.points
    way = way / np.hypot(way[:, 0], way[:, 1])[:, None]
    crosses = np.abs(normals @ way.T) > LEAST_CROSSING
    best = np.where((on & crosses).any(axis=1, keepdims=True), on & crosses, on)
    return np.where(on.any(axis=1), best.argmax(axis=1), INSIDE)


def _drawn_out(layout: Layout, line: Ints) -> Places:
    """Where lines, drawn out, meet the field's sides."""
    if layout.panel.contour:
        return _drawn_out_to(layout, line, layout.panel.contour.field)
    lines, field = layout.borders.lines, layout.panel.field_quad
    along, base = lines.directions[line], lines.normals[line] * lines.offsets[line, None]
    from_base, from_ahead = field.away(base), field.away(base + along)
    points, owners, sides = [], [], []
    for side in range(len(MARKED_SIDES)):
        nearer = from_ahead[:, side] - from_base[:, side]
        crosses = np.abs(nearer) > 1e-9
        found = base[crosses] - along[crosses] * (from_base[crosses, side] / nearer[crosses])[:, None]
        inside = field.holds(found, SAME_POINT_MM)
        points.append(found[inside])
        owners.append(line[crosses][inside])
        sides.append(np.full(int(inside.sum()), side))
    every = np.concatenate(points)
    which = np.concatenate(sides)
    return Places(_exact(layout.panel, every, which), which, np.concatenate(owners))


def _drawn_out_to(layout: Layout, line: Ints, ring: Sequence[Point]) -> Places:
    """Where lines, drawn out, first and last meet a ring."""
    lines = layout.borders.lines
    found: list[Point] = []
    owners: list[int] = []
    for number in line.tolist():
        through = lines.normals[number] * lines.offsets[number]
        ends = ends_in(ring, tuple(through.tolist()), tuple((through + lines.directions[number]).tolist()))
        if ends:
            found += ends
            owners += [number, number]
    places, owner = np.array(found).reshape(-1, 2), np.array(owners, np.int64)
    sides = _sides_across(layout.panel, places, lines.normals[owner])
    return Places(_exact(layout.panel, places, sides), sides, owner)


def _both(one: Places, other: Places) -> Places:
    return Places(*(np.concatenate([getattr(one, c), getattr(other, c)]) for c in ("points", "sides", "lines")))


def _once(places: Places) -> Places:
    """Each point once on a side, the first that names it. Points a hair apart share a square of at least one of two grids, half a square apart."""
    for skew in (GRID_SKEW, GRID_SKEW + 0.5):
        squares = np.column_stack([np.round(places.points / POINT_GRID_MM + skew).astype(np.int64), places.sides])
        places = places.pick(np.sort(np.unique(squares, axis=0, return_index=True)[1]))
    return places


def _kept(panel: Panel, places: Places) -> Places:
    """Without the panel's own corners, and without places where there is nothing to mark on: a doorway."""
    keep = ~_in_doorway(panel, places)
    for corner in corners_of(panel):
        keep &= np.abs(places.points - corner).max(axis=1) > SAME_POINT_MM
    places = places.pick(keep)
    if panel.contour or not len(places):
        return places
    # where a margin's line meets the panel's own edge, the mark on that edge says it all
    away = np.abs(panel.outline_quad.away(places.points))
    on_own = np.take_along_axis(away, np.maximum(places.sides, 0)[:, None], axis=1)[:, 0] < SAME_POINT_MM
    on_side = places.sides != INSIDE
    own = places.points[on_own & on_side]
    twice = [
        number
        for number in np.flatnonzero(~on_own & on_side).tolist()
        if len(own) and (np.abs(own - places.points[number]).max(axis=1) < SAME_POINT_MM).any()
    ]
    return places.pick(np.setdiff1d(np.arange(len(places)), twice))


def _in_doorway(panel: Panel, places: Places) -> Bools:
    """Which places lie on a side of the field where an opening is."""
    found = np.zeros(len(places), bool)
    for side, inward in inward_of(panel):
        x, y = (places.points + np.array(inward) * 10 * SAME_POINT_MM).T
        for opening in panel.openings:
            left, top, right, bottom = (
                float(v) for v in (opening.box.left, opening.box.top, opening.box.right, opening.box.bottom)
            )
            found |= (places.sides == side) & (x > left) & (x < right) & (y > top) & (y < bottom)
    return found


def on_opening(panel: Panel, point: Point) -> tuple[int, str, int] | None:
    """The edge of an opening that a point lies on, to be measured along: its number, its name and the axis read along it."""
    x, y = point
    for number, opening in enumerate(panel.openings):
        box, name = opening.box, opening.name
        left, top, right, bottom = (float(v) for v in (box.left, box.top, box.right, box.bottom))
        if not (left - SAME_POINT_MM < x < right + SAME_POINT_MM and top - SAME_POINT_MM < y < bottom + SAME_POINT_MM):
            continue
        edges = ((x - left, "left side", 1), (x - right, "right side", 1), (y - top, "top", 0), (y - bottom, "bottom", 0))
        for edge, (gap, side, axis) in enumerate(edges):
            stretch = straight_edge(opening, edge)
            if (
                abs(gap) < SAME_POINT_MM
                and stretch
                and stretch[0][axis] - SAME_POINT_MM < point[axis] < stretch[1][axis] + SAME_POINT_MM
            ):
                return 4 * number + edge, f"{name}, {side}", axis
    return None
