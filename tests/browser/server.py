"""A real server on its own port, in a thread: a light one, and the one that ships, with https."""

import asyncio
import threading
from contextlib import contextmanager

from werkzeug.serving import WSGIRequestHandler, make_server

from dividers.services.access.authority import issue, keep_authority
from dividers.web.app import create_app
from dividers.web.serving.http_server import Doors, open_socket, serve_until

SHARED = "127.0.0.2"  # this machine, but not by an address of its own browser: a stranger's way in


class Quiet(WSGIRequestHandler):
    def log_request(self, *args):
        """Say nothing for each request."""


def whole(app):
    """The application with each answer read and closed before it is sent.

    The light server forgets to close an answer whose reader is gone (a page left while its scripts were on the way).
    """

    def answer(environ, start_response):
        body = app(environ, start_response)
        try:
            return list(body)
        finally:
            getattr(body, "close", lambda: None)()

    return answer


@contextmanager
def serving(folder, port=0):
    """A server over the data in a folder, by its address."""
    server = make_server("127.0.0.1", port, whole(create_app(folder)), threaded=True, request_handler=Quiet)
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.port}"
    finally:
        server.shutdown()
        server.server_close()


@contextmanager
def shared(folder, ports=(0, 0), prepare=lambda app: None, name=SHARED):
    """The real server, with http and https, shared with the network; gives its two ports. Must stop in time."""
    plain, secure = (open_socket("0.0.0.0", port) for port in ports)
    ports = (plain.getsockname()[1], secure.getsockname()[1])
    authority = keep_authority(folder, [name])
    app = create_app(folder, [name], ports[0], secure_port=ports[1], authority=authority)
    prepare(app)
    app.config["SHARED_NAMES"] = (name,)
    app.config["SHARED_AT"] = f"https://{name}:{ports[1]}/"
    doors = Doors(plain, secure, issue(authority, [name]))
    ended, running, loops = asyncio.Event(), threading.Event(), []

    async def until_ended():
        loops.append(asyncio.get_running_loop())
        running.set()
        await serve_until(ended, app, doors)

    thread = threading.Thread(target=lambda: asyncio.run(until_ended()), daemon=True)
    thread.start()
    assert running.wait(10)
    try:
        yield ports
    finally:
        loops[0].call_soon_threadsafe(ended.set)
        thread.join(20)
        assert not thread.is_alive(), "the server didn't stop"
