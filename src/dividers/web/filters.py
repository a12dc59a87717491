"""How templates write numbers: fractions set as fractions, areas and amounts rounded for people."""

import re
from datetime import UTC, datetime

from flask import Flask
from markupsafe import Markup, escape

from dividers.core.base.dates import day_and_time
from dividers.core.base.lengths import write_small
from dividers.core.base.quantities import amount, area, run, spread, temperature, volume
from dividers.core.base.safety import SAFETY
from dividers.core.base.texts import counted
from dividers.core.base.units import DAY_MIN
from dividers.services import clock


def fractions(text: str) -> Markup:
    """A reading with its fraction in a span of its own, for the face's fraction figures (the whole number stays outside)."""
    return Markup(re.sub(r"(\d+/\d+)", r'<span class="fraction">\1</span>', str(escape(text))))


def span(minutes: float) -> str:
    """Minutes as people say them: to 5 min under an hour or two, then hours, then days."""
    if minutes < 100:
        return f"{max(round(minutes / 5) * 5, 5)} min"
    if minutes < 24 * 60:
        return f"{minutes / 60:.1f} h"
    return f"{minutes / DAY_MIN:.1f} days"


def site_time(ms: int) -> str:
    """A moment, in ms of the epoch, on the site's clock, with its day as people say it."""
    return day_and_time(clock.on_site(datetime.fromtimestamp(ms / 1000, UTC)), clock.on_site(clock.moment()))


def site_day(text: str) -> str:
    """The day on site of UTC ISO text, like 6 Mar 2027; "" for none."""
    if not text:
        return ""
    day = clock.date_of(text)
    return f"{day.day} {day:%b %Y}"


def ms(text: str) -> int:
    """UTC ISO text as ms of the epoch."""
    return round(datetime.fromisoformat(text).timestamp() * 1000)


def register(app: Flask) -> None:
    app.jinja_env.globals.update(safety=SAFETY)
    app.jinja_env.filters.update(
        fractions=fractions,
        area=area,
        counted=counted,
        amount=amount,
        volume=volume,
        run=run,
        spread=spread,
        small=write_small,
        span=span,
        site_time=site_time,
        site_day=site_day,
        degrees=temperature,
        ms=ms,
    )
