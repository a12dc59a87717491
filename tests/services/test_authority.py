"""The workshop's authority, judged by another implementation of TLS and certificates (OpenSSL, by Python's ssl)."""

import socket
import ssl
import stat
import threading
from datetime import timedelta

import pytest
import trustme

from dividers.core.base.errors import BadInput
from dividers.services import clock
from dividers.services.access.authority import issue, keep_authority

NAMES = ["192.168.1.4", "bench", "bench.local"]


def greet(vouched, trusting, name):
    """Whether a client that trusts some certificates takes a server for `name`; the error's words where not."""
    server = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
    server.load_cert_chain(vouched)
    one, other = socket.socketpair()
    said = []

    def serve():
        try:
            with server.wrap_socket(one, server_side=True) as taken:
                taken.recv(1)
        except OSError:
            one.close()

    thread = threading.Thread(target=serve)
    thread.start()
    try:
        with trusting.wrap_socket(other, server_hostname=name) as made:
            made.send(b"x")
    except ssl.SSLError as error:
        said.append(str(error))
        other.close()
    thread.join()
    return said[0] if said else ""


def trusting(authority):
    context = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    context.load_verify_locations(cadata=authority.file)
    return context


def test_a_phone_takes_the_server_by_each_of_its_names_and_by_no_other(tmp_path):
    authority = keep_authority(tmp_path, NAMES)
    vouched = issue(authority, NAMES)
    for name in (*NAMES, "localhost", "127.0.0.1"):
        assert greet(vouched, trusting(authority), name) == "", name
    assert "not valid for" in greet(vouched, trusting(authority), "192.168.1.5")
    stranger = ssl.SSLContext(ssl.PROTOCOL_TLS_CLIENT)
    trustme.CA().configure_trust(stranger)
    assert "unable to get local issuer" in greet(vouched, stranger, "bench") or "self" in greet(vouched, stranger, "bench")


def test_it_vouches_for_near_networks_and_own_names_alone(tmp_path, monkeypatch):
    """Also where its key is in other hands: OpenSSL refuses what lies outside the name constraints."""
    authority = keep_authority(tmp_path, NAMES)
    far = ["203.0.113.7", "bank.example"]
    assert authority.uncovered([*far, *NAMES, "10.0.0.9", "other.lan"]) == far
    assert "not valid for" in greet(issue(authority, far), trusting(authority), "bank.example")
    monkeypatch.setattr(type(authority), "uncovered", lambda self, names: [])
    assert "permitted subtree violation" in greet(issue(authority, far), trusting(authority), "bank.example")
    assert "permitted subtree violation" in greet(issue(authority, far), trusting(authority), "203.0.113.7")


def test_it_is_kept_and_its_key_is_its_owners_alone(tmp_path):
    first = keep_authority(tmp_path, NAMES)
    assert keep_authority(tmp_path, ["another"]).fingerprint == first.fingerprint
    issue(first, NAMES)
    for path in (tmp_path / "tls").iterdir():
        if path.name != "authority.pem":
            assert stat.S_IMODE(path.stat().st_mode) == 0o600, path
    assert len(first.fingerprint.split(":")) == 32


def test_what_cannot_be_used_is_said(tmp_path, monkeypatch):
    keep_authority(tmp_path, NAMES)
    key = tmp_path / "tls" / "authority.key"
    kept = key.read_bytes()
    for broken in (b"", b"rubbish", None):
        key.unlink() if broken is None else key.write_bytes(broken)
        with pytest.raises(BadInput, match="can't be read"):
            keep_authority(tmp_path, NAMES)
    key.write_bytes(kept)
    later = clock.moment() + timedelta(days=11 * 365)
    monkeypatch.setattr(clock, "moment", lambda: later)
    with pytest.raises(BadInput, match="was good until"):
        keep_authority(tmp_path, NAMES)
