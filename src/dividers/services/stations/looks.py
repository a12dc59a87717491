"""How each pattern would look on the very surface that is laid out: small, in its colours, with its openings; made when it is asked for."""

import hashlib
import json
from dataclasses import dataclass, field, replace
from functools import lru_cache

from markupsafe import Markup

from dividers.core.base.errors import DividersError, NotFound
from dividers.core.job.method import PatternChoice
from dividers.core.job.model import Job, Piece
from dividers.core.job.reader import Findings, Reader
from dividers.core.job_file.first_values import first_document
from dividers.core.output.drawing import draw
from dividers.core.output.scene import View
from dividers.core.patterns import BY_KEY
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.parameters import read_values
from dividers.core.plan.layered import plan_piece
from dividers.core.survey.sheet import sheets_of
from dividers.formats.drawings.scene_svg import look_svg
from dividers.services.jobs.planning import alone_of, ground_of, job_of


@dataclass(frozen=True)
class _OnSurface:
    """A pattern on a surface; those with the same ground and colours look the same."""

    key: str
    kind: str
    layer: int
    document: str = field(compare=False)
    piece_key: str = field(compare=False)


def look_key(document: str, piece_key: str, layer: int = 0) -> str:
    """The same for documents in which every pattern would look the same on a piece, in the colours of one of its layers."""
    return hashlib.sha256(_ground(document, piece_key, layer).encode()).hexdigest()[:16]


def _ground(document: str, piece_key: str, layer: int) -> str:
    job = job_of(document)
    keys = [piece.key for piece in job.pieces]
    if piece_key not in keys:
        raise NotFound("This job has no such piece. It may have been deleted or renamed.")
    ground = json.loads(ground_of(document, keys.index(piece_key)))
    ground[-1] = {key: value for key, value in ground[-1].items() if key in ("surface", "base")}
    return json.dumps([ground, _present(job, job.pieces[keys.index(piece_key)], layer)])


def _present(job: Job, piece: Piece, layer: int) -> list[str | None]:
    return present_colors(job, piece.stack[min(layer, len(piece.stack) - 1)].pattern, piece.base)


def colors_in(pattern: PatternChoice) -> tuple[str, ...]:
    """The palette keys that a pattern names, in order."""
    return BY_KEY[pattern.kind].colors_in(pattern.values)


def present_colors(job: Job, pattern: PatternChoice, base: str) -> list[str | None]:
    """The colours of the pattern there is, to start another from."""
    turns = pattern.values.get("colors")
    if turns and len(set(turns)) > 1:
        return list(turns)
    return [*(colors_in(pattern) or [key for key in job.palette if key != base][:1]), None]


def look_of(document: str, piece_key: str, kind: str, layer: int = 0) -> Markup:
    """A pattern as it would begin on a piece in place of one of its layers, alone, as SVG that stands alone; empty where it can't be laid there. Raises NotFound."""
    if kind not in BY_KEY:
        raise NotFound("There is no such pattern.")
    return _look(_OnSurface(_ground(document, piece_key, layer), kind, layer, alone_of(document, piece_key), piece_key))


@lru_cache(maxsize=400)
def _look(shown: _OnSurface) -> Markup:
    job = job_of(shown.document)
    [piece] = job.pieces
    ground = Ground.of(sheets_of(piece.surface)[0], float(piece.method.tape.width_mm))
    written = first_document(shown.kind, ground, job.units, _present(job, piece, shown.layer))
    try:
        values = read_values(BY_KEY[shown.kind], Reader(written, "", Findings(job.units, job.palette)))
        plan = plan_piece(job, replace(piece, pattern=PatternChoice(shown.kind, values), layers=(), by_hand=()))
        return look_svg(draw(plan, job.palette, job.units, View()))
    except DividersError:
        return Markup("")
