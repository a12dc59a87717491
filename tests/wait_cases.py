"""Cases of what is waited for at the wall, for the program and for the phone's script alike. Times are of one day, in UTC."""

import json
from pathlib import Path

CASES = json.loads((Path(__file__).parent / "cases/waits.json").read_text())
NAMES = [case["name"] for case in CASES]


def moment(clock):
    return f"2027-03-01T{clock}:00+00:00"


def keys_of(case):
    """The tasks of a case, in the order in which its waits name them."""
    return list(dict.fromkeys(key for lag in case["lags"] for key in lag[:2]))


def events_of(case):
    """The entries as a phone sends them; an undo names the number of what it takes back."""
    return [
        {
            "kind": kind,
            "task": task,
            "at": moment(at),
            "painter": 1,
            "uid": f"e{number}",
            "body": {"of": f"e{of[0]}"} if of else {"reason": "not needed"} if kind == "skip" else {},
        }
        for number, (kind, task, at, *of) in enumerate(case["events"])
    ]
