"""How edges came out before, counted by what they were painted on."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from fractions import Fraction

MOST_A_ROUND = 10


@dataclass(frozen=True)
class Substrate:
    """What an edge depends on, as far as the logbook distinguishes edges."""

    texture: str
    adhesion: str
    swelling_edge: bool
    seal: str

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
