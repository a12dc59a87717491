import io
import json
import re

import pytest
from days import MORNING, Clock, settled
from jobs import wall as plain_wall
from PIL import Image

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.job.edge_counts import Count, Substrate, find_count
from dividers.formats.photos import cleaned
from dividers.services.jobs import editing, evidence
from dividers.services.jobs.job_list import add_job, delete_job
from dividers.services.logbook import logbook, patches, proposals
from dividers.services.practice import practice
from dividers.services.stations import scheduling
from dividers.services.supplies import supplies
from dividers.services.wall import at_the_wall
from dividers.services.wall.progress import planned_work, progress_of
from dividers.store import logbook as store
from dividers.store import patches as cells

ROUGH = Substrate("rough", "delicate", False, "caulk")


@pytest.fixture
def job_id(connection):
    document = plain_wall(method={"seal": "caulk", "coats": {"ink": 1}, "paint": {"ink": "paint"}}, pattern={"count": 4})
    document["pieces"][0]["surface"]["texture"] = "rough"
    document["products"]["delicate"]["adhesion"] = "delicate"
    document["products"]["paint"] = {"kind": "paint", "wet_edge": "25 min", "touch_dry": "40 min"}
    return add_job(connection, document, "a rough wall")


def picture(size=(80, 60), **save):
    out = io.BytesIO()
    Image.new("RGB", size, "#884422").save(out, **{"format": "JPEG", **save})
    return out.getvalue()


def add(connection, job_id, folder, photo=None, **typed):
    return logbook.add_finding(connection, job_id, {"round": "wall/1", **typed}, photo, folder)


def test_a_round_in_one_line_moves_the_forecast(connection, job_id, tmp_path):
    document = editing.open_job(connection, job_id).revision.document
    assert evidence.informed(connection, document) == document
    plain = planned_work(document)[1].choices["wall"][0]
    strips = logbook.rounds_of(connection, job_id)[0].strips
    add(connection, job_id, tmp_path, **{"all-clean": "yes"})
    add(connection, job_id, tmp_path, clean="1", bleed=str(strips - 1))
    found = store.list_findings(connection, job_id)
    assert [(f.clean, f.bleed, f.seal, f.edge) for f in found] == [
        (strips, 0, "caulk", "clean"),
        (1, strips - 1, "caulk", "bleed"),
    ]
    assert evidence.counts(connection)[ROUGH] == Count(strips + 1, 2 * strips, 2)
    told = planned_work(evidence.informed(connection, document))[1].choices["wall"][0]
    reasons = [str(reason) for reason in told.forecast.bleed.reasons]
    assert (
        f"your logbook: {strips + 1} of {2 * strips} strips clean, as counted there, on rough surface, “delicate”, sealed with caulk"
        in reasons[-1]
    )
    assert told.forecast.bleed.points != plain.forecast.bleed.points
    assert scheduling.schedule_for(1, evidence.informed(connection, document), 300.0) is not None


def test_a_seal_that_failed_here_is_given_up_and_the_reason_says_so():
    job = plain_wall(method={"coats": {"ink": 1}, "paint": {"ink": "paint"}, "pull": "wet"}, pattern={"count": 12})
    job["products"]["paint"] = {"kind": "paint", "wet_edge": "25 min"}
    job["pieces"][0]["surface"]["texture"] = "rough"
    ground = {"texture": "rough", "adhesion": "medium", "seal": "caulk", "strips": 10, "rounds": 2}

    def chosen(clean):
        return planned_work(json.dumps(job | {"evidence": [ground | {"clean": clean}]}))[1].choices["piece-1"][0]

    assert chosen(10).seal.method == "caulk"
    failed = chosen(0)
    assert failed.seal.method != "caulk"
    assert "Not caulk: your logbook: 0 of 10 strips clean, as counted there, on rough surface" in failed.reason


def test_a_finding_that_cannot_be_is_left_out_of_every_forecast_and_named(connection, job_id, tmp_path):
    add(connection, job_id, tmp_path, **{"all-clean": "yes"})
    counted = evidence.counts(connection)
    for odd in ("texture = 'felt'", "clean = 1000000000000", "seal = 'glue'"):
        add(connection, job_id, tmp_path, **{"all-clean": "yes"})
        connection.execute(f"update findings set {odd} where id = (select max(id) from findings)")
    assert evidence.counts(connection) == counted and len(evidence.unread(connection)) == 3
    document = editing.open_job(connection, job_id).revision.document
    assert planned_work(evidence.informed(connection, document))


def test_a_strip_told_with_its_round_counts_once(connection, job_id, tmp_path):
    add(connection, job_id, tmp_path, strip="2", edge="bleed", repair="touched up", minutes="4,5")
    assert evidence.counts(connection)[ROUGH] == Count(0, 1, 1)
    finding = add(connection, job_id, tmp_path, clean="2", bleed="1")
    assert evidence.counts(connection)[ROUGH] == Count(2, 3, 1)
    logbook.remove_finding(connection, job_id, finding)
    assert evidence.counts(connection)[ROUGH] == Count(0, 1, 1)
    logbook.remove_finding(connection, job_id, finding, back=True)
    assert evidence.counts(connection)[ROUGH] == Count(2, 3, 1)
    delete_job(connection, job_id)
    assert evidence.counts(connection) == {}


@pytest.mark.parametrize(
    ("typed", "field"),
    [
        ({}, "clean"),
        ({"clean": "many"}, "clean"),
        ({"clean": "900"}, "clean"),
        ({"strip": "77", "edge": "clean"}, "strip"),
        ({"strip": "1"}, "edge"),
        ({"clean": "1", "lift": "6B"}, "lift"),
        ({"clean": "1", "lift_percent": "120"}, "lift_percent"),
        ({"clean": "1", "bridge": "maybe"}, "bridge"),
        ({"clean": "1", "minutes": "-3"}, "minutes"),
        ({"clean": "1", "note": "x" * 501}, "note"),
    ],
)
def test_what_a_finding_cannot_be_is_said_at_its_field(connection, job_id, tmp_path, typed, field):
    with pytest.raises(logbook.BadForm) as bad:
        add(connection, job_id, tmp_path, **typed)
    assert field in bad.value.faults
    assert store.list_findings(connection) == []


def test_a_photo_is_made_small_and_keeps_nothing_but_the_picture(connection, job_id, tmp_path):
    exif = Image.Exif()
    exif[0x010F] = "Some camera"
    exif[0x0112] = 6  # lies on its side
    exif.get_ifd(0x8825)[1] = "N"
    exif.get_ifd(0x8825)[2] = (52.0, 30.0, 11.0)
    photo = picture((2400, 1800), exif=exif.tobytes(), comment=b"a secret")
    assert b"Some camera" in photo
    finding = add(connection, job_id, tmp_path / "photos", photo, clean="1")
    (file,) = (tmp_path / "photos").iterdir()
    assert logbook.photo_file(connection, finding, tmp_path / "photos") == file
    kept = file.read_bytes()
    with Image.open(file) as image:
        assert image.size == (1200, 1600)
        assert not image.getexif()
    assert b"Some camera" not in kept and b"Exif" not in kept and b"secret" not in kept
    with pytest.raises(NotFound):
        logbook.photo_file(connection, 99, tmp_path / "photos")


def bomb():
    out = io.BytesIO()
    Image.new("1", (12000, 12000)).save(out, "PNG")
    return out.getvalue()


@pytest.mark.parametrize(
    ("content", "message"),
    [
        (lambda: b"", "Choose a photo first"),
        (lambda: b"<svg onload='x()'/>", "not a photo"),
        (lambda: b"GIF89a" + bytes(200), "not a photo"),
        (lambda: picture()[:300], "no photo|damaged"),
        (lambda: picture((900, 900), format="PNG")[:-200], "damaged"),
        (lambda: picture() + b"x" * 21_000_000, "at most 20"),
        (bomb, "too many|not a photo"),
    ],
)
def test_hostile_and_broken_uploads_are_refused(content, message):
    with pytest.raises(BadInput, match=message):
        cleaned(content())


def test_touching_up_sign_off_and_what_went_in(connection, job_id):
    logbook.add_touch_up(connection, job_id, {"piece": "wall", "what": "bleed, third stripe", "colour": "ink"})
    with pytest.raises(logbook.BadForm, match="Say what needs doing"):
        logbook.add_touch_up(connection, job_id, {"piece": "wall", "what": " "})
    (todo,) = store.list_touch_ups(connection, job_id)
    logbook.settle_touch_up(connection, job_id, todo.id, True, "6")
    assert store.list_touch_ups(connection, job_id)[0].minutes == 6
    logbook.sign_off(connection, job_id, {"piece": "wall", "name": "Wren", "words": "even at 1 m"})
    assert store.list_sign_offs(connection, job_id)[0].name == "Wren"
    logbook.sign_off(connection, job_id, {"piece": "wall", "name": ""})
    assert store.list_sign_offs(connection, job_id) == []
    logbook.add_used(connection, job_id, {"item": "Ink", "batch": "B 50%_7", "price": "12,50", "currency": "EUR"})
    assert [(u.price, u.batch) for u in store.list_used(connection, job_id)] == [("12.50", "B 50%_7")]
    assert [hit.what for hit in logbook.search(connection, "50%_7 ink")] == ["used"]
    assert logbook.search(connection, "50x") == []
    assert {hit.what for hit in logbook.search(connection, "wall third")} == {"touch-up"}


def test_own_figures_are_proposed_and_taken_only_when_asked(connection, job_id, monkeypatch):
    time = Clock(monkeypatch, MORNING)
    run = settled(connection, job_id)
    progress = progress_of(connection, run)
    for number, task in enumerate(progress.tasks):
        if task.kind in ("base", "coat", "pull"):
            at_the_wall.record(connection, run, [{"kind": "start", "task": task.key, "uid": f"s{number}"}])
            time.on(task.minutes * 2)
            at_the_wall.record(connection, run, [{"kind": "done", "task": task.key, "uid": f"d{number}"}])
            if task.kind == "coat":
                pull = next(t.key for t in progress.tasks if t.kind == "pull" and t.batch == task.batch)
                time.on(12)
                at_the_wall.record(
                    connection, run, [{"kind": "touch", "task": pull, "uid": f"t{number}", "body": {"result": "dry"}}]
                )
    logbook.add_measured(connection, job_id, {"tape": "delicate", "strips": "10", "length": "352 mm"})
    found = {proposal.key: proposal for proposal in proposals.proposals(connection, job_id)}
    assert found["painted_m2_per_h"].proposed == "4"
    assert found["width"].proposed == "35.2 mm"
    assert found["touch_dry"].proposed == "12 min"
    before = editing.open_job(connection, job_id).document["products"]["delicate"]["width"]
    proposals.settle(connection, job_id, found["painted_m2_per_h"].id, False)
    assert "painted_m2_per_h" not in {p.key for p in proposals.proposals(connection, job_id)}
    assert editing.open_job(connection, job_id).document["products"]["delicate"]["width"] == before == "36 mm"
    said = proposals.settle(connection, job_id, found["width"].id, True)
    assert said == "delicate: 35.2 mm from now on, in this job and Supplies."
    assert editing.open_job(connection, job_id).document["products"]["delicate"]["width"] == "35.2 mm"
    assert "width" not in {p.key for p in proposals.proposals(connection, job_id)}
    with pytest.raises(NotFound):
        proposals.settle(connection, job_id, found["width"].id, True)


def test_a_grid_of_patches_becomes_evidence(connection):
    typed = {
        "title": "Behind the booth",
        "texture": "rough",
        "tapes": "delicate tape\nstrong swelling-edge tape",
        "waits": "0, 45 min",
    }
    patch = patches.plan(connection, typed, {"seals": ["caulk", "none"]})
    grid = cells.list_cells(connection, patch)
    assert [(c.tape, c.adhesion, c.swelling_edge, c.seal, c.wait_min) for c in grid][:2] == [
        ("delicate tape", "delicate", 0, "caulk", 0),
        ("delicate tape", "delicate", 0, "caulk", 45),
    ]
    assert len(grid) == 8
    patches.record(connection, patch, 2, {"act": "painted"})
    cell = cells.list_cells(connection, patch)[1]
    assert patches.due_at(cell) > cell.painted_at
    with pytest.raises(logbook.BadForm, match="is to stay on 45 min more"):
        patches.record(connection, patch, 2, {"act": "pulled", "edge": "bleed"})
    patches.record(connection, patch, 2, {"act": "pulled", "early": "yes", "edge": "clean", "lift": "5B"})
    patches.record(connection, patch, 1, {"act": "painted"})
    patches.record(connection, patch, 1, {"act": "pulled", "edge": "slight"})
    assert evidence.counts(connection)[ROUGH] == Count(1, 2, 2)
    patches.retire(connection, patch, True)
    assert evidence.counts(connection) == {}
    with pytest.raises(logbook.BadForm) as bad:
        patches.plan(connection, {"title": "", "tapes": "", "waits": "soon"}, {})
    assert set(bad.value.faults) == {"title", "tapes", "seals", "waits"}
    with pytest.raises(logbook.BadForm, match="at most 60"):
        patches.plan(connection, typed | {"tapes": "\n".join(map(str, range(30)))}, {"seals": ["caulk", "none"]})


@pytest.mark.parametrize("kind", ["read", "place", "side", "pull", "seal"])
def test_practice_scores_by_the_rules_and_explains(connection, job_id, kind):
    for seed in range(12):
        asked, *_ = practice.exercise(connection, kind, seed, job_id if seed % 3 == 0 else None)
        again, *_ = practice.exercise(connection, kind, seed, job_id if seed % 3 == 0 else None)
        assert asked == again
        of = job_id if seed % 3 == 0 else None
        assert practice.answer(connection, kind, seed, of, asked.answer).right
        if asked.options:
            assert asked.answer in asked.options
            wrong = next(option for option in asked.options if option != asked.answer)
            score = practice.answer(connection, kind, seed, of, wrong)
            assert not score.right and asked.answer in score.said
            if kind == "side":  # the picture has the paint on the other side of the line than the tape
                assert asked.split.first == asked.answer.startswith(("right", "below"))
        else:
            slipped, said = asked.slips[0] if asked.slips else (asked.true_mm + 50, "that is")
            score = practice.answer(connection, kind, seed, of, f"{float(slipped)} mm")
            assert not score.right and score.said.lower().startswith(said[:20].lower())
            far = practice.answer(connection, kind, seed, of, f"{float(asked.true_mm) + 777.7} mm")
            assert "777.7 mm too far" in far.said or " in too far" in far.said
            with pytest.raises(BadInput):
                practice.answer(connection, kind, seed, of, "for this exercise")
    assert practice.tally(connection)[kind] == (12, 12)  # the first answers


def test_the_right_time_to_pull_lies_within_the_window_of_the_first_and_last_stroke(connection):
    """From the question alone: a coat from one time to another; wet tape comes off before the first stroke has dried."""
    for seed in range(40):
        asked, *_ = practice.exercise(connection, "pull", seed, None)
        begun, ended, answer = (
            int(clock[:2]) * 60 + int(clock[3:])
            for clock in [*re.findall(r"\b\d\d:\d\d", asked.question)[:2], re.findall(r"\d\d:\d\d", asked.answer)[0]]
        )
        planned = re.search(r"the plan uses (\d+) of them", asked.why)
        if planned:
            assert ended <= answer <= begun + int(planned[1])


def test_the_logbook_is_about_the_job_as_it_was_painted(connection, job_id, monkeypatch):
    Clock(monkeypatch, MORNING)
    settled(connection, job_id)
    editing.edit_piece(connection, job_id, "wall", "tape", 1, {"method.seal": "base"}, {})
    assert logbook.rounds_of(connection, job_id)[0].choice.seal.method == "caulk"
    assert json.loads(logbook.document_of(connection, job_id))["pieces"][0]["method"]["seal"] == "caulk"


def test_what_is_typed_counts_and_what_is_not_said_of_the_rest_is_clean(connection, job_id, tmp_path):
    """The Enter key in a form presses its first button: typed figures win over it all the same."""
    strips = logbook.rounds_of(connection, job_id)[0].strips
    add(connection, job_id, tmp_path, clean="3", slight="2", bleed="1", **{"all-clean": "yes"})
    add(connection, job_id, tmp_path, slight="1")
    add(connection, job_id, tmp_path, clean="2", slight="1")
    found = store.list_findings(connection, job_id)
    assert [(f.clean, f.slight, f.bleed) for f in found] == [(3, 2, 1), (strips - 1, 1, 0), (2, 1, 0)]
    with pytest.raises(logbook.BadForm, match="this round has"):
        add(connection, job_id, tmp_path, slight=str(strips + 1))


def test_a_round_is_judged_once_its_tape_is_off(connection, job_id, tmp_path, monkeypatch):
    time = Clock(monkeypatch, MORNING)
    assert settled(connection, job_id)
    run = at_the_wall.open_run(connection, job_id)
    with pytest.raises(logbook.BadForm, match="the tape is still on"):
        add(connection, job_id, tmp_path, slight="1")
    pulls = [task.key for task in progress_of(connection, run).tasks if task.kind == "pull"]
    for number, key in enumerate(pulls):
        time.on(1)
        at_the_wall.record(connection, run, [{"kind": "done", "task": key, "uid": f"p{number}"}])
    assert add(connection, job_id, tmp_path, slight="1")


def forecast(connection, job_id):
    document = editing.open_job(connection, job_id).revision.document
    return planned_work(evidence.informed(connection, document))[1].choices["wall"][0].forecast


def test_lift_and_bridging_are_learned_by_the_name_of_the_tape(connection, job_id, tmp_path):
    """A tape found 2B twice is no longer low in lift; another tape of its kind found good stays out of it; bridging goes by the pull."""
    before = forecast(connection, job_id)
    assert (before.lift.level, before.bridge.level) == ("low", "low")
    for _ in range(2):
        add(connection, job_id, tmp_path, slight="1", lift="2B", bridge="torn")
    after = forecast(connection, job_id)
    assert after.lift.level != "low"
    assert after.bridge.points > before.bridge.points
    assert "your logbook: nothing lifted 0 of 2 times on rough surface, “delicate”" in str(after.lift.reasons[-1])
    lift = Substrate("rough", "delicate", tape="delicate", risk="lift")
    assert evidence.counts(connection)[lift] == Count(0, 2, 2)
    add(connection, job_id, tmp_path, slight="1")  # nobody looked at lift or bridging
    assert evidence.counts(connection)[lift] == Count(0, 2, 2)
    document = editing.open_job(connection, job_id).document
    document["products"]["other"] = {"kind": "tape", "width": "24 mm", "adhesion": "delicate"}
    document["pieces"][0]["method"]["tape"] = "other"
    other = add_job(connection, document, "another tape")
    for _ in range(12):
        add(connection, other, tmp_path, slight="1", lift="5B")
    assert forecast(connection, other).lift.level == "low"
    assert forecast(connection, job_id).lift.level != "low"


def test_tapes_whose_name_says_no_kind_stay_different_tapes(connection):
    tapes = ("plain masking", "sharp-line", "clear office", "tape")
    patch = patches.plan(connection, {"title": "t", "texture": "smooth", "tapes": "\n".join(tapes)}, {"seals": ["none"]})
    for number, edge in enumerate(("bleed", "clean", "slight", "clean"), 1):
        patches.record(connection, patch, number, {"act": "painted"})
        patches.record(connection, patch, number, {"act": "pulled", "edge": edge})
    found = evidence.counts(connection)
    assert {place.tape: count.clean for place, count in found.items()} == dict(zip(tapes, (0, 1, 0, 1), strict=True))
    assert find_count(found, Substrate("smooth", "medium", tape="Sharp-Line"))[1] == Count(1, 1, 1)
    assert find_count(found, Substrate("smooth", "medium", tape="another")) is None


def test_a_grid_ranks_its_tapes_and_gives_the_best_to_a_piece(connection, job_id):
    typed = {"title": "t", "texture": "smooth", "tapes": "brown tape\nyellow tape\nstrong tape"}
    patch = patches.plan(connection, typed, {"seals": ["none", "base"]})
    with pytest.raises(logbook.BadForm, match="isn't sealed yet"):
        patches.record(connection, patch, 2, {"act": "painted"})
    patches.record(connection, patch, 2, {"act": "sealed"})
    with pytest.raises(logbook.BadForm, match="its seal must dry 40 min more"):
        patches.record(connection, patch, 2, {"act": "painted"})
    assert patches.ranking(cells.list_cells(connection, patch)) == []
    found = [("slight", "5B"), ("bleed", "5B"), ("clean", "4B"), ("clean", "5B"), ("clean", "2B"), ("clean", "5B")]
    for number, (edge, lift) in enumerate(found, 1):
        patches.record(connection, patch, number, {"act": "painted", "early": "yes"})
        patches.record(connection, patch, number, {"act": "pulled", "edge": edge, "lift": lift})
    ranks = patches.ranking(cells.list_cells(connection, patch))
    assert [rank.tape for rank in ranks] == ["yellow tape", "brown tape", "strong tape"]
    assert patches.said(ranks) == "Cleanest: yellow tape, 2 of 2 fields; tears: strong tape (2B)."
    with pytest.raises(logbook.BadForm, match="add it to Supplies with its width first"):
        patches.use_in_job(connection, patch, "yellow tape", f"{job_id}/wall")
    supplies.save(connection, None, "tape", {"name": "Yellow tape", "width": "24 mm", "adhesion": "medium"})
    assert patches.use_in_job(connection, patch, "yellow tape", f"{job_id}/wall") == "Wall is taped with yellow tape now."
    document = editing.open_job(connection, job_id).document
    assert document["pieces"][0]["method"]["tape"] == "Yellow tape"
    assert document["products"]["Yellow tape"]["width"] == "24 mm"
