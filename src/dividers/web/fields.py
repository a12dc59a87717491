"""The fields of each station's form: where each stands in the job document, and how it is asked for.

A field's name is its path in the piece, or in the job with a slash before it. The same list makes the form and reads it.
"""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from dataclasses import field as made_by
from fractions import Fraction
from typing import Any

from dividers.core import job as choices
from dividers.core.document import Document, look_up
from dividers.core.errors import Fault
from dividers.core.job import Job, Paint, Piece, Tape
from dividers.core.lengths import GRADUATIONS, write_inches
from dividers.core.patterns import BY_KEY, PATTERNS
from dividers.core.patterns.parameters import DIRECTIONS, Parameter
from dividers.core.units import INCH_MM, LENGTH_MM

Typed = Mapping[str, Sequence[str]]
BASE = ""  # the choice in a list of colours that leaves a stripe in the base colour
START_STEP_MM = {"in": INCH_MM / 4, "cm": Fraction(5), "mm": Fraction(5)}  # what first values are rounded to


@dataclass(frozen=True)
class Field:
    """One thing to type or choose.

    `kind`: text, length, lengths, count, number, select, segments, check, swatch, colors. `values` are the texts shown (one,
    but for colors); `faults` go by the number of the value they are about.
    """

    name: str
    label: str
    kind: str = "length"
    help: str = ""
    options: tuple[tuple[str, str], ...] = ()
    optional: bool = False
    section: str = ""
    values: tuple[str, ...] = ("",)
    faults: tuple[tuple[int, str], ...] = ()
    remove: str = ""  # the action that takes this row away
    starts: Mapping[str, Any] = made_by(default_factory=dict)  # what each choice starts from, where choosing changes more

    @property
    def value(self) -> str:
        return self.values[0] if self.values else ""

    @property
    def id(self) -> str:
        return "f-" + "".join(c if c.isalnum() else "-" for c in self.name)


def worded(options: Sequence[str]) -> tuple[tuple[str, str], ...]:
    """Choices with their everyday words."""
    return tuple((option, option.replace("-", " ").capitalize()) for option in options)


def fields_of(station: str, job: Job, piece: Piece) -> list[Field]:
    """The station's fields with the values that the job has."""
    made = {"survey": _survey, "pattern": _pattern, "marks": _marks, "tape": _tape, "materials": _materials}[station](
        job, piece
    )
    here = _piece_document(job, piece)
    return [
        field if field.kind == "group" else replace(field, values=_written(field, _value(job, here, field.name)))
        for field in made
    ]


def _value(job: Job, piece: Document, name: str) -> Any:
    return look_up(job.document, name[1:]) if name.startswith("/") else look_up(piece, name)


def _piece_document(job: Job, piece: Piece) -> Document:
    document: Document = job.document["pieces"][job.pieces.index(piece)]
    return document


def _written(field: Field, value: Any) -> tuple[str, ...]:
    """A value of the document as its field shows it."""
    if field.kind == "colors":
        return tuple(color or BASE for color in value or [None])
    if field.kind == "lengths":
        return ("; ".join(str(length) for length in value or []),)
    if field.kind == "check":
        return ("on" if value else "",)
    if value is None:
        return (field.options[0][0] if field.options else "",)
    return (f"{value:g}" if isinstance(value, float) else str(value),)


def filled(fields: Sequence[Field], typed: Typed) -> list[Field]:
    """The same fields holding what was typed, where it was."""
    return [replace(field, values=tuple(typed[field.name])) if typed.get(field.name) else field for field in fields]


def changes_in(fields: Sequence[Field], typed: Typed) -> dict[str, Any]:
    """What the typed values change, by path; what reads as it did is left alone. Another pattern starts anew."""
    changes: dict[str, Any] = {}
    for field in fields:
        picked = next(iter(typed.get(field.name, ())), field.value)
        if field.kind == "picker" and picked != field.value and picked in field.starts:
            return {"pattern": field.starts[picked]}
    for field in fields:
        sent = tuple(typed.get(field.name) or (("",) if field.kind == "check" and field.name + ":shown" in typed else ()))
        if sent and sent != field.values:
            changes[field.name] = _taken(field, sent)
    for group in (field for field in fields if field.kind == "group"):
        _choose(group, typed, changes)
    return changes


def _taken(field: Field, sent: tuple[str, ...]) -> Any:
    """What goes into the document for what was sent."""
    if field.kind == "colors":
        return [color or None for color in sent]
    if field.kind == "lengths":
        return [part.strip() for part in sent[0].replace("\n", ";").split(";") if part.strip()]
    if field.kind == "check":
        return True if sent[0] else None
    text = sent[0].strip()
    return None if field.optional and not text else text


def _choose(group: Field, typed: Typed, changes: dict[str, Any]) -> None:
    """Keep the chosen one of parameters that exclude each other, starting from something usual when it was just chosen."""
    changes.pop(group.name, None)
    chosen = next(iter(typed.get(group.name, ())), group.value)
    if chosen != group.value and chosen in group.starts:
        for key in group.starts:
            changes[f"pattern.{key}"] = None
        changes[f"pattern.{chosen}"] = group.starts[chosen]


def with_faults(fields: Sequence[Field], faults: Sequence[Fault], piece_path: str) -> tuple[list[Field], list[Fault]]:
    """Put each fault at its field; returns the fields, and the faults that belong to none of them."""
    homeless: list[Fault] = []
    at: dict[str, list[tuple[int, str]]] = {}
    for fault in faults:
        name = fault.path.removeprefix(piece_path + ".") if fault.path.startswith(piece_path + ".") else "/" + fault.path
        home = next((f for f in fields if name == f.name or name.startswith(f.name + ".")), None)
        if home is None:
            homeless.append(fault)
            continue
        rest = name[len(home.name) + 1 :]
        at.setdefault(home.name, []).append((int(rest) if rest.isdigit() and home.kind == "colors" else 0, fault.message))
    return [replace(field, faults=tuple(at.get(field.name, ()))) for field in fields], homeless


def _survey(job: Job, piece: Piece) -> Iterator[Field]:
    yield Field("surface.kind", "Surface", "select", options=worded(choices.SURFACE_KINDS), section="Surface")
    yield Field("surface.texture", "Texture", "select", options=_usual_first(choices.TEXTURES, "smooth"), section="Surface")
    yield Field(
        "surface.finish.state", "Finish", "select", options=_usual_first(choices.FINISH_STATES, "painted"), section="Surface"
    )
    for number, panel in enumerate(piece.surface.panels):
        at = f"surface.panels.{number}"
        size = "Size" if len(piece.surface.panels) == 1 else f"Size of {panel.name}"
        yield Field(f"{at}.width", "Width", section=size)
        yield Field(f"{at}.height", "Height", section=size)
        for side in ("top", "right", "bottom", "left"):
            yield Field(f"{at}.margin.{side}", side.capitalize(), optional=True, section="Margins, left unpainted")
        for row, opening in enumerate(panel.openings):
            section = f"Opening: {opening.name}"
            yield Field(
                f"{at}.openings.{row}.name",
                "Name",
                "text",
                optional=True,
                section=section,
                remove=f"remove-opening:{number}:{row}",
            )
            for key, label in (("left", "From the left"), ("top", "From the top"), ("width", "Width"), ("height", "Height")):
                yield Field(f"{at}.openings.{row}.{key}", label, section=section)


def _usual_first(options: Sequence[str], usual: str) -> tuple[tuple[str, str], ...]:
    """Choices, the one that holds when nothing is said first."""
    return worded([usual, *(option for option in options if option != usual)])


def _pattern(job: Job, piece: Piece) -> Iterator[Field]:
    pattern = BY_KEY[piece.pattern.kind]
    kinds = tuple((each.key, each.title) for each in PATTERNS)
    starts = {each.key: first_values(each.key, job, piece) for each in PATTERNS}
    yield Field("pattern.kind", "Pattern", "picker", options=kinds, section="Pattern", values=(pattern.key,), starts=starts)
    for group, members in pattern.groups().items():
        chosen = next((p.key for p in members if piece.pattern.values[p.key]), members[0].key)
        options = tuple((p.key, p.title) for p in members)
        begins = {p.key: _first_value(p, job, piece) for p in members}
        yield Field(
            f"pattern:{group}", "Divide by", "group", options=options, section=pattern.title, values=(chosen,), starts=begins
        )
    for parameter in pattern.parameters:
        if not parameter.group or piece.pattern.values[parameter.key]:
            yield _parameter(parameter, pattern.title, job)
    colors = tuple((key, colour.name) for key, colour in job.palette.items())
    yield Field("base", "Base colour", "select", "painted over everything first", options=colors, section="Colours")
    for key in job.palette:
        yield Field(f"/palette.{key}.name", "Name", "text", section="Palette")
        yield Field(f"/palette.{key}.hex", "Colour", "swatch", section="Palette")


def first_values(kind: str, job: Job, piece: Piece) -> Document:
    """A pattern of that kind as the job file has it, to start from on this piece, in the colours it has."""
    values = BY_KEY[kind].first(piece.surface.panels[0].field)
    colors = list(piece.pattern.values["colors"])
    return {"kind": kind, **{key: _start_text(value, job.units) for key, value in values.items()}, "colors": colors}


def _first_value(parameter: Parameter, job: Job, piece: Piece) -> Any:
    """What a parameter starts from when it is chosen instead of another."""
    if parameter.kind == "count":
        return parameter.default or 5
    size = _start_text(piece.surface.panels[0].field.width / 5, job.units)
    return [size] if parameter.kind == "lengths" else size


def _start_text(value: Any, unit: str) -> Any:
    """A first value as people would write it: lengths to a quarter inch or 5 mm."""
    if isinstance(value, list):
        return [_start_text(each, unit) for each in value]
    if not isinstance(value, Fraction):
        return value
    step = START_STEP_MM[unit]
    rounded = max(round(value / step), 1) * step
    return write_inches(rounded) if unit == "in" else f"{float(rounded / LENGTH_MM[unit]):g}"


def _parameter(parameter: Parameter, section: str, job: Job) -> Field:
    name = f"pattern.{parameter.key}"
    match parameter.kind:
        case "colors":
            options = ((BASE, "stays base"), *((key, colour.name) for key, colour in job.palette.items()))
            return Field(name, parameter.title, "colors", parameter.help, options, section="Colours")
        case "choice":
            return Field(name, parameter.title, "segments", parameter.help, worded(parameter.choices), section=section)
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
    orders = (("centre-first", "Centre, outside, inwards"), ("along", "Along the tape"))
    yield Field(
        "method.mark_order",
        "Order of marking",
        "select",
        "centre first shows an error early; along the tape is fewer steps",
        options=orders,
        section="Order",
    )


def _tape(job: Job, piece: Piece) -> Iterator[Field]:
    tapes = [key for key, product in job.products.items() if isinstance(product, Tape)]
    if tapes:
        yield Field("method.tape", "Tape", "select", options=tuple((key, key.capitalize()) for key in tapes), section="Tape")
        width = f"/products.{piece.method.tape.key}.width"
        yield Field(width, "Its actual width", help="lay ten strips side by side, measure, divide by ten", section="Tape")
        yield Field(f"/products.{piece.method.tape.key}.roll", "On a roll", optional=True, section="Tape")
    yield Field("method.taping", "Way of taping", "segments", options=worded(choices.TAPINGS), section="Way of taping")


def _materials(job: Job, piece: Piece) -> Iterator[Field]:
    paints = {key: product for key, product in job.products.items() if isinstance(product, Paint)}
    yield Field("copies", "Copies of this piece", "count", "how many alike, such as drawers", optional=True, section="How many")
    used = [piece.base, *dict.fromkeys(c for c in piece.pattern.values["colors"] if c and c != piece.base)]
    for color in used:
        section = f"Paint: {job.palette[color].name}"
        if paints:
            options = (("", "a usual paint, 9 m2/L"), *((key, key.capitalize()) for key in paints))
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
