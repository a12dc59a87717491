"""What a page's script sends counts once: under the same name again, as when an answer got lost, it is answered as before."""

from collections import OrderedDict
from threading import Lock

from flask import Flask, Response, make_response, request

MOST_KEPT, LONGEST = 1000, 60


class _Answered:
    """The latest names that were answered by leading to another address, and to which."""

    def __init__(self) -> None:
        self.kept: OrderedDict[str, str] = OrderedDict()
        self.lock = Lock()

    def before(self) -> Response | None:
        """The answer of the first time, if there was one."""
        with self.lock:
            found = self.kept.get(_name())
        return _lead_to(found) if found else None

    def after(self, response: Response) -> Response:
        """Lead the script on, in a header that it can read, and remember where to."""
        name = _name()
        if not name or not 300 <= response.status_code < 400:
            return response
        address = response.headers["Location"]
        with self.lock:
            self.kept[name] = address
            while len(self.kept) > MOST_KEPT:
                self.kept.popitem(last=False)
        lead = _lead_to(address)
        for value in response.headers.getlist("Set-Cookie"):
            lead.headers.add("Set-Cookie", value)
        return lead


def _name() -> str:
    name = request.headers.get("X-Once", "") if request.method == "POST" else ""
    return name if len(name) <= LONGEST else ""


def _lead_to(address: str) -> Response:
    response = make_response("", 200)
    response.headers["X-Go-To"] = address
    return response


def register(app: Flask) -> None:
    answered = _Answered()
    app.before_request(answered.before)
    app.after_request(answered.after)
