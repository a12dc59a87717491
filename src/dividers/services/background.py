"""Long work beside the server: in a process of its own, one piece of work after another, the newest of each subject only."""

import os
import pickle
from collections import OrderedDict
from collections.abc import Callable
from concurrent.futures import CancelledError, Future
from concurrent.futures import TimeoutError as NotYet
from contextlib import suppress
from dataclasses import dataclass, field
from multiprocessing import get_context
from multiprocessing.connection import Connection
from threading import BoundedSemaphore, Condition, Event, Lock, Thread
from time import monotonic
from traceback import format_exc
from typing import Any, Generic, TypeVar

from dividers.core.order.solver_model import Stopping

T = TypeVar("T")
KEPT = 24
NICENESS = 2  # pages come first, but a busy machine still finds a schedule
SEATS = BoundedSemaphore(2)  # so many of the server's threads may wait for work; the others go on serving


class WorkFailed(Exception):
    """The work raised an error, or its process ended unexpectedly; asking again tries again."""


@dataclass
class _Asked(Generic[T]):
    number: int
    subject: str
    key: str
    future: "Future[T]" = field(default_factory=Future)
    content: bool = False  # with what was found by then
    asked_at: float = field(default_factory=monotonic)


class Background(Generic[T]):
    """Work on keys (strings), asked for again until it is done. Safe to use from several threads.

    A result is kept only when it is whole, or when the painter was content with less; work that a newer key of its subject
    replaced leaves nothing behind. `work` is a function of a module: the process finds it by its name.
    """

    def __init__(self, work: Callable[[str, Stopping], T]) -> None:
        self.work = work
        self.waiting: OrderedDict[str, _Asked[T]] = OrderedDict()
        self.kept: OrderedDict[str, _Asked[T]] = OrderedDict()
        self.present: _Asked[T] | None = None
        self.changed = Condition(Lock())
        self.worker: _Worker | None = None
        self.runner: Thread | None = None
        self.count = 0
        self.closed = Event()

    def ask(self, subject: str, key: str, wait_s: float) -> T | None:
        """The result, or None while it is being worked on; at once where enough others wait already. Raises WorkFailed."""
        with self.changed:
            asked = self._find(key) or self._add(subject, key)
        waits = SEATS.acquire(blocking=False)
        try:
            return asked.future.result(timeout=wait_s if waits else 0)
        except (NotYet, CancelledError):
            return None
        finally:
            if waits:
                SEATS.release()

    def waited_s(self, key: str) -> float:
        """For how long a key has been asked for by now; 0 where nobody asks."""
        with self.changed:
            asked = self._find(key)
        return monotonic() - asked.asked_at if asked else 0.0

    def content_with_less(self, key: str) -> None:
        """End the search for a key: what was found by now is its result."""
        with self.changed:
            asked = self._find(key)
            if asked and not asked.future.done():
                asked.content = True
                if asked is self.present and self.worker:
                    self.worker.stop(asked.number)

    def forget(self, key: str) -> None:
        """Work on a key again when it is asked for."""
        with self.changed:
            self.kept.pop(key, None)

    def close(self) -> None:
        """End at once, whatever is being worked on."""
        with self.changed:
            self.closed.set()
            for asked in self.waiting.values():
                asked.future.cancel()
            self.waiting.clear()
            if self.worker:
                self.worker.end()
            self.changed.notify_all()

    def _find(self, key: str) -> _Asked[T] | None:
        if key in self.kept:
            self.kept.move_to_end(key)
            return self.kept[key]
        if self.present and self.present.key == key and not self.present.future.cancelled():
            return self.present
        return self.waiting.get(key)

    def _add(self, subject: str, key: str) -> _Asked[T]:
        for other in [asked for asked in self.waiting.values() if asked.subject == subject]:
            other.future.cancel()
            del self.waiting[other.key]
        if self.present and self.present.subject == subject:  # of an older document, at which nobody looks any more
            self.present.future.cancel()
            if self.worker:
                self.worker.stop(self.present.number)
        self.count += 1
        asked = self.waiting[key] = _Asked[T](self.count, subject, key)
        if self.runner is None:
            self.runner = Thread(target=self._run, name=f"background {self.work.__name__}", daemon=True)
            self.runner.start()
        self.changed.notify_all()
        return asked

    def _run(self) -> None:
        while True:
            with self.changed:
                self.changed.wait_for(lambda: self.waiting or self.closed.is_set())
                if self.closed.is_set():
                    return
            worker = self.worker or _Worker(self.work)  # the lock is free meanwhile: it takes a second
            with self.changed:
                if self.closed.is_set():
                    worker.end()
                    return
                self.worker = worker
                asked = self.present = self.waiting.popitem(last=False)[1]
                worker.begin(asked.number, asked.key)
                if asked.content:
                    worker.stop(asked.number)
            result = worker.result()
            with self.changed:
                self.present = None
                if not worker.process.is_alive():
                    self.worker = None
                self._finish(asked, result)

    def _finish(self, asked: _Asked[T], result: Any) -> None:
        if asked.future.cancelled():
            return
        if isinstance(result, WorkFailed):
            asked.future.set_exception(result)
            return
        asked.future.set_result(result)
        self.kept[asked.key] = asked
        while len(self.kept) > KEPT:
            self.kept.popitem(last=False)


class _Worker:
    """The other process: it is sent numbered keys and numbers to stop, and sends back what came out. It ends with its parent."""

    def __init__(self, work: Callable[[str, Stopping], Any]) -> None:
        context = get_context("spawn")
        self.pipe, other = context.Pipe()
        self.process = context.Process(target=_serve, args=(work, other), daemon=True)
        self.process.start()
        other.close()
        self.lock = Lock()
        self.result()  # it listens now, so that sending never waits

    def begin(self, number: int, key: str) -> None:
        self._send((number, key))

    def stop(self, number: int) -> None:
        self._send((number, None))

    def end(self) -> None:
        self.process.terminate()

    def result(self) -> Any:
        """What came of the work that was begun last, or a WorkFailed."""
        try:
            return self.pipe.recv()
        except (EOFError, OSError):
            self.process.join()
            return WorkFailed("The search ended unexpectedly. Ask for it again.")

    def _send(self, what: tuple[int, str | None]) -> None:
        with self.lock, suppress(OSError):  # where it has ended, `result` says so
            self.pipe.send(what)


def _serve(work: Callable[[str, Stopping], Any], pipe: Connection) -> None:
    """The process's own life: work in its main thread, listen in another."""
    if hasattr(os, "nice"):
        os.nice(NICENESS)
    desk = _Desk()
    Thread(target=_listen, args=(desk, pipe), daemon=True).start()
    pipe.send(None)
    while True:
        key, stopping = desk.next()
        try:
            sent = pickle.dumps(work(key, stopping))
        except Exception:  # every error goes to who asked
            sent = pickle.dumps(WorkFailed(format_exc()))
        pipe.send_bytes(sent)


class _Desk:
    """What the process is to do, shared by its two threads."""

    def __init__(self) -> None:
        self.changed = Condition()
        self.todo: str | None = None
        self.number, self.stopping = 0, Stopping()

    def put(self, number: int, key: str | None) -> None:
        with self.changed:
            if key is not None:
                self.number, self.todo, self.stopping = number, key, Stopping()
                self.changed.notify_all()
            elif number == self.number:
                self.stopping.stop()

    def next(self) -> tuple[str, Stopping]:
        with self.changed:
            self.changed.wait_for(lambda: self.todo is not None)
            assert self.todo is not None
            key, self.todo = self.todo, None
            return key, self.stopping


def _listen(desk: _Desk, pipe: Connection) -> None:
    while True:
        try:
            number, key = pipe.recv()
        except (EOFError, OSError):
            os._exit(0)  # its parent has ended
        desk.put(number, key)
