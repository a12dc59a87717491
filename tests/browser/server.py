"""A real server on its own port, in a thread."""

import threading
from contextlib import contextmanager

from werkzeug.serving import WSGIRequestHandler, make_server

from dividers.web.app import create_app


class Quiet(WSGIRequestHandler):
    def log_request(self, *args):
        """Say nothing for each request."""


@contextmanager
def serving(folder, port=0):
    """A server over the data in a folder, by its address."""
    server = make_server("127.0.0.1", port, create_app(folder), threaded=True, request_handler=Quiet)
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.port}"
    finally:
        server.shutdown()
        server.server_close()
