"""A schedule as people read a day: what is done in one go is one line, and between lines stands what is waited for."""

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from dividers.core.order.network import Task
from dividers.core.order.schedule import Schedule
from dividers.core.order.times import Times

JOINED_MIN = 10  # a break of at most so many minutes doesn't part a go
PAUSE_MIN = 20  # from so many minutes on that nobody works, the list says what is waited for
WORDS = {
    "prep": "prepare", "base": "base coat", "mark": "mark", "tape": "tape", "seal": "seal", "coat": "coat", "pull": "pull",
    "touch-up": "touch up", "erase": "erase marks", "clear-coat": "clear coat",
}  # fmt: skip


@dataclass(frozen=True)
class Part:
    """What is done of a task on one day: from and to in wall minutes; `first` where it begins then."""

    task: int
    begin: int
    end: int
    first: bool


@dataclass(frozen=True)
class Go:
    """Parts of one painter at one piece and round that follow each other: one line of the day."""

    number: int
    day: int
    painter: int
    piece: str
    name: str
    round: int | None
    parts: tuple[Part, ...]
    words: str

    @property
    def begin(self) -> int:
        return self.parts[0].begin

    @property
    def end(self) -> int:
        return self.parts[-1].end

    @property
    def title(self) -> str:
        return f"{self.name}, round {self.round}" if self.round else self.name


@dataclass(frozen=True)
class Pause:
    """Nobody has anything to do between two wall minutes; `why` says what is waited for."""

    begin: int
    end: int
    why: str


def goes_of(schedule: Schedule) -> list[Go]:
    """All goes of a schedule in the order of their beginnings, numbered from 1; none where there is no schedule."""
    times = schedule.solution.times
    if times is None:
        return []
    found = [parts for painter in sorted(set(schedule.painters)) for parts in _joined(schedule, times, painter)]
    found.sort(key=lambda parts: (parts[0].begin, schedule.painters[parts[0].task], parts[0].task))
    return [_go(schedule, times, number, parts) for number, parts in enumerate(found, 1)]


def _joined(schedule: Schedule, times: Times, painter: int) -> Iterator[list[Part]]:
    """The parts of a painter's work, day by day, in goes."""
    own = [
        Part(task, begin, end, not turn)
        for task in range(len(times.tasks))
        if schedule.painters[task] == painter
        for turn, (begin, end) in enumerate(times.by_day(task))
    ]
    own.sort(key=lambda part: (part.begin, part.task))
    here: list[Part] = []
    for part in own:
        if here and not _follows(times, here[-1], part):
            yield here
            here = []
        here.append(part)
    if here:
        yield here


def _follows(times: Times, one: Part, two: Part) -> bool:
    before, after = times.tasks[one.task], times.tasks[two.task]
    same = (before.name.piece, before.number) == (after.name.piece, after.number)
    return same and two.begin - one.end <= JOINED_MIN and times.calendar.day_of(one.begin) == times.calendar.day_of(two.begin)


def _go(schedule: Schedule, times: Times, number: int, parts: list[Part]) -> Go:
    tasks = [times.tasks[part.task] for part in parts]
    first = tasks[0]
    return Go(
        number,
        times.calendar.day_of(parts[0].begin),
        schedule.painters[parts[0].task] + 1,
        first.name.piece,
        first.piece,
        first.number,
        tuple(parts),
        words_of(tasks) + ("" if parts[0].first else ", goes on"),
    )


def words_of(tasks: list[Task]) -> str:
    """What tasks of one go are, each kind once in the order of their first turns.

    >>> from dividers.core.order.task_key import TaskKey
    >>> keys = [TaskKey("w", "tape", 1), TaskKey("w", "coat", 1, 1, "red", 1), TaskKey("w", "pull", 1, 1), TaskKey("w", "pull", 1, 2)]
    >>> words_of([Task(key, "Wall", 5, "") for key in keys])
    'tape, coat 1, pull, batch by batch'
    """
    coats: dict[tuple[str, int | None], None] = {}
    for task in tasks:
        coats[(task.kind, task.coat if task.kind in ("coat", "base") else None)] = None
    said = [WORDS.get(kind, kind) + (f" {coat}" if coat else "") for kind, coat in coats]
    batches = {task.batch for task in tasks if task.batch is not None}
    return ", ".join(said) + (", batch by batch" if len(batches) > 1 else "")


def pauses_of(schedule: Schedule, goes: list[Go]) -> list[Pause]:
    """When nobody has anything to do though it is working time, and what is waited for."""
    times = schedule.solution.times
    if times is None:
        return []
    found, busy_to = [], 0
    for before, after in pairwise(sorted(goes, key=lambda go: go.begin)):
        busy_to = max(busy_to, before.end)
        if after.day == before.day and _presence(times, busy_to, after.begin) >= PAUSE_MIN:
            why = schedule.whys[after.parts[0].task]
            found.append(Pause(busy_to, after.begin, why or f"{after.title} begins then"))
    return found


def _presence(times: Times, low: int, high: int) -> int:
    """The working minutes between two wall minutes."""
    return sum(max(min(end, high) - max(start, low), 0) for start, end in times.calendar.spans)
