"""Glazes and mixes: parts, and the batch for an area; the actual width of a roll by ten strips."""

from dataclasses import dataclass
from fractions import Fraction

from dividers.core.base.errors import BadInput

MOST_PARTS = 12


@dataclass(frozen=True)
class Batch:
    """A mix for an area: litres in all, and of each part in the order given."""

    litres: float
    parts: tuple[tuple[str, float], ...]


def batch_of(
    parts: tuple[tuple[str, Fraction], ...], area_m2: float, coats: int, spread_m2_l: float, waste_percent: float
) -> Batch:
    """How much of each part a mix takes. Raises BadInput.

    >>> batch_of((("glaze", Fraction(4)), ("paint", Fraction(1))), 10.0, 1, 10.0, 0.0).parts
    (('glaze', 0.8), ('paint', 0.2))
    """
    total = sum((share for _, share in parts), Fraction(0))
    if not parts or total <= 0 or len(parts) > MOST_PARTS:
        raise BadInput(f"A mix needs 1 to {MOST_PARTS} parts, each more than 0.", "parts")
    if area_m2 < 0 or spread_m2_l <= 0 or coats < 1 or not 0 <= waste_percent <= 200:
        raise BadInput(
            "An area of 0 or more, a spread rate above 0, at least one coat and a waste of 0 to 200 percent are needed.", "area"
        )
    litres = area_m2 * coats / spread_m2_l * (1 + waste_percent / 100)
    return Batch(litres, tuple((name, litres * float(share / total)) for name, share in parts))
