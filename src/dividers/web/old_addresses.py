"""Addresses of before lead to those of now: bookmarks, printed sheets and phones that still hold an old page."""

import re

from flask import Flask, redirect, request
from flask.typing import ResponseReturnValue

PIECE = r"^/jobs/(\d+)/([^/]+)"
MOVED = tuple(
    (re.compile(old), new)
    for old, new in (
        (r"^/cupboard/things/", "/supplies/items/"),
        (r"^/cupboard/cupboard\.csv$", "/supplies/supplies.csv"),
        (r"^/cupboard(?=/|$)", "/supplies"),
        (r"^/jobs/(\d+)/wall/tell$", r"/jobs/\1/wall/record"),
        (PIECE + r"/survey\.csv$", r"/jobs/\1/\2/readings.csv"),
        (PIECE + r"/survey$", r"/jobs/\1/\2/measure"),
        (PIECE + r"/as-marked$", r"/jobs/\1/\2/check-marks"),
        (PIECE + r"/order/from-cupboard$", r"/jobs/\1/\2/schedule/from-supplies"),
        (PIECE + r"/order/to-cupboard$", r"/jobs/\1/\2/schedule/to-supplies"),
        (PIECE + r"/order(?=/|\.ics$|$)", r"/jobs/\1/\2/schedule"),
        (PIECE + r"/files/order-of-work\.pdf$", r"/jobs/\1/\2/files/schedule.pdf"),
    )
)


def moved_to(path: str) -> str | None:
    """Where an address of before is now; None for one that didn't move.

    >>> moved_to("/jobs/1/booth-front/order/sheet")
    '/jobs/1/booth-front/schedule/sheet'
    >>> moved_to("/jobs/1/booth-front/marks")
    """
    for old, new in MOVED:
        found, count = old.subn(new, path)
        if count:
            return found
    return None


def _lead_on() -> ResponseReturnValue | None:
    found = moved_to(request.path)
    if found is None:
        return None
    query = request.query_string.decode()
    return redirect(f"{found}?{query}" if query else found, 308)  # 308: a form that is sent stays sent


def register(app: Flask) -> None:
    app.before_request(_lead_on)
