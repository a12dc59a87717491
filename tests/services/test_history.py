"""The states of a job: when, who, what changed in a sentence; and bringing one back."""

import copy

import pytest
from jobs import wall

from dividers.core.base.errors import NotFound
from dividers.core.job.changes_said import changes_said
from dividers.services.actor import act_as
from dividers.services.jobs import editing, history
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job


@pytest.fixture
def as_nobody():
    yield
    act_as("")


def test_every_state_says_who_and_what(connection, as_nobody):
    job_id = add_job(connection, wall(), "New job")
    act_as("Ines")
    editing.change(connection, job_id, 1, "Pattern changed", lambda d: {**d, "units": "mm"})
    act_as("")
    editing.add_piece(connection, job_id, 2, wall()["pieces"][0] | {"name": "Door"})
    latest, second, first = history.states(connection, job_id)
    assert (first.revision.made_by, first.changed) == ("", "")
    assert second.revision.made_by == "Ines" and second.changed.startswith("Units: mm instead of ")
    assert latest.in_force and latest.changed == "Door: added."
    history.bring_back(connection, job_id, 1)
    found = history.states(connection, job_id)
    assert [state.revision.number for state in found] == [4, 3, 2, 1]
    assert found[0].revision.label == "Brought back state 1" and found[0].revision.document == first.revision.document
    assert "Door: removed" in found[0].changed
    history.bring_back(connection, job_id, 1)  # pressed twice
    assert len(history.states(connection, job_id)) == 4
    assert editing.undo(connection, job_id) and history.states(connection, job_id)[1].in_force
    with pytest.raises(NotFound):
        history.bring_back(connection, job_id, 9)


SAID = [
    (lambda d: d["pieces"][0]["surface"]["panels"][0].update(width="90"), "Booth front, awning boards width: 90 instead of 86 1/2."),
    (lambda d: d["palette"]["madder"].update(hex="#000000"), "Curtain madder, hex: #000000 instead of #9e3b32."),
    (lambda d: d["pieces"].pop(1), "Prop trunk drawer: removed."),
    (lambda d: d["pieces"].reverse(), "The order of pieces: changed."),
    (lambda d: d["crew"].pop("painters"), "Crew painters: removed (it was 1)."),
    (lambda d: d["pieces"][0]["pattern"].update(colors=["night", None]), "Booth front, pattern colors 1: night instead of madder."),
    (lambda d: None, ""),
    (
        lambda d: [d.update(title="x", units="mm", graduation="1 mm"), d["crew"].update(painters=2)],
        "Title: x instead of The Lantern Cart; units: mm instead of in; graduation: 1 mm instead of 1/16 in; and 1 more.",
    ),
]  # fmt: skip


@pytest.mark.parametrize(("edit", "words"), SAID)
def test_what_an_edit_changed_is_one_sentence(edit, words):
    before = demo_document()
    after = copy.deepcopy(before)
    edit(after)
    assert changes_said(before, after) == words


def test_states_are_kept_small_and_those_of_an_earlier_version_are_read(connection):
    document = demo_document()
    job_id = add_job(connection, document, "New job")
    for number in range(40):
        editing.change(connection, job_id, None, "x", lambda d, number=number: {**d, "title": f"title {number}"})
    kept = connection.execute("select sum(length(document) + length(packed)) from revisions").fetchone()[0]
    whole = sum(len(state.revision.document) for state in history.states(connection, job_id, 10**6))
    assert kept * 3 < whole
    text = editing.open_job(connection, job_id).revision.document
    connection.execute("update revisions set document = :text, packed = null where number = 41", {"text": text})
    assert editing.open_job(connection, job_id).job.title == "title 39"
