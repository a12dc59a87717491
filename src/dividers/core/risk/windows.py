"""When tape may be pulled, by pull method; how long seals take; what labels commonly say where they are silent. Minutes.

All of it is common practice with no source unless said otherwise; a product's own figures come first.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from dividers.core.base.quantities import spoken
from dividers.core.job.crew import Climate
from dividers.core.job.drying import label_min, water_factor, water_min, wet_edge_min
from dividers.core.job.method import Method
from dividers.core.job.products import Paint

FEW_HOURS_MIN = 240  # touch-dry: no longer than a few hours


@dataclass(frozen=True)
class Window:
    """From when after the last coat's end, and until when after its first stroke, tape may be pulled; None: no end to it."""

    pull_method: str
    least_min: int
    most_min: int | None
    why: str


@dataclass(frozen=True)
class SealTime:
    """How a seal goes on: how often, the wait after each, by when after it the tape must be off, and how fast it goes."""

    method: str
    coats: int
    dry_min: int
    skin_min: int | None
    m_per_h: float
    words: str


# method: coats, wait after each, skin, share of the sealing rate, in words
SEAL_TIMES: dict[str, tuple[int, int, int | None, float, str]] = {
    "none": (0, 0, None, 1.0, "press the edge down"),
    "moisten": (1, 0, None, 3.0, "run a damp finger along the tape's edge"),
    "base": (1, 40, None, 1.0, "one thin coat of the colour under the tape along its edge"),
    "clear": (2, 60, None, 1.0, "a thin clear coat along the tape's edge"),
    "matte-medium": (1, 2, None, 1.0, "a thin bead of matte medium along the tape's edge"),
    "caulk": (1, 0, 30, 1.0, "a thin bead of caulk rubbed in along the tape's edge and wiped off"),
}


def window_of(pull_method: str, paints: Sequence[Paint | None], climate: Climate, percent: int) -> Window:
    """The pull window of a method for the paints of a round; the plan uses only `percent` of what is allowed."""
    paints = list(paints) or [None]
    if pull_method == "wet":
        most = wet_edge_min(paints, climate)
        planned = most * percent // 100
        why = f"pull wet: the first stroke stays wet about {most} min; the plan uses {planned} of them"
        return Window(pull_method, 0, planned, why)
    if pull_method == "touch-dry":
        least = max(label_min(paint, "touch_dry_min", climate) for paint in paints)
        most = least + FEW_HOURS_MIN
        planned = least + FEW_HOURS_MIN * percent // 100
        why = f"pull touch-dry: from {spoken(least)} after the last coat, within {spoken(planned)} of its first stroke"
        return Window(pull_method, least, planned, why)
    least = max(label_min(paint, "full_dry_min", climate) for paint in paints)
    return Window(pull_method, least, None, f"pull dry: not before {spoken(least)} after the last coat")


def seal_of(method: Method, name: str, base: Paint | None, climate: Climate) -> SealTime:
    """How a seal goes on in this air, by the job's own product of that method where it has one; `base` is the base colour's paint.

    A thin coat of the base colour dries as its paint does: oil and shellac by their label, or what such labels commonly say; a water-borne
    one sooner than it where the label takes longer.
    """
    coats, dry, skin, faster, words = SEAL_TIMES[name]
    stated = base.touch_dry_min if base else None
    if name == "base" and base and (base.binder != "water" or (stated is not None and stated < dry)):
        dry = label_min(base, "touch_dry_min", climate)
    else:
        dry = water_min(dry, climate)
    if skin is not None:
        skin = int(skin * water_factor(climate))
    own = method.seals.get(name)
    rate = method.rates.sealed_m_per_h * faster
    if own:
        dry = water_min(float(own.dry_min), climate) if own.dry_min is not None else dry
        skin = int(float(own.skin_min) * water_factor(climate)) if own.skin_min is not None else skin
        rate = float(own.sealed_m_per_h) if own.sealed_m_per_h is not None else rate
    return SealTime(name, coats, dry, skin, rate, words)
