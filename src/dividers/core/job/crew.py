"""Who works when, and in what air."""

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.dates import read_moment
from dividers.core.base.errors import BadInput
from dividers.core.base.quantities import read_celsius
from dividers.core.job import usual
from dividers.core.job.kinds import ListOf, Measure, Moment, Number, OneOf, Span, WholeNumber
from dividers.core.job.schema import file_key

DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
USUAL_DAYS = DAYS[:6]
USUAL_HOURS = (("08:00", "12:00"), ("12:30", "17:30"))
TIME = r"([01][0-9]|2[0-3]):[0-5][0-9]|24:00"
MOST_BUSY = 500
WHEN = {"schedule": "Start and hours"}
AIR = {"schedule": "Air"}
MOMENT = "date with time, like 2027-03-06T08:00"


def read_hours(span: list[Any]) -> tuple[str, str]:
    """A span of the day. Raises BadInput."""
    times = [str(time) for time in span]
    if len(times) != 2 or not all(re.fullmatch(TIME, time) for time in times) or times[0] >= times[1]:
        raise BadInput('must be a span of the day, from and to, like ["08:00", "12:00"].')
    return times[0], times[1]


def read_busy(span: list[Any]) -> tuple[str, str]:
    """A time when nobody is there: from and to, as dates with time. Raises BadInput."""
    one, other = (read_moment(part) for part in span) if len(span) == 2 else ("", "")
    if one >= other:
        raise BadInput('must be from and to, like ["2027-03-08T09:00", "2027-03-08T11:30"].')
    return one, other


@dataclass(frozen=True)
class Crew:
    painters: int = file_key(WholeNumber(1, 50), "Painters", default=1, forms=WHEN)
    start: str | None = file_key(
        Moment(), "Start", "like 2027-03-06 08:00; empty means tomorrow morning", default=None, forms=WHEN
    )
    days: tuple[str, ...] = file_key(
        ListOf(OneOf(DAYS), 7, separator=", ", cut=r"\s,;"),
        "Days",
        f"from {', '.join(DAYS)}; empty means mon to sat",
        default=USUAL_DAYS,
        forms=WHEN,
    )
    hours: tuple[tuple[str, str], ...] = file_key(
        ListOf(Span(read_hours, "from and to, like 08:00, 12:00"), 12, separator=", ", cut=",;"),
        "Hours",
        "from-to, separated by commas; empty means " + ", ".join("-".join(span) for span in USUAL_HOURS),
        default=USUAL_HOURS,
        forms=WHEN,
    )
    busy: tuple[tuple[str, str], ...] = file_key(
        ListOf(Span(read_busy, f"from and to, each a {MOMENT}"), MOST_BUSY), default=()
    )


@dataclass(frozen=True)
class Climate:
    temperature_c: Fraction = file_key(
        Measure(read_celsius, "temperature, like 21 C or 70 F"),
        "Temperature",
        "like 21 C or 70 F",
        default=usual.TEMPERATURE_C,
        name="temperature",
        forms=AIR,
    )
    humidity_percent: Fraction = file_key(
        Number(0, 100), "Humidity, percent", default=usual.HUMIDITY_PERCENT, name="humidity", forms=AIR
    )
    surface_c: Fraction | None = file_key(
        Measure(read_celsius, "temperature, like 21 C or 70 F"),
        "Surface temperature",
        "if it is colder than the air",
        default=None,
        name="surface",
        forms=AIR,
    )
