"""For each round: which seal and which pull method, in which batches, by the forecast and by what the wet time allows."""

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from weakref import WeakKeyDictionary

import numpy as np

from dividers.core.base.quantities import spoken
from dividers.core.base.units import DAY_MIN
from dividers.core.geometry.graph import in_order
from dividers.core.job.drying import label_min, tape_min
from dividers.core.job.method import Method
from dividers.core.job.model import Job, Piece
from dividers.core.job.products import Colour, Paint
from dividers.core.job.usual import coats_of
from dividers.core.order.areas import areas_of
from dividers.core.order.bands import Band, bands_of, batches_of, in_working_order
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.risk.forecast import Forecast, Situation, forecast, pull_methods_for, seals_for, situation
from dividers.core.risk.windows import SealTime, Window, seal_of, window_of
from dividers.core.rounds.rounds import Round

SETTLED_MIN = 400 * DAY_MIN  # a base with no date counts as long dry
PREFERRED = 2  # points by which the usual seal or pull method on a surface leads the next


@dataclass(frozen=True)
class Trial:
    """A strip, by its number on the piece from 1, of which half is sealed otherwise to compare, on the first copy."""

    strip: int
    seal: SealTime
    length_m: float

    @property
    def unsealed(self) -> bool:
        """Whether that half is left as it is."""
        return not self.seal.coats

    @property
    def words(self) -> str:
        """What is done, as a step; left without a seal, as a part of the seal's own step."""
        if self.unsealed:
            return f"leave half of strip {self.strip}, from its middle to its end, without it, to compare"
        return f"half of strip {self.strip}, from its middle to its end, the other way, to compare: {self.seal.words}"


@dataclass(frozen=True)
class RoundChoice:
    """How a round is sealed, pulled and split: `problems` says what can't work, where it was asked for or nothing works.

    `batches` are bands by number in `bands`; `areas` has the area (1, 2, ...) of each batch.
    """

    number: int
    colors: tuple[str, ...]
    bands: tuple[Band, ...]
    batches: tuple[tuple[int, ...], ...]
    seal: SealTime
    window: Window
    situation: Situation
    forecast: Forecast
    reason: str
    problems: tuple[str, ...]
    others: tuple[tuple[str, str, Forecast, str], ...]  # seal, pull method, forecast, what can't work or ""
    areas: tuple[int, ...] = ()
    layer: int = 0
    grounds: tuple[tuple[str, float], ...] = ()  # colours under the tape of a layer above others, and how many metres of it
    trial: Trial | None = None

    @property
    def seal_words(self) -> str:
        """How the round is sealed, and what is left out of it."""
        return f"{self.seal.words}; {self.trial.words}" if self.trial and self.trial.unsealed else self.seal.words

    @property
    def area_count(self) -> int:
        return max(self.areas, default=1)

    def bands_in(self, area: int) -> list[Band]:
        """The bands of an area, in working order."""
        return [self.bands[n] for batch, own in zip(self.batches, self.areas, strict=True) if own == area for n in batch]

    def area_of_batch(self, batch: int | None) -> int | None:
        """The area of a batch, where there are several."""
        return self.areas[(batch or 1) - 1] if self.area_count > 1 else None


def choices_of(job: Job, plan: PiecePlan, base_age_min: int | None) -> list[RoundChoice]:
    """The choice for every round of a piece. `base_age_min` is how old the base will be when the first tape goes on."""
    chosen = []
    rounds = plan.taping.chosen.rounds
    for each, areas in zip(rounds, _areas(rounds), strict=True):
        piece, first = plan.piece_in(each.layer), each.number == 1
        grounds = grounds_of(plan, each)
        paint = piece.method.paint.get(piece.base) if first else _first_paint(piece, each.colors)
        if grounds:
            own = [piece.method.paint.get(color) for color, _ in grounds]
            paint = max(own, key=lambda each: tape_min(each, job.climate))
        safe, age = label_min(paint, "tape_safe_min", job.climate), tape_min(paint, job.climate)
        chosen.append(_choose(job, piece, each, max(base_age_min or 0, age) if first else age, safe, areas, grounds))
    return chosen


def grounds_of(plan: PiecePlan, each: Round) -> tuple[tuple[str, float], ...]:
    """The colours that the tape of a layer above others lies on, with how many metres of it do, most first; nothing for the first layer."""
    if not each.layer:
        return ()
    found: dict[str, float] = {}
    for sheet, strips in enumerate(each.strips):
        on: list[dict[str, None]] = [{} for _ in range(len(strips))]
        for strip, color in plan.colors_under(each, sheet):
            on[strip][color] = None
        for colors, length in zip(on, strips.lengths.tolist(), strict=True):
            for color in colors:
                found[color] = found.get(color, 0.0) + length / 1000 / len(colors)
    return tuple(sorted(found.items(), key=lambda pair: (-pair[1], pair[0])))


def _first_paint(piece: Piece, colors: Sequence[str]) -> Paint | None:
    return next((piece.method.paint[color] for color in colors if color in piece.method.paint), None)


_AREAS: WeakKeyDictionary[Round, list[list[int]]] = WeakKeyDictionary()


def _areas(rounds: Sequence[Round]) -> list[list[int]]:
    """The area of each band of each round."""
    if not rounds:
        return []
    if rounds[0] not in _AREAS:
        _AREAS[rounds[0]] = areas_of(rounds, [_bands(each) for each in rounds])
    return _AREAS[rounds[0]]


_BANDS: WeakKeyDictionary[Round, tuple[Band, ...]] = WeakKeyDictionary()  # as long as their plan is kept


def _bands(each: Round) -> tuple[Band, ...]:
    if each not in _BANDS:
        _BANDS[each] = tuple(bands_of(each))
    return _BANDS[each]


@dataclass(frozen=True)
class _SealAndPull:
    """A pull method with a seal, as judged; `turn` and `place` say how far it is from what is usual."""

    turn: int
    place: int
    window: Window
    seal: SealTime
    situation: Situation
    forecast: Forecast
    problems: tuple[str, ...]

    @property
    def rank(self) -> tuple[bool, int, int, int]:
        chance = self.forecast.bleed.chance
        failed = chance is not None and chance.shift > 0  # what did worse here than the rules say has lost its lead
        return bool(self.problems), self.forecast.points + PREFERRED * (self.turn + self.place + failed), self.turn, self.place


def _choose(
    job: Job,
    piece: Piece,
    each: Round,
    age: int,
    safe: int,
    areas: Sequence[int],
    grounds: tuple[tuple[str, float], ...] = (),
) -> RoundChoice:
    method = piece.method
    exit_side = method.exit if piece.surface.kind in ("floor", "stairs") else None
    bands = tuple(in_working_order(_bands(each), piece.copies, exit_side))
    plain = situation(piece, each.colors, job.palette, "none", "wet", age, safe)
    pull_methods = [method.pull] if method.pull != "auto" else pull_methods_for(plain)
    seals = [method.seal] if method.seal != "auto" else seals_for(plain)
    mixed = len(grounds) > 1 and method.seal == "auto" and "base" in seals
    if mixed:
        seals = [name for name in seals if name != "base"]
    upon = method.paint.get(grounds[0][0] if grounds else piece.base)
    longest = max((batch_minutes(piece, [band]) for band in bands), default=0)
    ranked = []
    for turn, pull_method in enumerate(pull_methods):
        window = window_of(pull_method, plain.paints, job.climate, method.window_percent)
        for place, name in enumerate(seals):
            seal = seal_upon(seal_of(method, name, upon, job.climate), grounds, job.palette)
            here = situation(piece, each.colors, job.palette, name, pull_method, age, safe)
            problems = tuple(_problems(job, piece, bands, longest, window, seal))
            ranked.append(_SealAndPull(turn, place, window, seal, here, forecast(here, job.evidence), problems))
    ranked.sort(key=lambda candidate: candidate.rank)
    best = ranked[0]
    room = None if best.window.most_min is None else best.window.most_min - best.window.least_min
    batches, own_areas = _batches(
        piece, bands, areas if method.tape_in == "areas" and not exit_side else [0] * len(areas), room
    )
    others = tuple((c.seal.method, c.window.pull_method, c.forecast, next(iter(c.problems), "")) for c in ranked[1:])
    return RoundChoice(
        each.number, each.colors, bands, batches, best.seal, best.window, best.situation, best.forecast,
        _reason(method, ranked) + (_why_not_base(grounds, job) if mixed else ""), best.problems, others, own_areas, each.layer, grounds,
    )  # fmt: skip


def seal_upon(seal: SealTime, grounds: Sequence[tuple[str, float]], palette: Mapping[str, Colour]) -> SealTime:
    """A seal with the colour under the tape, of tape that lies on layers below: which colour that is, is said."""
    if seal.method != "base" or not grounds:
        return seal
    names = [palette[color].name.lower() for color, _ in grounds]
    if len(names) == 1:
        return replace(seal, words=f"one thin coat of {names[0]}, the colour under the tape, along its edge")
    words = f"one thin coat of the colour under each strip along its edge: {', '.join(names)}; Tape says which where"
    return replace(seal, words=words)


def _why_not_base(grounds: Sequence[tuple[str, float]], job: Job) -> str:
    names = ", ".join(job.palette[color].name.lower() for color, _ in grounds)
    return f" Not sealed in the colour under the tape: there are {len(grounds)} of them ({names}), and one seal does for all."


def _batches(
    piece: Piece, bands: Sequence[Band], areas: Sequence[int], room: int | None
) -> tuple[tuple[tuple[int, ...], ...], tuple[int, ...]]:
    """The batches of bands, area by area in working order, and the area of each, from 1. `areas` go by the bands' own numbers."""
    own = [areas[band.number] for band in bands]
    turns = list(dict.fromkeys(own))
    before = {(turns.index(areas[b.number]), turns.index(areas[other])) for b in bands for other in b.over}
    order = in_order(list(range(len(turns))), sorted(pair for pair in before if pair[0] != pair[1]))
    found: list[tuple[tuple[int, ...], int]] = []
    for number, turn in enumerate(order, 1):
        here = [n for n, area in enumerate(own) if area == turns[turn]]
        parts = batches_of(len(here), _minutes_of_runs(piece, [bands[n] for n in here]), room)
        found += [(tuple(here[n] for n in part), number) for part in parts]
    return tuple(batch for batch, _ in found), tuple(area for _, area in found)


def _minutes_of_runs(piece: Piece, bands: Sequence[Band]) -> Callable[[Sequence[int]], int]:
    """`batch_minutes` of any bands that follow each other, from sums that are made once."""
    colors = sorted({color for band in bands for color in band.area_m2})
    amounts = np.array([[band.tape_m, *(band.area_m2.get(color, 0.0) for color in colors)] for band in bands])
    painted = np.array([[color in band.area_m2 for color in colors] for band in bands], int).reshape(len(bands), -1)
    upto = [np.vstack([np.zeros(rows.shape[1]), rows.cumsum(axis=0)]) for rows in (amounts, painted)]

    def minutes(run: Sequence[int]) -> int:
        (tape_m, *areas), used = (sums[run[-1] + 1] - sums[run[0]] for sums in upto)
        coats = sum(whole_minutes(coat_min(piece, area)) for area, some in zip(areas, used, strict=True) if some)
        return whole_minutes(pull_min(piece, tape_m)) + coats

    return minutes


def _reason(method: Method, ranked: Sequence[_SealAndPull]) -> str:
    """Why this seal and this pull method."""
    best = ranked[0]
    found = best.forecast
    said = f"Sealed with {best.seal.method.replace('-', ' ')}" if best.seal.coats else "Pressed only"
    said += f" and pulled {best.window.pull_method}: bleed {found.bleed.level}, lift {found.lift.level}, bridge {found.bridge.level}."
    usual = next((c for c in ranked if c.place == 0 and c.window.pull_method == best.window.pull_method), best)
    chance = usual.forecast.bleed.chance
    if usual is not best and not usual.problems and chance is not None and chance.shift > 0:
        said += f" Not {usual.seal.method.replace('-', ' ')}: {usual.forecast.bleed.reasons[-1].what}."
    wet = next((c for c in ranked if c.window.pull_method == "wet" and c.problems), None)
    if method.pull == "auto" and best.window.pull_method != "wet" and wet is not None and not best.problems:
        said += f" Not wet: {wet.problems[0]}"
    if method.seal != "auto" and method.pull != "auto":
        return f"{said} As you chose."
    return f"{said} Partly as you chose." if method.seal != "auto" or method.pull != "auto" else said


def batch_minutes(piece: Piece, bands: Sequence[Band]) -> int:
    """How long the last coats and the pull of some bands take, in whole minutes a task."""
    areas: dict[str, float] = {}
    for band in bands:
        for color, area in band.area_m2.items():
            areas[color] = areas.get(color, 0.0) + area
    pull = whole_minutes(pull_min(piece, sum(band.tape_m for band in bands)))
    return pull + sum(whole_minutes(coat_min(piece, area)) for area in areas.values())


def whole_minutes(minutes: float) -> int:
    """Minutes of a task: whole, up, at least one."""
    return max(math.ceil(minutes - 1e-9), 1)


def coat_min(piece: Piece, area_m2: float) -> float:
    return area_m2 / piece.method.rates.painted_m2_per_h * 60


def pull_min(piece: Piece, tape_m: float) -> float:
    return tape_m / piece.method.rates.pulled_m_per_h * 60


def _problems(job: Job, piece: Piece, bands: Sequence[Band], longest: int, window: Window, seal: SealTime) -> list[str]:
    """What can't work, found before any schedule is tried; `longest` are the minutes that the largest band takes."""
    found = []
    if window.most_min is not None and longest:
        room = window.most_min - window.least_min
        if longest > room:
            cure = (
                "pulling when touch-dry, narrower bands, slower paint or a faster tool"
                if window.pull_method == "wet"
                else "narrower bands"
            )
            found.append(
                f"the largest part takes {longest} min to paint and pull, {longest - room} min more than the {room} min it may take; {cure} would help."
            )
    if seal.skin_min is not None:
        paints = {piece.method.paint.get(color) for band in bands for color in band.area_m2}
        recoat = max((label_min(paint, "recoat_min", job.climate) for paint in paints), default=0)
        coats = max((coats_of(piece.method.coats, color) for band in bands for color in band.area_m2), default=1)
        least = (coats - 1) * recoat + window.least_min
        if least > seal.skin_min:
            found.append(
                f"{seal.method} skins over in {spoken(seal.skin_min)}, but {coats} coat{'s' if coats > 1 else ''} and the wait take "
                f"{spoken(least)}; one coat and a wet pull, or another seal, would help."
            )
    return found
