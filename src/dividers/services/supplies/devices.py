"""Readings from devices: let in by a token, kept, and taken where somebody is waiting for them."""

import hmac
import secrets
import sqlite3
from datetime import datetime, timedelta

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.lengths import exact, read_off
from dividers.devices import stand_ins
from dividers.devices.protocol import DEVICE_OF, DeviceMessage, read_lines
from dividers.services import clock
from dividers.services.access.letting_in import check_tries, note_try
from dividers.services.hashing import hashed
from dividers.services.jobs.editing import open_job
from dividers.services.stations import survey
from dividers.store import devices
from dividers.store.database import transaction

list_readings = devices.list_readings

FRESH_MIN = 2  # a reading older than this isn't typed into a field any more
AIR_FRESH_MIN = 30
MOST_SEED = 2**31


def has_token(connection: sqlite3.Connection) -> bool:
    """Whether a token for devices was made; it is kept hashed, and shown once."""
    return devices.find_token(connection) is not None


def renew(connection: sqlite3.Connection) -> str:
    """Make a token; a device that sends the one before is refused from now on."""
    made = secrets.token_hex(16)  # no dash in front, which a command line would take for an option
    with transaction(connection):
        devices.put_token(connection, hashed(made), clock.now())
    return made


def receive(connection: sqlite3.Connection, given: str, text: str, address: str = "") -> int:
    """Take a device's message; how many readings it held. Raises NotFound for a wrong token, TooMany after many, BadInput for what is no reading."""
    check_tries(connection, "device", address)
    known = devices.find_token(connection)
    if known is None or not hmac.compare_digest(known, hashed(given)):
        note_try(connection, "device", address, False)
        raise NotFound("This token is not known. Make a new one at Devices.")
    readings = read_lines(text)
    keep(connection, readings)
    return len(readings)


def keep(connection: sqlite3.Connection, readings: list[DeviceMessage]) -> None:
    with transaction(connection):
        for reading in readings:
            devices.insert_reading(
                connection, DEVICE_OF[reading.kind], reading.kind, reading.first, reading.second, clock.now()
            )


def next_length(connection: sqlite3.Connection, job_id: int) -> tuple[str, str] | None:
    """The next length that nobody has taken, as the job writes it and in mm; None where there is none that is fresh."""
    job = open_job(connection, job_id).job
    with transaction(connection):
        found = devices.take_readings(connection, "length", _since(FRESH_MIN), clock.now(), 1)
    if not found:
        return None
    return read_off(exact(found[0].first), job.graduation).text, f"{found[0].first:.1f} mm"


def air(connection: sqlite3.Connection) -> tuple[float, float, int] | None:
    """The air as a thermo-hygrometer sent it lately: °C, percent, how many minutes ago; None where none did."""
    found = devices.last_reading(connection, "air", _since(AIR_FRESH_MIN))
    if not found:
        return None
    return found.first, found.second or 0.0, int((clock.moment() - datetime.fromisoformat(found.at)).total_seconds() // 60)


def take_offsets(connection: sqlite3.Connection, job_id: int, piece: str, panel: int) -> int:
    """Put the laser's fresh offsets into a panel's survey as level readings; how many. Raises BadInput where there are none."""
    job = open_job(connection, job_id).job
    with transaction(connection):
        found = devices.take_readings(connection, "offset", _since(AIR_FRESH_MIN), clock.now(), 40)
    if not found:
        raise BadInput("The laser has sent nothing in the last half hour. Sweep it first, at Devices.", "laser")
    for reading in found:
        up = reading.second or 0.0
        what = "up" if up >= 0 else "top"
        length, place = (read_off(exact(mm), job.graduation).text for mm in (abs(up), reading.first))
        survey.add(connection, job_id, None, piece, survey.NewReading(what, length, place, panel, "laser"))
    return len(found)


def pretend(connection: sqlite3.Connection, device: str, true_mm: float) -> list[DeviceMessage]:
    """Have a stand-in send something, as from the page. Raises BadInput."""
    seed = secrets.randbelow(MOST_SEED)
    if device == "range-finder":
        readings = [stand_ins.range_finder(true_mm, seed)]
    elif device == "hygrometer":
        readings = [stand_ins.hygrometer(clock.on_site(clock.moment()))]
    elif device == "laser":
        readings = list(stand_ins.laser(true_mm, seed))
    else:
        raise BadInput("There is no such stand-in; choose range-finder, hygrometer or laser.", "device", device)
    keep(connection, readings)
    return readings


def _since(minutes: int) -> str:
    return (clock.moment() - timedelta(minutes=minutes)).isoformat(timespec="seconds")
