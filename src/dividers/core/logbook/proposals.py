"""What work and touch say about own rates and paints, against what is planned with: proposals, never taken by themselves."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from fractions import Fraction
from statistics import median

from dividers.core.base.texts import counted

WORTH = 0.15  # a difference smaller than this share isn't worth a word
LEAST_TIMES = 2  # so many tasks timed from beginning to end before a rate is proposed
LEAST_MIN = 2.0  # a task shorter than this says nothing about a rate


@dataclass(frozen=True)
class Timed:
    """A task timed from beginning to end: which rate it is about, how much was done (m, m² or marks), in how many minutes."""

    rate: str
    amount: float
    minutes: float


@dataclass(frozen=True)
class Touched:
    """Paint touched: so many minutes after its coat, wet, tacky or dry; `factor` is how much slower than its label the air made it."""

    paint: str
    minutes: float
    result: str
    factor: float


@dataclass(frozen=True)
class Proposal:
    """A figure that could be changed: `about` says of what (rate, paint, tape), `name` whose, `key` its key in the job file."""

    about: str
    name: str
    key: str
    present: str
    proposed: str
    why: str

    @property
    def id(self) -> str:
        return f"{self.about}/{self.name}/{self.key}/{self.proposed}"


RATE_WORDS = {
    "taped_m_per_h": ("metres taped per hour", "m/h"),
    "painted_m2_per_h": ("square metres painted per hour", "m²/h"),
    "pulled_m_per_h": ("metres pulled per hour", "m/h"),
    "sealed_m_per_h": ("metres sealed per hour", "m/h"),
    "mark_min": ("minutes per mark", "min"),
}


def rate_proposals(timed: Iterable[Timed], present: Mapping[str, float]) -> list[Proposal]:
    """Own rates, by the median of what was timed, where they differ from those planned with."""
    by_rate: dict[str, list[float]] = {}
    for each in timed:
        if each.minutes >= LEAST_MIN and each.amount > 0:
            value = each.minutes / each.amount if each.rate == "mark_min" else each.amount / each.minutes * 60
            by_rate.setdefault(each.rate, []).append(value)
    found = []
    for rate, values in by_rate.items():
        own, planned = median(values), present[rate]
        if len(values) >= LEAST_TIMES and abs(own / planned - 1) > WORTH:
            words, unit = RATE_WORDS[rate]
            why = f"{len(values)} tasks were timed: {words}, the median is {own:.3g} {unit}"
            found.append(Proposal("rate", words, rate, f"{planned:g}", f"{own:.3g}", why))
    return found


def drying_proposals(touched: Sequence[Touched], label_min: Mapping[str, float]) -> list[Proposal]:
    """Touch-dry times as fingers found them, brought back to the label's air: between the last tacky touch and the first dry one."""
    found = []
    for paint in dict.fromkeys(each.paint for each in touched):
        own = [each for each in touched if each.paint == paint]
        dry = [each.minutes / each.factor for each in own if each.result == "dry"]
        not_yet = [each.minutes / each.factor for each in own if each.result != "dry"]
        label = label_min.get(paint, 0.0)
        if dry and min(dry) < label * (1 - WORTH):
            minutes, why = (
                min(dry),
                f"touched dry {len(dry)} time{'s' if len(dry) > 1 else ''}, the soonest {min(dry):.0f} min after its coat in label conditions",
            )
        elif not_yet and max(not_yet) > label * (1 + WORTH):
            later = [d for d in dry if d > max(not_yet)]
            minutes = min(later, default=max(not_yet) * 1.1)
            why = f"still not dry {max(not_yet):.0f} min after its coat in label conditions"
        else:
            continue
        found.append(Proposal("paint", paint, "touch_dry", f"{label:.0f} min", f"{minutes:.0f} min", why))
    return found


@dataclass(frozen=True)
class Measured:
    """So many strips of a tape side by side, measured."""

    tape: str
    strips: int
    mm: Fraction


def width_proposals(measured: Sequence[Measured], present_mm: Mapping[str, Fraction]) -> list[Proposal]:
    """Actual widths of tapes as measured, where they differ by a tenth of a millimetre or more from those planned with."""
    found = []
    for tape in dict.fromkeys(each.tape for each in measured):
        last = [each for each in measured if each.tape == tape][-1]
        width, planned = last.mm / last.strips, present_mm.get(tape)
        if planned is not None and abs(width - planned) >= Fraction(1, 10):
            why = f"{counted(last.strips, 'strip')} side by side measured {float(last.mm):g} mm"
            found.append(Proposal("tape", tape, "width", f"{float(planned):g} mm", f"{float(width):.3g} mm", why))
    return found
