"""The application factory."""

import secrets
from collections.abc import Sequence
from contextlib import closing
from pathlib import Path

from flask import Flask
from flask_compress import Compress
from flask_wtf.csrf import CSRFProtect

from dividers.services.access.authority import Authority
from dividers.services.opening import DATABASE, open_data
from dividers.services.private_files import put_private
from dividers.services.supplies import supplies as supplies_service
from dividers.web import database, due, errors, filters, not_taken, numbers, old_addresses, once, security, static_files
from dividers.web.access import guard, phones, safe_way, trust
from dividers.web.access.session_cookies import SessionCookies
from dividers.web.files import files, photo_preview, sheets
from dividers.web.help import help_page
from dividers.web.jobs import beginning, history, jobs, pieces, quote
from dividers.web.logbook import edges, logbook, looking_back, patches
from dividers.web.practice import practice
from dividers.web.stations import (
    hand_acts,
    layer_acts,
    measure,
    measured,
    recipe_acts,
    rehearsal,
    schedule,
    stations,
    tape_acts,
)
from dividers.web.sums import sums
from dividers.web.supplies import devices, supplies
from dividers.web.wall import run_acts, wall

MOST_REQUEST_BYTES = 2_500_000
LEAST_SECRET = 32


def create_app(
    data: Path,
    hosts: Sequence[str] = (),
    port: int = 0,
    ask_here: bool = False,
    secure_port: int = 0,
    authority: Authority | None = None,
) -> Flask:
    """The web application over the data in a folder. Migrates the database and adds the starter supplies.

    It answers only requests addressed to this machine by its own names or by `hosts`. With `ask_here` this machine's own browser is asked for the
    passphrase too. With a `secure_port`, where https is served as `authority` vouches, plain http is for this machine alone.
    """
    with closing(open_data(data)) as opened:
        supplies_service.fill_once(opened)
    app = Flask(__name__)
    numbers.register(app)
    app.config.update(
        SECRET_KEY=_secret(data / "secret"),
        DATABASE=data / DATABASE,
        HOSTS={*security.THIS_MACHINE, *(host.lower() for host in hosts)},
        SHARED_AT="",
        SHARED_NAMES=(),
        PLAIN_PORT=port,
        SECURE_PORT=secure_port,
        AUTHORITY=authority,
        ASK_HERE=ask_here,
        PERMANENT_SESSION_LIFETIME=guard.COOKIES_LAST,
        SESSION_REFRESH_EACH_REQUEST=True,
        MAX_CONTENT_LENGTH=MOST_REQUEST_BYTES,
        MAX_FORM_MEMORY_SIZE=MOST_REQUEST_BYTES,
        SESSION_COOKIE_SAMESITE="Strict",
        SESSION_COOKIE_HTTPONLY=True,
        COMPRESS_ALGORITHM="gzip",
        COMPRESS_STREAMS=False,  # a file that is sent part by part would be left open
        WTF_CSRF_TIME_LIMIT=None,  # a page may stand open on the ladder overnight
        WTF_CSRF_SSL_STRICT=False,
    )
    app.session_interface = SessionCookies()
    app.jinja_env.trim_blocks = app.jinja_env.lstrip_blocks = True
    security.guard(app)
    safe_way.register(app)
    Compress(app)
    CSRFProtect(app).exempt(devices.receive)  # a device has no session: its token lets it in
    for part in (static_files, guard, once, old_addresses, database, errors, filters, due, not_taken):
        part.register(app)
    for module in (
        phones,
        trust,
        jobs,
        supplies,
        pieces,
        history,
        quote,
        measure,
        schedule,
        wall,
        run_acts,
        edges,
        logbook,
        looking_back,
        patches,
        practice,
        devices,
        files,
        photo_preview,
        recipe_acts,
        layer_acts,
        hand_acts,
        measured,
        rehearsal,
        tape_acts,
        stations,
        sheets,
        sums,
        beginning,
        help_page,
    ):
        app.register_blueprint(module.blueprint)
    return app


def _secret(path: Path) -> str:
    """The key that signs sessions: made once, kept beside the database, readable by its owner alone."""
    if not path.exists() or len(path.read_text("ascii", "replace")) < LEAST_SECRET:  # an earlier version could leave it empty
        put_private(path, secrets.token_hex(32).encode())
    return path.read_text()
