"""What a pattern is laid on: a rectangle of a sheet, where the sheet is folded, and the tape at hand."""

from dataclasses import dataclass
from fractions import Fraction
from typing import TYPE_CHECKING

from dividers.core.job.surface import Rectangle

if TYPE_CHECKING:
    from dividers.core.survey.sheet import Sheet


@dataclass(frozen=True)
class Ground:
    """The rectangle to be tiled, in mm on its sheet; the y of its level folds; openings on it; a place amid what will be seen of it."""

    area: Rectangle
    tape_mm: float = 24.0
    level_folds: tuple[Fraction, ...] = ()
    openings: tuple[Rectangle, ...] = ()
    amid: tuple[float, float] | None = None

    @classmethod
    def of(cls, sheet: "Sheet", tape_mm: float, amid: tuple[float, float] | None = None) -> "Ground":
        """The ground that a sheet gives."""
        return cls(
            sheet.area,
            tape_mm,
            tuple(crease.at for crease in sheet.creases if crease.axis == 1),
            sheet.openings,
            amid,
        )
