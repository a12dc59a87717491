"""What a schedule is made of: tasks, and the waits between them at least and at most."""

from dataclasses import dataclass

START, END = "start", "end"


@dataclass(frozen=True)
class Task:
    """Hands-on work: `minutes` of one painter; `split` tasks may be laid down over lunch and night.

    `not_before` and `end_by` are in wall minutes from the midnight before the start, for what depends on paint that is there
    already. A `running` task goes on at the first minute there is. `key` names a task for good: the same work in a changed plan
    has the same key.
    """

    kind: str
    piece: str
    minutes: int
    words: str
    number: int | None = None  # of the round
    coat: int | None = None
    batch: int | None = None
    color: str | None = None
    cells: tuple[str, ...] = ()
    split: bool = False
    not_before: int = 0
    end_by: int | None = None
    running: bool = False
    key: str = ""


@dataclass(frozen=True)
class Lag:
    """An anchor of `then` lies at least `least` and at most `most` minutes of the wall clock after an anchor of `first`.

    Tasks go by number. `group` names lags that stand or fall together, `why` is the sentence for people.
    """

    first: int
    then: int
    least: int
    why: str
    group: str
    most: int | None = None
    of: str = END
    to: str = START
