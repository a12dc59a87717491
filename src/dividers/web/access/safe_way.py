"""Which way a request came: unencrypted from elsewhere, or sent by another website's page. What such a request may have is said here."""

from flask import Flask, current_app, redirect, render_template, request
from flask.typing import ResponseReturnValue

from dividers.web.access.guard import OPEN, from_here
from dividers.web.security import own_name

# Without encryption from elsewhere, where there is encryption: how to trust it, and devices, which know no certificates.
UNENCRYPTED = {"static", "trust.show", "trust.certificate", "devices.receive"}
# What another website's page may lead a browser to: light pages that do nothing by being looked at.
LED_TO = OPEN | {"jobs.show", "access.show"}


def _check() -> ResponseReturnValue | None:
    secure = current_app.config["SECURE_PORT"]
    if secure and not request.is_secure and not from_here() and request.endpoint not in UNENCRYPTED:
        address = f"https://{own_name(request.host)}:{secure}{request.full_path.rstrip('?')}"
        if request.method in ("GET", "HEAD"):
            return redirect(address, 302)
        return _refused("Not sent: not encrypted", "Open Dividers at its https address, and do it there again.", address, 403)
    return _sent_by_another()


def came_by_itself() -> bool:
    """Whether a page of ours or the person asked, and no other website; where the browser doesn't say, it is taken for so."""
    return request.headers.get("Sec-Fetch-Site", "none") in ("none", "same-origin")


def _sent_by_another() -> ResponseReturnValue | None:
    """What other websites make this browser ask for: refused, but for going to a page, which is asked about where it costs work."""
    if came_by_itself() or request.endpoint in LED_TO:
        return None
    went = request.method == "GET" and request.headers.get("Sec-Fetch-Mode") == "navigate"
    if went and request.headers.get("Sec-Fetch-Dest") == "document":
        return _refused("Another page led here", "Go on if that is what you wanted.", request.full_path.rstrip("?"), 200)
    return _refused("Not from another website", "Another website's page asked for this. It was not done.", "/", 403)


def _refused(title: str, message: str, back: str, status: int) -> ResponseReturnValue:
    return render_template("error.html", title=title, message=message, back=back, back_words="Go on"), status


def register(app: Flask) -> None:
    app.before_request(_check)
