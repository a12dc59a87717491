"""What each station asks: its fields, the path of each in the job document, and its words."""

from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from dividers.core.base.lengths import GRADUATIONS
from dividers.core.job.crew import DAYS
from dividers.core.job.document import Document, look_up
from dividers.core.job.method import EXITS, PREPS, TAPINGS, Rates
from dividers.core.job.model import Job, Piece
from dividers.core.job.products import SEALS, SHEENS, Paint, Tape
from dividers.core.job_file.first_values import first_document, first_value
from dividers.core.patterns import BY_KEY, PATTERNS
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import DIRECTIONS, Parameter
from dividers.core.survey.sheet import sheets_of
from dividers.services.stations.shopping import items_of
from dividers.web.stations.fields import BASE, Field, worded, written
from dividers.web.stations.measure_fields import survey_fields

MOST_SEGMENTS = 4  # more choices than this make a list


def fields_of(station: str, job: Job, piece: Piece) -> list[Field]:
    """The station's fields with the values that the job has."""
    here = _piece_document(job, piece)
    return [
        field if field.kind == "group" else replace(field, values=written(field, _value(job, here, field.name)))
        for field in STATION_FIELDS[station](job, piece)
    ]


def _value(job: Job, piece: Document, name: str) -> Any:
    if name.startswith("/"):
        return look_up(job.document, name[1:])
    around, _, last = name.rpartition(".")
    plain = look_up(piece, around) if last == "length" else None
    return plain if plain is not None and not isinstance(plain, dict) else look_up(piece, name)


def _piece_document(job: Job, piece: Piece) -> Document:
    document: Document = job.document["pieces"][job.pieces.index(piece)]
    return document


def _pattern(job: Job, piece: Piece) -> Iterator[Field]:
    pattern = BY_KEY[piece.pattern.kind]
    kinds = tuple((each.key, each.title) for each in PATTERNS)
    ground = Ground.of(sheets_of(piece.surface)[0], float(piece.method.tape.width_mm))
    present = _colors_to_start(job, piece)
    starts = {each.key: first_document(each.key, ground, job.units, present) for each in PATTERNS}
    yield Field(
        "pattern.kind",
        "Pattern",
        "picker",
        pattern.summary,
        options=kinds,
        section="Pattern",
        values=(pattern.key,),
        starts=starts,
    )
    for group, members in pattern.groups().items():
        chosen = next((p.key for p in members if piece.pattern.values[p.key]), members[0].key)
        options = tuple((p.key, p.title) for p in members)
        begins = {p.key: first_value(p, ground, job.units) for p in members}
        yield Field(
            f"pattern:{group}", "Divide into", "group", options=options, section=pattern.title, values=(chosen,), starts=begins
        )
    for parameter in pattern.parameters:
        if not parameter.group or piece.pattern.values[parameter.key]:
            yield _parameter(parameter, pattern.title, job)
    colors = tuple((key, colour.name) for key, colour in job.palette.items())
    yield Field("base", "Base colour", "select", "painted first, over everything", options=colors, section="Colours")
    for key in job.palette:
        yield Field(f"/palette.{key}.name", "Name", "text", section="Palette")
        yield Field(f"/palette.{key}.hex", "Colour", "swatch", section="Palette")
        sheens = (("", "as the others"), *worded(SHEENS))
        yield Field(f"/palette.{key}.sheen", "Sheen", "select", options=sheens, optional=True, section="Palette")


def _colors_to_start(job: Job, piece: Piece) -> list[str | None]:
    """The colours of the pattern there is, to start another from."""
    written = look_up(_piece_document(job, piece), "pattern.colors")
    if isinstance(written, list) and written:
        return written
    used = [*BY_KEY[piece.pattern.kind].colors_in(piece.pattern.values)]
    return [*(used or [key for key in job.palette if key != piece.base][:1]), None]


def _parameter(parameter: Parameter, section: str, job: Job) -> Field:
    name = f"pattern.{parameter.key}"
    match parameter.kind:
        case "colors":
            options = ((BASE, "stays in the base colour"), *((key, colour.name) for key, colour in job.palette.items()))
            return Field(name, parameter.title, "colors", parameter.help, options, section="Colours")
        case "color":
            options = ((BASE, "stays in the base colour"), *((key, colour.name) for key, colour in job.palette.items()))
            return Field(name, parameter.title, "select", parameter.help, options, optional=True, section="Colours")
        case "fills":
            options = tuple((key, colour.name) for key, colour in job.palette.items())
            return Field(name, parameter.title, "fills", parameter.help, options, section=section)
        case "flag":
            return Field(name, parameter.title, "help", parameter.help, section=section)
        case "share":
            return Field(name, parameter.title, "number", parameter.help, section=section)
        case "choice":
            kind = "segments" if len(parameter.choices) <= MOST_SEGMENTS else "select"
            return Field(name, parameter.title, kind, parameter.help, worded(parameter.choices), section=section)
        case "origin":
            return Field(name, parameter.title, "length", parameter.help, section=section, optional=True)
        case "direction":
            return Field(name, parameter.title, "direction", parameter.help, worded(tuple(DIRECTIONS)), section=section)
    optional = parameter.default is None and not parameter.group and not parameter.needed
    return Field(name, parameter.title, parameter.kind, parameter.help, section=section, optional=optional)


def _marks(job: Job, piece: Piece) -> Iterator[Field]:
    graduations = tuple((key, key) for key in GRADUATIONS if key.endswith("in") == (job.units == "in"))
    usual = "1/16 in" if job.units == "in" else "1 mm"
    options = tuple(sorted(graduations, key=lambda option: option[0] != usual))
    yield Field("/graduation", "Finest marks of your tape measure", "select", options=options, section="Tape measure")
    if job.units == "in":
        yield Field("/feet_inches", "Read in feet and inches", "check", section="Tape measure")
    ways = (("auto", "Automatic"), ("perimeter", "Along the edges, then snap"), ("verticals", "Down each vertical"))
    yield Field(
        "method.mark_way",
        "Where to mark",
        "select",
        "edges work only where every line runs all the way across",
        options=ways,
        section="Where",
    )
    datums = (("left", "Left"), ("right", "Right"), ("centre", "Centre"))
    yield Field("method.datum", "Measure across from", "segments", options=datums, section="Where")
    sides = (("auto", "Where dark paint covers it"), ("painted-side", "On the painted side"), ("tape-side", "Under the tape"))
    yield Field("method.marks", "Pencil marks go", "select", options=sides, section="Where")
    orders = (("centre-first", "Centre first, then from outside in"), ("along", "Along the tape"))
    yield Field(
        "method.mark_order",
        "Order of marking",
        "select",
        "centre first shows an error early; along the tape measure takes fewer steps",
        options=orders,
        section="Order",
    )


def _tape(job: Job, piece: Piece) -> Iterator[Field]:
    tapes = [key for key, product in job.products.items() if isinstance(product, Tape)]
    if tapes:
        yield Field("method.tape", "Tape", "select", options=tuple((key, key.capitalize()) for key in tapes), section="Tape")
        width = f"/products.{piece.method.tape.key}.width"
        yield Field(width, "Actual width", help="lay ten strips side by side, measure, divide by ten", section="Tape")
        yield Field(f"/products.{piece.method.tape.key}.roll", "On a roll", optional=True, section="Tape")
    ways = TAPINGS if BY_KEY[piece.pattern.kind].reserve_mm(piece.pattern.values) else TAPINGS[:3]
    yield Field("method.taping", "Way of taping", "segments", options=worded(ways), section="Way of taping")
    usual = Rates()
    for key, label, value in (
        ("taped_m_per_h", "Tape laid, m per hour", usual.taped_m_per_h),
        ("cut_min", "Minutes per cut", usual.cut_min),
        ("round_min", "Minutes per round", usual.round_min),
        ("painted_m2_per_h", "Painted, m² per hour", usual.painted_m2_per_h),
    ):
        help_text = f"{value:g} is common practice"
        yield Field(f"method.rates.{key}", label, "number", help_text, optional=True, section="Your rates")


def _schedule(job: Job, piece: Piece) -> Iterator[Field]:
    when = "Start and hours"
    yield Field(
        "/crew.start", "Start", "text", "like 2027-03-06T08:00; empty means tomorrow morning", optional=True, section=when
    )
    yield Field("/crew.painters", "Painters", "count", optional=True, section=when)
    yield Field("/crew.days", "Days", "words", f"from {', '.join(DAYS)}; empty means mon to sat", optional=True, section=when)
    help_text = "from-to, separated by commas; empty means 08:00-12:00, 12:30-17:30"
    yield Field("/crew.hours", "Hours", "spans", help_text, optional=True, section=when)
    air = "Air"
    yield Field("/climate.temperature", "Temperature", "text", "like 21 C or 70 F", optional=True, section=air)
    yield Field("/climate.humidity", "Humidity, percent", "number", optional=True, section=air)
    yield Field("/climate.surface", "Surface temperature", "text", "if it is colder than the air", optional=True, section=air)
    own = f"How {piece.name} is done"
    seals = (("auto", "Automatic"), *worded(SEALS[1:]))
    yield Field("method.seal", "Seal the tape's edge", "select", options=seals, section=own)
    pulls = (("auto", "Automatic"), ("wet", "Wet"), ("touch-dry", "Touch-dry"), ("dry", "Dry"))
    yield Field(
        "method.pull",
        "Pull the tape",
        "segments",
        "wet: at once; touch-dry: when nothing comes off on the finger; dry: fully dry",
        options=pulls,
        section=own,
    )
    yield Field("method.prep", "Preparing", "words", f"from {', '.join(PREPS)}", optional=True, section=own)
    if piece.surface.kind in ("floor", "stairs"):
        yield Field(
            "method.exit", "The exit is at the", "segments", "the work goes from the back toward it", worded(EXITS), section=own
        )
    yield Field("method.clear_coats", "Clear coats at the end", "count", optional=True, section=own)
    painted = "if the base colour is on already, the date, like 2027-03-01"
    yield Field("surface.finish.painted_on", "Base painted on", "text", painted, optional=True, section=own)
    help_text = "percent; 80 leaves a margin"
    yield Field("method.window", "Share of the pull window to use", "count", help_text, optional=True, section=own)
    usual = Rates()
    for key, label, value in (
        ("painted_m2_per_h", "Painted, m² per hour", usual.painted_m2_per_h),
        ("taped_m_per_h", "Tape laid, m per hour", usual.taped_m_per_h),
        ("sealed_m_per_h", "Sealed, m per hour", usual.sealed_m_per_h),
        ("pulled_m_per_h", "Pulled, m per hour", usual.pulled_m_per_h),
        ("mark_min", "Minutes per mark", usual.mark_min),
    ):
        yield Field(
            f"method.rates.{key}", label, "number", f"{value:g} is common practice", optional=True, section="Your rates"
        )


def _materials(job: Job, piece: Piece) -> Iterator[Field]:
    paints = {key: product for key, product in job.products.items() if isinstance(product, Paint)}
    yield Field(
        "copies", "Copies of this piece", "count", "how many copies, such as drawers", optional=True, section="How many"
    )
    named = BY_KEY[piece.pattern.kind].colors_in(piece.pattern.values)
    used = [piece.base, *(color for color in named if color != piece.base)]
    for color in used:
        section = f"Paint: {job.palette[color].name}"
        if paints:
            options = (("", "a typical paint, 9 m2/L"), *((key, key.capitalize()) for key in paints))
            yield Field(f"method.paint.{color}", "Product", "select", options=options, optional=True, section=section)
        yield Field(f"method.coats.{color}", "Coats", "count", optional=True, section=section)
    for key in paints:
        yield Field(
            f"/products.{key}.spread",
            f"Spread rate of {key}",
            "text",
            "from the label, like 9 m2/L or 375 ft2/gal",
            optional=True,
            section="Spread rates",
        )
    yield Field("method.tape_waste", "Tape waste, percent", "count", "10 is common practice", optional=True, section="Tape")
    tools = (("roller", "roller, 10 % lost"), ("brush", "brush, 5 %"), ("spray", "spray, 30 %"))
    yield Field(
        "method.tool", "Painted with", "select", "what stays in the tool: common practice", options=tools, section="Tool"
    )
    yield Field("/currency", "Currency", "text", "like EUR; prices are optional", optional=True, section="Stock and prices")
    for item in items_of(job):
        section = f"Stock: {item}"
        yield Field(f"/supplies.{item}.stock", "In stock", "text", "like 0.4 L or 20 m", optional=True, section=section)
        yield Field(f"/supplies.{item}.sizes", "Sold in", "lengths", "like 0.75 L; 2.5 L", optional=True, section=section)
        yield Field(f"/supplies.{item}.prices", "Prices", "lengths", "in the same order", optional=True, section=section)


STATION_FIELDS: dict[str, Callable[[Job, Piece], Iterator[Field]]] = {
    "measure": survey_fields,
    "pattern": _pattern,
    "marks": _marks,
    "tape": _tape,
    "schedule": _schedule,
    "materials": _materials,
}
