"""What a step at the wall shows: what to tick off, which cells and strips, which way to brush."""

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.order.schedule import start_of
from dividers.core.order.tasks import work_of
from dividers.core.plan.plan import plan_job
from dividers.core.wall.steps import MOST_TICKS, brush_way, cautions_of, step_of, strips_of_batch


def planned(job):
    plan = plan_job(read_job(job))
    return plan.pieces[0], work_of(plan, start_of(plan.job))


def steps(job):
    piece, work = planned(job)
    choices = work.choices[piece.piece.key]
    return piece, [step_of(piece, task, choices) for task in work.tasks]


def of_kind(found, kind):
    return [step for step in found if step.task.kind == kind]


def test_marks_come_line_by_line_in_working_order():
    piece, found = steps(wall(pattern={"count": 4}))
    (step,) = of_kind(found, "mark")
    marks = [piece.marks[tick.place[0]] for tick in step.ticks]
    assert sorted(tick.item for tick in step.ticks) == sorted(f"m{n}" for n in range(1, len(piece.marks) + 1))
    for line in dict.fromkeys(mark.line for mark in marks):
        assert [m.order for m in marks if m.line == line] == list(range(1, sum(m.line == line for m in marks) + 1))
        places = [n for n, m in enumerate(marks) if m.line == line]
        assert places == list(range(places[0], places[-1] + 1))


def test_what_is_taped_by_eye_asks_for_no_mark_and_erases_none():
    piece, found = steps(wall(pattern={"count": 4}, method={"marks": "by-eye"}))
    assert piece.marks  # readings for whoever wants one
    assert not of_kind(found, "mark") and not of_kind(found, "erase")
    assert of_kind(steps(wall(pattern={"count": 4}, method={"marks": "tape-side"}))[1], "erase")


def test_strips_are_laid_in_order_and_pulled_in_reverse():
    _, found = steps(wall(method={"pull": "dry"}))
    (tape,), (pull,) = of_kind(found, "tape"), of_kind(found, "pull")
    assert [tick.item for tick in tape.ticks] == [f"s{n}" for n in range(1, len(tape.ticks) + 1)]
    assert [tick.item for tick in pull.ticks] == [tick.item for tick in reversed(tape.ticks)]


def test_copies_are_ticked_off_each_for_itself():
    piece, found = steps(wall(piece={"copies": 3}, pattern={"count": 3}))
    (tape,) = of_kind(found, "tape")
    per_copy = sum(len(strips) for strips in piece.taping.chosen.rounds[0].strips)
    assert len({tick.item for tick in tape.ticks}) == len(tape.ticks) == 3 * per_copy
    assert [tick.copy for tick in tape.ticks] == sorted(tick.copy for tick in tape.ticks)
    assert tape.ticks[per_copy].item == "s1.2"


def test_very_many_are_ticked_off_in_groups_that_hold_them_all():
    _, found = steps(wall(piece={"copies": 70}, pattern={"count": 7}))
    (tape,) = of_kind(found, "tape")
    assert len(tape.ticks) <= 100
    assert sum(len(tick.keys) for tick in tape.ticks) > MOST_TICKS
    assert tape.ticks[0].item.startswith("s1-")


def test_a_batch_has_the_strips_that_face_what_it_paints():
    job = wall(panel={"width": "240"}, pattern={"count": 12}, method={"pull": "wet"})
    job["pieces"][0]["method"]["rates"] = {"painted_m2_per_h": 30}
    piece, work = planned(job)
    choice = work.choices["piece-1"][0]
    assert len(choice.batches) > 1
    each = piece.taping.chosen.rounds[0]
    parts = [strips_of_batch(piece, choice, batch) for batch in range(1, len(choice.batches) + 1)]
    perimeter = {(0, n) for n in range(len(each.strips[0])) if each.strips[0].perimeter[n]}
    assert set.union(*parts) == {(0, n) for n in range(len(each.strips[0]))}
    for one in range(len(parts)):
        for other in range(one):
            assert parts[one] & parts[other] <= perimeter  # only tape along the outer edge is cut between batches
    first = next(step for step in steps(job)[1] if step.task.kind == "coat" and step.task.batch == 1 and step.task.coat == 1)
    assert set(first.needs) == {f"s{n + 1}" for _, n in parts[0]}


@pytest.mark.parametrize(
    ("direction", "way"), [("vertical", "up and down"), ("horizontal", "from side to side"), (45, "along the slant")]
)
def test_paint_is_laid_off_along_the_tape(direction, way):
    piece, _ = planned(wall(pattern={"direction": direction, "count": 8}))
    assert brush_way(piece, 1, None) == way


def test_cautions_are_those_of_the_work():
    job = wall(method={"prep": ["sand"], "paint": {"ink": "enamel"}})
    job["products"]["enamel"] = {"kind": "paint", "binder": "oil"}
    piece, work = planned(job)

    def told(kind):
        return " ".join(cautions_of(piece, next(task for task in work.tasks if task.kind == kind)))

    assert "three points of contact" in told("mark")
    assert "may contain lead" in told("prep")
    assert "new blade" in told("tape") and "electrician" in told("tape")
    assert "no flames" in told("coat") and "follow the label" in told("coat")
    assert "lead" not in told("coat")
