"""The actual width of a tape, from strips laid side by side."""

from fractions import Fraction

from dividers.core.base.errors import BadInput


def actual_width_mm(ten_strips_mm: Fraction, strips: int = 10) -> Fraction:
    """A tape's actual width, from strips laid edge to edge and measured together. Raises BadInput.

    >>> actual_width_mm(Fraction(240))
    Fraction(24, 1)
    """
    if not 2 <= strips <= 100:
        raise BadInput("Lay 2 to 100 strips side by side; ten is usual.", "strips")
    width = ten_strips_mm / strips
    if not 1 <= width <= 300:
        raise BadInput(f"That makes {float(width):.2f} mm a strip; a tape is 1 to 300 mm wide.", "measured")
    return width
