"""How templates write numbers: fractions set as fractions, areas and amounts rounded for people."""

import re

from flask import Flask
from markupsafe import Markup, escape

from dividers.core.units import SQUARE_FOOT_M2, US_GALLON_L


def fractions(text: str) -> Markup:
    """A reading with its fraction in a span of its own, for the face's fraction figures (the whole number stays outside)."""
    return Markup(re.sub(r"(\d+/\d+)", r'<span class="fraction">\1</span>', str(escape(text))))


def area(m2: float, unit: str) -> str:
    return f"{m2 / float(SQUARE_FOOT_M2):.1f} ft²" if unit == "in" else f"{m2:.2f} m²"


def volume(litres: float, unit: str) -> str:
    """Paint: quarts and gallons are bought by US painters, litres by the others."""
    if unit != "in":
        return f"{litres:.2f} L"
    gallons = litres / float(US_GALLON_L)
    return f"{gallons:.2f} gal" if gallons >= 1 else f"{gallons * 4:.2f} qt"


def run(metres: float, unit: str) -> str:
    return f"{metres / 0.3048:.0f} ft" if unit == "in" else f"{metres:.1f} m"


def register(app: Flask) -> None:
    app.jinja_env.filters.update(fractions=fractions, area=area, volume=volume, run=run)
