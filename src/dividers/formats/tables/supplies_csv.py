"""Supplies as CSV: one line per item, one column per figure."""

import csv
import io
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.base.texts import counted
from dividers.core.job.document import Document
from dividers.core.job_file.supplies import KEYS, KINDS, body_from, check, shown
from dividers.formats.tables.csv_rows import read_rows
from dividers.formats.tables.survey_csv import harmless

COLUMNS = ("kind", "name", *dict.fromkeys(key.key for kind in KINDS for key in KEYS[kind]))
MOST_LINES, LONGEST_FILE = 2000, 1_000_000


@dataclass(frozen=True)
class Row:
    """A line: what it says, or what is wrong with it."""

    number: int
    kind: str
    name: str
    body: Document
    faults: tuple[str, ...] = ()


def write_supplies(items: Iterable[tuple[str, str, Mapping[str, Any]]]) -> str:
    """(kind, name, body) as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(COLUMNS)
    for kind, name, body in items:
        figures = {key: ("yes" if text == "on" else text) for key, text in shown(kind, body).items()}
        writer.writerow([kind, harmless(name), *(harmless(figures.get(key, "")) for key in COLUMNS[2:])])
    return out.getvalue()


def read_supplies(text: str) -> list[Row]:
    """Every line with its faults. Raises BadInput for what is no such table."""
    text = text.lstrip("\ufeff")
    if len(text) > LONGEST_FILE:
        raise BadInput(f"That is {len(text)} characters; at most {LONGEST_FILE} are read.", "file")
    first = text.splitlines()[0] if text.strip() else ""
    separator = max((";", "\t", ","), key=first.count)
    rows = read_rows(text, separator)
    heads = [cell.strip().lower() for cell in rows[0]] if rows else []
    if "kind" not in heads or "name" not in heads:
        raise BadInput("The first line must name the columns; kind and name must be among them.", "file")
    if len(rows) > MOST_LINES:
        raise BadInput(f"That has {counted(len(rows), 'line')}; at most {MOST_LINES} are read.", "file")
    found = []
    for number, cells in enumerate(rows[1:], 2):
        if not any(cell.strip() for cell in cells):
            continue
        row = {head: cell.strip().removeprefix("'") for head, cell in zip(heads, cells, strict=False)}
        kind, name = row.get("kind", "").lower(), row.get("name", "")
        body = body_from(kind, row) if kind in KINDS else {}
        try:
            check(kind, name, body)
            found.append(Row(number, kind, name, body))
        except BadJob as bad:
            found.append(Row(number, kind, name, body, tuple(str(fault) for fault in bad.faults)))
    return found
