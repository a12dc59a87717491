"""The line protocol of measuring devices: plain text over HTTP, one reading a line. docs/devices.md describes it.

length 2413.5 mm
air 21.3 C 55.0 %
offset 1200.0 mm -3.5 mm
"""

import re
from dataclasses import dataclass

from dividers.core.base.errors import BadInput

DEVICE_OF = {"length": "range-finder", "air": "hygrometer", "offset": "laser"}
MOST_LINES = 500
NUMBER = r"(-?[0-9]{1,7}(?:\.[0-9]{1,4})?)"
FORMS = {
    "length": re.compile(rf"length {NUMBER} mm"),
    "air": re.compile(rf"air {NUMBER} C {NUMBER} %"),
    "offset": re.compile(rf"offset {NUMBER} mm {NUMBER} mm"),
}
EXAMPLES = {"length": "length 2413.5 mm", "air": "air 21.3 C 55.0 %", "offset": "offset 1200.0 mm -3.5 mm"}


@dataclass(frozen=True)
class DeviceMessage:
    """What a device read: a length in mm; °C and percent; or how far along in mm the edge lies above (+) or below (-) the beam in mm."""

    kind: str
    first: float
    second: float | None = None

    @property
    def line(self) -> str:
        return {
            "length": f"length {self.first:.1f} mm",
            "air": f"air {self.first:.1f} C {self.second or 0:.1f} %",
            "offset": f"offset {self.first:.1f} mm {self.second or 0:.1f} mm",
        }[self.kind]


def read_lines(text: str) -> list[DeviceMessage]:
    """The readings in a message. Raises BadInput with the first line that isn't one."""
    lines = [line.strip() for line in text.splitlines() if line.strip()]
    if len(lines) > MOST_LINES:
        raise BadInput(f"At most {MOST_LINES} readings can be sent at once; these are {len(lines)}.", "lines")
    return [_read(number, line) for number, line in enumerate(lines, 1)]


def _read(number: int, line: str) -> DeviceMessage:
    kind = line.split(" ")[0]
    match = FORMS[kind].fullmatch(line) if kind in FORMS else None
    if match is None:
        wanted = EXAMPLES.get(kind) or " or ".join(EXAMPLES.values())
        raise BadInput(f"Line {number}, “{line[:40]}”, is not a reading; write {wanted}.", "lines", line)
    values = [float(value) for value in match.groups()]
    reading = DeviceMessage(kind, values[0], values[1] if len(values) > 1 else None)
    _check(number, reading)
    return reading


def _check(number: int, reading: DeviceMessage) -> None:
    if reading.kind == "length" and not 0 < reading.first <= 200_000:
        raise BadInput(
            f"Line {number}: a length of {reading.first:g} mm is not possible; allowed are more than 0 to 200000.", "lines"
        )
    if reading.kind == "air" and not (-30 <= reading.first <= 60 and 0 < (reading.second or 0) <= 100):
        raise BadInput(f"Line {number}: air of {reading.first:g} °C and {reading.second:g} % can't be.", "lines")
    if reading.kind == "offset" and not (0 <= reading.first <= 200_000 and abs(reading.second or 0) <= 2000):
        raise BadInput(f"Line {number}: an offset of {reading.second:g} mm at {reading.first:g} mm can't be.", "lines")
