"""One database connection a request, and the folder of photos beside the database."""

import sqlite3
from pathlib import Path

from flask import Flask, current_app, g

from dividers.services.opening import connect


def connection() -> sqlite3.Connection:
    """This request's connection."""
    if "connection" not in g:
        g.connection = connect(current_app.config["DATABASE"])
    opened: sqlite3.Connection = g.connection
    return opened


def photo_folder() -> Path:
    return Path(current_app.config["DATABASE"]).parent / "photos"


def _close(_: BaseException | None) -> None:
    if opened := g.pop("connection", None):
        opened.close()


def register(app: Flask) -> None:
    app.teardown_appcontext(_close)
