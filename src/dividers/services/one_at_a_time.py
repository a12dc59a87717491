"""One program at a time in a data folder: for serving, and for bringing its database up to date."""

import fcntl
import os
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

from dividers.core.base.errors import DividersError


@contextmanager
def alone(folder: Path, what: str, wait: bool) -> Iterator[None]:
    """Hold a lock of a folder, which the system lets go of when the program ends. Raises DividersError where another one holds it."""
    handle = os.open(folder / f".{what}.lock", os.O_RDWR | os.O_CREAT, 0o600)
    try:
        try:
            fcntl.flock(handle, fcntl.LOCK_EX if wait else fcntl.LOCK_EX | fcntl.LOCK_NB)
        except BlockingIOError as fault:
            raise DividersError(
                f"Dividers is running already with the data in {folder}. Use that one, stop it first, or choose other data with --data."
            ) from fault
        yield
    finally:
        os.close(handle)
