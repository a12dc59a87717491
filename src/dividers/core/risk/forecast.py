"""How likely paint bleeds under the tape, tape lifts what it lies on, and dried paint bridges and tears: points with their reasons.

Every point is common practice with no source; the sums are a judgement, not a measurement. The logbook's own counts move them.
"""

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import pairwise

from dividers.core.base.colour import luminance
from dividers.core.base.quantities import spoken
from dividers.core.base.units import DAY_MIN
from dividers.core.job.edge_counts import Count, Counts, Substrate, find_count
from dividers.core.job.model import Piece
from dividers.core.job.products import Colour, Paint
from dividers.core.job.usual import coats_of
from dividers.core.risk.evidence import Chance, chance_of

NO_COUNTS: Mapping[Substrate, Count] = {}
LEVELS = ((2, "low"), (4, "fair"))  # up to so many points; more is high
DARK = 0.12  # paint of less relative luminance counts as dark

TEXTURE_BLEED = {"glass": 0, "smooth": 0, "light": 1, "rough": 5, "grain": 2, "canvas": 3, "hot-pressed": 0, "cold-pressed": 1}
CURE = {
    "rough": "caulk it",
    "grain": "seal it",
    "canvas": "seal it with matte medium",
    "light": "seal it",
    "cold-pressed": "press it well",
}
SEAL_BLEED = {"none": 0, "moisten": -1, "base": -2, "clear": -2, "matte-medium": -3, "caulk": -4}
ADHESION_LIFT = {"delicate": 0, "medium": 1, "strong": 3}
PAPER = ("hot-pressed", "cold-pressed")
FRESH_DAYS = 14  # furniture painters let paint harden for two weeks


@dataclass(frozen=True)
class Reason:
    """One reason: what it is, how many points, and what to do about it. One of no points is a remark: why something doesn't count."""

    what: str
    points: int
    cure: str = ""
    remark: bool = False

    def __str__(self) -> str:
        return self.what + (f" {self.points:+d}" if self.points else "") + (f": {self.cure}" if self.cure else "")


@dataclass(frozen=True)
class Risk:
    """One risk: low, fair or high, its points, and the reasons that gave them."""

    name: str
    points: int
    reasons: tuple[Reason, ...]
    chance: Chance | None = None  # where the logbook has its say

    @property
    def level(self) -> str:
        return next((word for most, word in LEVELS if self.points <= most), "high")


@dataclass(frozen=True)
class Forecast:
    """The three risks of a round taped, sealed and pulled one way."""

    bleed: Risk
    lift: Risk
    bridge: Risk

    @property
    def points(self) -> int:
        return self.bleed.points + self.lift.points + self.bridge.points

    @property
    def risks(self) -> tuple[Risk, Risk, Risk]:
        return self.bleed, self.lift, self.bridge


@dataclass(frozen=True)
class Situation:
    """What a forecast depends on. `base_age_min` is how old the paint under the tape is, None where nothing was painted lately."""

    texture: str
    kind: str
    finish: str
    adhesion: str
    swelling_edge: bool
    seal: str
    pull: str
    coats: int
    paints: tuple[Paint | None, ...]
    darkest: float
    base_age_min: int | None = None
    tape_safe_min: int = DAY_MIN
    tape: str = ""

    @property
    def substrate(self) -> Substrate:
        """What the logbook distinguishes edges by."""
        return Substrate(self.texture, self.adhesion, self.swelling_edge, self.seal, self.tape, pull=self.pull)


def situation(
    piece: Piece,
    colors: Sequence[str],
    palette: Mapping[str, Colour],
    seal: str,
    pull: str,
    base_age_min: int | None,
    tape_safe_min: int = DAY_MIN,
) -> Situation:
    """The situation of a piece's round of some colours."""
    method = piece.method
    paints = tuple(method.paint.get(color) for color in colors)
    return Situation(
        piece.surface.texture,
        piece.surface.kind,
        piece.surface.finish,
        method.tape.adhesion,
        method.tape.swelling_edge,
        seal,
        pull,
        max((coats_of(method.coats, color) for color in colors), default=1),
        paints,
        min((luminance(palette[color].hex) for color in colors), default=1.0),
        base_age_min,
        tape_safe_min,
        method.tape.key,
    )


def forecast(s: Situation, evidence: Counts = NO_COUNTS) -> Forecast:
    """Add up what counts for each risk; each is moved by what the logbook found on such ground, with such tape, pulled like that."""
    bleed, lift, bridge = _risk("bleed", _bleed(s)), _risk("lift", _lift(s)), _risk("bridge", _bridge(s))
    return Forecast(*(_learned(risk, s, evidence) for risk in (bleed, lift, bridge)))


LEARNED = {
    "bleed": "{} of {} strips clean, as counted there, on",
    "lift": "nothing lifted {} of {} times on",
    "bridge": "no bridging {} of {} times:",
}


def _learned(risk: Risk, s: Situation, evidence: Counts) -> Risk:
    """A risk moved by what the logbook knows of it."""
    found = find_count(evidence, replace(s.substrate, risk=risk.name))
    if not found:
        return risk
    about, count = found
    chance = chance_of(risk.points, count)
    named = Reason(
        f"your logbook: {LEARNED[risk.name].format(count.clean, count.strips)} {about.words}", chance.shift, remark=True
    )
    return Risk(risk.name, max(risk.points + chance.shift, 0), (*risk.reasons, named), chance)


def clean_edge(s: Situation, evidence: Counts = NO_COUNTS) -> Chance:
    """The chance of a clean edge, by the rules and the logbook."""
    found = find_count(evidence, s.substrate)
    return chance_of(_risk("bleed", _bleed(s)).points, found[1] if found else None)


def _risk(name: str, reasons: Iterator[Reason]) -> Risk:
    named = tuple(reason for reason in reasons if reason.points or reason.remark)
    return Risk(name, max(sum(reason.points for reason in named), 0), named)


def _bleed(s: Situation) -> Iterator[Reason]:
    yield Reason(f"texture {s.texture}", TEXTURE_BLEED[s.texture], CURE.get(s.texture, "") if s.seal == "none" else "")
    if s.seal == "moisten" and not s.swelling_edge:
        yield Reason("moistening does nothing on tape without a swelling edge", 0, remark=True)
    else:
        yield Reason(f"sealed with {s.seal.replace('-', ' ')}" if s.seal != "none" else "pressed only", SEAL_BLEED[s.seal])
    if s.swelling_edge:
        yield Reason("swelling-edge tape", -1)
    if s.darkest < DARK:
        yield Reason("dark paint", 1, "thin, dark paint runs under tape more than thick, pale paint; brush away from the tape")
    if s.finish == "painted" and s.kind not in ("paper", "canvas"):
        yield Reason("over a paint layer", 1, "lay the base smooth: its brush marks act as channels")
    if s.texture == "rough" and s.seal == "base":
        yield Reason("base colour on rough ground", 1, "it fails on very rough walls; caulk gives the best edge there")


def _lift(s: Situation) -> Iterator[Reason]:
    yield Reason(f"{s.adhesion} tape", ADHESION_LIFT[s.adhesion], "use delicate tape" if s.adhesion == "strong" else "")
    if s.texture in PAPER:
        yield Reason("paper", 1, "de-tack the tape on cloth first, pull sideways and slowly")
        if s.adhesion == "strong":
            yield Reason("strong tape on paper", 3, "it tears the paper: use delicate tape")
    if s.base_age_min is not None:
        if s.base_age_min < s.tape_safe_min:
            yield Reason(
                f"paint under the tape only {spoken(s.base_age_min)} old",
                4,
                f"wait until it is tape-safe, {spoken(s.tape_safe_min)}",
            )
        elif s.base_age_min < FRESH_DAYS * DAY_MIN:
            yield Reason("fresh paint under the tape", 1, "press only the edge; furniture painters wait two weeks")
    if s.finish == "bare" and s.texture not in PAPER:
        yield Reason("bare ground: no paint under the tape to lift", 0, remark=True)
    if s.pull == "dry" and s.texture not in PAPER:
        yield Reason("pulled dry", 1, "pull slowly, warm it where it grips, start from the other end where it tears")


def _bridge(s: Situation) -> Iterator[Reason]:
    yield Reason(
        {"wet": "pulled wet", "touch-dry": "pulled touch-dry", "dry": "pulled dry"}[s.pull],
        {"wet": 0, "touch-dry": 2, "dry": 4}[s.pull],
        {"wet": "", "touch-dry": "score where it holds", "dry": "score along the edge before pulling"}[s.pull],
    )
    if s.texture in PAPER and s.pull != "wet":
        yield Reason("thin paint on paper", -3)
    if s.coats >= 3:
        yield Reason(f"{s.coats} coats", 2, "fewer, or pull wet after the last")
    elif s.coats == 2:
        yield Reason("two coats", 1)
    if any(paint and paint.sheen in ("gloss", "semi-gloss") for paint in s.paints):
        yield Reason("a glossy, thick film", 1)
    if s.seal == "caulk" and s.pull != "wet":
        yield Reason("caulk dried under the paint", 3, "pull before the caulk skins over")


def seals_for(s: Situation) -> list[str]:
    """Seals that make sense on a ground, those first that painters use there."""
    if s.texture in PAPER:
        return ["none"]
    if s.kind == "canvas" or s.texture == "canvas":
        return ["matte-medium", "none"]
    if s.texture in ("rough", "grain"):
        return ["caulk", "base", "clear"]
    if s.texture in ("glass", "smooth"):
        return ["moisten", "none", "base"] if s.swelling_edge else ["none", "base"]
    return ["base", "moisten", "caulk"] if s.swelling_edge else ["base", "caulk"]


def pull_methods_for(s: Situation) -> list[str]:
    """Pull methods, those first that painters use on such a surface."""
    return ["dry", "touch-dry", "wet"] if s.texture in PAPER else ["wet", "touch-dry", "dry"]


def cautions(s: Situation, name: str, days_on: float, remove_within_days: float | None) -> list[str]:
    """Combinations that practitioners warn of."""
    found = []
    if s.seal == "caulk" and s.pull != "wet":
        found.append(f"{name}: caulk left to dry makes a bridge. Pull wet, before it skins over, or use another seal.")
    if s.seal == "caulk" and any(paint and paint.sheen == "flat" for paint in s.paints):
        found.append(f"{name}: flat paint can crack over caulk. Wipe it off thin, or seal with the base colour.")
    if s.seal == "moisten" and not s.swelling_edge:
        found.append(f"{name}: moistening only works with swelling-edge tape. Use such a tape, or another seal.")
    if s.adhesion == "strong" and s.texture in PAPER:
        found.append(f"{name}: strong tape tears paper. Use delicate tape, de-tacked on cloth.")
    if s.base_age_min is not None and s.base_age_min < s.tape_safe_min:
        found.append(f"{name}: the tape goes on paint that isn't tape-safe yet; it may lift it.")
        if s.texture in PAPER:
            found.append(f"{name}: on paper the base must be fully dry before tape touches it.")
    if s.seal == "matte-medium" and any(paint and paint.sheen in ("gloss", "semi-gloss") for paint in s.paints):
        found.append(f"{name}: matte medium shows under gloss along the edge. Seal with a clear coat of the paint's sheen.")
    if remove_within_days is not None and days_on > remove_within_days:
        found.append(
            f"{name}: the tape stays on for {days_on:.0f} days; it comes off clean within {remove_within_days:.0f}. Use another tape, or a shorter wait."
        )
    return found


def peel_force(angle_deg: float) -> float:
    """The force to peel tape at an angle, against that at 90°: G / (1 - cos angle) (R. S. Rivlin 1944, from memory).

    >>> peel_force(180.0)
    0.5
    """
    return 1 / (1 - math.cos(math.radians(angle_deg)))


def pull_angle(s: Situation) -> tuple[int, str]:
    """At what angle to pull, and why."""
    if s.texture in PAPER:
        return 180, "folded flat back on itself, sideways and away from the painting: the least force on the paper"
    if s.base_age_min is not None and s.base_age_min < FRESH_DAYS * DAY_MIN:
        return 180, "folded flat back on itself: half the force of a right angle, for the fresh paint below"
    return 90, "straight off the surface, slowly, away from the fresh paint"


def pull_risk(minutes: float, wet_min: float, touch_min: float, full_min: float) -> float:
    """How risky a pull is so many minutes after the last coat, 0 to 1: safe while wet, tacky paint strings, a film tears.

    Straight between its corners; the heights are a judgement (common practice, no source).
    """
    corners = (
        (0.0, 0.15),
        (wet_min, 0.15),
        (max(wet_min * 1.5, touch_min * 0.7), 0.6),
        (touch_min, 0.4),
        (touch_min + 240, 0.5),
        (full_min, 0.85),
    )
    points = sorted(corners)
    for (a, low), (b, high) in pairwise(points):
        if minutes <= b:
            return low + (high - low) * (minutes - a) / max(b - a, 1e-9)
    return points[-1][1]
