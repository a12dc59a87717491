"""Styles, scripts and fonts, kept by the browser for good: their address carries what is in them, so a new version has a new address."""

from functools import lru_cache
from hashlib import sha256
from pathlib import Path
from typing import Any

from flask import Flask, Response, request

FOR_GOOD = "public, max-age=31536000, immutable"
NAMED_BY_VERSION = "vendor/"  # files whose names carry their version; style sheets name them too, without more


def register(app: Flask) -> None:
    folder = Path(str(app.static_folder))

    @app.url_defaults
    def by_content(endpoint: str, values: dict[str, Any]) -> None:
        name = str(values.get("filename", ""))
        if endpoint == "static" and name and not name.startswith(NAMED_BY_VERSION):
            values["v"] = content_name(folder, name)

    @app.after_request
    def keep(response: Response) -> Response:
        if request.endpoint == "static" and response.status_code in (200, 304):
            name = str((request.view_args or {}).get("filename", ""))
            if name.startswith(NAMED_BY_VERSION) or request.args.get("v") == content_name(folder, name):
                response.headers["Cache-Control"] = FOR_GOOD
        return response


def content_name(folder: Path, name: str) -> str:
    """A short name of what is in a file of the folder; "" where there is none."""
    try:
        found = (folder / name).stat()
    except OSError:
        return ""
    return _named(folder / name, found.st_mtime_ns, found.st_size)


@lru_cache(maxsize=256)
def _named(path: Path, changed_ns: int, size: int) -> str:
    return sha256(path.read_bytes()).hexdigest()[:10]
