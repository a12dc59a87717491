"""A real server on its own port with the demo on its shelf, and Debian's Chromium."""

import shutil

import pytest
from playwright.sync_api import expect
from server import serving

from dividers.services.jobs.demo import load_demo
from dividers.services.opening import open_data

ARGUMENTS = ["--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync"]  # fmt: skip


expect.set_options(timeout=12_000)  # several workers share few cores


@pytest.fixture(scope="session")
def browser_type_launch_args():
    return {"executable_path": shutil.which("chromium"), "args": ARGUMENTS}


@pytest.fixture
def address(tmp_path):
    """The address of a fresh server with the demo."""
    connection = open_data(tmp_path)
    load_demo(connection)
    connection.close()
    with serving(tmp_path) as found:
        yield found


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
