"""What is sent twice counts once: by a page's script under one name, or by a form pressed twice. The second gets the answer of the first."""

import hashlib
import os
import secrets
from collections import OrderedDict
from dataclasses import dataclass, field
from threading import Event, Lock
from time import monotonic

from flask import Flask, Response, current_app, g, make_response, redirect, request

from dividers.web.htmx import is_htmx

MOST_KEPT, LONGEST = 1000, 60
FIELD = "once"  # of a form: the same in every press of its button, another one in each page
WAIT_S = 10
PRESSED_S = 10  # so long after the first press another one of the same form counts as the same


@dataclass
class _Sent:
    """Something that was sent under a name: `address` is where its answer led, known once it is `done`."""

    done: Event = field(default_factory=Event)
    address: str = ""
    sent_at: float = field(default_factory=monotonic)


class _Answered:
    """The latest names under which something was sent, and where the answers led."""

    def __init__(self) -> None:
        self.kept: OrderedDict[str, _Sent] = OrderedDict()
        self.lock = Lock()

    def before(self) -> Response | None:
        """The answer of the first time, if there was one; where that is still being worked on it is waited for."""
        name = _name()
        if not name:
            return None
        with self.lock:
            first = self.kept.get(name)
            if first and not _by_script() and monotonic() - first.sent_at > PRESSED_S:
                first = None  # that is no double press any more: somebody wants it again
            if first is None:
                self.kept[name] = g.sent_once = _Sent()
        if first is None:
            return None
        first.done.wait(WAIT_S)
        return _lead_to(first.address) if first.address else None

    def after(self, response: Response) -> Response:
        """Remember where an answer leads; lead a script on in a header that it can read."""
        sent: _Sent | None = g.get("sent_once")
        if sent is None or not 300 <= response.status_code < 400:
            return response
        sent.address = response.headers["Location"]
        with self.lock:
            while len(self.kept) > MOST_KEPT:
                self.kept.popitem(last=False)
        if not _by_script():
            return response
        lead = _lead_to(sent.address)
        for value in response.headers.getlist("Set-Cookie"):
            lead.headers.add("Set-Cookie", value)
        return lead

    def settle(self, _: BaseException | None) -> None:
        """Let those that wait go on; what led nowhere may be tried again under its name."""
        sent: _Sent | None = g.get("sent_once")
        if sent is not None:
            sent.done.set()
            with self.lock:
                for name in [name for name, each in self.kept.items() if each is sent and not sent.address]:
                    del self.kept[name]


def _by_script() -> bool:
    return bool(request.headers.get("X-Once"))


def _name() -> str:
    """What a request is sent under; "" where it may be sent as often as somebody likes.

    A form is the same again only with the same in it: going back and sending something else is something else.
    """
    if request.method != "POST":
        return ""
    if name := request.headers.get("X-Once", ""):
        return name if len(name) <= LONGEST else ""
    large = (request.content_length or 0) > current_app.config["MAX_CONTENT_LENGTH"]  # only some addresses read that
    name = "" if large or is_htmx() else request.form.get(FIELD, "")
    if not 0 < len(name) <= LONGEST:
        return ""
    parts = [request.path, *(f"{key}={value}" for key, value in request.form.items(multi=True))]
    for key, file in request.files.items(multi=True):
        parts.append(f"{key}={file.filename} {file.stream.seek(0, os.SEEK_END)}")
        file.stream.seek(0)
    return hashlib.sha256("\n".join(parts).encode("utf-8", "replace")).hexdigest()


def _own_name() -> str:
    """One for all forms of a page."""
    if "once_name" not in g:
        g.once_name = secrets.token_urlsafe(9)
    return str(g.once_name)


def _lead_to(address: str) -> Response:
    if not _by_script():
        return make_response(redirect(address, 303))
    response = make_response("", 200)
    response.headers["X-Go-To"] = address
    return response


def register(app: Flask) -> None:
    answered = _Answered()
    app.before_request(answered.before)
    app.after_request(answered.after)
    app.teardown_request(answered.settle)
    app.add_template_global(_own_name, "once_name")
