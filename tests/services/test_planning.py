"""A plan stands alone: whatever was planned before it in the same process, it is the one that a fresh process makes."""

import copy
import json
import re

import pytest
from jobs import wall

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.job_file import pieces_reader
from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.plan import Plan, plan_job
from dividers.core.plan.plan_document import plan_document
from dividers.services.jobs.planning import job_of, piece_plan


def measured():
    """A wall that was measured at several places and is followed, with a second layer spaced by a tape."""
    readings = {
        "widths": ["119", "119 7/8", "119"],
        "heights": ["96", "96 3/8"],
        "diagonals": ["152 7/8", "153 7/8"],
    }
    document = wall(panel={"width": "119", "height": "96", "survey": readings}, pattern={"count": 7}, method={"fit": "follow"})
    document["graduation"] = "1/64 in"
    return document


def leaves(value, path=()):
    if isinstance(value, dict):
        return [leaf for key, each in value.items() for leaf in leaves(each, (*path, key))]
    if isinstance(value, list):
        return [leaf for number, each in enumerate(value) for leaf in leaves(each, (*path, number))]
    return [path]


def with_value(document, path, value):
    changed = copy.deepcopy(document)
    at = changed
    for key in path[:-1]:
        at = at[key]
    at[path[-1]] = value
    return changed


def another(document, path):
    """The document with another value there that a job file may have; None where there is none."""
    at = document
    for key in path:
        at = at[key]
    if isinstance(at, bool):
        return with_value(document, path, not at)
    if isinstance(at, int):
        return with_value(document, path, at + 1)
    if re.fullmatch(r"[0-9]+( [0-9]+/[0-9]+)?", str(at)):
        return with_value(document, path, str(int(str(at).split()[0]) + 1))
    if re.fullmatch(r"#[0-9a-f]{6}", str(at)):
        return with_value(document, path, "#135790")
    try:
        read_job(with_value(document, path, "?"))
    except BadJob as bad:
        allowed = re.search(r"(?:Choose one of: |allowed are )([\w, /.-]+)", bad.faults[0].message)
        others = [each for each in (allowed[1].rstrip(".").split(", ") if allowed else []) if each != at]
        return with_value(document, path, others[-1]) if others else None
    return with_value(document, path, "?")


def written(plan):
    return json.dumps(plan_document(Plan(plan.job, (plan,))))


def as_in_a_fresh_process():
    for remembered in (pieces_reader.read_piece, pieces_reader.shape_piece, job_of):
        remembered.cache_clear()


def test_every_key_changed_by_itself_gives_the_plan_that_a_fresh_process_gives():
    first = measured()
    first["pieces"][0]["id"] = "wall"
    changed = [found for leaf in leaves(first) if (found := another(first, leaf)) is not None]
    compared = 0
    for document in [*changed, with_value(first, ("graduation",), "1/2 in")]:
        as_in_a_fresh_process()
        try:
            alone = plan_job(read_job(document)).pieces[0]
        except (BadInput, BadJob):
            continue
        as_in_a_fresh_process()
        piece_plan(json.dumps(first), "wall")
        assert written(piece_plan(json.dumps(document), alone.piece.key)) == written(alone)
        compared += 1
    assert compared > 20


def test_what_is_wrong_with_a_piece_is_said_each_time_and_of_the_piece_that_has_it():
    first = measured()
    second = json.loads(json.dumps(first["pieces"][0])) | {"id": "other", "name": "other", "strange": 1}
    second["pattern"]["count"] = "many"
    both = first | {"pieces": [first["pieces"][0], second]}

    def faults(job):
        with pytest.raises(BadJob) as bad:
            read_job(job)
        return [fault.path for fault in bad.value.faults]

    assert faults(both) == faults(both) == ["pieces.1.pattern.count"]
    assert faults(both | {"pieces": both["pieces"][::-1]}) == ["pieces.0.pattern.count"]
    second["pattern"]["count"] = 5
    for job, path in (
        (both, "pieces.1.strange"),
        (both, "pieces.1.strange"),
        (both | {"pieces": both["pieces"][::-1]}, "pieces.0.strange"),
    ):
        assert [warning.path for warning in read_job(job).warnings] == [path]
