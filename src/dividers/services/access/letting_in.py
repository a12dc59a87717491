"""The passphrase that opens all, links that open one job to one phone, and limits on tries that hold over restarts."""

import secrets
import sqlite3
from datetime import datetime, timedelta

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.whole import whole
from dividers.services import clock
from dividers.services.hashing import hashed
from dividers.services.jobs.editing import open_job
from dividers.store import access
from dividers.store.access import Phone as Phone
from dividers.store.database import transaction

list_phones, list_tries = access.list_phones, access.list_tries

LEAST_LETTERS, MOST_LETTERS = 10, 200
TOKEN_BYTES = 16  # 128 bits: nobody guesses it
LONGEST_NAME = 40
USUAL_DAYS, MOST_DAYS = 14, 120
TRIES_MIN = 15
TRIES = {
    "passphrase": (5, 30),
    "link": (5, 30),
    "device": (20, 60),
}  # wrong ones from one address, and from all, in so many minutes
SEEN_EVERY_MIN = 1


class TooMany(BadInput):
    """Too many wrong tries: nothing is looked at for a while."""


def has_passphrase(connection: sqlite3.Connection) -> bool:
    return access.find_passphrase(connection) is not None


def epoch(connection: sqlite3.Connection) -> str:
    """What sessions are good for: it changes with the passphrase, and every session before ends; "" without one."""
    found = access.find_passphrase(connection)
    return found[1] if found else ""


def set_passphrase(connection: sqlite3.Connection, text: str) -> None:
    """Let a passphrase open all. Raises BadInput."""
    from argon2 import PasswordHasher

    if not LEAST_LETTERS <= len(text) <= MOST_LETTERS:
        raise BadInput(
            f"This has {len(text)} characters; {LEAST_LETTERS} to {MOST_LETTERS} are needed. Three or four words you can say are good.",
            "passphrase",
        )
    with transaction(connection):
        access.put_passphrase(connection, PasswordHasher().hash(text), secrets.token_hex(8), clock.now())


def enter(connection: sqlite3.Connection, text: str, address: str) -> bool:
    """Whether a passphrase is right. Raises TooMany after some wrong ones, and looks at none for a while then."""
    from argon2 import PasswordHasher
    from argon2.exceptions import InvalidHashError, VerificationError

    check_tries(connection, "passphrase", address)
    found = access.find_passphrase(connection)
    try:
        passed = bool(found) and PasswordHasher().verify(found[0] if found else "", text[:MOST_LETTERS])
    except (VerificationError, InvalidHashError):
        passed = False
    note_try(connection, "passphrase", address, passed)
    return passed


def check_tries(connection: sqlite3.Connection, what: str, address: str) -> None:
    """Raises TooMany after so many wrong tries of a kind, from one address or from all."""
    since = (clock.moment() - timedelta(minutes=TRIES_MIN)).isoformat(timespec="seconds")
    for limit, place in zip(TRIES[what], (address, None), strict=True):
        if access.count_failed(connection, what, since, place) >= limit:
            raise TooMany(f"There were too many wrong tries. Wait {TRIES_MIN} minutes, then try again.", what)


def note_try(connection: sqlite3.Connection, what: str, address: str, passed: bool) -> None:
    """Write a try down."""
    with transaction(connection):
        access.insert_try(connection, clock.now(), address, what, passed)


def make_link(connection: sqlite3.Connection, job_id: int, name: str, days: str) -> tuple[int, str]:
    """A link that opens a job to a phone: the phone's number and the token, which isn't kept. Raises BadInput, NotFound."""
    open_job(connection, job_id)
    name = " ".join(name.split())
    if not 0 < len(name) <= LONGEST_NAME:
        raise BadInput(f"Give the phone a name of 1 to {LONGEST_NAME} characters, like: ladder phone.", "name", name)
    text = days.strip() or str(USUAL_DAYS)
    good_for = whole(text, MOST_DAYS)
    if not good_for:
        raise BadInput(f"“{text[:10]}” isn't a number of days; allowed are 1 to {MOST_DAYS}.", "days", text)
    token = secrets.token_urlsafe(TOKEN_BYTES)
    ends = (clock.moment() + timedelta(days=good_for)).isoformat(timespec="seconds")
    with transaction(connection):
        return access.insert_phone(connection, job_id, name, hashed(token), clock.now(), ends), token


def join(connection: sqlite3.Connection, token: str, address: str) -> Phone | None:
    """The phone that a link lets in; None for a link that is no good. Raises TooMany."""
    check_tries(connection, "link", address)
    phone = phone_of(connection, token)
    note_try(connection, "link", address, phone is not None)
    return phone


def phone_of(connection: sqlite3.Connection, token: str) -> Phone | None:
    """The phone with a token that may still come in."""
    found = access.find_phone(connection, hashed(token[:200]))
    return found if found and is_good(found) else None


def is_good(phone: Phone) -> bool:
    """Whether a phone's link is neither shut nor over."""
    return phone.revoked_at is None and datetime.fromisoformat(phone.ends_at) > clock.moment()


def seen(connection: sqlite3.Connection, phone: Phone) -> None:
    """Remember that a phone was there, once a minute."""
    now = clock.moment()
    if phone.seen_at is None or now - datetime.fromisoformat(phone.seen_at) > timedelta(minutes=SEEN_EVERY_MIN):
        with transaction(connection):
            access.set_seen(connection, phone.id, clock.now())


def shut_out(connection: sqlite3.Connection, phone_id: int) -> None:
    """End a phone's link at once. Raises NotFound."""
    if all(phone.id != phone_id for phone in access.list_phones(connection)):
        raise NotFound("There is no such phone.")
    with transaction(connection):
        access.set_revoked(connection, phone_id, clock.now())
