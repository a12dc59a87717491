"""What a schedule is made of: tasks, and the waits between them at least and at most."""

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Generic, TypeVar

from dividers.core.order.task_key import TaskKey

START, END = "start", "end"
K = TypeVar("K")


@dataclass(frozen=True)
class Task:
    """Hands-on work: `minutes` of one painter; `split` tasks may be laid down over lunch and night.

    `name` names it for good: the same work in a changed plan has the same name. `piece` is that of the piece, in words.
    `not_before` and `end_by` are in wall minutes from the midnight before the start, for what depends on paint that is there
    already. A `running` task goes on at the first minute there is.
    """

    name: TaskKey
    piece: str
    minutes: int
    words: str
    cells: tuple[str, ...] = ()
    split: bool = False
    not_before: int = 0
    not_before_why: str = ""
    end_by: int | None = None
    running: bool = False
    layer: str = ""

    @cached_property
    def key(self) -> str:
        """The name as it goes to files and phones."""
        return str(self.name)

    @property
    def kind(self) -> str:
        return self.name.kind

    @property
    def number(self) -> int | None:
        """Of the round."""
        return self.name.number

    @property
    def coat(self) -> int | None:
        return self.name.coat

    @property
    def batch(self) -> int | None:
        return self.name.batch

    @property
    def color(self) -> str | None:
        return self.name.color


@dataclass(frozen=True)
class Between(Generic[K]):
    """An anchor of `then` lies at least `least` and at most `most` minutes of the wall clock after an anchor of `first`.

    `group` names lags that stand or fall together, `why` is the sentence for people.
    """

    first: K
    then: K
    least: int
    why: str
    group: str
    most: int | None = None
    of: str = END
    to: str = START


@dataclass(frozen=True)
class Lag(Between[int]):
    """Between tasks by number."""


@dataclass(frozen=True)
class NamedLag(Between[TaskKey]):
    """Between tasks that are named, before they have numbers."""


@dataclass(frozen=True)
class Steps:
    """Some tasks, in the order in which they are usually done, and what they and others wait for."""

    tasks: tuple[Task, ...] = ()
    waits: tuple[NamedLag, ...] = ()

    @property
    def names(self) -> tuple[TaskKey, ...]:
        return tuple(task.name for task in self.tasks)

    def __add__(self, other: "Steps") -> "Steps":
        return Steps(self.tasks + other.tasks, self.waits + other.waits)


def together(steps: Iterable[Steps]) -> Steps:
    """Several steps as one, in order."""
    found = tuple(steps)
    return Steps(tuple(t for each in found for t in each.tasks), tuple(w for each in found for w in each.waits))


def numbered(tasks: Sequence[Task], waits: Iterable[NamedLag]) -> tuple[Lag, ...]:
    """The waits as lags between tasks by their place in a list. Every name must be in it once."""
    place: Mapping[TaskKey, int] = {task.name: number for number, task in enumerate(tasks)}
    assert len(place) == len(tasks), "two tasks have one name"
    return tuple(Lag(place[w.first], place[w.then], w.least, w.why, w.group, w.most, w.of, w.to) for w in waits)
