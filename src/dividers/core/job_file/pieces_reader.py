"""The pieces of a job, each read once for all the versions of a job that leave it and what lies around the pieces as they are."""

import json
from collections.abc import Sequence
from dataclasses import dataclass, field
from functools import lru_cache
from typing import Any

from dividers.core.base.errors import Fault
from dividers.core.job.model import Piece
from dividers.core.job.reader import Findings, Reader
from dividers.core.job.schema import Objects
from dividers.core.job_file.piece_reader import PIECE, with_shapes

MOST_REMEMBERED = 512
KEY = "pieces"


@dataclass(frozen=True)
class _Written:
    """A piece as written: all of its text, all of the job around the pieces, and its path; two that are alike are read alike."""

    around: str
    text: str
    path: str
    raw: Any = field(compare=False)
    findings: Findings = field(compare=False)

    def reader(self) -> Reader:
        """A reader of it with findings of its own."""
        known = self.findings
        return Reader(self.raw, self.path, Findings(known.unit, known.palette, known.products, known.graduation))


@dataclass(frozen=True)
class _Read:
    piece: Piece
    faults: tuple[Fault, ...]
    warnings: tuple[Fault, ...]

    @classmethod
    def by(cls, piece: Piece, reader: Reader) -> "_Read":
        return cls(piece, tuple(reader.findings.faults), tuple(reader.findings.warnings))

    def told(self, findings: Findings) -> Piece:
        """The piece; what was found with it goes to the findings of the job."""
        findings.faults += self.faults
        findings.warnings += self.warnings
        return self.piece


@lru_cache(maxsize=MOST_REMEMBERED)
def read_piece(written: _Written) -> _Read:
    """A piece as it is written, without the shapes that its readings give."""
    reader = written.reader()
    return _Read.by(PIECE.read_in(reader), reader)


@lru_cache(maxsize=MOST_REMEMBERED)
def shape_piece(written: _Written) -> _Read:
    """A piece with the shapes that its readings give."""
    reader = written.reader()
    return _Read.by(with_shapes(read_piece(written).piece, reader), reader)


def _written(top: Reader, entries: Sequence[Reader]) -> list[_Written]:
    around = json.dumps({key: value for key, value in top.raw.items() if key != KEY})
    known = top.findings
    about = Findings(known.unit, known.palette, known.products, known.graduation)
    return [_Written(around, json.dumps(entry.raw), entry.path, entry.raw, about) for entry in entries]


@dataclass(frozen=True)
class Pieces(Objects):
    """The key of a job file that holds its pieces."""

    def read(self, reader: Reader, key: str, default: Any) -> tuple[Piece, ...]:
        if not reader.items(key, self.most) and isinstance(reader.get(key), list):
            reader.fault(key, self.needs)
        return tuple(read_piece(each).told(reader.findings) for each in _written(reader, reader.children(key, self.most)))


def pieces_with_shapes(top: Reader, most: int) -> tuple[Piece, ...]:
    """The pieces of a job with the shapes that their readings give, joined panels together. Faults go to the reader."""
    return tuple(shape_piece(each).told(top.findings) for each in _written(top, top.children(KEY, most)))
