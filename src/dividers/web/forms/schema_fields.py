"""Fields of forms made from the schema of the job file: a key's words, choices and bounds stand there and nowhere else."""

from collections.abc import Iterator
from fractions import Fraction
from typing import Any

from dividers.core.base.lengths import Graduation, read_off
from dividers.core.job.kinds import Flag, Kind, LengthText, Number, OneOf, WholeNumber
from dividers.core.job.model import Job
from dividers.core.job.products import HEX
from dividers.core.job.schema import Key, find_key, on_form
from dividers.core.job_file.job_reader import JOB
from dividers.core.job_file.piece_reader import PIECE
from dividers.core.patterns.base.pattern_kinds import ColorsInTurn, Direction, Fills, Paths, Points
from dividers.web.forms.fields import Field

MOST_SEGMENTS, LONGEST_SEGMENTS = 4, 40  # more choices, or more letters in all, make a list
CONTROLS: tuple[tuple[type[Kind], str], ...] = (
    (Flag, "check"), (WholeNumber, "count"), (Number, "number"), (LengthText, "length"), (Direction, "direction"),
    (ColorsInTurn, "colors"), (Points, "points"), (Paths, "paths"), (Fills, "fills"),
)  # fmt: skip


def field_of(name: str, key: Key, graduation: Graduation | None = None, **other: Any) -> Field:
    """The field of a key, named by its path; `other` says what is otherwise here."""
    options = key.kind.worded(key.default) if isinstance(key.kind, OneOf) else ()
    made = {
        "label": key.title,
        "kind": _control(key.kind, options),
        "of": key.kind,
        "help": key.help or _usual(key, graduation),
        "options": options,
        "optional": not key.needed,
    }
    return Field(name, **{**made, **other})


def _control(kind: Kind, options: tuple[tuple[str, str], ...]) -> str:
    if options:
        few = len(options) <= MOST_SEGMENTS and sum(len(label) for _, label in options) <= LONGEST_SEGMENTS
        return "segments" if few else "select"
    return "swatch" if kind is HEX else next((control for sort, control in CONTROLS if isinstance(kind, sort)), "text")


def _usual(key: Key, graduation: Graduation | None) -> str:
    """What holds where a trade figure is left empty."""
    if not key.source:
        return ""
    figure: Any = key.default
    if isinstance(key.kind, LengthText) and graduation:
        return f"{read_off(figure, graduation).text} is common practice"
    return f"{float(figure):g} is common practice" if isinstance(figure, int | float | Fraction) else ""


def key_at(name: str) -> Key:
    """The key that a field's name leads to: a path in the piece, or in the job with a slash before it."""
    found = find_key(JOB, name[1:]) if name.startswith("/") else find_key(PIECE, name)
    if found is None:
        raise LookupError(f"{name} is not in the schema of the job file.")
    return found


def field_at(name: str, job: Job, **other: Any) -> Field:
    """The field of the key at a path."""
    return field_of(name, key_at(name), job.graduation, **other)


def declared(form: str, job: Job) -> Iterator[Field]:
    """The fields that the schema puts on a form, the job's before the piece's."""
    for path, key in on_form(JOB, form):
        yield field_of(f"/{path}", key, job.graduation, section=key.forms[form])
    for path, key in on_form(PIECE, form):
        yield field_of(path, key, job.graduation, section=key.forms[form])
