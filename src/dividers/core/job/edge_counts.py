"""How edges came out before, counted by what they were painted on."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from dividers.core.job.kinds import Flag, OneOf, WholeNumber
from dividers.core.job.products import ADHESIONS, SEALS
from dividers.core.job.reader import Reader
from dividers.core.job.schema import Key, Object, file_key, keys_of
from dividers.core.job.surface import TEXTURES

MOST_STRIPS = 100_000
MOST_A_ROUND = 10


@dataclass(frozen=True)
class Substrate:
    """What an edge depends on, as far as the logbook distinguishes edges."""

    texture: str = file_key(OneOf(TEXTURES), default="smooth")
    adhesion: str = file_key(OneOf(ADHESIONS), default="medium")
    swelling_edge: bool = file_key(Flag(), default=False)
    seal: str = file_key(OneOf(SEALS[1:]), default="none")

    @property
    def words(self) -> str:
        seal = "pressed only" if self.seal == "none" else f"sealed with {self.seal.replace('-', ' ')}"
        tape = f"{self.adhesion}{' swelling-edge' if self.swelling_edge else ''} tape"
        return f"{self.texture} surface, {tape}, {seal}"


@dataclass(frozen=True)
class Count:
    """Strips found clean, of how many, in how many rounds or test patches."""

    clean: int
    strips: int
    rounds: int = 1


Counts = Mapping[Substrate, Count]


@dataclass(frozen=True)
class FoundEdges:
    """One round or patch as found: so many strips on a ground, so many of them clean."""

    substrate: Substrate
    clean: int
    strips: int


def count_up(found: Iterable[FoundEdges]) -> dict[Substrate, Count]:
    """What was found on each ground, a round of more strips cut down to MOST_A_ROUND, at the nearest whole share."""
    counts: dict[Substrate, Count] = {}
    for each in found:
        strips = min(each.strips, MOST_A_ROUND)
        clean = each.clean if strips == each.strips else round(Fraction(each.clean * strips, each.strips))
        before = counts.get(each.substrate, Count(0, 0, 0))
        counts[each.substrate] = Count(before.clean + clean, before.strips + strips, before.rounds + 1)
    return counts


def _found(entry: Reader, values: dict[str, Any]) -> tuple[Substrate, Count]:
    """Strips found clean on a ground, as a logbook counted them."""
    clean, strips, rounds = (values.pop(name) for name in ("clean", "strips", "rounds"))
    if clean > strips:
        entry.fault("clean", f"{clean} of {strips} strips can't be clean; at most {strips}.")
    return Substrate(**values), Count(min(clean, strips), strips, rounds)


EVIDENCE = Object(
    (
        *keys_of(Substrate),
        Key("strips", WholeNumber(1, MOST_STRIPS), default=1),
        Key("clean", WholeNumber(0, MOST_STRIPS), default=0),
        Key("rounds", WholeNumber(1, MOST_STRIPS), default=1),
    ),
    _found,
)
