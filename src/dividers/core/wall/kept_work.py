"""The work of a run as it was begun with, written down: later versions may plan the same job otherwise, and the run goes on as it is."""

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any

from dividers.core.base.texts import counted
from dividers.core.job.drying import drying_factor
from dividers.core.job.model import Job
from dividers.core.order.network import Lag, Task
from dividers.core.order.task_key import TaskKey
from dividers.core.order.tasks import Work

DRYING = ("recoat", "touch-dry", "tape-safe", "seal", "prep", "pull")  # waits that the air lengthens


@dataclass(frozen=True)
class KeptWork:
    """The tasks of a run with their waits: as planned with, and with `whole` windows, for what is done. `marks` are the names of each
    piece's marks, in the order of their numbers."""

    tasks: tuple[Task, ...]
    lags: tuple[Lag, ...]
    whole: tuple[Lag, ...]
    marks: Mapping[str, tuple[str, ...]]

    def in_air(self, job: Job, air: tuple[float, float] | None, whole: bool) -> Work:
        """The work in an air, (°C, %), None for the planned one: every wait that is drying by the same factor as its paint's."""
        lags = self.whole if whole else self.lags
        if air is None:
            return Work(self.tasks, lags)
        return Work(self.tasks, tuple(self._in_air(job, lag, air) for lag in lags))

    def _in_air(self, job: Job, lag: Lag, air: tuple[float, float]) -> Lag:
        if lag.group not in DRYING:
            return lag
        first = self.tasks[lag.first].name
        piece = job.piece(first.piece)
        paint = piece.method.paint.get(str(first.color)) if piece else None
        if lag.group == "tape-safe" and paint and paint.takes_tape_min is not None:
            return lag  # the painter's own word, in any air
        binder = paint.binder if paint else "water"
        planned = drying_factor(binder, float(job.climate.temperature_c), float(job.climate.humidity_percent))
        factor = drying_factor(binder, *air) / planned
        most = None if lag.most is None else int(lag.most * factor)
        return replace(lag, least=-int(-lag.least * factor // 1), most=most)


def written(work: Work, whole: Work, marks: Mapping[str, Sequence[str]]) -> dict[str, Any]:
    """The work as JSON has it; `whole` is the same with whole windows, `marks` the names of each piece's marks."""
    return {
        "tasks": [_written_task(task) for task in work.tasks],
        "lags": [_written_lag(lag) for lag in work.lags],
        "whole": [_written_lag(lag) for lag in whole.lags],
        "marks": {piece: list(names) for piece, names in marks.items()},
    }


def read(kept: Mapping[str, Any]) -> KeptWork:
    """The work from its JSON, as `written` made it."""
    tasks = tuple(Task(**each | {"name": TaskKey.read(each["name"]), "cells": tuple(each["cells"])}) for each in kept["tasks"])
    marks = {piece: tuple(names) for piece, names in kept["marks"].items()}
    return KeptWork(tasks, _lags(kept["lags"]), _lags(kept["whole"]), marks)


def differences(then: Sequence[Task], now: Sequence[Task]) -> tuple[str, ...]:
    """What differs between the steps of a run and those of the same job as it is planned today, in sentences; nothing where none does."""
    old, new = ({task.key: task for task in tasks} for tasks in (then, now))
    gone = [f"{old[key].piece}: {old[key].words}" for key in old if key not in new]
    more = [f"{new[key].piece}: {new[key].words}" for key in new if key not in old]
    other = [
        f"{old[key].piece}: {old[key].words}, would be: {new[key].words}"
        for key in old
        if key in new and old[key].words != new[key].words
    ]
    said = [f"{counted(len(new), 'step')} instead of {len(old)}."] if len(new) != len(old) else []
    for words, found in (("Not among them", gone), ("New", more), ("Otherwise", other)):
        said += [f"{words}: {each}." for each in found]
    return tuple(said)


def differences_in_keys(then: Collection[str], now: Sequence[Task]) -> tuple[str, ...]:
    """The same where of the steps of a run only their keys are known, as up to 0.1.0."""
    gone = sorted(set(then) - {task.key for task in now})
    more = [f"{task.piece}: {task.words}" for task in now if task.key not in then]
    said = [f"{counted(len(now), 'step')} instead of {len(then)}."] if len(now) != len(then) else []
    said += [f"Not among them: {' '.join(part for part in key.split('/') if part != '-')}." for key in gone]
    return (*said, *(f"New: {each}." for each in more))


def _written_task(task: Task) -> dict[str, Any]:
    return {
        "name": task.key,
        "piece": task.piece,
        "minutes": task.minutes,
        "words": task.words,
        "cells": list(task.cells),
        "split": task.split,
        "not_before": task.not_before,
        "not_before_why": task.not_before_why,
        "end_by": task.end_by,
        "layer": task.layer,
    }


def _written_lag(lag: Lag) -> list[Any]:
    return [lag.first, lag.then, lag.least, lag.why, lag.group, lag.most, lag.of, lag.to]


def _lags(rows: Sequence[Sequence[Any]]) -> tuple[Lag, ...]:
    return tuple(Lag(*row) for row in rows)
