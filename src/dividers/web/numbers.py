"""Numbers in addresses and forms: read in one place, so that none is too big for what comes after."""

from typing import TypeVar

from flask import Flask
from werkzeug.datastructures import MultiDict
from werkzeug.routing import IntegerConverter

from dividers.core.base.whole import whole

Usual = TypeVar("Usual", int, None)


class Id(IntegerConverter):
    """A number in an address; one that can't be of anything finds nothing."""

    regex = r"[0-9]{1,9}"


def asked(values: "MultiDict[str, str]", name: str, usual: Usual) -> int | Usual:
    """A whole number of a form or an address; the usual one where none is given, or none that can be meant."""
    found = whole(values.get(name, ""))
    return usual if found is None else found


def register(app: Flask) -> None:
    """Must come before any address is made."""
    app.url_map.converters["int"] = Id
