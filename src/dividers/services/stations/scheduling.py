"""The schedule of a stored job: solved beside the page, kept while the same document is looked at, stopped on demand."""

import json
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from concurrent.futures import TimeoutError as NotYet
from dataclasses import dataclass
from datetime import date, timedelta
from threading import Lock
from typing import Generic, TypeVar

from dividers.core.order.schedule import Schedule, Variant, schedule_of, variants_of
from dividers.core.order.solver_model import Stopping
from dividers.core.plan.plan import PiecePlan, Plan
from dividers.services.clock import now
from dividers.services.jobs.planning import job_of, piece_plan

T = TypeVar("T")
KEPT = 24
WAIT_S = 0.9  # a page waits so long before it says that it is still working
SCHEDULE_S, VARIANT_S = 4.0, 0.4


@dataclass
class _Running(Generic[T]):
    future: "Future[T]"
    stopping: Stopping


class _Desk(Generic[T]):
    """Work on documents in the background, the latest few kept."""

    def __init__(self, work: Callable[[str, Stopping], T]) -> None:
        self.work = work
        self.pool = ThreadPoolExecutor(1)
        self.kept: OrderedDict[str, _Running[T]] = OrderedDict()
        self.lock = Lock()

    def ask(self, key: str, wait_s: float) -> T | None:
        """The result, or None while it is being worked on."""
        with self.lock:
            running = self.kept.get(key)
            if running is None:
                for other in self.kept.values():
                    other.stopping.stop()  # nobody looks at an older document any more
                stopping = Stopping()
                running = self.kept[key] = _Running(self.pool.submit(self.work, key, stopping), stopping)
            self.kept.move_to_end(key)
            while len(self.kept) > KEPT:
                self.kept.popitem(last=False)[1].stopping.stop()
        try:
            return running.future.result(timeout=wait_s)
        except NotYet:
            return None

    def close(self) -> None:
        """Stop everything, for the program to end at once."""
        for running in self.kept.values():
            running.stopping.stop()
        self.pool.shutdown(wait=False, cancel_futures=True)

    def stop(self, key: str) -> None:
        running = self.kept.get(key)
        if running:
            running.stopping.stop()


def _key(document: str) -> str:
    """A job with the day it is usually started on: without a start of its own, the next morning."""
    return json.dumps([next_morning(), document])


def _opened(key: str) -> tuple[str, str]:
    day, document = json.loads(key)
    return f"{day}T08:00", document


def next_morning() -> str:
    """Tomorrow, as a date."""
    return (date.fromisoformat(now()[:10]) + timedelta(days=1)).isoformat()


def planned(document: str) -> Plan:
    """The plan of a whole stored job, from the plans of its pieces that are remembered."""
    job = job_of(document)
    pieces = []
    for piece in job.pieces:
        kept = piece_plan(document, piece.key)
        plan = PiecePlan(job, piece, kept.layouts)
        plan.__dict__.update(taping=kept.taping, marks=kept.marks)  # what cached properties keep
        pieces.append(plan)
    return Plan(job, tuple(pieces))


def _schedule(key: str, stopping: Stopping) -> Schedule:
    start, document = _opened(key)
    return schedule_of(planned(document), SCHEDULE_S, start, stopping)


def _variants(key: str, stopping: Stopping) -> list[Variant]:
    start, document = _opened(key)
    return variants_of(planned(document), VARIANT_S, start, lambda: stopping.asked)


SCHEDULES: _Desk[Schedule] = _Desk(_schedule)
VARIANTS: _Desk[list[Variant]] = _Desk(_variants)


def schedule_for(document: str, wait_s: float = WAIT_S) -> Schedule | None:
    """The order of work of a document; None while it is being worked out."""
    return SCHEDULES.ask(_key(document), wait_s)


def variants_for(document: str, wait_s: float = WAIT_S) -> list[Variant] | None:
    """What could be done otherwise, side by side; None while it is being worked out."""
    return VARIANTS.ask(_key(document), wait_s)


def stop(document: str) -> None:
    """Be content with what was found by now."""
    SCHEDULES.stop(_key(document))
    VARIANTS.stop(_key(document))


def close() -> None:
    """Stop all work in the background."""
    SCHEDULES.close()
    VARIANTS.close()
