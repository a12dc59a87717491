"""How long a curved front is along its curve: an arc by chord and rise, or an S by how far it stands off a straight board."""

import math
from collections.abc import Sequence
from fractions import Fraction
from itertools import pairwise

import numpy as np

from dividers.core.job.kinds import LengthText
from dividers.core.job.layers import Place
from dividers.core.job.places import PlacesKind
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, Values

LEAST_MM, MOST_MM = Fraction(10), Fraction(100_000)
STEPS = 256  # chords that stand for the curve between two stations
MOST_STATIONS = 60


def developed_mm(chord: Fraction, rise: Fraction) -> Fraction:
    """The length along a circular arc over a chord, `rise` mm out in its middle; to a thousandth of a millimetre.

    >>> developed_mm(Fraction(2000), Fraction(1000))  # half a circle of radius 1 m
    Fraction(3141593, 1000)
    """
    c, h = float(chord), float(rise)
    radius = c * c / (8 * h) + h / 2
    return Fraction(round(2 * radius * math.asin(min(c / (2 * radius), 1.0)) * 1000), 1000)


def along_stations_mm(stations: Sequence[Place]) -> Fraction:
    """The length along the smooth curve (a cubic spline) through stations: (along the board, out from it) mm, from end to end.

    >>> along_stations_mm([(Fraction(0), Fraction(0)), (Fraction(300), Fraction(400))])
    Fraction(500, 1)
    """
    x, y = (np.array([float(each[axis]) for each in stations]) for axis in (0, 1))
    if len(x) < 3:
        return Fraction(round(math.hypot(x[-1] - x[0], y[-1] - y[0]) * 1000), 1000)
    from scipy.interpolate import CubicSpline

    fine = np.concatenate([np.linspace(a, b, STEPS, endpoint=False) for a, b in pairwise(x)] + [x[-1:]])
    out = CubicSpline(x, y)(fine)
    return Fraction(round(float(np.hypot(np.diff(fine), np.diff(out)).sum()) * 1000), 1000)


def _developed(curve: Reader, values: Values) -> Fraction | None:
    """The length along a curved front, where what was measured makes sense."""
    stations = values["stations"]
    if stations:
        return _along(curve, stations)
    chord, rise = values["chord"], values["rise"]
    if chord is None or rise is None:
        return None
    if rise * 2 > chord:
        curve.fault("rise", "is more than half of the chord: that is more than half a circle.")
        return None
    return developed_mm(chord, rise)


def _along(curve: Reader, stations: Sequence[Place]) -> Fraction | None:
    if len(stations) < 2 or any(b[0] <= a[0] for a, b in pairwise(stations)):
        curve.fault("stations", "need at least two places, each farther along the board than the one before.")
        return None
    length = along_stations_mm(stations)
    if not LEAST_MM <= length <= MOST_MM:
        curve.fault("stations", "make a front that is too short or too long.")
        return None
    return length


CURVE = Object(
    (
        Key("chord", LengthText(LEAST_MM, MOST_MM), "Straight across", "only for a curved front"),
        Key("rise", LengthText(Fraction(1, 2)), "Curves out by", "from the middle of the chord out to the curve"),
        Key("stations", PlacesKind(MOST_STATIONS), "Off a straight board", "of an S-curved front: how far along and how far off, like 0, 0; 12, 1 1/2; 24, 0", default=(), since="0.2.0"),
    ),
    _developed,
)  # fmt: skip
