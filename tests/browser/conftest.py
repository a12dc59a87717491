"""A real server on its own port with the demo on its shelf, and Debian's Chromium."""

import base64
import hashlib
import os
from pathlib import Path

import pytest
from at_wall import PHONE, Time
from cryptography.hazmat.primitives.serialization import Encoding, PublicFormat
from cryptography.x509 import load_pem_x509_certificate
from days import settled
from playwright.sync_api import expect
from server import serving

from dividers.services.access.authority import keep_authority
from dividers.services.jobs.demo import demo_document, load_demo
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data

# A newer list of features takes the place of the driver's own, so those that matter for tests stand here again; the rest of them opens
# pages of the browser's own beside every window, for a third of its work.
NEEDLESS = (
    "AvoidUnnecessaryBeforeUnloadCheckSync", "DestroyProfileOnBrowserClose", "HttpsUpgrades", "HttpsFirstBalancedModeAutoEnable",
    "LensOverlay", "MediaRouter", "PaintHolding", "ThirdPartyStoragePartitioning", "AvoidCorsURLLoaderRestartOnRedirect",
    "OptimizationHints", "NetworkTimeServiceQuerying", "AimEnabled", "PreconnectToSearch",
    "WebUIOmniboxPopup", "WebUIOmniboxAimPopup", "WebUIOmniboxFullPopup", "SpareRendererForSitePerProcess",
)  # fmt: skip
ARGUMENTS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking", "--disable-component-update", "--disable-sync",
    f"--disable-features={','.join(NEEDLESS)}",
]  # fmt: skip


MORPHING = "duplicate ids found during morph"  # a warning of the library that swaps pages in, seen twice in months under load; nothing was lost
PATIENCE_MS = int(
    os.environ.get("DIVIDERS_PATIENCE_MS", "60000")
)  # a page that is there within a second here is there by then on any machine
expect.set_options(timeout=PATIENCE_MS)


def pytest_collection_modifyitems(items):
    """A failed test of this room is told without its source: reading that fails at times beside the browser's driver, and ended the whole run."""
    for item in items:
        if item.path.is_relative_to(Path(__file__).parent):
            item.repr_failure = lambda excinfo: excinfo.getrepr(style="native")


@pytest.fixture(scope="session")
def trusted(tmp_path_factory):
    """A folder with an authority that the browser trusts, as a phone does that has taken it in."""
    folder = tmp_path_factory.mktemp("authority")
    keep_authority(folder, ["127.0.0.2"])
    return folder


@pytest.fixture(scope="session")
def browser_type_launch_args(trusted):
    key = load_pem_x509_certificate((trusted / "tls/authority.pem").read_bytes()).public_key()
    digest = hashlib.sha256(key.public_bytes(Encoding.DER, PublicFormat.SubjectPublicKeyInfo)).digest()
    trust = f"--ignore-certificate-errors-spki-list={base64.b64encode(digest).decode()}"
    return {"executable_path": Path(__file__).with_name("bare-chromium"), "args": [*ARGUMENTS, trust]}


@pytest.fixture(scope="session")
def browser(browser):
    """One browser for all tests of a worker; its pages wait as long as a slow machine needs."""
    plain = browser.new_context

    def patient(**options):
        context = plain(**options)
        context.set_default_timeout(PATIENCE_MS)
        return context

    browser.new_context = patient
    return browser


@pytest.fixture
def address(tmp_path):
    """The address of a fresh server with the demo."""
    connection = open_data(tmp_path)
    load_demo(connection, start="2026-10-13T08:00")
    connection.close()
    with serving(tmp_path) as found:
        yield found


@pytest.fixture(scope="session")
def desk(browser):
    """One window for all pages of a worker: a window of its own costs as much as two pages."""
    return browser.new_context()


@pytest.fixture
def page(desk):
    """A new page in the window, which knows nothing of what was in it before (each server is at a port of its own)."""
    page = desk.new_page()
    yield page
    for each in desk.pages:
        each.close()
    desk.clear_cookies()
    desk.clear_permissions()
    desk.set_offline(False)


@pytest.fixture
def sheet(page):
    """An empty page at 1280x800 that fails the test when the console or a script complains."""
    complaints = []
    page.set_viewport_size({"width": 1280, "height": 800})
    page.on("console", lambda message: complaints.append(message.text) if message.type in ("error", "warning") else None)
    page.on("pageerror", lambda error: complaints.append(str(error)))
    yield page
    assert [each for each in complaints if MORPHING not in each] == []


@pytest.fixture
def time(monkeypatch):
    return Time(monkeypatch)


@pytest.fixture
def folder(tmp_path, time):
    """A job of one striped panel, wet-pulled, begun at the wall."""
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] == "prop-trunk"]
    document["pieces"][0] |= {"copies": 1}
    document["pieces"][0]["method"]["coats"] = {"night": 1, "brass": 1}
    document["crew"] = {"painters": 2, "days": ["mon", "tue", "wed", "thu", "fri", "sat", "sun"], "hours": [["06:00", "22:00"]]}
    connection = open_data(tmp_path)
    settled(connection, add_job(connection, document, "a trunk"))
    connection.close()
    return tmp_path


@pytest.fixture
def phone(browser, time):
    """Opens phones; each fails the test when its script complains."""
    opened, complaints = [], []

    def open_phone(address, **more):
        context = browser.new_context(**PHONE, **more)
        page = context.new_page()
        page.on("pageerror", lambda error: complaints.append(str(error)))
        page.clock.install(time=time.at)
        page.clock.resume()
        time.pages.append(page)
        opened.append(context)
        page.goto(address)
        expect(page.locator("#wall")).to_have_attribute("data-ready", "yes")
        return page

    yield open_phone
    for context in opened:
        context.close()
    assert complaints == []
