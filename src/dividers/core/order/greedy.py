"""A first schedule without a solver: task after task at its earliest, what has to be pulled in a window together with its last coats."""

import heapq
from bisect import bisect_right
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from graphlib import CycleError, TopologicalSorter
from operator import itemgetter

import numpy as np

from dividers.core.base.units import DAY_MIN
from dividers.core.geometry.graph import components
from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, Lag, Task

FINISH = itemgetter(1)
TRIES = 2000  # places looked at for a block before it is given up


def first_schedule(
    tasks: Sequence[Task],
    lags: Sequence[Lag],
    calendar: Calendar,
    painters: int,
    turn: int = 0,
    wished: Sequence[int] | None = None,
) -> tuple[int, ...] | None:
    """Starts in presence minutes, or None where some block finds no place. `turn` gives other orders of equally ready tasks.

    `wished` are starts to keep to in their order: what stood first comes first.
    """
    return _Greedy(tasks, lags, calendar, painters, turn, wished).run()


@dataclass(frozen=True)
class _Block:
    """Tasks that maximum lags tie together, in an order that keeps their minimum lags."""

    members: tuple[int, ...]


class _Greedy:
    def __init__(
        self,
        tasks: Sequence[Task],
        lags: Sequence[Lag],
        calendar: Calendar,
        painters: int,
        turn: int,
        wished: Sequence[int] | None = None,
    ) -> None:
        self.tasks, self.lags, self.calendar, self.painters, self.turn = tasks, lags, calendar, painters, turn
        self.wished = wished
        self.starts: dict[int, int] = {}
        self.into: dict[int, list[Lag]] = {}
        for lag in lags:
            self.into.setdefault(lag.then, []).append(lag)
        self.blocks = _blocks(tasks, lags)
        self.block_of = {task: number for number, block in enumerate(self.blocks) for task in block.members}
        self.busy: list[list[tuple[int, int]]] = [[] for _ in range(painters)]

    def run(self) -> tuple[int, ...] | None:
        before: dict[int, set[int]] = {number: set() for number in range(len(self.blocks))}
        after: dict[int, set[int]] = {number: set() for number in range(len(self.blocks))}
        for lag in self.lags:
            one, other = self.block_of[lag.first], self.block_of[lag.then]
            if one != other:
                before[other].add(one)
                after[one].add(other)
        waiting = {number: len(needs) for number, needs in before.items()}
        usual = self._ranks(after)

        def rank(number: int) -> tuple[int, tuple[int, int]]:
            return self._urgency(self.blocks[number]), usual(number)

        ready = [(rank(number), number) for number, left in waiting.items() if not left]
        heapq.heapify(ready)
        while ready:
            _, number = heapq.heappop(ready)
            if not self._place(self.blocks[number]):
                return None
            for other in sorted(after[number]):
                waiting[other] -= 1
                if not waiting[other]:
                    heapq.heappush(ready, (rank(other), other))
        if len(self.starts) < len(self.tasks):
            return None
        return tuple(self.starts[task] for task in range(len(self.tasks)))

    def _ranks(self, after: dict[int, set[int]]) -> Callable[[int], tuple[int, int]]:
        """What comes first among ready blocks: the longest way still to go, or for other turns mixtures of it with the given order."""
        tail: dict[int, int] = {}

        def way(number: int) -> int:
            if number not in tail:
                own = sum(self.tasks[task].minutes for task in self.blocks[number].members)
                waits = [lag.least for task in self.blocks[number].members for lag in self.lags_from(task)]
                tail[number] = own + max(waits, default=0) + max((way(other) for other in after[number]), default=0)
            return tail[number]

        if self.wished is not None:
            wished = self.wished
            return lambda number: (min(wished[task] for task in self.blocks[number].members), number)
        if self.turn == 0:
            return lambda number: (-way(number), number)
        if self.turn == 1:
            return lambda number: (0, number)
        mixer = self.turn * 2654435761
        return lambda number: (-way(number) * 100 // (100 + (number * mixer >> 7) % 60), number)

    def _urgency(self, block: _Block) -> int:
        """What is being done comes first, then what must be off soon, in that order."""
        if any(self.tasks[task].running for task in block.members):
            return -1
        ends = [end for task in block.members if (end := self.tasks[task].end_by) is not None]
        soon = self.calendar.spans[0][0] + DAY_MIN
        return min([end for end in ends if end < soon], default=soon)

    def lags_from(self, task: int) -> list[Lag]:
        if not hasattr(self, "_from"):
            self._from: dict[int, list[Lag]] = {}
            for lag in self.lags:
                self._from.setdefault(lag.first, []).append(lag)
        return self._from.get(task, [])

    def _place(self, block: _Block) -> bool:
        """Put a block where every one of its tasks fits; what comes too early for what must follow it in time moves on."""
        least = dict.fromkeys(block.members, 0)
        for _ in range(TRIES):
            placed: dict[int, int] = {}
            early: Lag | None = None
            for task in block.members:
                start = self._earliest(task, placed, least[task])
                if start is None:
                    return False
                placed[task] = start
                end_by = self.tasks[task].end_by
                if end_by is not None and self._wall(task, start, END) > end_by:
                    return False
                early = self._missed(task, placed)
                if early:
                    break
            if early is None:
                for task, start in placed.items():
                    self._take(task, start)
                return True
            if early.first not in placed:
                return False
            first, late = placed[early.first], self._late(early, placed)
            least[early.first] = max(self.calendar.at_or_after(self.calendar.wall(first) + late), first + 1)
        return False

    def _wall(self, task: int, start: int, which: str) -> int:
        return self.calendar.wall_end(start + self.tasks[task].minutes) if which == END else self.calendar.wall(start)

    def _known(self, task: int, placed: dict[int, int]) -> int | None:
        return placed.get(task, self.starts.get(task))

    def _earliest(self, task: int, placed: dict[int, int], at: int) -> int | None:
        ready = self.tasks[task].not_before
        for lag in self.into.get(task, []):
            first = self._known(lag.first, placed)
            if first is not None and lag.to != END:
                ready = max(ready, self._wall(lag.first, first, lag.of) + lag.least)
        start = max(self.calendar.at_or_after(ready), at)
        return self._free(task, start, placed)

    def _missed(self, task: int, placed: dict[int, int]) -> Lag | None:
        """A maximum lag that the last-placed task is beyond."""
        lags = (lag for lag in self.into.get(task, []) if lag.most is not None and self._known(lag.first, placed) is not None)
        return next((lag for lag in lags if self._late(lag, placed) > 0), None)

    def _late(self, lag: Lag, placed: dict[int, int]) -> int:
        first, then = self._known(lag.first, placed), self._known(lag.then, placed)
        assert first is not None and then is not None and lag.most is not None
        return self._wall(lag.then, then, lag.to) - self._wall(lag.first, first, lag.of) - lag.most

    def _free(self, task: int, start: int, placed: dict[int, int]) -> int | None:
        """The first start from there on at which a painter has time for all of it, in one span where it can't be split."""
        minutes, split = self.tasks[task].minutes, self.tasks[task].split
        taken = [(s, s + self.tasks[t].minutes) for t, s in placed.items()]
        while start + minutes <= self.calendar.presence:
            span = self.calendar.span_of(start)
            if not split and start + minutes > self.calendar.before[span + 1]:
                start = self.calendar.before[span + 1]
                continue
            ends = [self._clash(hand, start, start + minutes) for hand in self.busy]
            mine = [end for s, end in taken if s < start + minutes and end > start]
            free = sum(end is None for end in ends) - len(mine)
            if free > 0:
                return start
            start = min([end for end in ends if end is not None] + mine)
        return None

    @staticmethod
    def _clash(hand: list[tuple[int, int]], start: int, end: int) -> int | None:
        """The end of the first work of a painter, in order and one after the other, that overlaps; None where there is none."""
        first = bisect_right(hand, start, key=FINISH)
        return hand[first][1] if first < len(hand) and hand[first][0] < end else None

    def _take(self, task: int, start: int) -> None:
        end = start + self.tasks[task].minutes
        self.starts[task] = start
        for hand in self.busy:
            if self._clash(hand, start, end) is None:
                hand.append((start, end))
                hand.sort()
                return


def _blocks(tasks: Sequence[Task], lags: Sequence[Lag]) -> list[_Block]:
    """Tasks tied by maximum lags of a few hours stand together; longer ones, like a tape's days, leave room enough."""
    tied = [(lag.first, lag.then) for lag in lags if lag.most is not None and lag.most < DAY_MIN]
    while True:
        block = components(len(tasks), np.array(tied, np.int64)).tolist()
        groups: dict[int, list[int]] = {}
        for task, key in enumerate(block):
            groups.setdefault(key, []).append(task)
        graph: dict[int, set[int]] = {key: set() for key in groups}
        for lag in lags:
            one, other = block[lag.first], block[lag.then]
            if one != other:
                graph[other].add(one)
        try:
            TopologicalSorter(graph).prepare()
        except CycleError as ring:  # blocks that wait for each other are one
            tied += [(ring.args[1][0], key) for key in ring.args[1]]
            continue
        return [_Block(tuple(members)) for members in groups.values()]
