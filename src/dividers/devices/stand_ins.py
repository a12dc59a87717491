"""Devices that aren't there: what they would send. Noise and blunders come from a number that is given, so that they can be repeated."""

import math
import random
from collections.abc import Iterator
from datetime import datetime

from dividers.devices.hygrometer import air_at
from dividers.devices.protocol import DeviceMessage

NOISE_MM = 0.7
BLUNDER_IN = 12  # one reading in so many is plainly wrong
BLUNDERS_MM = (25.4, -25.4, 100.0, -100.0)
CROOKED_MM, WAVE_MM = 9.0, 3.0  # how far a ceiling falls from end to end, and sags between


def range_finder(true_mm: float, seed: int) -> DeviceMessage:
    """A length as a hand-held range finder reads it: a little off, and now and then held at the wrong edge."""
    dice = random.Random(seed)
    off = dice.choice(BLUNDERS_MM) if dice.randrange(BLUNDER_IN) == 0 else dice.gauss(0, NOISE_MM)
    return DeviceMessage("length", max(round(true_mm + off, 1), 1.0))


def hygrometer(moment: datetime) -> DeviceMessage:
    """The air at a moment of the site's clock."""
    celsius, percent = air_at(moment)
    return DeviceMessage("air", celsius, percent)


def laser(width_mm: float, seed: int, many: int = 7) -> Iterator[DeviceMessage]:
    """A cross-line laser's beam along a crooked ceiling: how far the ceiling lies above it, from left to right."""
    dice = random.Random(seed)
    fall, sag = dice.uniform(-CROOKED_MM, CROOKED_MM), dice.uniform(-WAVE_MM, WAVE_MM)
    for turn in range(many):
        share = turn / (many - 1)
        up = fall * (0.5 - share) + sag * math.sin(math.pi * share) + dice.gauss(0, 0.3)
        yield DeviceMessage("offset", round(width_mm * share, 1), round(up, 1))
