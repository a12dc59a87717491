"""What patterns on a grid share: dividing a run by count or by size, within limits; where light comes from."""

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.shapes import Floats, Point
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.parameters import Parameter

MOST_COUNT = 1000
MOST_CELLS = 120_000
NARROWEST_MM = Fraction(1)

Step = tuple[Fraction, Fraction]

LIGHT = Parameter(
    "light",
    "Light from",
    "choice",
    "gives every part two bright sides and two sides in shadow",
    "none",
    choices=("none", "top-left", "top-right", "bottom-left", "bottom-right"),
)


def columns(default: int, title: str = "Equal columns", help_text: str = "how many across") -> Parameter:
    """The parameter of patterns that divide their ground's width by a count."""
    most = Fraction(MOST_COUNT)
    return Parameter("columns", title, "count", help_text, default, Fraction(1), most, group="divide", divides="across")


def nearest_rows(area: Rectangle, columns: int | None) -> int:
    """How many rows make the parts nearest to square."""
    return max(1, round(area.height / (area.width / columns))) if columns else 0


def light_from(corner: str) -> Point | None:
    """The unit vector towards the light."""
    if corner == "none":
        return None
    level, side = corner.split("-")
    return (0.5**0.5 * (-1 if side == "left" else 1), 0.5**0.5 * (-1 if level == "top" else 1))


def refuse_too_many(many: int, key: str, what: str = "parts") -> None:
    """Raise BadInput at a parameter when it makes more cells than the engine takes."""
    if many > MOST_CELLS:
        raise BadInput(f"That makes {many} {what}; at most {MOST_CELLS} are allowed.", key)


def steps_of(low: Fraction, high: Fraction, count: int | None, size: Fraction | None) -> list[Step]:
    """Divide a run into `count` equal steps, or into steps of `size` mm with the last cut short. Raises BadInput."""
    if count:
        size = (high - low) / count
        if size < NARROWEST_MM:
            raise BadInput(f"{count} would be {float(size):.2f} mm each; at least {NARROWEST_MM} mm is allowed.", "columns")
        return [(low + size * i, low + size * (i + 1)) for i in range(count)]
    if not size:
        return []
    many = -(-(high - low) // size)
    if many > MOST_COUNT:
        raise BadInput(f"That size goes {many} times into the run; at most {MOST_COUNT} are allowed.", "size")
    return [(low + size * i, min(low + size * (i + 1), high)) for i in range(int(many))]


def stops(steps: Sequence[Step]) -> Floats:
    """Steps as floats, shape (n, 2)."""
    return np.array([(float(start), float(end)) for start, end in steps])
