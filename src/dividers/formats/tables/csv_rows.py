"""The one reader of tables from outside: line ends of every age, cells of a sensible size."""

import csv
import io

from dividers.core.base.errors import BadInput


def read_rows(text: str, separator: str) -> list[list[str]]:
    """The cells of every line. Raises BadInput for what is no table."""
    lines = text.replace("\r\n", "\n").replace("\r", "\n").replace("\0", "")
    try:
        return list(csv.reader(io.StringIO(lines), delimiter=separator))
    except csv.Error as fault:  # a cell of more than 131,072 letters
        raise BadInput("This table can't be read: one of its cells never ends. Look at its quotation marks.", "file") from fault
