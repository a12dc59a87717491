"""How a phone comes to trust this workshop's authority: its certificate, its fingerprint, and what to press."""

from flask import Blueprint, Response, current_app, render_template, request
from flask.typing import ResponseReturnValue

from dividers.core.base.errors import NotFound
from dividers.services.access.authority import Authority
from dividers.web.security import own_name

blueprint = Blueprint("trust", __name__)


def _authority() -> Authority:
    found: Authority | None = current_app.config["AUTHORITY"]
    if found is None:
        raise NotFound("Dividers was started without --tls: there is nothing to trust.")
    return found


@blueprint.get("/trust")
def show() -> ResponseReturnValue:
    """The four steps."""
    secure_at = f"https://{own_name(request.host)}:{current_app.config['SECURE_PORT']}/"
    return render_template("access/trust.html", fingerprint=_authority().fingerprint, secure_at=secure_at)


@blueprint.get("/trust/dividers.crt")
def certificate() -> Response:
    """The authority's certificate; phones offer to install it by its type."""
    made = Response(_authority().file, mimetype="application/x-x509-ca-cert")
    made.headers["Content-Disposition"] = 'attachment; filename="dividers.crt"'
    return made
