"""Cases of what is waited for at the wall, for the program and for the phone's script alike. Times are in UTC, of the planned day or days before it (-7d 08:00)."""

import json
from datetime import UTC, datetime, timedelta
from pathlib import Path

CASES = json.loads((Path(__file__).parent / "cases/waits.json").read_text())
NAMES = [case["name"] for case in CASES]


DAY = datetime(2027, 3, 8, tzinfo=UTC)


def moment(clock):
    """A case's time as ISO text."""
    days, _, at = clock.rpartition(" ")
    hours, minutes = map(int, at.split(":"))
    return (DAY + timedelta(days=int(days.rstrip("d") or 0), hours=hours, minutes=minutes)).isoformat()


def lags_in_airs(case):
    """A case's waits as the phone holds them: minutes, or [from in ms, minutes] for every air."""
    airs = case.get("airs", ())
    found = []
    for number, (first, then, least, most, *rest) in enumerate(case["lags"]):
        amounts = [
            [None, least, most],
            *([datetime.fromisoformat(moment(at)).timestamp() * 1000, *its[number]] for at, its in airs),
        ]
        both = [least, most] if not airs else [
            [[start, amount[which]] for start, *amount in amounts] if amounts[0][which + 1] is not None else None for which in (0, 1)
        ]  # fmt: skip
        found.append([first, then, *both, *rest])
    return found


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
