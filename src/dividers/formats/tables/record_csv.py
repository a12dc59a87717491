"""The steps of a job's record as CSV: one line a step."""

import csv
import io
from collections.abc import Iterable, Sequence

from dividers.formats.tables.survey_csv import harmless

COLUMNS = (
    "piece", "what", "state", "planned start", "planned min", "started", "ended", "worked min", "later than planned min", "painter",
    "reason",
)  # fmt: skip


def write_record(rows: Iterable[Sequence[object]]) -> str:
    """Rows in the order of COLUMNS as CSV; nothing in them can run as a formula."""
    return write_rows(COLUMNS, rows)


def write_rows(columns: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    """A heading and rows as CSV; nothing in them can run as a formula."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(columns)
    for row in rows:
        writer.writerow(["" if value is None else harmless(value) if isinstance(value, str) else value for value in row])
    return out.getvalue()
