"""Between the server and the application: a request is read whole before a thread is taken for it, and its answer is sent after the thread is free.

So a client that sends or takes slowly, or not at all, holds up nobody else.
"""

import asyncio
import logging
from collections.abc import Awaitable, Callable
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from tempfile import SpooledTemporaryFile
from typing import Any

from flask import Flask
from werkzeug.test import run_wsgi_app

THREADS = 6
MOST_READ_BYTES = 40_000_000  # more than any upload that is taken; what is over the application's own limit is refused by it
READ_WITHIN_S = 60
# Whole jobs with their photos may be larger, one at a time; what is large waits on the disk, not in memory.
LARGE_PATH, MOST_LARGE_BYTES, LARGE_WITHIN_S = "/jobs/archive", 260_000_000, 600
IN_MEMORY_BYTES = 4_000_000

Body = SpooledTemporaryFile[bytes]
Message = dict[str, Any]
Receive = Callable[[], Awaitable[Message]]
Send = Callable[[Message], Awaitable[None]]


@dataclass(frozen=True)
class Reply:
    status: int
    headers: list[tuple[bytes, bytes]]
    content: bytes


class Bridge:
    """The application as the server wants it (ASGI 3)."""

    def __init__(self, app: Flask, threads: int = THREADS) -> None:
        self.app = app
        self.threads = ThreadPoolExecutor(threads, thread_name_prefix="page")
        self.reading: set[asyncio.Future[bool]] = set()
        self.large = asyncio.Lock()
        self.answering = 0
        self.works: set[Future[Reply]] = set()
        self.stopping = False

    @property
    def at_work(self) -> bool:
        """Whether a thread goes on, also where nobody waits for it any more."""
        return any(work.running() for work in list(self.works))

    async def finish(self, within_s: float) -> None:
        """Wait until what is being answered is answered. No request that hasn't arrived whole is waited for."""
        self.stopping = True
        for each in self.reading:
            each.cancel()
        for _ in range(round(within_s * 20)):
            if not self.answering:
                return
            await asyncio.sleep(0.05)

    async def __call__(self, scope: Message, receive: Receive, send: Send) -> None:
        if scope["type"] == "lifespan":
            await _be_alive(receive, send)
        elif scope["type"] == "http":
            self.answering += 1
            try:
                await self._answer(scope, receive, send)
            finally:
                self.answering -= 1

    async def _answer(self, scope: Message, receive: Receive, send: Send) -> None:
        if scope["path"] != LARGE_PATH:
            answer = await self._read_and_answer(scope, receive, MOST_READ_BYTES, READ_WITHIN_S)
        elif self.large.locked():
            answer = _said(503, "Another archive is arriving. Try again in a minute.")
        else:
            async with self.large:
                answer = await self._read_and_answer(scope, receive, MOST_LARGE_BYTES, LARGE_WITHIN_S)
        if answer:
            await send({"type": "http.response.start", "status": answer.status, "headers": answer.headers})
            await send({"type": "http.response.body", "body": answer.content})

    async def _read_and_answer(self, scope: Message, receive: Receive, most: int, within_s: float) -> Reply | None:
        """The answer; None where its sender went away before it had said all."""
        body: Body = SpooledTemporaryFile(max_size=IN_MEMORY_BYTES)  # noqa: SIM115 -- the thread that reads it closes it
        arrived: bool | Reply = False
        try:
            arrived = await self._arrived(receive, body, most, within_s)
        finally:
            if arrived is not True:
                body.close()
        if isinstance(arrived, Reply):
            return arrived
        return await self._answer_to(scope, body) if arrived else None

    async def _arrived(self, receive: Receive, body: Body, most: int, within_s: float) -> bool | Reply:
        """Whether a request came whole; or what to say where it can't be taken."""
        reading = asyncio.ensure_future(_read(receive, body, most))
        self.reading.add(reading)
        try:
            if not await asyncio.wait_for(reading, within_s):
                return False
        except TimeoutError:
            return _said(408, "This took too long to arrive. Try again.")
        except asyncio.CancelledError:
            if not self.stopping:
                raise
            return _said(503, "Dividers is stopping. Nothing was changed.")
        finally:
            self.reading.discard(reading)
        if body.tell() >= most:
            return _said(413, "That is too large.")
        body.seek(0)
        return True

    async def _answer_to(self, scope: Message, body: Body) -> Reply:
        try:
            work = self.threads.submit(self._run, environ_of(scope, body))
            self.works.add(work)
            work.add_done_callback(self.works.discard)
            return await asyncio.wrap_future(work)
        except Exception:
            logging.getLogger(__name__).exception("no answer to %s %s", scope["method"], scope["path"])
            return _said(500, "Something went wrong in Dividers. The terminal shows what happened.")

    def _run(self, environ: Message) -> Reply:
        with environ["wsgi.input"]:
            parts, status, headers = run_wsgi_app(self.app, environ, buffered=True)
        sent = [(name.lower().encode("latin-1"), value.encode("latin-1")) for name, value in headers]
        return Reply(int(status.split(" ", 1)[0]), sent, b"".join(parts))


async def _be_alive(receive: Receive, send: Send) -> None:
    while True:
        message = await receive()
        await send({"type": f"{message['type']}.complete"})
        if message["type"] == "lifespan.shutdown":
            return


async def _read(receive: Receive, into: Body, most: int) -> bool:
    """Take all that a request brings, up to more than anything that is taken; False where its sender went away."""
    while True:
        message = await receive()
        if message["type"] == "http.disconnect":
            return False
        into.write(message.get("body", b""))
        if not message.get("more_body") or into.tell() >= most:
            return True


def _said(status: int, words: str) -> Reply:
    return Reply(status, [(b"content-type", b"text/plain; charset=utf-8"), (b"connection", b"close")], words.encode())


def environ_of(scope: Message, body: Body) -> Message:
    """A request as a WSGI application takes it (PEP 3333)."""
    server = scope.get("server") or ("localhost", 80)
    environ: Message = {
        "REQUEST_METHOD": scope["method"],
        "SCRIPT_NAME": "",
        "PATH_INFO": scope["path"].encode("utf-8", "replace").decode("latin-1"),
        "QUERY_STRING": scope["query_string"].decode("latin-1"),
        "SERVER_NAME": server[0],
        "SERVER_PORT": str(server[1]),
        "SERVER_PROTOCOL": f"HTTP/{scope['http_version']}",
        "REMOTE_ADDR": (scope.get("client") or ("",))[0],
        "wsgi.version": (1, 0),
        "wsgi.url_scheme": scope.get("scheme", "http"),
        "wsgi.input": body,
        "wsgi.errors": _Log(),
        "wsgi.multithread": True,
        "wsgi.multiprocess": False,
        "wsgi.run_once": False,
        "wsgi.input_terminated": True,
    }
    for raw_name, raw_value in scope["headers"]:
        name = raw_name.decode("latin-1").upper().replace("-", "_")
        key = name if name in ("CONTENT_TYPE", "CONTENT_LENGTH") else f"HTTP_{name}"
        value = raw_value.decode("latin-1")
        environ[key] = f"{environ[key]},{value}" if key in environ else value
    return environ


class _Log:
    """Where the application may write, as WSGI wants it."""

    def write(self, text: str) -> None:
        logging.getLogger(__name__).warning(text.rstrip())

    def writelines(self, lines: list[str]) -> None:
        self.write("".join(lines))

    def flush(self) -> None:
        """Nothing is held back."""
