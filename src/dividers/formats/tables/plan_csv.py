"""Marks, strips, cells and schedule of a plan as CSV: one line each. Numbers are numbers, times are times, no text can run as a formula."""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from dividers.formats.tables.survey_csv import harmless


def marks_csv(piece: Mapping[str, Any]) -> str:
    columns = ("mark", "panel", "line", "order", "from", "reading", "x mm", "y mm", "error mm", "layer")
    rows = (
        (
            int(m["id"][1:]),
            m["panel"],
            m["line"],
            m["order"],
            m["from"],
            m["reading"],
            number(m["x"], 2),
            number(m["y"], 2),
            number(m["error"], 3),
            m["layer"],
        )
        for m in piece["marks"]
    )
    return _table(columns, rows)


def strips_csv(piece: Mapping[str, Any]) -> str:
    columns = (
        "strip",
        "round",
        "panel",
        "kind",
        "side",
        "tape",
        "length mm",
        "first end angle",
        "last end angle",
        "lies over",
        "layer",
    )
    rows = (
        (
            int(s["id"][1:]), each["number"], s["panel"], s["kind"], s["side"], s["tape"], number(s["length"], 1),
            *(number(angle, 1) for angle in s["ends"]), " ".join(key[1:] for key in s["after"]), each["layer"],
        )
        for each in piece["rounds"]
        for s in each["strips"]
    )  # fmt: skip
    return _table(columns, rows)


def cells_csv(piece: Mapping[str, Any]) -> str:
    columns = ("cell", "panel", "colour", "round", "area mm2", "layer")
    rows = (
        (int(c["id"][1:]), c["panel"], c["color"] or "base", c["round"] or "", number(_area(c["rings"]), 1), c["layer"])
        for c in piece["cells"]
    )
    return _table(columns, rows)


def schedule_csv(schedule: Mapping[str, Any]) -> str:
    columns = ("start", "end", "piece", "what", "minutes", "painter", "earliest", "latest")
    rows = (
        (
            _time(t["start"]), _time(t["end"]), t["piece"], t["what"], t["minutes"], t["painter"], _time(t["earliest"]),
            _time(t["latest"]),
        )
        for t in schedule["tasks"]
    )  # fmt: skip
    return _table(columns, rows)


def number(value: float, digits: int) -> float:
    """A number that a spreadsheet takes as one: written bare, never as text; no minus before nothing."""
    return round(value, digits) + 0.0


def _time(iso: str) -> str:
    """A moment as spreadsheets read it: a date, a space and a time."""
    return iso.replace("T", " ")


def _area(rings: Sequence[Sequence[Sequence[float]]]) -> float:
    """Outer ring less holes."""
    sizes = [abs(sum(a[0] * b[1] - b[0] * a[1] for a, b in zip(ring, [*ring[1:], ring[0]], strict=True))) / 2 for ring in rings]
    return sizes[0] - sum(sizes[1:])


def _table(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow([harmless(value) if isinstance(value, str) else value for value in row])
    return out.getvalue()
