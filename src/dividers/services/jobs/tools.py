"""Which tools for carrying lines there are: asked once, for what is begun from then on and for what Marks advises."""

import sqlite3
from collections.abc import Collection

from dividers.core.job.method import LASER
from dividers.store import tools
from dividers.store.database import transaction

LEVEL_TOOL, LASER_TOOL, CHALK, POLE, EDGE = TOOLS = ("level", "laser", "chalk line", "story pole", "straightedge")
LONGER_THAN = {"in": "96", "cm": "240", "mm": "2400"}  # a long straightedge (common practice, no source)
CARRIED_KINDS = ("wall", "ceiling")  # surfaces on which a laser's line is at home


def known(connection: sqlite3.Connection) -> dict[str, bool]:
    """Whether each tool is there; empty while nobody was asked."""
    return {name: there for name, there in tools.find_tools(connection).items() if name in TOOLS}


def keep(connection: sqlite3.Connection, there: Collection[str]) -> None:
    """Keep which tools there are: these, and no others."""
    with transaction(connection):
        tools.put_tools(connection, {name: name in there for name in TOOLS})


def usual_way(connection: sqlite3.Connection, surface: str, units: str) -> dict[str, str]:
    """The part of a method that says how lines are carried on a new piece of a surface: by the laser, where there is one; with a mark in the
    middle of lines longer than a straightedge, where there is no chalk line either."""
    had = known(connection)
    if surface in CARRIED_KINDS and had.get(LASER_TOOL):
        return {"mark_way": LASER}
    return {"third_mark": LONGER_THAN[units]} if had.get(EDGE) and not had.get(CHALK) else {}


def lacking(connection: sqlite3.Connection, needed: Collection[str]) -> str:
    """What is said of a way of marking of whose tools, any one of which will do, none is there; "" where one is, or nobody was asked."""
    had = known(connection)
    if not had or not needed or any(had.get(name) for name in needed):
        return ""
    return f"you have no {' or '.join(needed)}"
