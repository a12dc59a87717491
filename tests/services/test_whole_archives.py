"""A job that went out as an archive and came in again is the same in everything that belongs to it; what couldn't be read is named."""

import io
import json
import zipfile
from dataclasses import replace

import pytest
from PIL import Image

from dividers.core.base.errors import BadInput, BadJob, Conflict
from dividers.services.files import archives, photo_preview, unpacking
from dividers.services.jobs import editing, history
from dividers.services.jobs.demo import demo_document
from dividers.services.jobs.job_list import add_job
from dividers.services.logbook import logbook
from dividers.store import archived, photos, previews, ticks

FRONT = "booth-front"


def picture(colour="#335577", size=(40, 30)):
    out = io.BytesIO()
    Image.new("RGB", size, colour).save(out, "JPEG")
    return out.getvalue()


@pytest.fixture
def job_id(connection, tmp_path):
    """A job with three states, the middle one undone to and changed anew, a draft, a change refused, ticks, a preview, photos."""
    made = add_job(connection, demo_document() | {"pieces": demo_document()["pieces"][:2]}, "a cart")
    for count in (7, 9):
        editing.edit_piece(
            connection, made, FRONT, "pattern", editing.open_job(connection, made).revision.number, {"pattern.count": count}, {}
        )
    editing.undo(connection, made)
    with pytest.raises(Conflict):
        editing.edit_piece(connection, made, FRONT, "pattern", 1, {"pattern.count": 11}, {})
    with pytest.raises(BadJob):
        typed = {"pattern.count": -4}
        editing.edit_piece(connection, made, FRONT, "pattern", editing.open_job(connection, made).revision.number, typed, typed)
    for mark in ("a", "b"):
        ticks.put_tick(connection, made, FRONT, mark, "2026-08-03T09:00:00")
    photo_preview.put_photo(connection, made, FRONT, photo_preview.read_photo(picture(size=(400, 300))), tmp_path)
    typed = {
        f"{axis}{turn}": str(value)
        for turn, at in enumerate(((20, 21), (300, 22), (310, 200), (10, 210)))
        for axis, value in zip("xy", at, strict=True)
    }
    photo_preview.put_corners(connection, made, FRONT, typed)
    logbook.add_finding(connection, made, {"round": f"{FRONT}/1", "clean": "16"}, picture(), tmp_path)
    return made


def states_of(connection, job_id):
    return [replace(each, job_id=0) for each in archived.newest_first(connection, job_id)]


def test_everything_of_a_job_comes_back(connection, tmp_path, job_id):
    packed = archives.pack(connection, job_id, tmp_path)
    brought = unpacking.unpack(connection, packed.content, tmp_path / "other")
    assert packed.left_out == brought.left_out == ()
    other = brought.job_id
    assert len(states_of(connection, job_id)) >= 3
    assert states_of(connection, other) == states_of(connection, job_id)
    one, two = (editing.open_job(connection, each) for each in (job_id, other))
    assert (two.revision.number, len(two.refused), two.refused[0].document) == (one.revision.number, 1, one.refused[0].document)
    assert editing.not_taken(connection, other) == editing.not_taken(connection, job_id) != []
    for name in ("ticks", "drafts", "settled", "refused"):
        assert archived.rows_of(connection, name, other) == archived.rows_of(connection, name, job_id)
    assert len(archived.rows_of(connection, "ticks", other)) == 2
    shown = previews.find_preview(connection, other, FRONT)
    assert shown.corners == previews.find_preview(connection, job_id, FRONT).corners
    assert photos.find_photo(connection, shown.photo_id).job_id == other
    editing.redo(connection, other)  # to the state that was undone
    assert '"count":9' in editing.open_job(connection, other).revision.document
    assert [s.changed for s in history.states(connection, other)] == [s.changed for s in history.states(connection, job_id)]


def damaged_in_zip(content, name):
    """The archive with a photo whose bytes were changed on the disk: its check sum no longer fits."""
    at = content.index(b"\xff\xd8", content.index(name.encode())) + 60
    return content[:at] + bytes([content[at] ^ 255]) + content[at + 1 :]


def test_what_cannot_be_read_is_left_out_by_name(connection, tmp_path, job_id):
    held = photos.list_photos(connection, job_id)
    content = archives.pack(connection, job_id, tmp_path).content
    brought = unpacking.unpack(connection, damaged_in_zip(content, f"photos/{held[1].id}.jpg"), tmp_path / "other")
    assert len(brought.left_out) == 1 and brought.left_out[0].startswith(f"photo {held[1].id}")
    assert len(photos.list_photos(connection, brought.job_id)) == 1
    assert len(logbook.findings_of(connection, brought.job_id)) == 1  # the finding stays
    (tmp_path / held[0].file).write_bytes(b"\xff\xd8 half of it")
    (tmp_path / held[1].file).unlink()
    packed = archives.pack(connection, job_id, tmp_path)
    assert ["damaged" in packed.left_out[0], "missing" in packed.left_out[1]] == [True, True]
    assert unpacking.unpack(connection, packed.content, tmp_path / "other").left_out == ()


def test_an_archive_takes_more_than_497_photos(connection, tmp_path, job_id):
    for number in range(500):
        saved = picture(f"#{number:06x}"), (40, 30)
        logbook.keep_photo(connection, job_id, saved, tmp_path, f"{number}")
    packed = archives.pack(connection, job_id, tmp_path)
    brought = unpacking.unpack(connection, packed.content, tmp_path / "other")
    assert brought.left_out == packed.left_out == ()
    assert len(photos.list_photos(connection, brought.job_id)) == 502


def with_history(content, change):
    entries = {}
    with zipfile.ZipFile(io.BytesIO(content)) as held:
        entries = {name: held.read(name) for name in held.namelist()}
    told = json.loads(entries["history.json"])
    change(told)
    entries["history.json"] = json.dumps(told).encode()
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as made:
        for name, each in entries.items():
            made.writestr(name, each)
    return out.getvalue()


def test_a_history_that_cannot_be_is_refused_and_a_state_that_is_no_job_is_left_out(connection, tmp_path, job_id):
    content = archives.pack(connection, job_id, tmp_path).content
    before = connection.execute("select count(*) from jobs").fetchone()

    def set_state(key, value):
        return lambda told: told["states"][0].update({key: value})

    hostile = [
        set_state("number", 2**70),
        set_state("parent", 99),
        set_state("document", {"x": 10**9}),
        set_state("made_at", "noon"),
    ]
    for change in [
        *hostile,
        lambda told: told.update(head=77),
        lambda told: told.update(states=[]),
        lambda told: told.update(parts=3),
    ]:
        with pytest.raises(BadInput):
            unpacking.unpack(connection, with_history(content, change), tmp_path / "other")
    assert connection.execute("select count(*) from jobs").fetchone() == before
    assert list((tmp_path / "other").glob("*.jpg")) == []

    def spoil(told):
        [middle] = [state for state in told["states"] if state["number"] == 1]
        middle["document"]["units"] = len(told["parts"])
        told["parts"].append("ell")

    brought = unpacking.unpack(connection, with_history(content, spoil), tmp_path / "other")
    assert brought.left_out == ("1 states of the history, which are no job (any more)",)
    kept = states_of(connection, brought.job_id)
    assert 1 not in {state.number for state in kept} and kept[-1].parent is None
