"""How edges came out before, counted by what they were painted on."""

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import Any

from dividers.core.job.kinds import Flag, OneOf, Text, WholeNumber
from dividers.core.job.products import ADHESIONS, SEALS
from dividers.core.job.reader import LONGEST_NAME, Reader
from dividers.core.job.schema import Key, Object, file_key, keys_of
from dividers.core.job.surface import TEXTURES

MOST_STRIPS = 100_000
MOST_A_ROUND = 10
RISKS = ("bleed", "lift", "bridge")


@dataclass(frozen=True)
class Substrate:
    """What a risk depends on, as far as the logbook distinguishes: for bleed the ground, tape and seal; for lift the ground and tape; for
    bridging seal and pull. `tape` names one tape, or is empty for all of its kind."""

    texture: str = file_key(OneOf(TEXTURES), default="smooth")
    adhesion: str = file_key(OneOf(ADHESIONS), default="medium")
    swelling_edge: bool = file_key(Flag(), default=False)
    seal: str = file_key(OneOf(SEALS[1:]), default="none")
    tape: str = file_key(Text(), "of one tape; without it of all of that kind", default="")
    risk: str = file_key(OneOf(RISKS), "what was looked at: clean edges, nothing lifted, nothing bridged", default="bleed")
    pull: str = file_key(Text(), "for bridging: wet, touch-dry or dry", default="")

    @property
    def words(self) -> str:
        seal = "pressed only" if self.seal == "none" else f"sealed with {self.seal.replace('-', ' ')}"
        tape = f"“{self.tape}”" if self.tape else f"{self.adhesion}{' swelling-edge' if self.swelling_edge else ''} tape"
        if self.risk == "bridge":
            return f"{seal}, pulled {self.pull}"
        return f"{self.texture} surface, {tape}" + ("" if self.risk == "lift" else f", {seal}")

    @property
    def about(self) -> "Substrate":
        """Without what its risk doesn't depend on."""
        if self.risk == "bridge":
            return Substrate(seal=self.seal, risk="bridge", pull=self.pull)
        named = " ".join(self.tape.lower().split())[:LONGEST_NAME]
        return replace(self, tape=named, pull="", seal="none" if self.risk == "lift" else self.seal)


@dataclass(frozen=True)
class Count:
    """Strips found clean, of how many, in how many rounds or test patches; for lift and bridging rounds that came out well."""

    clean: int
    strips: int
    rounds: int = 1


Counts = Mapping[Substrate, Count]


@dataclass(frozen=True)
class FoundEdges:
    """One round or patch as found: so many strips on a ground, so many of them clean.

    `of_kind` where it also says something of other tapes of that kind: its kind was given, and not only guessed.
    """

    substrate: Substrate
    clean: int
    strips: int
    of_kind: bool = True


def count_up(found: Iterable[FoundEdges]) -> dict[Substrate, Count]:
    """What was found on each ground, a round of more strips cut down to MOST_A_ROUND, at the nearest whole share."""
    counts: dict[Substrate, Count] = {}
    for each in found:
        strips = min(each.strips, MOST_A_ROUND)
        clean = each.clean if strips == each.strips else round(Fraction(each.clean * strips, each.strips))
        about = each.substrate.about
        for place in dict.fromkeys([about, replace(about, tape="")] if each.of_kind else [about]):
            before = counts.get(place, Count(0, 0, 0))
            counts[place] = Count(before.clean + clean, before.strips + strips, before.rounds + 1)
    return counts


def find_count(counts: Counts, substrate: Substrate) -> tuple[Substrate, Count] | None:
    """What is known of a tape by its name, else of its kind, and of which of the two."""
    about = substrate.about
    for place in (about, replace(about, tape="")):
        if place in counts:
            return place, counts[place]
    return None


def _found(entry: Reader, values: dict[str, Any]) -> tuple[Substrate, Count]:
    """Strips found clean on a ground, as a logbook counted them."""
    clean, strips, rounds = (values.pop(name) for name in ("clean", "strips", "rounds"))
    if clean > strips:
        entry.fault("clean", f"{clean} of {strips} strips can't be clean; at most {strips}.")
    return Substrate(**values).about, Count(min(clean, strips), strips, rounds)


EVIDENCE = Object(
    (
        *keys_of(Substrate),
        Key("strips", WholeNumber(1, MOST_STRIPS), default=1),
        Key("clean", WholeNumber(0, MOST_STRIPS), default=0),
        Key("rounds", WholeNumber(1, MOST_STRIPS), default=1),
    ),
    _found,
)
