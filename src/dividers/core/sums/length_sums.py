"""Sums of lengths: a run divided, squares on their point, chevrons, right angles, a stripe in the middle, ten strips of tape."""

import math
from fractions import Fraction

from dividers.core.advice.fit.counts import candidates, reason
from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import exact, read_off, write_exact, write_kept, write_small
from dividers.core.sums.asked import COUNT, Question, Sum, SumAnswer, SumAsked
from dividers.core.tape.actual_width import actual_width_mm

MOST_MARKS = 400
SQUARE_DEG = Fraction(1, 20)  # so little off counts as square


def _divide(asked: SumAsked) -> SumAnswer:
    run, count = asked.length("run"), asked.count("count")
    if not run:
        raise BadInput("A run of no length can't be divided.", "run")
    near = candidates(Fraction(0), run, count, (), (), asked.graduation, asked.questions["count"].most)
    own = next(each for each in near if each.count == count)
    better = next((each for each in near if each.on_marks and each.count != count), None)
    said = [f"{count} parts of {write_exact(own.size_mm, asked.unit)}.", reason(own, asked.graduation)]
    if better and not own.on_marks:
        said.append(f"{better.count} parts would be {better.reading.text} each, on the tape's marks.")
    marks = tuple((float(own.size_mm * n), asked.read(own.size_mm * n)) for n in range(1, min(count, MOST_MARKS)))
    if marks:
        said.append(f"Mark at {', '.join(text for _, text in marks[:24])}{' …' if len(marks) > 24 else ''}, all from one end.")
    job = {
        "width": write_kept(run, asked.unit),
        "pattern": {"kind": "stripes", "direction": "vertical", "count": count, "start": "edge"},
    }
    return SumAnswer(tuple(said), own.size_mm, marks, float(run), job)


def _on_point(asked: SumAsked) -> SumAnswer:
    side = asked.length("side")
    point = exact(float(side) * math.sqrt(2))
    half = exact(float(side) / math.sqrt(2))
    said = (
        f"Point to point {asked.read(point)}; centre to point {asked.read(half)}.",
        "A square stood on its point is 1.414 times as wide as its side.",
    )
    width = write_kept(point, asked.unit)
    return SumAnswer(said, point, job={"pattern": {"kind": "diamonds", "width": width, "height": width}})


def _chevron(asked: SumAsked) -> SumAnswer:
    column, rise, part = asked.length("column"), asked.length("rise"), asked.length("part")
    if not column:
        raise BadInput("A column has some width.", "column")
    leg, angle = exact(math.hypot(float(column), float(rise))), math.degrees(math.atan2(float(rise), float(column)))
    said = [f"A leg is {asked.read(leg)} long and climbs at {angle:.1f}°."]
    if part:
        if part > column:
            raise BadInput("A cut column is narrower than a whole one.", "part")
        said.append(
            f"{asked.read(part)} into a column the line has moved {asked.read(rise * part / column)} of its {asked.read(rise)}."
        )
    pattern = {
        "kind": "chevron",
        "column": write_kept(column, asked.unit),
        "rise": write_kept(max(rise, Fraction(1)), asked.unit),
    }
    return SumAnswer(tuple(said), leg, job={"pattern": pattern | {"band": write_kept(max(rise, Fraction(2)), asked.unit)}})


def _square(asked: SumAsked) -> SumAnswer:
    width, height, one = asked.length("width"), asked.length("height"), asked.length("one")
    other = asked.length("other") if asked.typed.get("other", "").strip() else None
    if not width or not height:
        raise BadInput("Both sides have some length.", "width" if not width else "height")
    due = exact(math.hypot(float(width), float(height)))
    cosine = (float(width) ** 2 + float(height) ** 2 - float(one) ** 2) / (2 * float(width) * float(height))
    if not -1 < cosine < 1:
        raise BadInput(f"No diagonal of such sides can be that long; a square corner's is {asked.read(due)}.", "one")
    off = abs(math.degrees(math.acos(cosine)) - 90)
    said = [f"Square, the diagonal reads {asked.read(due)}."]
    if off < SQUARE_DEG:
        said.append("The corner is square.")
    else:
        lean = float(height) * math.sin(math.radians(off))
        way = "more" if one > due else "less"
        said.append(
            f"The corner is {off:.2f}° {way} than square: over the height that is {write_small(exact(lean), asked.unit)}."
        )
    if other is not None:
        apart = abs(one - other)
        said.append(
            "Both diagonals read the same." if not apart else f"The diagonals differ by {write_small(apart, asked.unit)}."
        )
    unit = min(width, height) / 4 if min(width, height) * 4 <= max(width, height) * 3 else max(width, height) / 5
    step = exact(float(unit) // float(asked.graduation.step_mm) * float(asked.graduation.step_mm))
    if step:
        said.append(
            f"3-4-5: {asked.read(3 * step)} along one side, {asked.read(4 * step)} along the other, {asked.read(5 * step)} across."
        )
    return SumAnswer(tuple(said), due, job={"width": write_kept(width, asked.unit), "height": write_kept(height, asked.unit)})


def _centred(asked: SumAsked) -> SumAnswer:
    run, stripe = asked.length("run"), asked.length("stripe")
    if stripe >= run:
        takes = "takes all of" if stripe == run else "is wider than"
        raise BadInput(f"The stripe {takes} the {asked.read(run)} there are.", "stripe")
    rest = (run - stripe) / 2
    left = read_off(rest, asked.graduation)
    said = [
        f"{write_exact(rest, asked.unit)} on each side: mark at {left.text} and at {asked.read(rest + stripe)}, both from one end."
    ]
    spread = run - stripe - left.rounded_mm
    if left.error_mm:
        said.append(f"The stripe keeps its width; read so, one side is {left.text}, the other {asked.read(spread)}.")
    return SumAnswer(
        tuple(said), rest, ((float(rest), left.text), (float(rest + stripe), asked.read(rest + stripe))), float(run)
    )


def _ten_strips(asked: SumAsked) -> SumAnswer:
    together, strips = asked.length("together"), asked.count("strips", 2)
    try:
        width = actual_width_mm(together, strips)
    except BadInput as fault:
        raise BadInput(fault.message, "together") from fault
    said = (
        f"The tape is {write_exact(width, asked.unit)} wide ({float(width):.2f} mm).",
        "Use that, not what is printed on it.",
    )
    return SumAnswer(said, width)


RUN = Question("run", "Length", help="as the tape reads")
LENGTH_SUMS = (
    Sum("divide", "Divide a length", (RUN, Question("count", "Into", COUNT, help="equal parts")), _divide, "stripes, columns, rows"),
    Sum("centred", "A stripe in the middle", (RUN, Question("stripe", "Stripe", help="its exact width")), _centred, "with what is left on each side"),
    Sum(
        "square", "Is it square?",
        (
            Question("width", "Width"), Question("height", "Height"), Question("one", "A diagonal"),
            Question("other", "The other diagonal", usual="0", help="if you have measured it"),
        ),
        _square, "from the sides and a diagonal; and the 3-4-5 that fits",
    ),
    Sum("on-point", "A square on its point", (Question("side", "Side"),), _on_point, "how wide it is, point to point"),
    Sum(
        "chevron", "Chevron leg and cut column",
        (Question("column", "Column width"), Question("rise", "Rise"), Question("part", "Cut so far into a column", usual="0", help="at a door or a corner")),
        _chevron,
    ),
    Sum(
        "strips", "How wide is the tape really?",
        (Question("together", "Together they measure"), Question("strips", "Strips side by side", COUNT, "10", most=100)),
        _ten_strips, "ten strips edge to edge",
    ),
)  # fmt: skip
