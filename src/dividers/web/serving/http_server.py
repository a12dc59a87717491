"""The server: http and https beside each other, stopped after the requests in flight are answered."""

import asyncio
import logging
import signal
import socket
import ssl
from asyncio import constants
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass
from pathlib import Path

from flask import Flask

from dividers.web.serving.bridge import Bridge

FINISH_WITHIN_S = 10  # so long are requests in flight waited for
KEPT_OPEN_S = 20  # longer than a page at the wall is silent
HANDSHAKE_S = 10
GOODBYE_S = 2  # so long is a client waited for that doesn't say goodbye: a phone out of reach
LOOK_EVERY_S = 10
BACKLOG = 128


@dataclass(frozen=True)
class Doors:
    """The sockets to serve at, which are the server's from then on. https goes by the key and certificate in `vouched`; now and then `look` is asked for newer ones."""

    plain: socket.socket
    secure: socket.socket | None = None
    vouched: Path | None = None
    look: Callable[[], Path | None] = lambda: None


def open_socket(host: str, port: int) -> socket.socket:
    """A socket that listens at an address and port, 0 for any free one. Raises OSError."""
    opened = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    opened.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    try:
        opened.bind((host, port))
        opened.listen(BACKLOG)
    except OSError:
        opened.close()
        raise
    opened.setblocking(False)
    return opened


def serve(app: Flask, doors: Doors) -> bool:
    """Serve until SIGTERM or Ctrl-C; requests in flight are answered first. Whether all of them were, in the time there is."""

    async def until_told() -> bool:
        ended = asyncio.Event()
        for number in (signal.SIGTERM, signal.SIGINT):
            asyncio.get_running_loop().add_signal_handler(number, ended.set)
        return await serve_until(ended, app, doors)

    return asyncio.run(until_told())


async def serve_until(ended: asyncio.Event, app: Flask, doors: Doors) -> bool:
    """Serve until something has happened; whether every request was answered."""
    from hypercorn.asyncio import serve as serve_all
    from hypercorn.config import Config

    context = _context(doors.vouched) if doors.secure and doors.vouched else None

    class Ours(Config):
        """With the sockets opened already, and certificates that can be renewed while it runs."""

        def create_ssl_context(self) -> ssl.SSLContext | None:
            return context

        @property
        def ssl_enabled(self) -> bool:
            return context is not None

    config = Ours()
    config.bind = [f"fd://{(doors.secure or doors.plain).detach()}"]
    config.insecure_bind = [f"fd://{doors.plain.detach()}"] if doors.secure else []
    config.loglevel = "WARNING"
    config.include_server_header = False
    config.alpn_protocols = ["http/1.1"]
    config.keep_alive_timeout, config.ssl_handshake_timeout, config.graceful_timeout = KEPT_OPEN_S, HANDSHAKE_S, FINISH_WITHIN_S

    bridge = Bridge(app)
    serving = asyncio.create_task(
        serve_all(bridge, config, shutdown_trigger=ended.wait)  # type: ignore[arg-type]  # its types name each kind of message
    )
    looking = asyncio.create_task(_look_again(doors.look, context))
    stopping = asyncio.create_task(ended.wait())
    await asyncio.wait({serving, stopping}, return_when=asyncio.FIRST_COMPLETED)
    looking.cancel()
    if stopping.done():
        await bridge.finish(FINISH_WITHIN_S)
        await asyncio.wait({serving}, timeout=GOODBYE_S + 1)
    stopping.cancel()
    if serving.done():
        with suppress(ssl.SSLError):  # a phone that went on sending after the goodbye; nothing it was answered is lost
            serving.result()
    await _hang_up()
    return not bridge.at_work


async def _hang_up() -> None:
    """End what is left: connections of clients that don't say goodbye. Each catches being ended once, to say goodbye itself."""
    for _ in range(5):
        left = asyncio.all_tasks() - {asyncio.current_task()}
        if not left:
            return
        for each in left:
            each.cancel()
        await asyncio.wait(left, timeout=0.2)


def _context(vouched: Path) -> ssl.SSLContext:
    # The standard library's default, for want of a way through hypercorn to say it for this server.
    constants.SSL_SHUTDOWN_TIMEOUT = float(GOODBYE_S)
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    context.minimum_version = ssl.TLSVersion.TLSv1_2
    context.set_alpn_protocols(["http/1.1"])
    context.load_cert_chain(vouched)
    return context


async def _look_again(look: Callable[[], Path | None], context: ssl.SSLContext | None) -> None:
    while True:
        await asyncio.sleep(LOOK_EVERY_S)
        try:
            newer = await asyncio.to_thread(look)
            if newer and context:
                context.load_cert_chain(newer)  # for all connections from now on
        except Exception:  # a full disk, say: what was in force stays so, and the next look tries again
            logging.getLogger(__name__).exception("looking for another address failed")
