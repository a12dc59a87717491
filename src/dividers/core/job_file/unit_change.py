"""Changing the units of a job file: every length stays exactly the same length."""

from dividers.core.base.lengths import usual_graduation
from dividers.core.job.document import Document
from dividers.core.job_file.job_reader import JOB


def in_units(document: Document, new_unit: str) -> Document:
    """A copy whose `units` are others and whose every length, wherever the schema has one, is still exactly the same length."""
    old_unit = document["units"]
    changed: Document = JOB.in_units(document, old_unit, new_unit)
    changed["units"] = new_unit
    if (old_unit == "in") != (new_unit == "in"):
        changed["graduation"] = usual_graduation(new_unit)
    return changed
