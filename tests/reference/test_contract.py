"""The contract's rules 1, 2, 4 and 5 on generated jobs of every pattern, checked by another method than the engine's."""

import copy

import plan_checker
import pytest
from budget import ANEW, examples
from hypothesis import assume, given
from jobs import any_jobs, stripe_jobs, surveyed_jobs, wall

from dividers.core.base.errors import BadJob
from dividers.core.base.lengths import read_length
from dividers.core.job_file.job_reader import dump_job, parse_job, read_job
from dividers.core.patterns import PATTERNS
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document, plan_text

MOST_CELLS = 1000 if ANEW else 120  # checking takes far longer than planning


@examples(20)
@given(stripe_jobs())
def test_striped_plans_keep_the_contract(document):
    check(document)


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.key)
def test_plans_of_every_pattern_keep_the_contract(pattern):
    @examples(6)
    @given(any_jobs(pattern))
    def keeps_it(document):
        check(document)

    keeps_it()


@pytest.mark.parametrize("pattern", PATTERNS, ids=lambda pattern: pattern.key)
def test_plans_on_walls_out_of_square_keep_the_contract_whatever_the_way_out(pattern):
    @examples(3)
    @given(surveyed_jobs(pattern))
    def keeps_it(document):
        check(document)

    keeps_it()


@pytest.mark.parametrize("level", [(), ("1485.9 mm", "1491.6474 mm", "1497.3949 mm")], ids=["slanting", "level"])
def test_squares_as_wide_as_the_tape_have_tape_along_every_side_of_a_wall_out_of_square(level):
    """On a square of one tape's width lie two strips across each other: neither reaches the other's line to the last hair. Where edges taken
    for one line lie a hair beside it, the strips along them stay."""
    survey = {
        "widths": ["838.2788 mm", "838.2197 mm", "838.2 mm"],
        "heights": ["2971.8 mm", "2977.5474 mm", "2983.2949 mm"],
        "diagonals": ["3087.7459 mm", "3098.8107 mm"],
        "level": [{"at": at, "up": up} for at, up in zip(("0", "419.1394 mm", "838.2788 mm"), level, strict=False)],
    }
    document = wall(
        panel={"width": "33", "height": "117", "survey": survey},
        pattern={"kind": "checker", "count": None, "direction": None, "colors": ["ink", None], "spacer": True},
        method={"taping": "pieces", "fit": "follow"},
    )
    document["products"]["delicate"]["width"] = "55 mm"
    plan_checker.check_passes(plan_document(plan_job(read_job(document)))["pieces"][0])


@pytest.mark.parametrize(("dots", "marks"), [(True, 7), (False, 0)])
def test_studs_may_be_a_plain_yes_or_no(dots, marks):
    pattern = {"kind": "diamonds", "direction": None, "count": None, "columns": 2, "rows": 1, "studs": dots}
    plan = plan_job(read_job(wall(panel={"width": "40", "height": "20"}, pattern=pattern))).pieces[0]
    assert len(plan.layouts[0].tiles.dots) == marks


def check(document):
    job = read_job(document)
    try:
        [piece] = plan_document(plan_job(job))["pieces"]
    except BadJob:
        assume(False)
    assume(len(piece["cells"]) <= MOST_CELLS)
    plan_checker.check_partition(piece)
    folds = document["pieces"][0]["surface"].get("folds", [])
    plan_checker.check_passes(piece, [tuple(fold[at : at + 2]) for fold in folds for at in (0, 2)])
    plan_checker.check_order(piece)
    plan_checker.check_covers(piece)
    plan_checker.check_marks(piece, job.graduation.step_mm, lambda reading: read_length(reading, job.units).mm)


@examples(12)
@given(stripe_jobs() | any_jobs())
def test_the_same_job_gives_the_same_plan_byte_for_byte(document):
    try:
        first = plan_text(plan_job(read_job(document)))
    except BadJob:
        assume(False)
    assert plan_text(plan_job(read_job(copy.deepcopy(document)))) == first
    assert plan_text(plan_job(parse_job(dump_job(read_job(document))))) == first
