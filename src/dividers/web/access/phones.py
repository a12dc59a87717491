"""Coming in and letting in: the passphrase, a phone's link, and the page Phones."""

from flask import Blueprint, current_app, flash, redirect, render_template, request, session, url_for
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from dividers.core.base.errors import BadInput
from dividers.services.access import letting_in
from dividers.services.access.authority import Authority
from dividers.services.jobs.job_list import list_jobs
from dividers.web.access.guard import open_for_owner, who
from dividers.web.access.safe_way import came_by_itself
from dividers.web.database import connection
from dividers.web.numbers import asked

blueprint = Blueprint("access", __name__)

MOST_TRIES_SHOWN = 15


@blueprint.get("/enter")
def enter() -> ResponseReturnValue:
    return _enter("")


def _enter(fault: str, status: int = 200) -> ResponseReturnValue:
    return render_template("access/enter.html", ended=False, fault=fault, has=letting_in.has_passphrase(connection())), status


@blueprint.post("/enter")
def come_in() -> ResponseReturnValue:
    """Open all by the passphrase."""
    try:
        if not letting_in.enter(connection(), request.form.get("passphrase", ""), request.remote_addr or ""):
            return _enter("That isn't the passphrase.", 401)
    except letting_in.TooMany as fault:
        return _enter(fault.message, 429)
    session.clear()
    open_for_owner(" ".join(request.form.get("person", "").split())[: letting_in.LONGEST_NAME])
    return redirect(url_for("jobs.show"), 303)


@blueprint.post("/leave")
def leave() -> ResponseReturnValue:
    """End this browser's session."""
    session.clear()
    return redirect(url_for("access.enter"), 303)


@blueprint.get("/join/<token>")
def join(token: str) -> ResponseReturnValue:
    """A phone comes by its link, and goes on to its job."""
    try:
        phone = letting_in.join(connection(), token, request.remote_addr or "")
    except letting_in.TooMany as fault:
        return _enter(fault.message, 429)
    if phone is None:
        return _enter("This link is not good any more. Ask the workshop for a new one.", 401)
    session.clear()
    session["phone"] = token
    session.permanent = True
    address = url_for("wall.show", job_id=phone.job_id)
    if came_by_itself():
        return redirect(address, 303)
    return render_template("access/joined.html", address=address)  # led on from another site the cookie would stay behind


@blueprint.get("/phones")
def show() -> ResponseReturnValue:
    return _page()


def _page(faults: dict[str, str] | None = None, made: str = "", status: int = 200) -> ResponseReturnValue:
    jobs = list_jobs(connection())
    trust_at, fingerprint = _trusted()
    return (
        render_template(
            "access/phones.html",
            phones=[(phone, letting_in.is_good(phone)) for phone in letting_in.list_phones(connection())],
            titles={job.id: job.title for job in jobs},
            jobs=jobs,
            tries=letting_in.list_tries(connection(), MOST_TRIES_SHOWN),
            shared=current_app.config["SHARED_AT"],
            has=letting_in.has_passphrase(connection()),
            faults=faults or {},
            typed={} if made else request.form,
            made=made,
            picture=qr_of(made) if made else "",
            days=letting_in.USUAL_DAYS,
            trust_at=trust_at,
            trust_picture=qr_of(trust_at) if trust_at else "",
            fingerprint=fingerprint,
        ),
        status,
    )


def _trusted() -> tuple[str, str]:
    """Where a phone learns to trust this workshop, and the fingerprint it must see there; "" without encryption or sharing."""
    authority: Authority | None = current_app.config["AUTHORITY"]
    shared = str(current_app.config["SHARED_AT"])
    if authority is None or not shared:
        return "", ""
    host = shared.removeprefix("https://").partition(":")[0]
    return f"http://{host}:{current_app.config['PLAIN_PORT']}{url_for('trust.show')}", authority.fingerprint


def qr_of(text: str) -> Markup:
    """A text as a square code, to be read by a phone's camera."""
    import segno

    return Markup(segno.make(text, error="m").svg_inline(scale=5, border=3, dark="#2a2c2e", light="#ffffff"))


@blueprint.post("/phones")
def make() -> ResponseReturnValue:
    """Make a link for one job; it is shown this once."""
    job_id = asked(request.form, "job", 0)
    try:
        _, token = letting_in.make_link(connection(), job_id, request.form.get("name", ""), request.form.get("days", ""))
    except BadInput as fault:
        return _page({fault.path: fault.message}, status=422)
    base = current_app.config["SHARED_AT"] or request.host_url
    return _page(made=base.rstrip("/") + url_for("access.join", token=token))


@blueprint.post("/phones/<int:phone_id>/out")
def shut_out(phone_id: int) -> ResponseReturnValue:
    letting_in.shut_out(connection(), phone_id)
    flash("That phone is shut out from now on.")
    return redirect(url_for("access.show"), 303)


@blueprint.post("/phones/passphrase")
def put_passphrase() -> ResponseReturnValue:
    """Set the passphrase; whoever came in by the one before is out."""
    try:
        letting_in.set_passphrase(connection(), request.form.get("passphrase", ""))
    except BadInput as fault:
        return _page({fault.path: fault.message}, status=422)
    if "owner" in session or not who().owner:
        open_for_owner()
    flash("The passphrase is set. Sessions by the one before are over.")
    return redirect(url_for("access.show"), 303)
