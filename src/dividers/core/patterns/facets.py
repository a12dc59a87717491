"""Facets: straight lines between named points cut the field into regions, each with a colour or stripes of its own."""

import itertools
import math
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry import polygons
from dividers.core.geometry.shapes import Floats, Ints, Point, Shapes, chosen, joined
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import RESERVE, TORN, Note, Parameter, Pattern, Region, Tiles, Values
from dividers.core.patterns.free.construction import faces
from dividers.core.patterns.free.located import located
from dividers.core.patterns.free.near_misses import near_misses
from dividers.core.patterns.free.points import Fill

MOST_STRIPES = 400


def lay(ground: Ground, values: Values) -> Tiles:
    """The regions that the lines cut the area into; those without a fill stay base."""
    area = ground.area
    points = located(values["points"], area)
    segments = _segments(values["lines"], points)
    regions, loose_mm = faces(area, segments)
    _segments(values["guides"], points)
    notes = list(near_misses(points, values["lines"], values["guides"], area))
    if loose_mm > 1:
        notes.append(Note("loose-line", "Lines bound nothing over {}: they end inside a region.", "lines", (_mm(loose_mm),)))
    fills: tuple[Fill, ...] = values["fills"]
    holder = _holders(area, regions, fills)
    for number in np.flatnonzero(holder < 0):
        raise BadInput("That place is in no region: it lies on a line or outside the field.", f"fills.{number}")
    filled = {int(region): fill for region, fill in zip(holder, fills, strict=True)}
    twice = [number for number, region in enumerate(holder.tolist(), 1) if region in holder[: number - 1].tolist()]
    doubled = tuple(
        Note(
            "two-fills",
            f"Fill {number} is in a region that another fill colours already; the later one counts. Take one of them out.",
            "fills",
        )
        for number in twice
    )
    if fills and (bare := len(regions) - len(filled)):
        some = "1 region has no colour and stays" if bare == 1 else f"{bare} regions have no colour and stay"
        notes.append(
            Note("uncoloured", f"{some} base. Colour what was forgotten; choose base for what is meant so.", "fills", fact=True)
        )
    if values["edge"] == "torn":
        notes.append(Note("torn", TORN, "edge", fact=True))
    colors = tuple(dict.fromkeys(color for fill in fills for color in fill.colors)) or (None,)
    colors = (*colors, None)
    striped = {region: fill for region, fill in filled.items() if fill.stripe_mm}
    plain = np.array([region for region in range(len(regions)) if region not in striped], np.int64)
    parts, owners = [chosen(regions, plain)], plain.tolist()
    slots = [colors.index(filled[region].colors[0]) if region in filled else len(colors) - 1 for region in owners]
    for region, fill in striped.items():
        pieces, turns = _striped(chosen(regions, np.array([region])), fill)
        for piece, turn in zip(pieces, turns, strict=True):
            parts.append(piece)
            slots += [colors.index(fill.colors[turn % len(fill.colors)])] * len(piece)
            owners += [region] * len(piece)
    order = np.argsort(owners, kind="stable")  # region by region, as they lie
    shapes = chosen(joined(parts), order)
    torn = values["edge"] == "torn"
    return Tiles(shapes, np.array(slots)[order], colors, (*notes, *doubled), regions=np.array(owners)[order], torn=torn)


def _holders(area: Rectangle, regions: Shapes, fills: tuple[Fill, ...]) -> Ints:
    """The region that each fill's place lies in, or -1."""
    places = np.array([(float(area.left + f.x_mm), float(area.top + f.y_mm)) for f in fills]).reshape(-1, 2)
    return polygons.holding(polygons.to_polygons(regions), places)


def regions_of(ground: Ground, values: Values) -> list[Region]:
    """Every region that the lines make, for filling them one by one. Raises BadInput as `lay` does."""
    area = ground.area
    shapes, _ = faces(area, _segments(values["lines"], located(values["points"], area)))
    holder = _holders(area, shapes, values["fills"]).tolist()
    inner = polygons.inner_points(polygons.to_polygons(shapes)).tolist()
    return [
        Region(x - float(area.left), y - float(area.top), holder.index(number) if number in holder else None)
        for number, (x, y) in enumerate(inner)
    ]


def _segments(paths: tuple[tuple[str, ...], ...], points: dict[str, Point]) -> Floats:
    """Every leg of every path, shape (n, 2, 2)."""
    legs = []
    for number, path in enumerate(paths):
        for name in path:
            if name not in points:
                raise BadInput(f"There is no point “{name}”. Points so far: {', '.join(points) or 'none'}.", f"lines.{number}")
        for a, b in itertools.pairwise(path):
            if math.dist(points[a], points[b]) < 1:
                raise BadInput(f"{a} and {b} are the same place; a line needs two.", f"lines.{number}")
            legs.append((points[a], points[b]))
    return np.array(legs).reshape(-1, 2, 2)


def _striped(shape: Shapes, fill: Fill) -> tuple[list[Shapes], list[int]]:
    """A region cut into stripes of the fill's width and direction, from its own edge on, and each one's turn in its colours."""
    assert fill.stripe_mm is not None
    angle = math.radians(float(fill.direction))
    across = np.array([math.sin(angle), math.cos(angle)])
    along = np.array([across[1], -across[0]])
    runs, reach = shape.points @ across, shape.points @ along
    width = float(fill.stripe_mm)
    many = math.ceil((runs.max() - runs.min()) / width - 1e-9)
    if many > MOST_STRIPES:
        raise BadInput(f"That narrow, the region would have {many} stripes; at most {MOST_STRIPES} are allowed.", "fills")
    pieces, turns = [], []
    region = polygons.to_polygons(shape)[0]
    for turn in range(many):
        low = runs.min() + width * turn
        ring = [
            tuple(s * across + t * along)
            for s, t in (
                (low, reach.min() - 1),
                (low + width, reach.min() - 1),
                (low + width, reach.max() + 1),
                (low, reach.max() + 1),
            )
        ]
        cut, _ = polygons.clipped(polygons.solid([region]), polygons.region(ring))
        if len(cut):
            pieces.append(polygons.from_polygons(cut))
            turns.append(turn)
    return pieces, turns


def _mm(value: float) -> Fraction:
    return Fraction(value).limit_denominator(1000)


def first(ground: Ground) -> dict[str, object]:
    """A few facets that hang together; points on the far edges are measured from those, where rounding leaves them."""
    area: Rectangle = ground.area
    wide, high = area.width, area.height

    def at(x: Fraction, y: Fraction) -> list[Fraction]:
        return [wide * x, high * y]

    part = Fraction
    return {
        "points": {
            "A": at(part(0), part(5, 8)),
            "B": at(part(3, 8), part(0)),
            "C": {"left": wide * part(5, 8), "bottom": part(0)},
            "D": {"right": part(0), "top": high * part(1, 4)},
            "E": at(part(7, 8), part(0)),
        },
        "lines": [["A", "D"], ["B", "C"], ["C", "E"]],
        "fills": [
            {"at": at(part(1, 8), part(1, 8)), "color": 0},
            {"at": at(part(5, 8), part(5, 8)), "color": 0},
            {"at": at(part(15, 16), part(1, 16)), "color": 1},
        ],
    }


PATTERN = Pattern(
    key="facets",
    title="Facets",
    summary="Lines between points, one colour for each region.",
    parameters=(
        Parameter("points", "Points", "points", "one a line: A: 12, 20 (across, down); B: right 6, top 10; C: on A B at 14; D: where A B meets C E", most=Fraction(200), needed=True),
        Parameter("lines", "Lines", "paths", "one a line, the points it runs through: A B C", most=Fraction(200), needed=True),
        Parameter("fills", "Fills", "fills", "a place in the region and its colour: 30, 20: ink; or 30, 20: ink, cream in stripes of 2 1/2 at 45", most=Fraction(400)),
        Parameter("guides", "Guides", "paths", "lines that are on the picture already, the points they run through; nothing is laid along them", (), most=Fraction(200)),
        Parameter("edge", "Edge", "choice", "torn tape gives a natural edge", "clean", choices=("clean", "torn")),
        RESERVE,
    ),
    lay=lay,
    first=first,
    reserve_key="reserve",
    regions=regions_of,
)  # fmt: skip
