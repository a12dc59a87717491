"""Which way a request came: unencrypted from elsewhere, or by another website's page; and an address that changed."""

import gzip

import pytest
from days import MORNING, Clock, settled
from jobs import wall as plain_wall

from dividers.services.access import letting_in
from dividers.services.access.authority import keep_authority
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.opening import open_data
from dividers.web.app import create_app
from dividers.web.serving import start

NAME = "192.168.1.4"


@pytest.fixture
def secure(tmp_path):
    connection = open_data(tmp_path)
    letting_in.set_passphrase(connection, "brass hinge lantern")
    add_job(connection, plain_wall(), "a wall")
    connection.close()
    return create_app(tmp_path, [NAME], 8640, secure_port=8641, authority=keep_authority(tmp_path, [NAME]))


def ask(app, path, way="http", host=NAME, address="192.168.1.20", method="GET", **more):
    return app.test_client().open(
        path, method=method, base_url=f"{way}://{host}", environ_base={"REMOTE_ADDR": address}, **more
    )


def test_unencrypted_from_elsewhere_there_is_only_the_way_to_trust(secure):
    led = ask(secure, "/jobs/1/wall?task=x")
    assert (led.status_code, led.headers["Location"]) == (302, f"https://{NAME}:8641/jobs/1/wall?task=x")
    assert ask(secure, "/enter", method="POST", data={"passphrase": "brass hinge lantern"}).status_code == 403
    page = ask(secure, "/trust").get_data(as_text=True)
    assert secure.config["AUTHORITY"].fingerprint.split(":")[0] in page and f"https://{NAME}:8641/" in page
    file = ask(secure, "/trust/dividers.crt")
    assert file.mimetype == "application/x-x509-ca-cert" and file.get_data() == secure.config["AUTHORITY"].file
    assert ask(secure, "/device", method="POST", data={"token": "x"}).status_code in (401, 403, 422)  # looked at
    assert ask(secure, "/jobs", host="localhost", address="127.0.0.1").status_code == 200
    assert ask(secure, "/jobs", way="https").status_code == 401  # asked for the passphrase


def test_other_websites_cannot_make_it_work(tmp_path):
    connection = open_data(tmp_path)
    add_job(connection, plain_wall(), "a wall")
    connection.close()
    app = create_app(tmp_path)

    def status(path, site, mode="no-cors", dest="image", method="GET"):
        sent = {"Sec-Fetch-Site": site, "Sec-Fetch-Mode": mode, "Sec-Fetch-Dest": dest}
        return ask(app, path, host="localhost", address="127.0.0.1", headers=sent, method=method)

    heavy = "/jobs/1/pieces/wall/schedule"
    for site in ("cross-site", "same-site"):
        assert status(heavy, site).status_code == 403
        assert status(heavy, site, "navigate", "iframe").status_code == 403
        led = status(heavy, site, "navigate", "document")
        assert led.status_code == 200 and "Another page led here" in led.get_data(as_text=True)
        assert f'href="{heavy}"' in led.get_data(as_text=True)
        assert 'id="all-jobs"' in status("/jobs", site, "navigate", "document").get_data(as_text=True)
    assert "Another page led here" not in status(heavy, "same-origin", "navigate", "document").get_data(as_text=True)
    assert status("/jobs/1/copy", "cross-site", "navigate", "document", "POST").status_code == 403


def test_an_address_that_changed_is_followed(secure, monkeypatch):
    addresses = [["192.168.1.4", "bench.local"], ["bench.local"], ["192.168.7.9", "bench.local"]]
    monkeypatch.setattr(start, "own_addresses", lambda: addresses[0])
    told = []
    launch = start.Launch(secure.config["DATABASE"].parent, 8640, share=True, tls=True)
    reach = start.Reach(secure, launch, secure.config["AUTHORITY"], lambda: told.append(reach.address))
    assert reach.find() and reach.address == "https://192.168.1.4:8641/"
    assert reach.look() is None and told == []
    addresses.pop(0)  # out of the network for a moment
    assert reach.look() is None and reach.address == "https://192.168.1.4:8641/"
    addresses.pop(0)
    assert b"PRIVATE KEY" in reach.look().read_bytes()
    assert told == ["https://192.168.7.9:8641/"] and secure.config["SHARED_AT"] == told[0]
    assert ask(secure, "/trust", host="192.168.7.9").status_code == 200
    assert ask(secure, "/trust", host="192.168.1.4").status_code == 421
    assert ask(secure, "/trust", host="bench.local").status_code == 200  # the name stays


@pytest.fixture
def begun(tmp_path, monkeypatch):
    Clock(monkeypatch, MORNING)
    document = demo_document()
    document["pieces"] = [piece for piece in document["pieces"] if piece["id"] == "prop-trunk"]
    connection = open_data(tmp_path)
    settled(connection, add_job(connection, document, "a trunk"))
    connection.close()
    return create_app(tmp_path)


def test_the_held_page_is_small_and_sent_once(begun):
    client = begun.test_client()
    here = {"base_url": "http://localhost", "environ_base": {"REMOTE_ADDR": "127.0.0.1"}}
    first = client.get("/jobs/1/wall/held", headers={"Accept-Encoding": "gzip"}, **here)
    assert first.headers["Content-Encoding"] == "gzip" and "no-store" not in first.headers["Cache-Control"]
    whole = gzip.decompress(first.get_data())
    assert len(first.get_data()) * 6 < len(whole)
    assert b"csrf_token" not in whole
    plain = client.get("/jobs/1/wall/held", **here)
    assert plain.get_data() == whole and plain.get_json()["steps"]
    again = client.get("/jobs/1/wall/held", headers={"If-None-Match": first.headers["ETag"]}, **here)
    assert (again.status_code, again.get_data()) == (304, b"")
    page = client.get("/jobs/1/wall", headers={"Accept-Encoding": "gzip"}, **here)
    assert page.headers["Content-Encoding"] == "gzip"
