"""What every request and answer must keep to: the address it was sent to, and what a page may load."""

from flask import Flask, Response, abort, current_app, request

HEADERS = {
    "Content-Security-Policy": (
        "default-src 'self'; script-src 'self'; style-src 'self'; img-src 'self' data:; font-src 'self'; "
        "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
    ),
    "X-Content-Type-Options": "nosniff",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=()",
}


THIS_MACHINE = ("localhost", "127.0.0.1", "::1")


def guard(app: Flask) -> None:
    """Check the Host header before anything else (against DNS rebinding), and set the headers on every answer."""
    app.before_request(_check_host)
    app.after_request(_set_headers)


def own_name(host: str) -> str:
    """A host as it is compared: without its port, brackets and the dot of its root; small letters.

    >>> [own_name(host) for host in ("LOCALHOST:8640", "localhost.", "[::1]:80", "192.168.1.4")]
    ['localhost', 'localhost', '::1', '192.168.1.4']
    """
    name = host.rpartition("]")[0].lstrip("[") if host.startswith("[") else host.partition(":")[0]
    return name.rstrip(".").lower()


def _check_host() -> None:
    if own_name(request.host) not in current_app.config["HOSTS"]:
        abort(421)


def _set_headers(response: Response) -> Response:
    for name, value in HEADERS.items():
        response.headers.setdefault(name, value)
    if request.is_secure or own_name(request.host) in THIS_MACHINE:  # browsers heed it nowhere else, and complain
        response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
    response.headers.setdefault("Cache-Control", "no-store")
    return response
