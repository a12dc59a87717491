"""Which tools for carrying lines there are: asked once, for what is begun from then on and for what Marks advises."""

import sqlite3
from collections.abc import Collection

from dividers.core.job.method import LASER
from dividers.store import tools
from dividers.store.database import transaction

LEVEL_TOOL, LASER_TOOL, CHALK, POLE, EDGE = TOOLS = ("level", "laser", "chalk line", "story pole", "straightedge")
CARRIED_KINDS = ("wall", "ceiling")  # surfaces on which a laser's line is at home


def known(connection: sqlite3.Connection) -> dict[str, bool]:
    """Whether each tool is there; empty while nobody was asked."""
    return {name: there for name, there in tools.find_tools(connection).items() if name in TOOLS}


def keep(connection: sqlite3.Connection, there: Collection[str]) -> None:
    """Keep which tools there are: these, and no others."""
    with transaction(connection):
        tools.put_tools(connection, {name: name in there for name in TOOLS})


def usual_way(connection: sqlite3.Connection, surface: str) -> dict[str, str]:
    """The part of a method that says how lines are carried on a new piece of a surface: by the laser, where there is one."""
    return {"mark_way": LASER} if surface in CARRIED_KINDS and known(connection).get(LASER_TOOL) else {}


def lacking(connection: sqlite3.Connection, needed: Collection[str]) -> str:
    """What is said of a way of marking of whose tools, any one of which will do, none is there; "" where one is, or nobody was asked."""
    had = known(connection)
    if not had or not needed or any(had.get(name) for name in needed):
        return ""
    return f"you have no {' or '.join(needed)}"
