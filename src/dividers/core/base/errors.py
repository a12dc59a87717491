"""The errors a person can cause or meet, as one tree.

    DividersError
    ├── BadInput     something typed or read is not valid: has the field's path and the value got
    │   └── BadJob   a job with one or more faults, each with the path of its key
    ├── NoSolution   the input is sound, but nothing fulfils it
    ├── NotYet       what was asked for is still being worked out: ask again
    ├── NotFound     asked for a job, piece or revision that isn't there
    └── Conflict     someone else changed it first; carries both versions

A message says what is wrong, the value got, what is allowed and what to do.
"""

import json
from dataclasses import dataclass

LONGEST_QUOTE = 40


def quoted(written: object) -> str:
    """A value that was written, as the file has it, in quotation marks.

    >>> quoted(True), quoted("9 pm"), quoted([1, None])
    ('“true”', '“9 pm”', '“[1, null]”')
    """
    text = written if isinstance(written, str) else json.dumps(written, ensure_ascii=False, default=str)
    return f"“{text[:LONGEST_QUOTE]}”"


class DividersError(Exception):
    """Root of every error that has a message for a person."""


class BadInput(DividersError):
    """Something typed is not valid.

    `path` is the key's dotted path (``pieces.0.surface.panels.0.width``) or a field's name.
    """

    def __init__(self, message: str, path: str = "", value: object = None) -> None:
        super().__init__(message)
        self.message = message
        self.path = path
        self.value = value


class NoSolution(DividersError):
    """The input is sound, but nothing fulfils it."""


class NotYet(DividersError):
    """What was asked for is still being worked out. The message names it: "the schedule"."""


class NotFound(DividersError):
    """Something that isn't there was asked for."""


class Conflict(DividersError):
    """Someone else changed it first. What was to be saved is kept under `refused_id`."""

    def __init__(self, job_id: int, refused_id: int) -> None:
        super().__init__("This job was changed in another window since this page was opened.")
        self.job_id = job_id
        self.refused_id = refused_id


@dataclass(frozen=True)
class Fault:
    """One fault (or, as a warning, an oddity) in a job: where, and what to do about it."""

    path: str
    message: str

    def __str__(self) -> str:
        return f"{self.path or 'job'}: {self.message}"


class BadJob(BadInput):
    """A job that is not valid, with every fault found in it."""

    def __init__(self, faults: tuple[Fault, ...]) -> None:
        super().__init__("; ".join(str(fault) for fault in faults), faults[0].path if faults else "")
        self.faults = faults
