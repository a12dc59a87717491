"""Starting Dividers: for this machine alone or shared with the workshop's network, with https or without."""

import logging
import os
import sys
from collections.abc import Callable, Sequence
from contextlib import closing
from dataclasses import dataclass
from datetime import timedelta
from pathlib import Path

from flask import Flask

from dividers.core.base.errors import BadInput
from dividers.services import clock
from dividers.services.access.authority import Authority, issue, keep_authority
from dividers.services.access.letting_in import has_passphrase
from dividers.services.access.own_addresses import has_address, own_addresses
from dividers.services.jobs import editing, evidence, job_list
from dividers.services.keeping.daily import do_daily
from dividers.services.keeping.health import set_loose_aside
from dividers.services.one_at_a_time import alone
from dividers.services.opening import open_data
from dividers.services.stations import large_plans, scheduling
from dividers.web.app import create_app
from dividers.web.security import THIS_MACHINE
from dividers.web.serving.http_server import Doors, open_socket, serve

HOST, EVERYWHERE = "127.0.0.1", "0.0.0.0"
RENEWED_AFTER = timedelta(days=90)


@dataclass(frozen=True)
class Launch:
    """How Dividers is to be started. `names` are those that this machine is called by besides its own; https is at the port after `port`."""

    data: Path
    port: int
    share: bool = False
    names: Sequence[str] = ()
    tls: bool = False
    ask_here: bool = False


class Reach:
    """The names and addresses that Dividers is found at now. They change when the network gives this machine another address."""

    def __init__(self, app: Flask, wanted: Launch, authority: Authority | None, tell: Callable[[], None]) -> None:
        self.app, self.wanted, self.authority, self.tell = app, wanted, authority, tell
        self.names: list[str] = []
        self.vouched_at = clock.moment()

    def find(self) -> bool:
        """Look which names there are; whether they are others than before. Without any network those of before stay."""
        found = [*self.wanted.names, *(own_addresses() if self.wanted.share else [])]
        if found == self.names or (self.names and not has_address(found)):
            return False
        self.names = found
        hosts = {*THIS_MACHINE, *(name.lower() for name in found)}
        self.app.config.update(HOSTS=hosts, SHARED_AT=self.address, SHARED_NAMES=tuple(found))
        return True

    @property
    def address(self) -> str:
        """The address to give to phones; "" where Dividers isn't shared."""
        if not (self.wanted.share and self.names):
            return ""
        secure = self.app.config["SECURE_PORT"]
        return f"https://{self.names[0]}:{secure}/" if secure else f"http://{self.names[0]}:{self.app.config['PLAIN_PORT']}/"

    def vouched(self) -> Path | None:
        """A certificate for the names of now."""
        self.vouched_at = clock.moment()
        return issue(self.authority, self.names) if self.authority else None

    def look(self) -> Path | None:
        """Follow a changed address; a newer certificate where one is needed."""
        do_daily(self.wanted.data)
        changed = self.find()
        if changed:
            self.tell()
        return self.vouched() if changed or clock.moment() - self.vouched_at > RENEWED_AFTER else None


def start(wanted: Launch) -> int:
    """Serve until SIGTERM or Ctrl-C; the exit code. Raises DividersError where it can't be served so, OSError."""
    # One connection stays open: when the last one is closed, SQLite tidies up its log, and every request would wait for that.
    with closing(open_data(wanted.data)), alone(wanted.data, "serving", wait=False):
        set_loose_aside(wanted.data)
        return _start(wanted)


def _start(wanted: Launch) -> int:
    if wanted.share:
        _require_passphrase(wanted.data)
    host = EVERYWHERE if wanted.share else HOST
    try:
        plain = open_socket(host, wanted.port)
        port = plain.getsockname()[1]
        secure = open_socket(host, wanted.port + 1 if wanted.port else 0) if wanted.tls else None
    except OSError as error:
        ports = f"{wanted.port} or {wanted.port + 1}" if wanted.tls else f"{wanted.port}"
        print(f"Port {ports} can't be used ({error.strerror}). Is Dividers running already? Try --port.", file=sys.stderr)
        return 1
    secure_port = secure.getsockname()[1] if secure else 0
    names = [*wanted.names, *(own_addresses() if wanted.share else [])]
    authority = keep_authority(wanted.data, names) if wanted.tls else None
    app = create_app(wanted.data, port=port, ask_here=wanted.ask_here, secure_port=secure_port, authority=authority)
    reach = Reach(app, wanted, authority, lambda: _tell(reach))
    reach.find()
    do_daily(wanted.data)
    _begin_early(wanted.data)
    print(f"Dividers is at http://{HOST}:{port}/  (Ctrl-C stops it)", flush=True)
    _tell(reach)
    logging.getLogger("asyncio").setLevel(logging.CRITICAL)  # a phone that hangs up while it is being greeted: no news
    finished = serve(app, Doors(plain, secure, reach.vouched(), reach.look))
    scheduling.close()
    large_plans.close()
    if not finished:  # a thread that goes on would keep the program from ending; what it hasn't written whole isn't written
        logging.shutdown()
        os._exit(0)
    return 0


def _begin_early(data: Path) -> None:
    """Work out the schedule of the job that was changed last: that is what will be looked at."""
    with closing(open_data(data)) as connection:
        latest = next(iter(job_list.list_jobs(connection)), None)
        if latest:
            document = editing.open_job(connection, latest.id).revision.document
            scheduling.begin_early(latest.id, evidence.informed(connection, document))


def _require_passphrase(data: Path) -> None:
    with closing(open_data(data)) as connection:
        if not has_passphrase(connection):
            raise BadInput(
                "Dividers isn't shared without a passphrase. Set one with: dividers passphrase, or at Phones on its page."
            )


def _tell(reach: Reach) -> None:
    """Say the address to give to phones, with its code to be read by a camera."""
    if not reach.address:
        return
    import segno

    first = reach.address
    print(f"In this network Dividers is at {reach.address}  Make links for phones at Phones.", flush=True)
    if reach.authority:
        first = f"http://{reach.names[0]}:{reach.app.config['PLAIN_PORT']}/trust"
        print(f"A phone trusts it once, at {first}  Its fingerprint there must be\n{reach.authority.fingerprint}", flush=True)
        for name in reach.authority.uncovered(reach.names):
            print(
                f"Phones will not trust {name}: the authority was made before it had that name. See docs/phones.md.", flush=True
            )
    segno.make(first, error="l").terminal(compact=True)
