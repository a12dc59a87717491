"""The fields of a test patch as CSV: how each was done, how it came out, how ragged its edge is on a photo."""

from collections.abc import Iterable, Sequence

from dividers.formats.tables.record_csv import write_rows

COLUMNS = ("field", "tape", "seal", "paint", "pulled after min", "edge", "lift", "ragged mm", "note")


def write_patch(rows: Iterable[Sequence[object]]) -> str:
    """Rows in the order of COLUMNS as CSV; nothing in them can run as a formula."""
    return write_rows(COLUMNS, rows)
