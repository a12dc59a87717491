"""A thermo-hygrometer that isn't there: the air of a workshop through a day, warmest in the afternoon, dampest before dawn."""

import math
from datetime import datetime

MEAN_C, SWING_C, WARMEST_H = 19.0, 4.0, 15.0
MEAN_PERCENT, SWING_PERCENT = 56.0, 11.0
NOISE_C, NOISE_PERCENT = 0.2, 0.6


def air_at(moment: datetime, room: int = 0) -> tuple[float, float]:
    """Temperature in °C and relative humidity in percent at a moment on the site's clock; the same moment always reads the same.

    `room` gives other rooms other air.
    """
    hour = moment.hour + moment.minute / 60
    turn = math.cos((hour - WARMEST_H) / 24 * 2 * math.pi)
    drift = math.sin(moment.toordinal() * 0.9 + room)
    wobble = math.sin(moment.toordinal() * 7.1 + moment.hour * 3.3 + moment.minute * 1.7 + room * 5.3)
    celsius = MEAN_C + SWING_C * turn + 1.5 * drift + NOISE_C * wobble
    percent = MEAN_PERCENT - SWING_PERCENT * turn + 4 * drift + NOISE_PERCENT * wobble
    return round(celsius, 1), round(percent, 1)
