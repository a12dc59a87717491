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
    except OSError:
        made.unlink(missing_ok=True)
        raise
