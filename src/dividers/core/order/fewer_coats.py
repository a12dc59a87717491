"""What one coat fewer would allow: on ground where only caulk gives a clean edge, several coats outlast it."""

from dataclasses import dataclass, replace

from dividers.core.job.model import Job
from dividers.core.job.usual import coats_of
from dividers.core.order.round_choices import RoundChoice, choices_of
from dividers.core.plan.piece_plan import PiecePlan

LEVELS = ("low", "fair", "high")


@dataclass(frozen=True)
class OneCoat:
    """With one coat of these colours a round could be caulked: its bleed as it is, and as it would be."""

    colors: tuple[str, ...]
    bleed: str
    instead: str

    @property
    def said(self) -> str:
        return f"One coat would allow caulk: bleed {self.instead} instead of {self.bleed}."


def one_coat_of(job: Job, plan: PiecePlan, choice: RoundChoice, base_age_min: int | None) -> OneCoat | None:
    """The offer for a round, where it has several coats, isn't caulked, and would bleed less if it were."""
    method, bleed = plan.piece_in(choice.layer).method, choice.forecast.bleed.level
    several = [color for color in choice.colors if coats_of(method.coats, color) > 1]
    if not several or choice.seal.method == "caulk" or bleed == LEVELS[0] or method.seal not in ("auto", "caulk"):
        return None
    piece = plan.piece.with_method(lambda own: replace(own, coats=dict(own.coats) | dict.fromkeys(several, 1), seal="caulk"))
    other = choices_of(job, plan.anew(job, piece), base_age_min)[choice.number - 1]
    instead = other.forecast.bleed.level
    if other.problems or LEVELS.index(instead) >= LEVELS.index(bleed):
        return None
    return OneCoat(tuple(several), bleed, instead)
