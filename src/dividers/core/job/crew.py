"""Who works when, and in what air."""

import re
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.base.dates import read_moment
from dividers.core.base.errors import BadInput
from dividers.core.base.units import DAY_MIN
from dividers.core.job import usual
from dividers.core.job.kinds import ListOf, Moment, Number, OneOf, Span, Temperature, WholeNumber
from dividers.core.job.reader import Reader
from dividers.core.job.schema import file_key

DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")
WHOLE_DAYS = tuple(f"{day}day" for day in ("mon", "tues", "wednes", "thurs", "fri", "satur", "sun"))
USUAL_DAYS = DAYS[:6]
USUAL_HOURS = (("08:00", "12:00"), ("12:30", "17:30"))
TIME = r"([01]?[0-9]|2[0-4])(?:[:.]([0-5][0-9]))?"
MOST_BUSY = 500
WHEN = {"schedule": "Start and hours"}
AIR = {"schedule": "Air"}
MOMENT = "date with time, like 2027-03-06T08:00"


def read_hours(span: list[Any]) -> tuple[str, str]:
    """A span of the day. Raises BadInput."""
    times = [_clock(time) for time in span]
    if len(times) != 2 or not all(times) or times[0] >= times[1]:
        raise BadInput('must be a span of the day, from and to, like 08:00-12:00 (in a file ["08:00", "12:00"]).')
    return times[0], times[1]


def _clock(written: object) -> str:
    """A time of the day as people write it: 8, 8:30, 08.30; as HH:MM, or "" for what is none."""
    found = re.fullmatch(TIME, str(written).strip())
    if not found:
        return ""
    hours, minutes = int(found[1]), int(found[2] or 0)
    return f"{hours:02}:{minutes:02}" if hours * 60 + minutes <= DAY_MIN else ""


def read_busy(span: list[Any]) -> tuple[str, str]:
    """A time when nobody is there: from and to, as dates with time. Raises BadInput."""
    one, other = (read_moment(part) for part in span) if len(span) == 2 else ("", "")
    if one >= other:
        raise BadInput(
            'must be from and to, like 2027-03-08 09:00 and 2027-03-08 11:30 (in a file ["2027-03-08T09:00", "2027-03-08T11:30"]).'
        )
    return one, other


class Weekday(OneOf):
    """A day of the week, by its first three letters or its whole name."""

    def parse(self, written: Any, reader: Reader) -> str:
        text = str(written).strip().lower()
        return super().parse(text[:3] if text in WHOLE_DAYS else text, reader)


@dataclass(frozen=True)
class Crew:
    painters: int = file_key(WholeNumber(1, 50), "Painters", default=1, forms=WHEN)
    start: str | None = file_key(
        Moment(), "Start", "like 2027-03-06 08:00; empty means tomorrow morning", default=None, forms=WHEN
    )
    days: tuple[str, ...] = file_key(
        ListOf(Weekday(DAYS), 7, separator=", ", cut=r"\s,;"),
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
        Temperature(),
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
        Temperature(),
        "Surface temperature",
        "if it is colder than the air",
        default=None,
        name="surface",
        forms=AIR,
    )
