"""The one place where an error becomes a status and a page. An unexpected error's text is logged, never shown."""

import secrets

from flask import Flask, Response, make_response, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from flask_wtf.csrf import CSRFError
from werkzeug.exceptions import HTTPException

from dividers.core.base.errors import BadInput, Conflict, DividersError, NoSolution, NotFound, NotYet
from dividers.web.htmx import go_to, is_htmx

STATUS: tuple[tuple[type[DividersError], int], ...] = (
    (NotFound, 404),
    (BadInput, 422),
    (NoSolution, 422),
    (Conflict, 409),
    (DividersError, 500),
)

SAYINGS = {
    400: ("That request couldn't be read", "Go back and try again."),
    404: ("There is nothing here", "The address may be old, or the job or piece was deleted."),
    405: ("That can't be done this way", "Go back and use the buttons of the page."),
    413: ("That is too large", "A job file may have at most 2 MB."),
    415: ("That kind of file is not supported", "Choose a job file (JSON)."),
    421: ("Wrong address", "Open Dividers at the address it printed when it started."),
    500: (
        "Something went wrong in Dividers",
        "Nothing you saved is lost. Go back and try again. If it happens again, look for this number where Dividers was started: ",
    ),
}


def register(app: Flask) -> None:
    app.register_error_handler(Conflict, _conflict)
    app.register_error_handler(NotYet, _not_yet)
    app.register_error_handler(CSRFError, _csrf)
    app.register_error_handler(DividersError, _own)
    app.register_error_handler(HTTPException, _http)
    app.register_error_handler(Exception, _unexpected)


def status_of(error: DividersError) -> int:
    return next(status for kind, status in STATUS if isinstance(error, kind))


def _page(status: int, title: str, message: str) -> ResponseReturnValue:
    return render_template("error.html", title=title, message=message), status


def _conflict(error: Conflict) -> ResponseReturnValue:
    """Both versions are kept: show them side by side."""
    address = url_for("pieces.refused", job_id=error.job_id, refused_id=error.refused_id)
    return go_to(address) if is_htmx() else redirect(address, 303)


def _not_yet(error: NotYet) -> ResponseReturnValue:
    """The page asks again by itself until what was asked for comes instead."""
    if is_htmx():
        return make_response(render_template("_not_yet.html", what=str(error)), 200)
    made = Response(render_template("not_yet.html", what=str(error)), 202)
    made.headers["Refresh"] = made.headers["Retry-After"] = "2"
    return made


def _csrf(_: CSRFError) -> ResponseReturnValue:
    return _page(400, "This page is too old to save from", "Reload it, and do that again. Nothing was changed.")


def _own(error: DividersError) -> ResponseReturnValue:
    status = status_of(error)
    return _page(status, SAYINGS.get(status, ("That can't be done", ""))[0], str(error))


def _http(error: HTTPException) -> ResponseReturnValue:
    status = error.code or 500
    title, message = SAYINGS.get(status, (error.name, "Go back and try again."))
    return _page(status, title, message)


def _unexpected(error: Exception) -> ResponseReturnValue:
    from flask import current_app

    number = secrets.token_hex(4)
    current_app.logger.exception("error %s at %s %s", number, request.method, request.path, exc_info=error)
    title, message = SAYINGS[500]
    back = request.referrer if request.referrer and request.referrer.startswith(request.host_url) else "/jobs"
    page = render_template("error.html", title=title, message=f"{message}{number}", back=back, back_words="Go back")
    return page, 500
