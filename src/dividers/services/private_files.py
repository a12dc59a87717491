"""Files that are their owner's alone, written whole or not at all."""

import os
import secrets
from pathlib import Path


def put_private(path: Path, content: bytes) -> None:
    """Write a file that nobody else may read. It holds what it held before, or all of the content, whenever the machine stops. Raises OSError."""
    made = path.with_name(f"{path.name}.{secrets.token_hex(4)}.new")
    handle = os.open(made, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
            file.flush()
            os.fsync(file.fileno())
        made.replace(path)
        _sync(path.parent)
    except OSError:
        made.unlink(missing_ok=True)
        raise


def _sync(folder: Path) -> None:
    """Have the system write down that a file is there; where it can't open folders, it does so by itself."""
    try:
        handle = os.open(folder, os.O_RDONLY)
    except OSError:
        return
    try:
        os.fsync(handle)
    finally:
        os.close(handle)
