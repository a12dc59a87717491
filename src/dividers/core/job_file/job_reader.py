"""Reads a job file: JSON text -> checked `Job`, or every fault in it with the path of its key. `JOB` is the schema of it all."""

import copy
import json
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

from dividers.core.base.errors import BadInput, BadJob, Fault, quoted
from dividers.core.base.lengths import Graduation, read_graduation, usual_graduation
from dividers.core.base.texts import storable
from dividers.core.base.units import JOB_UNITS
from dividers.core.job.crew import Climate, Crew
from dividers.core.job.edge_counts import EVIDENCE
from dividers.core.job.kinds import Flag, Measure, OneOf, Text
from dividers.core.job.model import JOB_FORMAT, Job
from dividers.core.job.products import MODELS, Colour, Paint, Seal, Supply, Tape
from dividers.core.job.reader import Findings, Reader
from dividers.core.job.schema import Key, Named, Object, Objects, Tagged, Values, keys_of, read_keys
from dividers.core.job_file.piece_reader import PIECE
from dividers.core.job_file.pieces_reader import Pieces, pieces_with_shapes

MOST_BYTES = 2_000_000
MOST_DEEP = 60
MOST_PIECES = 60
MOST_PALETTE = 60
MOST_PRODUCTS = 200
MOST_EVIDENCE = 1000
MOST_SUPPLIES = 300
MEASURE_FORM = {"marks": "Tape measure"}


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
    if not storable(document):
        raise BadJob(
            (Fault("", "the file holds half of a letter (a lone surrogate), which can't be stored. Write that text anew."),)
        )
    if _deeper(document, MOST_DEEP):
        raise BadJob((Fault("", f"the file is nested more than {MOST_DEEP} levels deep; no key of a job is."),))
    return document


def _deeper(document: Any, most: int) -> bool:
    """Whether lists and objects lie in each other more than so many levels deep."""
    level = [document]
    for _ in range(most):
        level = [
            inner
            for each in level
            for inner in (each.values() if isinstance(each, dict) else each)
            if isinstance(inner, dict | list)
        ]
        if not level:
            return False
    return True


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
    values: Values = {}
    for key in JOB.keys:  # what later keys refer to is told to the findings as soon as it is known
        values[key.key] = key.read(top)
        match key.key:
            case "units":
                findings.unit = values["units"]
            case "feet_inches":
                findings.graduation = _graduation(values.pop("graduation"), values.pop("feet_inches"), findings.unit)
            case "palette":
                findings.palette = values["palette"]
                if not findings.palette and not findings.faults:
                    top.fault("palette", "needs at least one colour, such as the base colour of a piece.")
            case "products":
                findings.products = values["products"]
    top.close()
    _check_ids(top, values["pieces"])
    if not findings.faults:
        values["pieces"] = pieces_with_shapes(top, MOST_PIECES)
    if findings.faults:
        raise BadJob(tuple(dict.fromkeys(findings.faults)))
    del values["format"], values["as_of"]
    return Job(
        **{**values, "evidence": dict(values["evidence"])},
        graduation=findings.graduation,
        document=copy.deepcopy(dict(document)),
        warnings=tuple(dict.fromkeys(findings.warnings)),
    )


def dump_job(job: Job) -> str:
    """The job file's text: what was read, unknown keys and all, in a steady order."""
    return json.dumps(job.document, ensure_ascii=False, indent=2) + "\n"


def _graduation(written: Graduation | None, feet: bool, unit: str) -> Graduation:
    return (written or read_graduation(usual_graduation(unit))).in_unit(unit, feet)


def _check_ids(top: Reader, pieces: tuple[Any, ...]) -> None:
    keys = [piece.key for piece in pieces]
    for number, key in enumerate(keys):
        if key in keys[:number]:
            top.fault(f"pieces.{number}.id", f"“{key}” is the id of another piece already.")


def _read_format(written: object) -> str:
    if written != JOB_FORMAT:
        raise BadInput(f"is {quoted(written)}; this program reads “{JOB_FORMAT}”.")
    return JOB_FORMAT


def _colour(key: str, entry: Reader) -> Colour:
    found = Colour(key, **read_keys(keys_of(Colour), entry))
    return found if found.name else replace(found, name=key)


def read_product(key: str, entry: Reader) -> Paint | Tape | Seal:
    """A product of a job or of Supplies. Faults go to the reader."""
    kind = PRODUCT_KIND.read(entry)
    product: Paint | Tape | Seal = MODELS[kind](key, **read_keys(keys_of(MODELS[kind]), entry))
    return product


def _supply(entry: Reader, values: Values) -> Supply:
    if 0 in values["sizes"]:
        entry.fault("sizes", "has a size of 0; write sizes such as 0.75 L or 55 m.")
    return Supply(**values)


PRODUCT_KIND = Key("kind", OneOf(tuple(MODELS)), needed=f"Choose one of: {', '.join(MODELS)}.", default="paint")
PRODUCT = Tagged(PRODUCT_KIND, {kind: Object((PRODUCT_KIND, *keys_of(model))) for kind, model in MODELS.items()}, read_product)
SUPPLY = Object(keys_of(Supply), _supply)
JOB = Object(
    (
        Key("format", Measure(_read_format, f"“{JOB_FORMAT}”"), needed=f"It must be “{JOB_FORMAT}”."),
        Key("title", Text(), "Title", needed="Give the job a title.", default=""),
        Key("units", OneOf(JOB_UNITS), "Units", needed=f"Choose one of: {', '.join(JOB_UNITS)}.", default="in"),
        Key(
            "graduation",
            Measure(read_graduation, "finest marks of the tape measure, like 1/16 in or 1 mm"),
            "Finest marks of your tape measure",
            forms=MEASURE_FORM,
        ),
        Key("feet_inches", Flag(), "Read in feet and inches", default=False, forms=MEASURE_FORM),
        Key(
            "palette",
            Named(Object(keys_of(Colour)), MOST_PALETTE, _colour),
            help="colours by the keys that the rest names them by",
        ),
        Key("products", Named(PRODUCT, MOST_PRODUCTS, read_product), help="paints, tapes and seals by name"),
        Key(
            "pieces",
            Pieces(PIECE, MOST_PIECES, "needs at least one piece: a wall, a drawer, a sheet to paint."),
            needed="Give at least one piece: a wall, a drawer, a sheet to paint.",
        ),
        Key("crew", Object.of(Crew)),
        Key("climate", Object.of(Climate)),
        Key(
            "supplies",
            Named(SUPPLY, MOST_SUPPLIES, lambda name, entry: SUPPLY.read_in(entry)),
            help="stock, sizes and prices by the item of the shopping list",
        ),
        Key("currency", Text(12), "Currency", "like EUR; prices are optional", "", forms={"materials": "Stock and prices"}),
        Key(
            "as_of",
            Text(20),
            help="in a job begun at the wall: the version whose choices hold",
            attribute="as_of",
            since="0.2.0",
        ),
        Key("evidence", Objects(EVIDENCE, MOST_EVIDENCE), help="strips found clean on grounds like these, from a logbook"),
    )
)
