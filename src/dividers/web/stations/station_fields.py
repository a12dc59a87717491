"""What each station asks: its fields, the path of each in the job document, and its words."""

import re
from collections.abc import Callable, Iterator
from dataclasses import replace
from typing import Any

from dividers.core.base.lengths import GRADUATIONS, usual_graduation
from dividers.core.base.quantities import spread
from dividers.core.job.document import Document, look_up
from dividers.core.job.model import Job, Piece
from dividers.core.job.products import SHEENS, Paint, Tape
from dividers.core.job.surface import FLAT_KINDS
from dividers.core.job.usual import SPREAD_M2_L
from dividers.core.job_file.first_values import first_document, first_value
from dividers.core.job_file.job_reader import SUPPLY
from dividers.core.patterns import BY_KEY, PATTERNS
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import Parameter
from dividers.core.patterns.base.pattern_kinds import DIRECTIONS
from dividers.core.survey.sheet import sheets_of
from dividers.services.jobs.layer_view import lifted, seen_in
from dividers.services.stations.looks import colors_in, present_colors
from dividers.services.stations.shopping import items_of
from dividers.web.forms.fields import BASE, Field, worded, written
from dividers.web.forms.schema_fields import declared, field_at, field_of
from dividers.web.stations.measure_fields import survey_fields

IN_BASE = "stays in the base colour"


def fields_of(station: str, job: Job, piece: Piece, layer: int = 0) -> list[Field]:
    """The station's fields with the values that the job has; those of a pattern with the values of layer number `layer` (from 0)."""
    number = [each.key for each in job.pieces].index(piece.key)
    here: Document = lifted(dict(job.document), number, layer)["pieces"][number]
    piece = seen_in(piece, layer)
    return [
        replace(
            field,
            rare=field.rare or bool(RARE.search(field.name)),
            values=field.values if field.kind == "group" else written(field, _value(job, here, field.name)),
        )
        for field in STATION_FIELDS[station](job, piece)
    ]


# What is rarely needed waits behind “More” of its group.
RARE = re.compile(
    r"\.curve\.|\.margin\.|\.edges\.|survey\.by$|pattern\.(origin|pinstripe|upright|by$|along|off|other_side|many|unevenness|seed|light|overlay|studs|border|bond)|method\.(rates\.|day_worth|window$|prep$|clear_coats|tape_waste|mark_order|mark_way|third_mark)|climate\.surface|/currency|\.spread$|\.takes_tape$|\.roll$"
)


def _value(job: Job, piece: Document, name: str) -> Any:
    if name.startswith("/"):
        return look_up(job.document, name[1:])
    around, _, last = name.rpartition(".")
    plain = look_up(piece, around) if last == "length" else None
    return plain if plain is not None and not isinstance(plain, dict) else look_up(piece, name)


def _pattern(job: Job, piece: Piece) -> Iterator[Field]:
    pattern = BY_KEY[piece.pattern.kind]
    kinds = tuple((each.key, each.title) for each in PATTERNS)
    ground = Ground.of(sheets_of(piece.surface)[0], float(piece.method.tape.width_mm))
    present = present_colors(job, piece.pattern, piece.base)
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
    colors, painted = _colors_of(job), _painted(piece)
    yield field_at("base", job, kind="select", options=colors, section="Colours")
    for key in job.palette:
        at = f"/palette.{key}"
        yield field_at(f"{at}.name", job, optional=False, section="Palette")
        yield field_at(f"{at}.hex", job, help="", section="Palette")
        sheens = (("", "as the others"), *worded(SHEENS))
        yield field_at(f"{at}.sheen", job, kind="select", help="", options=sheens, section="Palette")
        if key in painted and _paints(job):
            yield _paint_for(key, job)


def _colors_of(job: Job) -> tuple[tuple[str, str], ...]:
    return tuple((key, colour.name) for key, colour in job.palette.items())


def _parameter(parameter: Parameter, section: str, job: Job) -> Field:
    """The field of a pattern's own value. One that has a default isn't emptied, but changed."""
    name, key = f"pattern.{parameter.key}", parameter.as_key
    plain = parameter.default is None and not parameter.group and not parameter.needed
    match parameter.kind:
        case "colors":
            return field_of(name, key, options=((BASE, IN_BASE), *_colors_of(job)), optional=False, section="Colours")
        case "color":
            options = ((BASE, IN_BASE), *_colors_of(job))
            return field_of(name, key, kind="select", options=options, optional=True, section="Colours")
        case "fills":
            return field_of(name, key, options=_colors_of(job), optional=False, section=section)
        case "flag" if parameter.group:
            return field_of(name, key, kind="help", section=section)
        case "direction":
            return field_of(name, key, options=worded(tuple(DIRECTIONS)), optional=False, section=section)
        case "origin":
            return field_of(name, key, optional=True, section=section)
    return field_of(name, key, optional=plain, section=section)


def _marks(job: Job, piece: Piece) -> Iterator[Field]:
    graduations = tuple((key, key) for key in GRADUATIONS if key.endswith("in") == (job.units == "in"))
    usual = usual_graduation(job.units)
    options = tuple(sorted(graduations, key=lambda option: option[0] != usual))
    for field in _here("marks", job, piece):
        if field.name == "method.level_line" and piece.surface.kind in FLAT_KINDS and piece.method.level_line_mm is None:
            continue  # nothing is level there
        yield replace(field, kind="select", options=options) if field.name == "/graduation" else field


def _tape(job: Job, piece: Piece) -> Iterator[Field]:
    tapes = [key for key, product in job.products.items() if isinstance(product, Tape)]
    if tapes:
        options = tuple((key, key.capitalize()) for key in tapes)
        yield field_at("method.tape", job, kind="select", help="", options=options, section="Tape")
        at = f"/products.{piece.method.tape.key}"
        yield field_at(f"{at}.width", job, section="Tape")
        yield field_at(f"{at}.roll", job, section="Tape")
    reserves = BY_KEY[piece.pattern.kind].reserve_mm(piece.pattern.values)
    for field in _here("tape", job, piece):
        if field.name == "method.taping" and not reserves:
            field = replace(field, options=tuple(option for option in field.options if option[0] != "reserve"))
        if field.name == "method.taping":
            field = replace(field, kind="segments")
        yield field


def _schedule(job: Job, piece: Piece) -> Iterator[Field]:
    done = f"How {piece.name} is done"
    for field in _here("schedule", job, piece):
        kind = AS_PICKED.get(field.name, field.kind)
        yield replace(field, kind=kind, section=done if field.section == "How it is done" else field.section)
        if field.name == "method.pull":
            yield from _coats(job, piece, done)


AS_PICKED = {"/crew.start": "moment", "/crew.days": "days", "/crew.hours": "hours"}


def _coats(job: Job, piece: Piece, section: str) -> Iterator[Field]:
    for color in _painted(piece):
        words = {} if color == piece.base else {"help": ""}
        yield field_at(f"method.coats.{color}", job, label=f"Coats of {job.palette[color].name}", section=section, **words)


def _painted(piece: Piece) -> list[str]:
    """The colours that a piece takes in all its layers, the base first."""
    return list(dict.fromkeys([piece.base, *(color for layer in piece.stack for color in colors_in(layer.pattern))]))


# Fields that stand on a form only where they mean something.
ONLY_WHERE: dict[str, Callable[[Job, Piece], bool]] = {
    "/feet_inches": lambda job, piece: job.units == "in",
    "method.exit": lambda job, piece: piece.surface.kind in ("floor", "stairs"),
}


def _here(station: str, job: Job, piece: Piece) -> Iterator[Field]:
    """The fields that the schema puts on a station's form, as far as they mean something for the piece."""
    return (field for field in declared(station, job) if field.name not in ONLY_WHERE or ONLY_WHERE[field.name](job, piece))


def _paints(job: Job) -> list[str]:
    return [key for key, product in job.products.items() if isinstance(product, Paint)]


def _paint_for(color: str, job: Job) -> Field:
    """Which paint of the job a colour is, chosen with the colour."""
    usual = f"a typical paint, {spread(float(SPREAD_M2_L.value), job.units)}"
    options = (("", usual), *((key, key.capitalize()) for key in _paints(job)))
    return field_at(f"method.paint.{color}", job, label="Paint", kind="select", help="", options=options, section="Palette")


def _materials(job: Job, piece: Piece) -> Iterator[Field]:
    fields = list(_here("materials", job, piece))
    for key in _paints(job):
        yield field_at(f"/products.{key}.spread", job, label=f"Spread rate of {key}", section="Paint")
        yield field_at(f"/products.{key}.takes_tape", job, label=f"{key.capitalize()} takes tape after", section="Paint")
    yield from sorted(fields, key=lambda field: field.name.startswith("/"))
    for item in items_of(job):
        section = f"Stock: {item}"
        for figure in SUPPLY.keys:
            yield field_of(f"/supplies.{item}.{figure.key}", figure, section=section)


STATION_FIELDS: dict[str, Callable[[Job, Piece], Iterator[Field]]] = {
    "measure": survey_fields,
    "pattern": _pattern,
    "marks": _marks,
    "tape": _tape,
    "schedule": _schedule,
    "materials": _materials,
}
