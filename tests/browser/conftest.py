"""A real server on its own port with the demo on its shelf, and Debian's Chromium."""

import shutil
import threading

import pytest
from werkzeug.serving import WSGIRequestHandler, make_server

from dividers.services.demo import load_demo
from dividers.services.opening import open_data
from dividers.web.app import create_app

ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"]  # fmt: skip


class Quiet(WSGIRequestHandler):
    def log_request(self, *args):
        """Say nothing for each request."""


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {"executable_path": shutil.which("chromium"), "args": ARGUMENTS}


@pytest.fixture
def address(tmp_path):
    """The address of a fresh server with the demo."""
    connection = open_data(tmp_path)
    load_demo(connection)
    connection.close()
    server = make_server("127.0.0.1", 0, create_app(tmp_path), threaded=True, request_handler=Quiet)
    thread = threading.Thread(target=server.serve_forever, kwargs={"poll_interval": 0.02}, daemon=True)
    thread.start()
    yield f"http://127.0.0.1:{server.port}"
    server.shutdown()
    server.server_close()


@pytest.fixture
def sheet(page, address):
    """A page at 1280x800 that fails the test when the console or a script complains."""
    complaints = []
    page.set_viewport_size({"width": 1280, "height": 800})
    page.set_default_timeout(8000)
    page.on("console", lambda message: complaints.append(message.text) if message.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    page.goto(f"{address}/jobs")
    yield page
    assert complaints == []
