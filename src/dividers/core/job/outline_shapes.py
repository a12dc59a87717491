"""Outlines as people measure them: a gable, a wall below a slope, a stair wall, a cut corner, an arched top, a round. Each gives corners of a job file."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from math import isqrt
from typing import Any

from dividers.core.base.errors import BadInput

Sizes = Mapping[str, Fraction]
Corners = list[tuple[Fraction, Fraction, Fraction]]  # from the left, from the top, the rise of an arc that begins there
NONE = Fraction(0)


@dataclass(frozen=True)
class OutlineShape:
    """A kind of outline: what is measured of it (key, title), and its corners from that. `make` raises BadInput at a key."""

    key: str
    title: str
    asked: tuple[tuple[str, str], ...]
    make: Callable[[Sizes], Corners]


def _gable(sizes: Sizes) -> Corners:
    wide, left, right, ridge = (sizes[key] for key in ("width", "left", "right", "ridge"))
    at = sizes.get("ridge_at", wide / 2)
    if ridge <= max(left, right):
        raise BadInput("The ridge must be higher than both sides.", "ridge")
    if not 0 < at < wide:
        raise BadInput("The ridge must lie between both sides.", "ridge_at")
    return _straight((NONE, ridge - left), (at, NONE), (wide, ridge - right), (wide, ridge), (NONE, ridge))


def _slope(sizes: Sizes) -> Corners:
    wide, left, right = (sizes[key] for key in ("width", "left", "right"))
    high = max(left, right)
    corners = [(NONE, high - left), (wide, high - right), (wide, high), (NONE, high)]
    return _straight(*dict.fromkeys(corners))


def _stair(sizes: Sizes) -> Corners:
    """Rises to the right: the lower edge along the stairs, the upper one level with it or by a height of its own at the top."""
    run, rise, low = (sizes[key] for key in ("run", "rise", "low"))
    top = sizes.get("top", low)
    high = max(rise + top, low)
    return _straight((NONE, high - low), (run, high - rise - top), (run, high - rise), (NONE, high))


def _corner(sizes: Sizes) -> Corners:
    wide, high, cut_wide, cut_high = (sizes[key] for key in ("width", "height", "cut_width", "cut_height"))
    for key, cut, whole in (("cut_width", cut_wide, wide), ("cut_height", cut_high, high)):
        if not 0 < cut < whole:
            raise BadInput("What is cut out must be smaller than the whole.", key)
    return _straight(
        (NONE, NONE), (wide - cut_wide, NONE), (wide - cut_wide, cut_high), (wide, cut_high), (wide, high), (NONE, high)
    )


def _arch(sizes: Sizes) -> Corners:
    wide, sides, middle = (sizes[key] for key in ("width", "sides", "middle"))
    rise = middle - sides
    if not 0 < rise <= wide / 2:
        raise BadInput("The middle must be higher than the sides, by no more than half of the width.", "middle")
    return [(NONE, rise, rise), (wide, rise, NONE), (wide, middle, NONE), (NONE, middle, NONE)]


def _round(sizes: Sizes) -> Corners:
    across = sizes["across"]
    half = across / 2
    root = Fraction(isqrt(2 * 10**24), 10**12)
    rise = (half - half / root).limit_denominator(10**9)  # of a quarter of the circle over its chord
    return [(half, NONE, rise), (across, half, rise), (half, across, rise), (NONE, half, rise)]


def _straight(*corners: tuple[Fraction, Fraction]) -> Corners:
    return [(x, y, NONE) for x, y in corners]


OUTLINE_SHAPES = {
    each.key: each
    for each in (
        OutlineShape("gable", "Gable", (("width", "Width"), ("left", "Height, left"), ("right", "Height, right"), ("ridge", "Height of the ridge"), ("ridge_at", "Ridge from the left, else the middle")), _gable),
        OutlineShape("slope", "Below a slope", (("width", "Width"), ("left", "Height, left"), ("right", "Height, right")), _slope),
        OutlineShape("stair", "Stair wall, rising to the right", (("run", "Going, all steps"), ("rise", "Rise, all steps"), ("low", "Height at the foot"), ("top", "Height at the head, else the same")), _stair),
        OutlineShape("corner", "Corner cut out, top right", (("width", "Width"), ("height", "Height"), ("cut_width", "Cut, width"), ("cut_height", "Cut, height")), _corner),
        OutlineShape("arch", "Arched top", (("width", "Width"), ("sides", "Height of the sides"), ("middle", "Height in the middle")), _arch),
        OutlineShape("round", "Round", (("across", "Across"),), _round),
    )
}  # fmt: skip
OPTIONAL = ("ridge_at", "top")


def corners_of(shape: str, sizes: Sizes) -> Corners:
    """The corners of an outline, clockwise. Raises BadInput at the key of a size that is missing or can't be."""
    if shape not in OUTLINE_SHAPES:
        raise BadInput("Choose what the outline is.", "shape")
    own = OUTLINE_SHAPES[shape]
    for key, title in own.asked:
        if key not in OPTIONAL and sizes.get(key, NONE) <= 0:
            raise BadInput(f"Give it: {title[0].lower()}{title[1:]}.", key)
    return own.make(sizes)


def written(corners: Corners, length: Callable[[Fraction], str]) -> list[Any]:
    """Corners as a job file has them."""
    return [{"at": [length(x), length(y)], "bulge": length(rise)} if rise else [length(x), length(y)] for x, y, rise in corners]
