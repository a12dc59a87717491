"""Who works when, and in what air."""

from dataclasses import dataclass
from fractions import Fraction

DAYS = ("mon", "tue", "wed", "thu", "fri", "sat", "sun")


@dataclass(frozen=True)
class Crew:
    painters: int = 1
    start: str | None = None
    days: tuple[str, ...] = DAYS[:6]
    hours: tuple[tuple[str, str], ...] = (("08:00", "12:00"), ("12:30", "17:30"))
    busy: tuple[tuple[str, str], ...] = ()


@dataclass(frozen=True)
class Climate:
    temperature_c: Fraction = Fraction(23)
    humidity_percent: Fraction = Fraction(50)
    surface_c: Fraction | None = None
