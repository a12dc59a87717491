"""Reads a job file: JSON text -> checked `Job`, or every fault in it with the path of its key."""

import copy
import json
import re
from collections.abc import Mapping
from datetime import datetime
from fractions import Fraction
from typing import Any

from dividers.core.base.colour import read_hex
from dividers.core.base.errors import BadInput, BadJob, Fault
from dividers.core.base.lengths import Graduation, read_graduation, usual_graduation
from dividers.core.base.quantities import read_amount, read_celsius, read_minutes, read_price, read_spread
from dividers.core.base.units import JOB_UNITS, LENGTH_MM
from dividers.core.job.crew import DAYS, Climate, Crew
from dividers.core.job.edge_counts import Count, Substrate
from dividers.core.job.model import JOB_FORMAT, Job
from dividers.core.job.products import ADHESIONS, BINDERS, SEALS, SHEENS, Colour, Paint, Seal, Supply, Tape
from dividers.core.job.reader import Findings, Reader
from dividers.core.job.surface import TEXTURES
from dividers.core.job.usual import SPREAD_M2_L
from dividers.core.job_file.piece_reader import read_piece

MOST_BYTES = 2_000_000
MOST_PIECES = 60
MOST_PALETTE = 60
MOST_PRODUCTS = 200
MOST_BUSY = 500
MOST_EVIDENCE = 1000
MOST_SUPPLIES = 300
MOST_SIZES = 5
USUAL_ROLL_MM = Fraction(55_000)  # common practice, no source


def parse_job(text: str | bytes) -> Job:
    """Read a job file's text. Raises BadJob with all faults found."""
    return read_job(parse_document(text))


def parse_document(text: str | bytes) -> dict[str, Any]:
    """JSON text -> the document, refusing what JSON readers let pass: NaN, repeated keys, endless nesting. Raises BadJob."""
    if len(text) > MOST_BYTES:
        raise BadJob((Fault("", f"the file has {len(text)} bytes; at most {MOST_BYTES} are allowed."),))
    try:
        document = json.loads(text, parse_constant=_refuse_constant, object_pairs_hook=_no_repeats)
    except BadInput as fault:
        raise BadJob((Fault("", fault.message),)) from None
    except RecursionError:
        raise BadJob((Fault("", "the file is nested too deeply to be a job."),)) from None
    except (ValueError, UnicodeDecodeError) as broken:
        raise BadJob((Fault("", f"the file isn't JSON: {str(broken)[:200]}"),)) from None
    if not isinstance(document, dict):
        raise BadJob((Fault("", "the file must hold one object with the keys of a job."),))
    return document


def _refuse_constant(name: str) -> None:
    raise BadInput(f"the file holds {name}, which is not a number.")


def _no_repeats(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    keys = [key for key, _ in pairs]
    if len(set(keys)) < len(keys):
        twice = next(key for key in keys if keys.count(key) > 1)
        raise BadInput(f"the key “{twice[:60]}” appears twice in one object. Keep one of them.")
    return dict(pairs)


def read_job(document: Mapping[str, Any]) -> Job:
    """Check a document and give it types. Raises BadJob with all faults found."""
    findings = Findings()
    top = Reader(document, "", findings)
    if top.need("format", f"It must be “{JOB_FORMAT}”.") and document["format"] != JOB_FORMAT:
        top.fault("format", f"is “{str(document['format'])[:40]}”; this program reads “{JOB_FORMAT}”.")
    top.need("title", "Give the job a title.")
    title = top.text("title")
    top.need("units", f"Choose one of: {', '.join(JOB_UNITS)}.")
    units = findings.unit = top.choice("units", JOB_UNITS, "in")
    palette = {key: _colour(key, entry) for key, entry in top.named("palette", MOST_PALETTE)}
    if not palette and not findings.faults:
        top.fault("palette", "needs at least one colour, such as the base colour of a piece.")
    products = {key: read_product(key, entry) for key, entry in top.named("products", MOST_PRODUCTS)}
    if not top.items("pieces", MOST_PIECES):
        top.fault("pieces", "needs at least one piece: a wall, a drawer, a sheet to paint.")
    graduation = _graduation(top, units)
    pieces = tuple(
        read_piece(entry, f"piece-{number}", palette, products, graduation)
        for number, entry in enumerate(top.children("pieces", MOST_PIECES), 1)
    )
    keys = [piece.key for piece in pieces]
    for number, key in enumerate(keys):
        if key in keys[:number]:
            top.fault(f"pieces.{number}.id", f"“{key}” is the id of another piece already.")
    job = Job(
        title=title,
        units=units,
        graduation=graduation,
        palette=palette,
        products=products,
        pieces=pieces,
        crew=_crew(top.child("crew")),
        climate=_climate(top.child("climate")),
        document=copy.deepcopy(dict(document)),
        warnings=(),
        supplies={name: _supply(entry) for name, entry in top.named("supplies", MOST_SUPPLIES)},
        currency=top.text("currency", "", 12),
        evidence=dict(_evidence(entry) for entry in top.children("evidence", MOST_EVIDENCE)),
    )
    top.close()
    if findings.faults:
        raise BadJob(tuple(dict.fromkeys(findings.faults)))
    return Job(**{**vars(job), "warnings": tuple(dict.fromkeys(findings.warnings))})


def dump_job(job: Job) -> str:
    """The job file's text: what was read, unknown keys and all, in a steady order."""
    return json.dumps(job.document, ensure_ascii=False, indent=2) + "\n"


def _graduation(top: Reader, units: str) -> Graduation:
    written = top.value("graduation", read_graduation, read_graduation(usual_graduation(units)))
    return written.in_unit(units, top.flag("feet_inches"))


def _colour(key: str, entry: Reader) -> Colour:
    entry.need("hex", "Write # and six hexadecimal digits, like #22345a.")
    colour = Colour(key, entry.text("name", key), entry.value("hex", read_hex, "#808080"), entry.choice("sheen", SHEENS, ""))
    entry.close()
    return colour


def read_product(key: str, entry: Reader) -> Paint | Tape | Seal:
    entry.need("kind", "Choose one of: paint, tape, seal.")
    kind = entry.choice("kind", ("paint", "tape", "seal"), "paint")
    product = _tape(key, entry) if kind == "tape" else _seal(key, entry) if kind == "seal" else _paint(key, entry)
    entry.close()
    return product


def _paint(key: str, entry: Reader) -> Paint:
    touch, recoat, safe, full, wet = (
        entry.value(name, read_minutes, None) for name in ("touch_dry", "recoat", "tape_safe", "full_dry", "wet_edge")
    )
    return Paint(
        key,
        entry.choice("binder", BINDERS, "water"),
        entry.choice("sheen", SHEENS, "matte"),
        entry.value("spread", read_spread, SPREAD_M2_L),
        touch,
        recoat,
        safe,
        full,
        wet,
        least_c=entry.value("least", read_celsius, None),
        most_c=entry.value("most", read_celsius, None),
        most_percent=entry.number("most_humidity", 1, 100, Fraction(100)) if entry.has("most_humidity") else None,
        glaze_parts=entry.number("glaze_parts", 1, 12, Fraction(4)) if entry.has("glaze_parts") else None,
    )


def _seal(key: str, entry: Reader) -> Seal:
    entry.need("method", f"Choose one of: {', '.join(SEALS[1:])}.")
    rate = entry.number("sealed_m_per_h", 1, 1000, Fraction(90)) if entry.has("sealed_m_per_h") else None
    dry, skin = entry.value("dry", read_minutes, None), entry.value("skin", read_minutes, None)
    return Seal(key, entry.choice("method", SEALS[1:], "caulk"), dry, skin, rate)


def _tape(key: str, entry: Reader) -> Tape:
    entry.need("width", "Measure the roll's actual width, like 24 mm.")
    return Tape(
        key,
        entry.length("width", Fraction(24), Fraction(1), Fraction(300)),
        entry.choice("adhesion", ADHESIONS, "medium"),
        entry.flag("swelling_edge"),
        entry.length("roll", USUAL_ROLL_MM, LENGTH_MM["m"] / 2, Fraction(100_000)),
        entry.value("remove_within", read_minutes, None),
    )


def _crew(entry: Reader) -> Crew:
    usual = Crew()
    crew = Crew(
        entry.count("painters", 1, 50, usual.painters),
        entry.value("start", _read_start, None),
        tuple(_day(entry, index, day) for index, day in enumerate(entry.items("days", 7))) or usual.days,
        tuple(_hours(entry, index, span) for index, span in enumerate(entry.items("hours", 12))) or usual.hours,
        tuple(busy for index, span in enumerate(entry.items("busy", MOST_BUSY)) if (busy := _busy(entry, index, span))),
    )
    entry.close()
    return crew


def _day(entry: Reader, index: int, day: object) -> str:
    if day not in DAYS:
        entry.fault(f"days.{index}", f"“{str(day)[:20]}” isn't a day. Choose from: {', '.join(DAYS)}.")
        return "mon"
    return str(day)


def _hours(entry: Reader, index: int, span: object) -> tuple[str, str]:
    times = tuple(str(time) for time in span) if isinstance(span, list) else ()
    if (
        len(times) != 2
        or not all(re.fullmatch(r"([01][0-9]|2[0-3]):[0-5][0-9]|24:00", t) for t in times)
        or times[0] >= times[1]
    ):
        entry.fault(f"hours.{index}", 'must be a span of the day, from and to, like ["08:00", "12:00"].')
        return ("08:00", "12:00")
    return (times[0], times[1])


def _busy(entry: Reader, index: int, span: object) -> tuple[str, str] | None:
    """A time when nobody is there: from and to, as dates with time."""
    try:
        one, other = (_read_start(part) for part in span) if isinstance(span, list) and len(span) == 2 else ("", "")
    except BadInput as fault:
        entry.fault(f"busy.{index}", fault.message)
        return None
    if one >= other:
        entry.fault(f"busy.{index}", 'must be from and to, like ["2027-03-08T09:00", "2027-03-08T11:30"].')
        return None
    return one, other


def _read_start(written: object) -> str:
    try:
        return datetime.fromisoformat(str(written)).isoformat(timespec="minutes")
    except ValueError:
        raise BadInput(f"“{str(written)[:40]}” isn't a date with time. Write it like 2027-03-06T08:00.") from None


def _supply(entry: Reader) -> Supply:
    """Stock, sizes and prices of an item."""
    sizes = tuple(
        entry.entry(f"sizes.{n}", read_amount, size, Fraction(1)) for n, size in enumerate(entry.items("sizes", MOST_SIZES))
    )
    prices = tuple(
        entry.entry(f"prices.{n}", read_price, price, Fraction(0)) for n, price in enumerate(entry.items("prices", MOST_SIZES))
    )
    supply = Supply(entry.value("stock", read_amount, Fraction(0)), sizes, prices)
    if sizes and 0 in sizes:
        entry.fault("sizes", "has a size of 0; write sizes such as 0.75 L or 55 m.")
    entry.close()
    return supply


def _evidence(entry: Reader) -> tuple[Substrate, Count]:
    """Strips found clean on a ground, as a logbook counted them."""
    substrate = Substrate(
        entry.choice("texture", TEXTURES, "smooth"),
        entry.choice("adhesion", ADHESIONS, "medium"),
        entry.flag("swelling_edge"),
        entry.choice("seal", SEALS[1:], "none"),
    )
    strips = entry.count("strips", 1, 100_000, 1)
    clean = entry.count("clean", 0, 100_000, 0)
    if clean > strips:
        entry.fault("clean", f"{clean} of {strips} strips can't be clean; at most {strips}.")
    found = substrate, Count(min(clean, strips), strips, entry.count("rounds", 1, 100_000, 1))
    entry.close()
    return found


def _climate(entry: Reader) -> Climate:
    usual = Climate()
    climate = Climate(
        entry.value("temperature", read_celsius, usual.temperature_c),
        entry.number("humidity", 0, 100, usual.humidity_percent),
        entry.value("surface", read_celsius, None),
    )
    entry.close()
    return climate
