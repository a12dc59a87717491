"""Sums of materials and time: tape, paint, mixes, when tape may go on and come off, the air."""

import math
import re
from fractions import Fraction

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.base.quantities import area, mixed, read_celsius, read_spread, run, spoken, temperature, volume, warmer
from dividers.core.job.beginnings import BEGINNINGS, BY_SURFACE, PALETTE, begun_piece, products_of
from dividers.core.job.drying import label_min, wet_edge_min
from dividers.core.job.model import JOB_FORMAT, Job
from dividers.core.job.products import Paint
from dividers.core.job_file.job_reader import read_job
from dividers.core.materials.mixes import batch_of
from dividers.core.risk.climate import DEW_MARGIN_C, dew_point_c, label_warnings
from dividers.core.sums.asked import CHOICE, COUNT, NUMBER, TEXT, Question, Sum, SumAnswer, SumAsked

M2_PER_MM2 = 1e-6


def _tape(asked: SumAsked) -> SumAnswer:
    length, lines = float(asked.length("length")) / 1000, asked.count("lines")
    roll = float(asked.length("roll")) / 1000
    if not roll:
        raise BadInput("A roll holds some tape.", "roll")
    total = length * lines * asked.count("sides") * (1 + asked.number("waste", 0, 200) / 100)
    rolls = max(math.ceil(total / roll - 1e-9), 0)
    return SumAnswer(
        (f"{run(total, asked.unit)} of tape: {rolls} roll{'s' if rolls != 1 else ''}.", "Tabs and torn ends are in the waste.")
    )


def _paint(asked: SumAsked) -> SumAnswer:
    m2 = float(asked.length("width") * asked.length("height")) * M2_PER_MM2 * asked.number("share", 0, 100) / 100
    spread = float(_read(asked, "spread"))
    litres = m2 * asked.count("coats") / spread * (1 + asked.number("waste", 0, 200) / 100)
    return SumAnswer((f"{volume(litres, asked.unit)} for {area(m2, asked.unit)}.", "The label's own spread rate goes first."))


def _read(asked: SumAsked, key: str) -> Fraction:
    try:
        return read_spread(asked.text(key))
    except BadInput as fault:
        raise BadInput(fault.message, key) from fault


def _glaze(asked: SumAsked) -> SumAnswer:
    parts = []
    for piece in re.split(r"[,;+]|\band\b", asked.text("parts")):
        share, _, name = piece.strip().partition(" ")
        try:
            parts.append((name.strip() or "part", Fraction(share.replace(",", "."))))
        except (ValueError, ZeroDivisionError) as fault:
            raise BadInput("Write parts like: 4 glaze, 1 paint.", "parts") from fault
    m2 = float(asked.length("width") * asked.length("height")) * M2_PER_MM2
    try:
        batch = batch_of(tuple(parts), m2, asked.count("coats"), float(_read(asked, "spread")), asked.number("waste", 0, 200))
    except BadInput as fault:
        raise BadInput(fault.message, "parts") from fault
    return SumAnswer((f"{mixed(batch.litres, batch.parts, asked.unit)}.", f"For {area(m2, asked.unit)}."))


PAINTS = {key: product for each in BEGINNINGS for key, product in each.paints.items()}


def _job_for(asked: SumAsked) -> Job:
    """A job with the paint and the air that were asked about."""
    of = BY_SURFACE["wall"]
    piece = begun_piece(of, "100", "100", "", False, 1, ("base", "first"), "mm")
    key = asked.text("paint")
    if key not in PAINTS:
        raise BadInput("Choose one of the paints.", "paint")
    product = dict(PAINTS[key])
    for name in ("touch_dry", "tape_safe", "wet_edge"):
        if typed := asked.typed.get(name, "").strip():
            product[name] = typed
    document = {
        "format": JOB_FORMAT, "title": "-", "units": asked.unit, "palette": PALETTE, "products": products_of(of) | {"paint": product},
        "climate": {"temperature": asked.text("temperature"), "humidity": asked.number("humidity", 0, 100)}, "pieces": [piece],
    }  # fmt: skip
    try:
        return read_job(document)
    except BadJob as bad:
        raise BadInput(bad.faults[0].message, bad.faults[0].path.rpartition(".")[2]) from bad


def _waits(asked: SumAsked) -> SumAnswer:
    job = _job_for(asked)
    paint, climate = job.products["paint"], job.climate
    assert isinstance(paint, Paint)
    outside = label_warnings(paint, float(climate.temperature_c), float(climate.humidity_percent), asked.unit)
    if outside:
        return SumAnswer(
            (*outside, "Nothing is painted in this air, so there are no waits to work out: warm the room, or wait.")
        )
    wet, touch = float(wet_edge_min([paint], climate)), label_min(paint, "touch_dry_min", climate)
    return SumAnswer(
        (
            f"Tape may go on it after {spoken(label_min(paint, 'tape_safe_min', climate))}.",
            f"Pull wet within {spoken(wet)} of the first stroke; touch-dry after {spoken(touch)}; dry after {spoken(label_min(paint, 'full_dry_min', climate))}.",
            f"Another coat after {spoken(label_min(paint, 'recoat_min', climate))}. In this air, by common practice: the label goes first.",
        )
    )


def _dew(asked: SumAsked) -> SumAnswer:
    celsius = _celsius(asked, "temperature")
    percent = asked.number("humidity", 1, 100)
    typed = bool(asked.typed.get("surface", "").strip())
    dew = dew_point_c(celsius, percent)
    margin = (_celsius(asked, "surface") if typed else celsius) - dew
    said = [f"The dew point is {temperature(dew, asked.unit)}."]
    rule = f"at least {warmer(DEW_MARGIN_C, asked.unit)} is the rule (ISO 8502-4, from memory)"
    what = "The surface" if typed else "The air"
    if margin < 0:
        said.append(
            f"{what} is {warmer(-margin, asked.unit)} below it: water settles on it. Nothing is painted before it is warmer, or the air drier."
        )
    elif margin < DEW_MARGIN_C:
        said.append(f"{what} is only {warmer(margin, asked.unit)} above it; {rule}. Warm the room, or wait for drier air.")
    elif typed:
        said.append(f"The surface is {warmer(margin, asked.unit)} above it: {rule}, so it may be painted.")
    else:
        said.append(
            f"The air is {warmer(margin, asked.unit)} above it; {rule} for the surface, which can be colder: measure it too."
        )
    return SumAnswer(tuple(said))


def _celsius(asked: SumAsked, key: str) -> float:
    try:
        return float(read_celsius(asked.text(key), asked.unit))
    except BadInput as fault:
        raise BadInput(fault.message, key) from fault


SIZE = (Question("width", "Width"), Question("height", "Height"))
SPREAD = Question("spread", "Spread rate", TEXT, "10 m2/L", "from the label, like 10 m2/L or 400 ft2/gal")
COATS = Question("coats", "Coats", COUNT, "2", most=20)
WASTE = Question("waste", "Waste, percent", NUMBER, "10")
AIR = (
    Question("temperature", "Temperature", TEXT, "21 C", "like 21 C or 70 F"),
    Question("humidity", "Humidity, percent", NUMBER, "50"),
)
MATERIAL_SUMS = (
    Sum(
        "tape", "How much tape",
        (
            Question("length", "Length of a line"), Question("lines", "Lines", COUNT), Question("sides", "Strips along each", COUNT, "1", "2 where both sides are taped", most=2),
            Question("roll", "On a roll", usual="55 m"), WASTE,
        ),
        _tape,
    ),
    Sum("paint", "How much paint", (*SIZE, Question("share", "Painted, percent", NUMBER, "100", "50 where every second stripe is painted"), COATS, SPREAD, WASTE), _paint),
    Sum("glaze", "Glaze and mix", (Question("parts", "Parts", TEXT, "4 glaze, 1 paint"), *SIZE, Question("coats", "Coats", COUNT, "1", most=20), SPREAD, WASTE), _glaze),
    Sum(
        "waits", "When may I tape over it, and pull it?",
        (
            Question("paint", "Paint", CHOICE, "wall paint", choices=tuple((key, key.capitalize()) for key in PAINTS)), *AIR,
            Question("tape_safe", "Tape-safe, by its label", TEXT, "", "if it says so, like 24 h"), Question("touch_dry", "Touch-dry, by its label", TEXT, "", "like 45 min"),
        ),
        _waits,
    ),
    Sum("dew", "Dew point", (*AIR, Question("surface", "Surface temperature", TEXT, "", "if it is colder than the air")), _dew),
)  # fmt: skip
