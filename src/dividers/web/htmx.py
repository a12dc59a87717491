"""The one module that looks at htmx's headers."""

from flask import Response, make_response, request


def is_htmx() -> bool:
    """Whether the page's script asks, and only its changing part is wanted."""
    return request.headers.get("HX-Request") == "true"


def vary(body: str, status: int = 200) -> Response:
    """An answer that differs for htmx and for the browser itself."""
    response = make_response(body, status)
    response.headers["Vary"] = "HX-Request"
    return response


def go_to(address: str) -> Response:
    """Have the page's script load another address."""
    response = make_response("", 200)
    response.headers["HX-Redirect"] = address
    return response
