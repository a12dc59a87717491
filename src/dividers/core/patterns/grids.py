"""What patterns on a grid share: dividing a run by count or by size, within limits."""

from collections.abc import Sequence
from fractions import Fraction

import numpy as np

from dividers.core.errors import BadInput
from dividers.core.geometry.shapes import Floats

MOST_COUNT = 1000
MOST_CELLS = 120_000
NARROWEST_MM = Fraction(1)

Step = tuple[Fraction, Fraction]


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
