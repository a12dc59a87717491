"""Reading files that anybody may have made: in a process of its own, with so much time and memory and no more.

A file of a hundred bytes can ask for hours or for all memory there is. Whatever it asks for, the server goes on, and the answer comes in time.
"""

import pickle
from collections.abc import Callable
from contextlib import suppress
from multiprocessing import get_context
from multiprocessing.connection import Connection
from multiprocessing.context import ForkServerProcess
from pathlib import Path
from threading import BoundedSemaphore, Lock
from typing import Any, TypeVar

from dividers.core.base.errors import BadInput, DividersError

SECONDS, MEGABYTES = 10, 700
AT_ONCE, WAIT_S = 2, 30
MOST_RESULT_BYTES = 100_000_000
# What the readers need, loaded once: each file's process is a copy of one that has it already.
LOADED = ["dividers.services.careful", "dividers.formats.drawings.outline_svg", "dividers.formats.drawings.dxf", "dividers.formats.ics", "dividers.formats.photos", "PIL.Image", "PIL.ImageOps", "PIL.JpegImagePlugin", "PIL.PngImagePlugin", "ezdxf.filemanagement", "ezdxf.path", "svgelements", "defusedxml.ElementTree", "icalendar", "recurring_ical_events"]  # fmt: skip

T = TypeVar("T")

_places = BoundedSemaphore(AT_ONCE)
_first = Lock()


def carefully(work: Callable[..., T], *arguments: Any, path: str = "file", seconds: float = SECONDS) -> T:
    """What `work` makes of its arguments; it must be a function of a module, and all that goes in and out must be picklable.

    Raises what it raises for a person (DividersError), and BadInput at `path` where it takes too long, takes too much memory or breaks.
    """
    if not _places.acquire(timeout=WAIT_S):
        raise BadInput("Other files are being read. Try again in a minute.", path)
    try:
        return _answered(work, arguments, path, seconds)
    finally:
        _places.release()


def _answered(work: Callable[..., T], arguments: tuple[Any, ...], path: str, seconds: float) -> T:
    context = get_context("forkserver")
    mine, other = context.Pipe(duplex=False)
    process = context.Process(target=_serve, args=(other, work, arguments, seconds), daemon=True)
    with _first:  # starting the first one loads what is needed
        context.set_forkserver_preload(LOADED)
        process.start()
    other.close()
    try:
        kind, result = _received(mine, seconds)
    finally:
        mine.close()
        _end(process)
    if kind == "done":
        made: T = result
        return made
    if kind == "person":
        raise result
    raise BadInput(_said(kind, seconds), path)


def _received(pipe: Connection, seconds: float) -> tuple[str, Any]:
    if not pipe.poll(seconds):
        return "late", None
    try:
        found: tuple[str, Any] = pickle.loads(pipe.recv_bytes(MOST_RESULT_BYTES))
    except (EOFError, OSError):  # ended by the system for its memory or its time, or its answer was too much
        return "ended", None
    return found


def _end(process: ForkServerProcess) -> None:
    process.kill()
    process.join()
    process.close()


def _said(kind: str, seconds: float) -> str:
    return {
        "late": f"This file takes longer than {seconds:g} s to read, and was given up. Save only what you need, and try again.",
        "memory": "This file takes too much memory to read. Save only what you need, and try again.",
        "ended": "This file takes too much time or memory to read. Save only what you need, and try again.",
    }.get(kind, "This file can't be read: it is damaged, or of another kind. Save it anew, and try again.")


def _serve(pipe: Connection, work: Callable[..., Any], arguments: tuple[Any, ...], seconds: float) -> None:
    """The process's own life."""
    _limit(seconds)
    try:
        answer = "done", work(*arguments)
    except DividersError as fault:
        answer = "person", fault
    except MemoryError:
        answer = "memory", None
    except Exception:  # the readers raise whatever they trip over; to a person all of it is a broken file
        answer = "broken", None
    with suppress(OSError):  # nobody waits for it any more
        try:
            pipe.send_bytes(pickle.dumps(answer))
        except MemoryError:
            pipe.send_bytes(pickle.dumps(("memory", None)))


def _limit(seconds: float) -> None:
    """So much memory more than it has, and so much time, where the system can hold a process to that."""
    try:
        import resource
    except ImportError:
        return  # the time is still watched from outside
    try:
        had = int(Path("/proc/self/statm").read_text().split()[5]) * resource.getpagesize()  # data and stack
    except OSError:
        had = 300_000_000
    most = had + MEGABYTES * 1_000_000
    resource.setrlimit(resource.RLIMIT_DATA, (most, most))
    resource.setrlimit(resource.RLIMIT_CPU, (int(seconds) + 2, int(seconds) + 3))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
