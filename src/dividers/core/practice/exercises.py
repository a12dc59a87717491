"""Short exercises scored by the rules themselves: read a tape measure, place a mark, choose the tape's side, the pull and the seal.

The same kind, seed and piece give the same exercise: what looks like chance is drawn from the seed.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from random import Random

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import Graduation, read_length, read_off, write_exact
from dividers.core.base.units import DAY_MIN, INCH_MM
from dividers.core.marks.tape_measure import DrawnTape, draw_tape
from dividers.core.order.round_choices import RoundChoice
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.plan.strips_told import sides_in_words
from dividers.core.risk.forecast import Situation, forecast, seals_for

KINDS = {
    "read": "Read this tape measure",
    "place": "Where does this mark go?",
    "side": "Which side does the tape go?",
    "pull": "When may it be pulled?",
    "seal": "Which seal?",
}
LONGEST_READ_MM = {"in": 120 * INCH_MM, "cm": Fraction(3000), "mm": Fraction(3000)}
SEAL_WORDS = {
    "none": "press only",
    "moisten": "a damp finger along the tape",
    "base": "the colour under the tape",
    "clear": "two thin clear coats",
    "matte-medium": "a bead of matte medium",
    "caulk": "clear caulk, rubbed in",
}


@dataclass(frozen=True)
class Split:
    """A picture of a line between paint and what is kept: vertical or horizontal, with the paint on its left or above it where `first`."""

    vertical: bool
    first: bool
    paint: str
    keep: str


@dataclass(frozen=True)
class Exercise:
    """A question with what to look at; without `options` the answer is a length to type. `why` explains the right one."""

    kind: str
    seed: int
    question: str
    answer: str
    why: str
    options: tuple[str, ...] = ()
    tape: DrawnTape | None = None
    split: Split | None = None
    mark: str = ""
    slips: tuple[tuple[Fraction, str], ...] = ()  # readings that common slips give, and what the slip is
    true_mm: Fraction | None = None


@dataclass(frozen=True)
class Score:
    right: bool
    said: str


def mixed(seed: int, turn: int, many: int) -> int:
    """A number below `many`, the same for the same seed and turn."""
    return Random(f"{seed} {turn}").randrange(many)


def exercise_of(kind: str, seed: int, plan: PiecePlan, choices: Sequence[RoundChoice]) -> Exercise | None:
    """An exercise of a kind about a piece; None where the piece has nothing to ask it about."""
    makers: dict[str, Callable[[], Exercise | None]] = {
        "read": lambda: _read(seed, plan.job.graduation),
        "place": lambda: _place(seed, plan),
        "side": lambda: _side(seed, plan),
        "pull": lambda: _pull(seed, choices),
        "seal": lambda: _seal(seed, choices),
    }
    if kind not in makers:
        raise BadInput(f"There is no exercise “{kind[:20]}”; choose one of: {', '.join(KINDS)}.", "kind", kind)
    return makers[kind]()


def _read(seed: int, graduation: Graduation) -> Exercise:
    steps = int(LONGEST_READ_MM[graduation.unit] / graduation.step_mm)
    mm = (1 + mixed(seed, 1, steps)) * graduation.step_mm
    reading = read_off(mm, graduation)
    return Exercise(
        "read", seed, "What does the tape measure read at the pointer?", reading.text,
        f"It reads {reading.text}.", tape=draw_tape(mm, graduation), slips=tuple(_slips(mm, graduation)), true_mm=mm,
    )  # fmt: skip


def _slips(mm: Fraction, graduation: Graduation) -> list[tuple[Fraction, str]]:
    """What common slips of the eye read instead."""
    unit = INCH_MM if graduation.unit == "in" else Fraction(10)
    name = "inch" if graduation.unit == "in" else "centimetre"
    whole, part = mm // unit * unit, mm % unit
    found = [
        (mm + unit, f"one {name} too far: read the whole {name} before the mark, not the one after it"),
        (mm - unit, f"one {name} short: count the last whole {name} before the mark"),
    ]
    if part:
        found.append(
            (
                whole + unit - part,
                f"you counted the part from the far end of the {name}: count from the whole one before the mark",
            )
        )
        found.append(
            (whole + part * 2, "you read the smallest lines as twice what they are: count how many there are to the whole")
        )
        found.append((whole + part / 2, "you read the lines as half of what they are: count how many there are to the whole"))
    return found


def _place(seed: int, plan: PiecePlan) -> Exercise | None:
    marks = [(n, mark) for n, mark in enumerate(plan.marks, 1) if mark.reading.rounded_mm > 0]
    if not marks:
        return None
    number, mark = marks[mixed(seed, 2, len(marks))]
    panel = next(panel for panel in plan.piece.surface.panels if panel.name == mark.panel)
    level = mark.line in ("top edge", "bottom edge")
    run = panel.width_mm if level else panel.height_mm
    beside = sorted({m.reading.rounded_mm for _, m in marks if (m.panel, m.line) == (mark.panel, mark.line)})
    at = beside.index(mark.reading.rounded_mm)
    slips = [
        (
            read_off(run - mark.reading.rounded_mm, plan.job.graduation).rounded_mm,
            "that is from the other end: every mark of a line is read from the one datum",
        )
    ]
    for other in (at - 1, at + 1):
        if 0 <= other < len(beside):
            slips.append((beside[other], "that is the mark beside it: count again from the datum"))
    size = f"{write_exact(run, plan.job.units)} {'wide' if level else 'high'}"
    where = f"“{mark.panel}” is {size}."
    return Exercise(
        "place", seed, f"{plan.piece.name}: {where} Mark {number} is on the {mark.line}, read from the {mark.datum}. What does the tape read there?",
        mark.reading.text, f"Mark {number} goes at {mark.reading.text} from the {mark.datum}.", mark=f"m{number}",
        slips=tuple(slip for slip in slips if slip[0] != mark.reading.rounded_mm), true_mm=mark.reading.rounded_mm,
    )  # fmt: skip


def _side(seed: int, plan: PiecePlan) -> Exercise | None:
    found = []
    for each in plan.taping.chosen.rounds:
        for sheet, strips in enumerate(each.strips):
            sides = sides_in_words(strips, plan.layouts[sheet].sheet)
            for index, side in enumerate(sides):
                if (
                    side in ("left of the line", "right of the line", "above the line", "below the line")
                    and not strips.perimeter[index]
                ):
                    found.append((each, side))
    if not found:
        return None
    each, side = found[mixed(seed, 3, len(found))]
    vertical = side.startswith(("left", "right"))
    options = (
        ("left of the line", "right of the line", "on the line")
        if vertical
        else ("above the line", "below the line", "on the line")
    )
    palette = plan.job.palette
    paint, keep = palette[each.colors[0]], palette[plan.piece.base]
    first = side in ("right of the line", "below the line")  # the paint lies on the other side of the line than the tape
    return Exercise(
        "side", seed, f"{plan.piece.name}, round {each.number}: {paint.name.lower()} is painted, {keep.name.lower()} stays. Where does the tape go?",
        side, f"Edge tape lies outside what is painted, its edge on the line: {side}. On the other side it would cover what you want to paint.",
        options, split=Split(vertical, first, paint.hex, keep.hex),
    )  # fmt: skip


def _pull(seed: int, choices: Sequence[RoundChoice]) -> Exercise | None:
    if not choices:
        return None
    choice = choices[mixed(seed, 4, len(choices))]
    window, coat = choice.window, 3
    ends = 600 + mixed(seed, 5, 120)
    least = ends + window.least_min
    most = ends - coat + window.most_min if window.most_min is not None else least + 12 * 60
    inside = least + max((most - least) // 2, 0)
    early, late = max(ends + window.least_min // 2, ends + 1), most + max(window.most_min or 0, 30)
    times = {inside: True, late: window.most_min is None}
    if window.least_min > 1:
        times[early] = False
    else:
        times[most + 15] = False
    options = tuple(_clock(at) for at in sorted(times))
    return Exercise(
        "pull", seed, f"The last coat took from {_clock(ends - coat)} to {_clock(ends)}. The tape is pulled {window.pull_method}. When?",
        _clock(inside), f"{window.why[0].upper()}{window.why[1:]}: {_clock(inside)} is inside.", options,
    )  # fmt: skip


def _clock(minutes: int) -> str:
    days, rest = divmod(minutes, DAY_MIN)
    return f"{rest // 60:02d}:{rest % 60:02d}" + (f", {days} day{'s' if days > 1 else ''} later" if days else "")


def _seal(seed: int, choices: Sequence[RoundChoice]) -> Exercise | None:
    if not choices:
        return None
    s = choices[mixed(seed, 6, len(choices))].situation
    right = seals_for(s)[0]
    others = [seal for seal in SEAL_WORDS if seal not in seals_for(s)] or [seal for seal in SEAL_WORDS if seal != right]
    picked = dict.fromkeys([right, others[mixed(seed, 7, len(others))], others[mixed(seed, 8, len(others))]])
    options = sorted((SEAL_WORDS[seal] for seal in picked), key=lambda words: mixed(seed, len(words), 97))
    tape = "swelling-edge tape" if s.swelling_edge else f"{s.adhesion} tape without swelling edge"
    return Exercise(
        "seal", seed, f"A {s.kind}, {s.texture}, with {tape}. How do you seal the tape's edge?",
        SEAL_WORDS[right], f"{SEAL_WORDS[right][0].upper()}{SEAL_WORDS[right][1:]} is what painters use there. {_bleed_said(s, right)}", tuple(options),
    )  # fmt: skip


def _bleed_said(s: Situation, seal: str) -> str:
    found = forecast(replace(s, seal=seal)).bleed
    reasons = "; ".join(str(reason) for reason in found.reasons) or "nothing here makes it bleed"
    return f"Bleed is {found.level} then: {reasons}."


def score(exercise: Exercise, answer: str, units: str) -> Score:
    """Whether an answer is right, and what went wrong where it isn't. Raises BadInput for a length that can't be read."""
    if exercise.options:
        if answer not in exercise.options:
            raise BadInput("Choose one of the answers.", "answer", answer)
        right = answer == exercise.answer
        return Score(right, exercise.why if right else f"Not {answer}: {exercise.answer}. {exercise.why}")
    mm = read_length(answer, units).mm
    assert exercise.true_mm is not None
    if mm == exercise.true_mm:
        return Score(True, exercise.why)
    slip = next((said for slipped, said in exercise.slips if slipped == mm), "")
    off = abs(mm - exercise.true_mm)
    said = slip or f"that is {write_exact(off, units)} too {'far' if mm > exercise.true_mm else 'near'}"
    return Score(False, f"{said[0].upper()}{said[1:]}. {exercise.why}")
