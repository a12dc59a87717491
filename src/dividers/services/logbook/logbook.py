"""The logbook of a job: what was found at the edges, what is to be touched up, who inspected it, what was used and measured."""

import json
import sqlite3
from collections import Counter
from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from uuid import uuid4

from dividers.core.base.errors import BadInput, NotFound
from dividers.core.base.lengths import read_length
from dividers.core.base.texts import counted
from dividers.core.base.whole import whole
from dividers.core.order.round_choices import RoundChoice
from dividers.core.order.task_key import TaskKey
from dividers.core.plan.piece_plan import PiecePlan
from dividers.core.risk.lift import BRIDGES, LIFT_WORDS, lift_class
from dividers.core.wall.facts import DONE, SKIPPED
from dividers.formats.photos import cleaned
from dividers.services import clock
from dividers.services.careful import carefully
from dividers.services.jobs import editing
from dividers.services.private_files import put_private
from dividers.services.wall import kept_steps
from dividers.services.wall.progress import kept_of, planned_work, progress_of
from dividers.store import logbook, photos, wall_runs
from dividers.store.database import transaction
from dividers.store.logbook import Finding as Finding
from dividers.store.logbook import TouchUp as TouchUp

# What a job's logbook holds, for whoever shows it.
findings_of, touch_ups_of, sign_offs_of = logbook.list_findings, logbook.list_touch_ups, logbook.list_sign_offs
used_in, tapes_measured = logbook.list_used, logbook.list_measured

EDGES = ("clean", "slight", "bleed")
LONGEST_NOTE = 500
MOST_STRIPS = 5000


@dataclass(frozen=True)
class LoggedRound:
    """A round of a piece that findings can be about."""

    piece: PiecePlan
    choice: RoundChoice
    strips: int


def document_of(connection: sqlite3.Connection, job_id: int) -> str:
    """What a job's findings are about: the document of its last run, or else the job as it is."""
    found = wall_runs.list_runs(connection, job_id)
    return found[0].document if found else editing.open_job(connection, job_id).revision.document


def rounds_of(connection: sqlite3.Connection, job_id: int) -> list[LoggedRound]:
    """Every round of every piece, in the job's order; of a run that keeps steps of its own, with as many strips as those have."""
    plan, work = planned_work(document_of(connection, job_id))
    kept = _kept_strips(connection, job_id)
    found = []
    for piece in plan.pieces:
        for choice in work.choices.get(piece.piece.key, ()):
            strips = sum(len(s) for s in piece.taping.chosen.rounds[choice.number - 1].strips) * piece.piece.copies
            found.append(LoggedRound(piece, choice, kept.get((piece.piece.key, choice.number), strips)))
    return found


def own_steps(connection: sqlite3.Connection, job_id: int) -> str:
    """The version that the last run was begun with, where it goes by its own steps, as today's plan is another; else ""."""
    runs = wall_runs.list_runs(connection, job_id)
    return kept_steps.made_with(connection, runs[0]) if runs and kept_of(connection, runs[0]) else ""


def _kept_strips(connection: sqlite3.Connection, job_id: int) -> dict[tuple[str, int], int]:
    """How many strips each round has, by piece and number, in the steps of a run that goes by its own."""
    if not own_steps(connection, job_id):
        return {}
    found = Counter[tuple[str, int]]()
    boards = json.loads(kept_steps.pages_of(connection, wall_runs.list_runs(connection, job_id)[0]))["boards"]
    for key, board in boards.items():
        name = TaskKey.read(key)
        if name.kind == "tape" and name.number:
            found[name.piece, name.number] += len(board["rows"])
    return found


def still_taped(connection: sqlite3.Connection, job_id: int) -> dict[tuple[str, int], str]:
    """The rounds whose tape isn't all off yet, where the job is being painted: by piece and number, in words."""
    run = wall_runs.find_open(connection, job_id)
    if run is None:
        return {}
    progress = progress_of(connection, run)
    found: dict[tuple[str, int], str] = {}
    for task in progress.tasks:
        if task.kind == "pull" and task.number and progress.facts.of(task.key).state not in (DONE, SKIPPED):
            found.setdefault((task.name.piece, task.number), f"{task.piece}, round {task.number}: the tape is still on.")
    return found


def find_round(connection: sqlite3.Connection, job_id: int, piece: str, number: int) -> LoggedRound:
    """Raises NotFound."""
    for each in rounds_of(connection, job_id):
        if each.piece.piece.key == piece and each.choice.number == number:
            return each
    raise NotFound("This job has no such round any more.")


class Fields:
    """Reads a form field by field and gathers what is wrong."""

    def __init__(self, typed: Mapping[str, str]) -> None:
        self.typed, self.faults = typed, dict[str, str]()

    def text(self, name: str, longest: int = LONGEST_NOTE) -> str:
        written = self.typed.get(name, "").strip()
        if len(written) > longest:
            self.faults[name] = f"This has {len(written)} characters; at most {longest} are kept."
        return written[:longest]

    def choice(self, name: str, options: tuple[str, ...], usual: str) -> str:
        written = self.typed.get(name, "") or usual
        if written not in options:
            self.faults[name] = f"“{written[:30]}” isn't known; choose one of: {', '.join(options)}."
        return written

    def count(self, name: str, most: int) -> int:
        written = self.typed.get(name, "").strip() or "0"
        found = whole(written, most)
        if found is None:
            self.faults[name] = f"“{written[:20]}” isn't a number of strips; allowed are 0 to {most}."
        return found or 0

    def number(self, name: str, least: float, most: float, words: str) -> float | None:
        written = self.typed.get(name, "").strip().replace(",", ".")
        if not written:
            return None
        try:
            found = float(written)
        except ValueError:
            found = most + 1
        if not least <= found <= most:
            self.faults[name] = f"“{written[:20]}” is not valid as {words}; allowed are {least:g} to {most:g}."
            return None
        return found

    def close(self) -> None:
        if self.faults:
            raise BadForm(self.faults)


class BadForm(BadInput):
    """Fields of a form that are not valid: what is wrong with each."""

    def __init__(self, faults: Mapping[str, str]) -> None:
        name, message = next(iter(faults.items()))
        super().__init__(message, name)
        self.faults = dict(faults)


def add_finding(
    connection: sqlite3.Connection, job_id: int, typed: Mapping[str, str], photo: bytes | None, folder: Path
) -> int:
    """Write down how a round, or a strip of it, was found. Raises BadForm, NotFound."""
    fields = Fields(typed)
    piece, number, half = ([*typed.get("round", "").split("/"), "", ""])[:3]
    about = find_round(connection, job_id, piece, whole(number) or 0)
    trial = about.choice.trial if half else None
    if half and not trial:
        raise NotFound("Nothing is tried on half a strip any more.")
    if taped := still_taped(connection, job_id).get((about.piece.piece.key, about.choice.number)):
        fields.faults["round"] = f"{taped} It can be judged once the tape is off."
    strip = str(trial.strip) if trial else fields.text("strip", 20)
    if strip and whole(strip.lstrip("s")) is not None:
        strip = strip.lstrip("s")
    if strip and not whole(strip, _strips_in_all(about)):
        fields.faults["strip"] = (
            f"There is no strip {strip[:20]}; they go from 1 to {_strips_in_all(about)}. Leave it empty for the whole round."
        )
    clean, slight, bleed = _edges(fields, about, strip, bool(trial), bool(photo))
    lift = _lift(fields)
    values = {
        "bridge": fields.choice("bridge", BRIDGES, "none"),
        "bridge_looked": int(bool(typed.get("bridge"))),
        "x_mm": fields.number("x_mm", -1e5, 1e6, "a place"),
        "y_mm": fields.number("y_mm", -1e5, 1e6, "a place"),
        "repair": fields.text("repair"),
        "minutes": fields.number("minutes", 0, 6000, "minutes"),
        "note": fields.text("note"),
    }
    saved = None
    if photo:
        try:
            saved = carefully(cleaned, photo, path="photo")
        except BadInput as fault:
            fields.faults["photo"] = fault.message
    fields.close()
    situation, method = about.choice.situation, about.piece.piece.method
    paints = dict.fromkeys(method.paint[c].key for c in about.choice.colors if c in method.paint)
    with transaction(connection):
        photo_id = keep_photo(connection, job_id, saved, folder, f"{about.piece.piece.name}, round {about.choice.number}")
        return logbook.insert_finding(
            connection,
            logbook.Finding(
                job_id=job_id, piece=piece, piece_name=about.piece.piece.name, round=about.choice.number, strip=strip,
                clean=clean, slight=slight, bleed=bleed, lift=lift, texture=situation.texture, adhesion=situation.adhesion,
                swelling_edge=int(situation.swelling_edge), seal=(trial.seal if trial else about.choice.seal).method, pull=about.choice.window.pull_method,
                tape=method.tape.key, paint=", ".join(paints), photo_id=photo_id, found_at=clock.now(), **values,  # type: ignore[arg-type]
            ),
        )  # fmt: skip


def _strips_in_all(about: LoggedRound) -> int:
    rounds = about.piece.taping.chosen.rounds
    return sum(len(strips) for each in rounds for strips in each.strips)


def _edges(fields: Fields, about: LoggedRound, strip: str, half: bool, photo: bool) -> tuple[int, int, int]:
    """How many strips were clean, slightly run under, bled: none of one strip that a photo is to judge.

    What is typed counts, whatever was pressed; what isn't said of the rest is clean.
    """
    if half:
        return _half(fields)
    if strip:
        edge = fields.typed.get("edge", "")
        if edge not in EDGES and (edge or not photo):
            fields.faults["edge"] = (
                "How did that strip's edge come out? Choose one, or add a photo of it to measure the edge on."
            )
        return tuple(int(edge == each) for each in EDGES)  # type: ignore[return-value]
    typed = {name: fields.typed.get(name, "").strip() for name in EDGES}
    if fields.typed.get("all-clean") and not any(typed.values()):
        return max(about.strips, 1), 0, 0
    clean, slight, bleed = (fields.count(name, MOST_STRIPS) for name in EDGES)
    if not typed["clean"] and slight + bleed:
        clean = max(about.strips - slight - bleed, 0)
    found = clean, slight, bleed
    if not sum(found) and not fields.faults:
        fields.faults["clean"] = f"Say how many strips were clean, slight or bled; this round has {about.strips}."
    elif sum(found) > about.strips and not fields.faults:
        fields.faults["clean"] = f"That makes {counted(sum(found), 'strip')}; this round has {about.strips}."
    return found


def _half(fields: Fields) -> tuple[int, int, int]:
    """How half a strip was: one of the three, as counted, as chosen, or all clean."""
    typed = {name: fields.typed.get(name, "").strip() for name in EDGES}
    if not any(typed.values()):
        edge = "clean" if fields.typed.get("all-clean") else fields.choice("edge", EDGES, "")
        return tuple(int(edge == each) for each in EDGES)  # type: ignore[return-value]
    clean, slight, bleed = (fields.count(name, 1) for name in EDGES)
    if clean + slight + bleed != 1 and not fields.faults:
        fields.faults["clean"] = "This is one half of one strip: put 1 at clean, slight or bled."
    return clean, slight, bleed


def _lift(fields: Fields) -> str | None:
    """A class as given, or from the percent of the area that came off."""
    percent = fields.number("lift_percent", 0, 100, "percent of the area")
    if percent is not None:
        return lift_class(percent)
    given = fields.typed.get("lift", "")
    if given and given not in LIFT_WORDS:
        fields.faults["lift"] = f"“{given[:10]}” is not a class; choose one of: {', '.join(LIFT_WORDS)}."
    return given or None


def keep_photo(
    connection: sqlite3.Connection, job_id: int | None, saved: tuple[bytes, tuple[int, int]] | None, folder: Path, caption: str
) -> int | None:
    if saved is None:
        return None
    content, size = saved
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    file = f"{uuid4().hex}.jpg"
    put_private(folder / file, content)
    return photos.insert_photo(connection, job_id, file, size, caption, clock.now())


def photo_file(connection: sqlite3.Connection, photo_id: int, folder: Path) -> Path:
    """The file of a photo. Raises NotFound."""
    photo = photos.find_photo(connection, photo_id)
    path = folder / Path(photo.file).name if photo else folder
    if photo is None or not path.is_file():
        raise NotFound("There is no such photo.")
    return path


def job_of_photo(connection: sqlite3.Connection, photo_id: int) -> int | None:
    """The job that a photo is of; None for a photo that there isn't."""
    photo = photos.find_photo(connection, photo_id)
    return photo.job_id if photo else None


def remove_finding(connection: sqlite3.Connection, job_id: int, finding_id: int, back: bool = False) -> None:
    """Take a finding out of the logbook, or put it back."""
    with transaction(connection):
        logbook.remove_finding(connection, job_id, finding_id, None if back else clock.now())


def add_touch_up(connection: sqlite3.Connection, job_id: int, typed: Mapping[str, str]) -> None:
    """Put something on the list of what is to be touched up. Raises BadForm, NotFound."""
    fields = Fields(typed)
    piece = editing.open_job(connection, job_id).piece(typed.get("piece", ""))
    what = fields.text("what", 120)
    if not what:
        fields.faults["what"] = "Say what needs doing, like: bleed at the upper end, or pencil marks to erase."
    place, colour, tool = fields.text("place", 120), fields.text("colour", 80), fields.text("tool", 80)
    x, y = fields.number("x_mm", -1e5, 1e6, "a place"), fields.number("y_mm", -1e5, 1e6, "a place")
    fields.close()
    with transaction(connection):
        logbook.insert_touch_up(
            connection,
            job_id,
            logbook.TouchUp(0, piece.key, piece.name, what, place, x, y, colour, tool, clock.now(), None, None),
        )


def settle_touch_up(connection: sqlite3.Connection, job_id: int, touch_up_id: int, done: bool, minutes: str) -> None:
    """Tick something off the list, with its minutes, or take the tick back. Raises BadForm."""
    fields = Fields({"minutes": minutes})
    took = fields.number("minutes", 0, 6000, "minutes")
    fields.close()
    with transaction(connection):
        logbook.settle_touch_up(connection, job_id, touch_up_id, clock.now() if done else None, took if done else None)


def sign_off(connection: sqlite3.Connection, job_id: int, typed: Mapping[str, str]) -> None:
    """The last look from 1 m: who signed a piece off; an empty name takes it back. Raises BadForm."""
    fields = Fields(typed)
    piece = editing.open_job(connection, job_id).piece(typed.get("piece", ""))
    name, words = fields.text("name", 80), fields.text("words", 200)
    fields.close()
    with transaction(connection):
        if name:
            logbook.put_sign_off(connection, job_id, logbook.SignOff(piece.key, piece.name, name, words, clock.now()))
        else:
            logbook.drop_sign_off(connection, job_id, piece.key)


def add_used(connection: sqlite3.Connection, job_id: int, typed: Mapping[str, str]) -> None:
    """Write down what was used. Raises BadForm."""
    fields = Fields(typed)
    item, batch, amount, currency = (fields.text(name, 80) for name in ("item", "batch", "amount", "currency"))
    if not item:
        fields.faults["item"] = "Say what was used: a paint, a tape, a seal."
    price = fields.number("price", 0, 1e6, "a price")
    fields.close()
    with transaction(connection):
        used = logbook.Used(0, item, batch, amount, "" if price is None else f"{price:.2f}", currency[:10], clock.now())
        logbook.insert_used(connection, job_id, used)


def drop_used(connection: sqlite3.Connection, job_id: int, used_id: int) -> None:
    with transaction(connection):
        logbook.drop_used(connection, job_id, used_id)


def add_measured(connection: sqlite3.Connection, job_id: int, typed: Mapping[str, str]) -> None:
    """Write down strips of a tape measured side by side. Raises BadForm."""
    fields = Fields(typed)
    job = editing.open_job(connection, job_id).job
    tape = fields.text("tape", 120)
    strips = fields.count("strips", 100)
    if strips < 1 and "strips" not in fields.faults:
        fields.faults["strips"] = "How many strips lie side by side? Ten are usual."
    mm = Fraction(0)
    try:
        mm = read_length(typed.get("length", ""), job.units).mm
    except BadInput as fault:
        fields.faults["length"] = fault.message
    if not fields.faults and not 1 <= mm / strips <= 300:
        fields.faults["length"] = f"That makes {float(mm / strips):.3g} mm a strip; tapes are 1 to 300 mm wide."
    fields.close()
    with transaction(connection):
        length = typed.get("length", "").strip()[:40]
        logbook.insert_measured(connection, job_id, logbook.MeasuredTape(0, tape, strips, length, str(mm), clock.now()))


def search(connection: sqlite3.Connection, words: str, most: int = 200) -> list[logbook.SearchHit]:
    """Everything in the logbooks that holds all of the words."""
    parts = [part for part in words.split() if part][:8]
    if not parts:
        return []
    found: list[logbook.SearchHit] | None = None
    for part in parts:
        escaped = part.replace("\\", r"\\").replace("%", r"\%").replace("_", r"\_")
        hits = logbook.search(connection, f"%{escaped}%", most * 5)
        found = hits if found is None else [hit for hit in found if hit in hits]
    return (found or [])[:most]
