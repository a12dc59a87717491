"""Sends a stand-in's readings over HTTP, as a real device would."""

import sys
import time
from collections.abc import Iterator
from datetime import datetime, timedelta
from urllib.error import HTTPError, URLError
from urllib.request import Request, urlopen

from dividers.devices import stand_ins
from dividers.devices.protocol import DeviceMessage

WAIT_S = 10.0


def send(address: str, token: str, readings: list[DeviceMessage]) -> str:
    """Post readings; what was answered. Raises URLError where nothing answers, HTTPError where they aren't taken."""
    body = "\n".join(reading.line for reading in readings).encode()
    headers = {"Authorization": f"Bearer {token}", "Content-Type": "text/plain; charset=utf-8"}
    with urlopen(Request(address, body, headers), timeout=WAIT_S) as answer:
        return str(answer.read().decode()).strip()


def send_all(device: str, address: str, token: str, length_mm: float, many: int, every_s: float, seed: int) -> int:
    """Send so many readings one after the other, saying each; 0 where all were taken, else 1."""
    for turn, readings in enumerate(_messages(device, length_mm, many, seed)):
        if turn:
            time.sleep(every_s)
        try:
            answer = send(address, token, readings)
        except HTTPError as fault:
            print(fault.read().decode().strip(), file=sys.stderr)
            return 1
        except (URLError, OSError) as fault:
            print(f"{address} doesn't answer ({fault}). Is Dividers running?", file=sys.stderr)
            return 1
        print(f"{readings[0].line}{f' and {len(readings) - 1} more' if len(readings) > 1 else ''}: {answer}", flush=True)
    return 0


def _messages(device: str, length_mm: float, many: int, seed: int) -> Iterator[list[DeviceMessage]]:
    begun = datetime.now()
    for turn in range(many):
        if device == "range-finder":
            yield [stand_ins.range_finder(length_mm, seed + turn)]
        elif device == "laser":
            yield list(stand_ins.laser(length_mm, seed + turn))
        else:  # each message an hour further through the day
            yield [stand_ins.hygrometer(begun + timedelta(hours=turn))]
