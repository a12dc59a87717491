"""The server that ships: slow and silent clients hold up nobody, and stopping finishes what is being answered."""

import socket
import threading
import time
from contextlib import ExitStack
from http.client import HTTPConnection

import pytest
from server import shared

HELLO = b"GET /jobs HTTP/1.1\r\nHost: localhost\r\n"


def connected(stack, port, sent=b""):
    made = stack.enter_context(socket.create_connection(("127.0.0.1", port), timeout=10))
    made.sendall(sent)
    return made


def get(port, path="/jobs"):
    asked = HTTPConnection("localhost", port, timeout=30)
    try:
        asked.request("GET", path)
        answer = asked.getresponse()
        return answer.status, answer.read()
    finally:
        asked.close()


def test_clients_that_are_slow_or_silent_hold_up_nobody(tmp_path):
    with shared(tmp_path) as (plain, secure), ExitStack() as stack:
        get(plain)
        for _ in range(30):
            connected(stack, secure)  # greets nobody
            connected(stack, plain, b"POST /enter HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9000\r\n\r\nabc")
            connected(stack, plain, HELLO)
            connected(stack, plain, b"GET /static/vendor/bootstrap-5.3.9.min.css HTTP/1.1\r\nHost: localhost\r\n\r\n")
        began = time.monotonic()
        assert get(plain)[0] == 200
        assert time.monotonic() - began < 5


def test_stopping_finishes_what_is_being_answered_and_waits_for_nothing_else(tmp_path):
    entered = threading.Event()

    def answers_late(app):
        def late():
            entered.set()
            time.sleep(1)
            return "finished"

        app.add_url_rule("/late", "late", late)

    answers = []
    with ExitStack() as stack:
        with shared(tmp_path, prepare=answers_late) as (plain, _):
            waiting = connected(stack, plain, b"POST /enter HTTP/1.1\r\nHost: localhost\r\nContent-Length: 9\r\n\r\nabc")
            asking = threading.Thread(target=lambda: answers.append(get(plain, "/late")))
            asking.start()
            assert entered.wait(10)
            began = time.monotonic()
        assert time.monotonic() - began < 9
        asking.join()
        assert answers == [(200, b"finished")]
        assert b"503" in waiting.recv(100)


@pytest.mark.parametrize(
    ("sent", "status"),
    [
        (b"GET /%ff%00%f0%90 HTTP/1.1\r\nHost: localhost\r\n\r\n", b"404"),
        (b"GET /\xff HTTP/1.1\r\nHost: localhost\r\n\r\n", b"400"),
        (b"\x16\x03\x01\x00\x01 nothing\r\n\r\n", b"400"),
        (b"GET /jobs HTTP/1.1\r\n\r\n", b"400"),
        (b"HEAD /jobs HTTP/1.1\r\nHost: localhost\r\n\r\n", b"200"),
        (b"POST /enter HTTP/1.1\r\nHost: localhost\r\nTransfer-Encoding: chunked\r\n\r\n3\r\nabc\r\n0\r\n\r\n", b"400"),
        (b"POST /jobs/import HTTP/1.1\r\nHost: localhost\r\nContent-Length: 5000000\r\n\r\n" + b"a" * 5_000_000, b"413"),
        (b"GET /jobs HTTP/1.1\r\nHost: localhost\r\nX: " + b"a" * 100_000 + b"\r\n\r\n", b"431"),
    ],
)
def test_odd_requests_get_an_answer(odd, sent, status):
    with ExitStack() as stack:
        assert status in connected(stack, odd, sent).recv(60)


@pytest.fixture(scope="module")
def odd(tmp_path_factory):
    with shared(tmp_path_factory.mktemp("odd")) as (plain, _):
        yield plain
