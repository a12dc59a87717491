"""How ragged a painted edge is, from a close-up: the edge found between its two colours to a fraction of a dot, and a straight line fitted.

The picture's scale comes from something of known size in view; where it is given at two places, it changes evenly between them
(a picture taken at a slant). What can't be judged is refused with what to do about it.
"""

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d, map_coordinates

from dividers.core.base.errors import BadInput
from dividers.core.base.units import INCH_MM
from dividers.core.geometry.shapes import Bools, Floats, Point

# At 1 m the eye tells apart what lies one arc minute apart, 0.3 mm (visual acuity 20/20; from memory).
SEEN_MM_PER_M = 0.3
CLASSES = CLEAN, SLIGHT, BLEED = ("clean", "slight", "bleed")
SLIGHT_TIMES = 3.0  # up to so many times what is just seen it is slight (a judgement)
FEATHER_MM = 0.5
APART_MM = 0.3  # what lies nearer together is one feather

STEP, ACROSS = 0.5, 0.25  # dots between samples along and across
LOOK_MM, LEAST_LOOK, MOST_LOOK = 3.0, 10.0, 110.0  # how far to either side is looked, in mm and dots
LEAST_DOTS, LEAST_LENGTH_MM, LEAST_CONTRAST, MOST_GRAIN, MOST_BLUR_MM = 6.0, 15.0, 20.0, 0.3, 0.6
LEAST_FOUND = 0.9
SMOOTH = 1.0  # dots
MOST_LINE = 400  # points of the edge that are given back


@dataclass(frozen=True)
class Known:
    """Something of known size in the picture: between two places in dots, so many mm."""

    start: Point
    end: Point
    mm: float

    @property
    def dots_per_mm(self) -> float:
        return math.dist(self.start, self.end) / self.mm


@dataclass(frozen=True)
class Feather:
    """Where the edge strays by more than FEATHER_MM: how far along (mm), by how much at most, and on which side: 1 is right of the way along."""

    at_mm: float
    reach_mm: float
    side: int


@dataclass(frozen=True)
class EdgeFound:
    """An edge as measured: root mean square and largest distance from its straight line (mm), feathers, and how it counts.

    `line` is the edge and `straight` the fitted line's ends, in dots of the picture.
    """

    length_mm: float
    rms_mm: float
    worst_mm: float
    feathers: tuple[Feather, ...]
    judged: str
    dots_per_mm: float
    blur_mm: float
    line: tuple[Point, ...]
    straight: tuple[Point, Point]

    @property
    def feathers_per_m(self) -> float:
        return len(self.feathers) / self.length_mm * 1000


def in_mm(mm: float) -> str:
    """A length in millimetres, tenths where it is short."""
    return f"{mm:.0f} mm" if mm >= 10 else f"{mm:.1f} mm"


def in_inches(mm: float) -> str:
    """A length in inches, as fine as a close-up shows."""
    return f"{mm / float(INCH_MM):.2f} in"


Say = Callable[[float], str]


def measure_edge(
    picture: Floats, along: tuple[Point, Point], known: Sequence[Known], from_m: float = 1.0, say: Say = in_mm
) -> EdgeFound:
    """The edge of a picture (height, width, 3; 0 to 255) along a line drawn roughly on it, seen from so many metres. `say` writes mm.

    Raises BadInput where it can't be judged.
    """
    start, end = (np.array(point, float) for point in along)
    scales = _scales(start, end, known)
    dots = float(np.hypot(*(end - start)))
    if dots < 20:
        raise BadInput("Draw the line along the edge, from one end of what is to be judged to the other.", "along")
    count = int(dots / STEP) + 1
    share = np.linspace(0.0, 1.0, count)
    scale = scales[0] + (scales[1] - scales[0]) * share  # dots a mm, along the edge
    if scale.min() < LEAST_DOTS:
        raise BadInput(
            "The edge is too small in the picture to be judged. Come nearer and take it again: a close-up as wide as a hand does.",
            "known",
        )
    at_mm = np.concatenate([[0.0], np.cumsum(2 * np.hypot(*(end - start)) / (count - 1) / (scale[1:] + scale[:-1]))])
    if at_mm[-1] < LEAST_LENGTH_MM:
        raise BadInput(
            f"These are only {say(float(at_mm[-1]))} of edge; at least {say(LEAST_LENGTH_MM)} are needed to judge it.", "along"
        )
    way = (end - start) / dots
    out = np.array([-way[1], way[0]])
    profile, offsets = _profiles(picture, start, way * dots, out, share, float(scale.mean()))
    value = _between_sides(profile, offsets)
    away = _crossings(value, offsets)
    found = np.isfinite(away)
    if found.mean() < LEAST_FOUND:
        raise BadInput(
            "The edge isn't found along all of this line. Draw the line on the edge, and leave out what covers it.", "along"
        )
    blur = _blur(value, offsets, away, found) / float(scale.mean())
    if blur > MOST_BLUR_MM:
        raise BadInput(
            f"The picture is blurred: the edge is {say(blur)} wide in it. Hold still, tap on the edge for focus, take it again.",
            "photo",
        )
    off = away / scale
    slope, level = _straight(at_mm[found], off[found])
    rest = np.where(found, off - level - slope * at_mm, 0.0)
    worst = float(np.quantile(np.abs(rest[found]), 0.998))
    seen = SEEN_MM_PER_M * from_m
    judged = CLEAN if worst <= seen else SLIGHT if worst <= seen * SLIGHT_TIMES else BLEED
    points = start + np.outer(share * dots, way) + np.outer(np.where(found, away, 0.0), out)
    keep = np.flatnonzero(found)[:: max(1, math.ceil(int(found.sum()) / MOST_LINE))]
    ends = [start + way * dots * t + out * (level + slope * at_mm[n]) * scale[n] for t, n in ((0.0, 0), (1.0, -1))]
    return EdgeFound(
        float(at_mm[-1]),
        float(np.sqrt((rest[found] ** 2).mean())),
        worst,
        _feathers(at_mm, rest),
        judged,
        float(scale.mean()),
        blur,
        tuple((round(x, 2), round(y, 2)) for x, y in points[keep].tolist()),
        ((float(ends[0][0]), float(ends[0][1])), (float(ends[1][0]), float(ends[1][1]))),
    )


def _scales(start: Floats, end: Floats, known: Sequence[Known]) -> tuple[float, float]:
    """Dots a mm at the start and at the end of the edge."""
    for each in known:
        if each.mm <= 0 or math.dist(each.start, each.end) < 5:
            raise BadInput("Mark both ends of what you know the size of, and give its size.", "known")
    if not known:
        raise BadInput("Mark something of known size in the picture: the tape's width, or so much of a tape measure.", "known")
    way = (end - start) / max(float((end - start) @ (end - start)), 1e-9)
    places = [float((np.add(each.start, each.end) / 2 - start) @ way) for each in known]
    if len(known) == 1 or abs(places[-1] - places[0]) < 0.2:
        mean = sum(each.dots_per_mm for each in known) / len(known)
        return mean, mean
    first, last = known[0].dots_per_mm, known[-1].dots_per_mm
    slope = (last - first) / (places[-1] - places[0])
    return first - slope * places[0], first + slope * (1 - places[0])


def _profiles(picture: Floats, start: Floats, whole: Floats, out: Floats, share: Floats, scale: float) -> tuple[Floats, Floats]:
    """The picture across the line: (along, across, 3), and how many dots from the line each place across is."""
    high, wide = picture.shape[:2]
    look = min(max(LOOK_MM * scale, LEAST_LOOK), MOST_LOOK)
    ends = np.array([start, start + whole])
    room = float(np.minimum(ends, np.array([wide - 1, high - 1]) - ends).min())
    if room < 0:
        raise BadInput("The line leaves the picture.", "along")
    for side in (1.0, -1.0):  # where it leaves the picture to a side, less is looked at
        edge = ends + out * side * look
        beyond = np.maximum(-edge, edge - np.array([wide - 1, high - 1])).max()
        look -= max(float(beyond), 0.0)
    if look < LEAST_LOOK:
        raise BadInput("The edge lies at the picture's rim. Take it again with the edge in the middle.", "along")
    offsets = np.arange(-look, look + ACROSS / 2, ACROSS)
    x = start[0] + whole[0] * share[:, None] + out[0] * offsets
    y = start[1] + whole[1] * share[:, None] + out[1] * offsets
    found = np.stack([map_coordinates(picture[..., band], [y, x], order=1, mode="nearest") for band in range(3)], axis=-1)
    return found, offsets


def _between_sides(profile: Floats, offsets: Floats) -> Floats:
    """How much of the one side's colour and of the other's there is at each place: 0 to 1, whatever the light does along the edge."""
    outer = np.abs(offsets) > 0.55 * offsets[-1]
    levels = [profile[:, outer & side].mean(axis=1) for side in (offsets < 0, offsets > 0)]
    one, other = (gaussian_filter1d(level, 20 / STEP, axis=0, mode="nearest") for level in levels)
    way = other - one
    size = (way * way).sum(axis=1)
    contrast = float(np.sqrt(size).mean())
    if contrast < LEAST_CONTRAST:
        raise BadInput(
            "The two colours are too much alike here to find the edge. More light, from the side, may help.", "photo"
        )
    value: Floats = np.einsum("nkc,nc->nk", profile - one[:, None, :], way) / np.maximum(size, 1.0)[:, None]
    grain = float(np.hypot(value[:, outer & (offsets < 0)].std(), (value[:, outer & (offsets > 0)]).std())) / math.sqrt(2)
    if grain > MOST_GRAIN:
        raise BadInput(
            "The picture is too grainy, or something else lies beside the edge. More light, and only two colours in view.",
            "photo",
        )
    smooth: Floats = gaussian_filter1d(gaussian_filter1d(value, SMOOTH / ACROSS, axis=1), SMOOTH / STEP, axis=0)
    return smooth


def _crossings(value: Floats, offsets: Floats) -> Floats:
    """Where each profile goes from one colour to the other: of several places the one nearest to where its neighbours do; NaN for none."""
    low, high = value[:, :-1] - 0.5, value[:, 1:] - 0.5
    crosses = (low < 0) & (high >= 0)
    within = np.where(crosses, low / np.where(low == high, -1.0, low - high), 0.0)
    place = np.where(crosses, offsets[:-1] + within * ACROSS, np.nan)
    middle = np.clip((0.5 - value).clip(-0.5, 0.5).sum(axis=1) * ACROSS, offsets[0], offsets[-1])  # by area, coarse but single
    far = np.where(crosses, np.abs(place - middle[:, None]), np.inf)
    best = far.argmin(axis=1)
    return np.where(crosses.any(axis=1), place[np.arange(len(place)), best], np.nan)


def _blur(value: Floats, offsets: Floats, away: Floats, found: Bools) -> float:
    """How many dots the change of colour takes, from a tenth to nine tenths, on the mean profile laid on the edge."""
    rows = np.flatnonzero(found)[:: max(1, int(found.sum()) // 400)]
    grid = offsets[np.abs(offsets) < 0.6 * offsets[-1]]
    mean = np.mean([np.interp(grid, offsets - away[row], value[row]) for row in rows], axis=0)
    rising = np.maximum.accumulate(mean)
    low, high = (float(np.interp(level, rising, grid)) for level in (0.1, 0.9))
    return max(high - low, 0.0)


def _straight(at: Floats, off: Floats) -> tuple[float, float]:
    """The line that most of the edge follows: least squares, what strays left out step by step. Slope and level."""
    keep = np.ones(len(at), bool)
    slope, level = 0.0, float(np.median(off))
    for _ in range(6):
        slope, level = (float(each) for each in np.polyfit(at[keep], off[keep], 1))
        rest = np.abs(off - level - slope * at)
        keep = rest <= max(3 * float(np.median(rest[keep])) / 0.6745, 1e-6)
    return slope, level


def _feathers(at_mm: Floats, rest: Floats) -> tuple[Feather, ...]:
    found: list[Feather] = []
    for side in (1, -1):
        far = np.flatnonzero(rest * side > FEATHER_MM)
        if not len(far):
            continue
        breaks = np.flatnonzero(np.diff(at_mm[far]) > APART_MM)
        for run in np.split(far, breaks + 1):
            top = run[int(np.argmax(rest[run] * side))]
            found.append(Feather(float(at_mm[top]), float(abs(rest[top])), side))
    return tuple(sorted(found, key=lambda feather: feather.at_mm))
