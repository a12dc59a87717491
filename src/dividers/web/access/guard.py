"""Before anything else: who asks, and whether that may be had. This machine's own browser, whoever has the passphrase, a phone in its job."""

from dataclasses import dataclass
from datetime import datetime, timedelta
from ipaddress import ip_address

from flask import Flask, current_app, g, render_template, request, session, url_for
from flask.typing import ResponseReturnValue

from dividers.services import clock
from dividers.services.access import letting_in
from dividers.services.actor import act_as
from dividers.services.logbook import logbook
from dividers.web.database import connection
from dividers.web.security import THIS_MACHINE, own_name

OWNER_LASTS, REFRESHED_AFTER = timedelta(hours=12), timedelta(minutes=10)
COOKIES_LAST = timedelta(days=letting_in.MOST_DAYS)  # a phone's link ends by its own day, not over the first night

OPEN = {
    "static",
    "access.enter",
    "access.come_in",
    "access.join",
    "access.leave",
    "devices.receive",
    "wall.worker",
    "trust.show",
    "trust.certificate",
}
# What a phone's link opens, in its own job.
PHONE = {
    "wall.show", "wall.held", "wall.state", "wall.events", "wall.record", "wall.replan", "wall.begin", "run.plans", "wall.due",
    "wall.manifest",
    "logbook.show", "logbook.add_finding", "logbook.change_finding", "logbook.add_touch_up", "logbook.settle_touch_up", "logbook.photo",
    "measured.show", "measured.put",
    "sheets.mark_sheet", "sheets.mark_sheet_pdf", "help.show",
}  # fmt: skip


@dataclass(frozen=True)
class Who:
    """Who asks: the owner, a phone by its link, or a stranger."""

    owner: bool = False
    phone: letting_in.Phone | None = None
    person: str = ""

    @property
    def name(self) -> str:
        """What is written into the record; "" for this machine's own browser."""
        return self.phone.name if self.phone else self.person

    @property
    def join_path(self) -> str:
        """Where a phone comes in again at another address of this machine; "" for the owner."""
        return url_for("access.join", token=session["phone"]) if self.phone else ""


def who() -> Who:
    """Who asks; found once a request."""
    if "who" not in g:
        g.who = _found()
    found: Who = g.who
    return found


def _found() -> Who:
    if from_here() and not current_app.config["ASK_HERE"]:
        return Who(owner=True)
    if _owner_session():
        return Who(owner=True, person=str(session.get("person") or f"by passphrase from {request.remote_addr}"))
    token = session.get("phone")
    phone = letting_in.phone_of(connection(), token) if isinstance(token, str) else None
    if phone:
        letting_in.seen(connection(), phone)
    return Who(phone=phone)


def open_for_owner(person: str = "") -> None:
    """Let this browser's session be the owner's, for some hours from its last request; `person` is who that is, for the record."""
    if person:
        session["person"] = person
    session["owner"] = letting_in.epoch(connection())
    session["owner_until"] = (clock.moment() + OWNER_LASTS).isoformat()
    session.permanent = True


def _owner_session() -> bool:
    held = session.get("owner")
    if not held or held != letting_in.epoch(connection()):
        return False
    left = datetime.fromisoformat(str(session.get("owner_until"))) - clock.moment()
    if timedelta(0) < left < OWNER_LASTS - REFRESHED_AFTER:
        open_for_owner()
    return left > timedelta(0)


def from_here() -> bool:
    """Whether this machine's own browser asks, at an address of its own."""
    try:
        near = ip_address(request.remote_addr or "").is_loopback
    except ValueError:
        return False
    return near and own_name(request.host) in THIS_MACHINE


def _check() -> ResponseReturnValue | None:
    endpoint = request.endpoint
    act_as("")
    if endpoint is None or endpoint in OPEN:
        return None
    found = who()
    act_as(found.name)
    if found.owner:
        return None
    if found.phone is None:
        ended = "phone" in session
        return render_template("access/enter.html", ended=ended, fault="", has=letting_in.has_passphrase(connection())), 401
    if endpoint in PHONE and _own_job(found.phone):
        return None
    return _refused(found.phone)


def _refused(phone: letting_in.Phone) -> ResponseReturnValue:
    return (
        render_template(
            "error.html",
            title="Not with this link",
            message="A phone's link opens one job: its steps at the wall, its findings, its drawing and marks. Ask the workshop for the rest.",
            back=url_for("wall.show", job_id=phone.job_id),
        ),
        403,
    )


def _own_job(phone: letting_in.Phone) -> bool:
    """Whether what is asked for lies in the phone's job."""
    if request.endpoint in ("wall.due", "help.show"):
        return True
    asked = request.view_args or {}
    if request.endpoint == "logbook.photo":
        return logbook.job_of_photo(connection(), int(asked["photo_id"])) == phone.job_id
    return asked.get("job_id") == phone.job_id


def register(app: Flask) -> None:
    app.before_request(_check)
    app.teardown_request(lambda _: act_as(""))
    app.jinja_env.globals["who"] = who
