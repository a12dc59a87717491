"""Marks, strips, cells and schedule of a plan as CSV: one line each, nothing in them can run as a formula."""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from typing import Any

from dividers.formats.tables.survey_csv import harmless


def marks_csv(piece: Mapping[str, Any]) -> str:
    columns = ("mark", "panel", "line", "order", "from", "reading", "x mm", "y mm", "error mm")
    rows = (
        (
            m["id"][1:],
            m["panel"],
            m["line"],
            m["order"],
            m["from"],
            m["reading"],
            f"{m['x']:.2f}",
            f"{m['y']:.2f}",
            f"{m['error']:.3f}",
        )
        for m in piece["marks"]
    )
    return _table(columns, rows)


def strips_csv(piece: Mapping[str, Any]) -> str:
    columns = ("strip", "round", "panel", "kind", "side", "tape", "length mm", "end angles", "lies over")
    rows = (
        (
            s["id"][1:], each["number"], s["panel"], s["kind"], s["side"], s["tape"], f"{s['length']:.1f}",
            " ".join(f"{angle:.1f}" for angle in s["ends"]), " ".join(key[1:] for key in s["after"]),
        )
        for each in piece["rounds"]
        for s in each["strips"]
    )  # fmt: skip
    return _table(columns, rows)


def cells_csv(piece: Mapping[str, Any]) -> str:
    columns = ("cell", "panel", "colour", "round", "area mm2")
    rows = (
        (c["id"][1:], c["panel"], c["color"] or "base", c["round"] or "", f"{_area(c['rings']):.1f}") for c in piece["cells"]
    )
    return _table(columns, rows)


def schedule_csv(schedule: Mapping[str, Any]) -> str:
    columns = ("start", "end", "piece", "what", "minutes", "painter", "earliest", "latest")
    rows = (
        (t["start"], t["end"], t["piece"], t["what"], t["minutes"], t["painter"], t["earliest"], t["latest"])
        for t in schedule["tasks"]
    )
    return _table(columns, rows)


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
