"""What a schedule is made of: tasks, and the waits between them at least and at most."""

from dataclasses import dataclass

START, END = "start", "end"


@dataclass(frozen=True)
class Task:
    """Hands-on work: `minutes` of one painter; `split` tasks may be laid down over lunch and night.

    `not_before` is in wall minutes from the midnight before the start, for what depends on paint that is there already.
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
