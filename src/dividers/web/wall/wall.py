"""At the wall: one step at a time, with what is done recorded; by forms and, without a connection for a while, by the page's queue."""

import re
from collections.abc import Mapping
from dataclasses import replace
from datetime import datetime
from typing import Any
from uuid import uuid4

from flask import Blueprint, Response, flash, jsonify, redirect, render_template, request, url_for
from flask.typing import ResponseReturnValue
from werkzeug.datastructures import ImmutableMultiDict

from dividers.core.base.dates import day_and_time
from dividers.core.base.errors import BadInput, NotFound
from dividers.core.wall.facts import DONE, SKIPPED, Event
from dividers.core.wall.timers import CLOSES, OVERDUE, Timer
from dividers.services import clock
from dividers.services.clock import moment, on_site
from dividers.services.jobs import editing, job_list
from dividers.services.supplies import devices
from dividers.services.wall import at_the_wall, kept_steps, recorded
from dividers.services.wall.progress import Progress, event_of, progress_of
from dividers.web.access.guard import who
from dividers.web.database import connection
from dividers.web.htmx import go_to, is_htmx
from dividers.web.numbers import asked
from dividers.web.wall.asking_back import Questions, questions_of, same_press_said, second_press_said
from dividers.web.wall.held_page import held_answer
from dividers.web.wall.run_state import air_said, before_run_said
from dividers.web.wall.steps_shown import keep_steps, shown_of, state_of
from dividers.web.wall.wall_board import WHOLE

blueprint = Blueprint("wall", __name__)

SOON_MIN = 60
SAID = {"start": "Begun", "done": "Done", "skip": "Skipped", "touch": "Touched", "here": "Here outside the hours"}


@blueprint.before_request
def of_a_job_that_is_there() -> None:
    """A deleted job takes no entries: they stay on the phone, and come in once it is restored. Raises NotFound."""
    if "job_id" in (request.view_args or {}):
        job_list.require_kept(connection(), (request.view_args or {})["job_id"])


BODY = ("reason", "item", "result", "temperature", "humidity", "of", "minutes", "took")


@blueprint.get("/jobs/<int:job_id>/wall")
def show(job_id: int) -> ResponseReturnValue:
    """The step asked for, or the next one; before a job is begun, what will happen."""
    opened = editing.open_job(connection(), job_id)
    run = at_the_wall.open_run(connection(), job_id)
    if run is None:
        waiting = request.args.get("wait") == "1"
        return render_template(
            "wall/begin.html",
            opened=opened,
            job=opened.job,
            waiting=waiting,
            since=request.args.get("since", ""),
            planned=_planned_later(opened),
            past=at_the_wall.runs_of(connection(), job_id),
        )
    return _page(progress_of(connection(), run), opened)


def _planned_later(opened: editing.Opened) -> str:
    """When a job is planned to start, in words, where that is still to come."""
    start, now = opened.job.crew.start, on_site(moment()).replace(tzinfo=None)
    if not start:
        return ""
    planned = datetime.fromisoformat(start).replace(tzinfo=None)
    return day_and_time(planned, now) if planned > now else ""


def _page(
    progress: Progress,
    opened: editing.Opened,
    fault: str = "",
    asked: str = "",
    status: int = 200,
    questions: Questions | None = None,
    own_word: tuple[str, str] = ("", ""),
) -> ResponseReturnValue:
    painter = _painter(progress)
    shown = shown_of(progress)
    held = shown.boards
    wanted = asked or request.values.get("task", "")
    key = wanted if wanted in held else next_for(progress, painter)
    board = held.get(key)
    return (
        render_template(
            "wall/page.html",
            opened=opened,
            job=opened.job,
            progress=progress,
            state=state_of(progress),
            board=board,
            boards=held,
            drawing=shown.views[board.view] if board else "",
            tapes=shown.tapes,
            painter=painter,
            place=_place(progress, key),
            fault=fault,
            asked=questions or Questions(board),
            dry_now=at_the_wall.dry_now_said(progress, board.key) if board and board.dryer else "",
            made_with=kept_steps.made_with(connection(), progress.run) if progress.kept else "",
            changed=at_the_wall.changed_since(connection(), progress.run),
            air=air_said(progress),
            sensor=devices.air(connection()),
            last_undo=_last_undo(progress),
            own_word=own_word,
        ),
        status,
    )


def word_not_taken(progress: Progress, fault: BadInput, task: str, typed: str) -> ResponseReturnValue:
    """The page again, with what was typed of a paint's own time and what is wrong with it."""
    opened = editing.open_job(connection(), progress.run.job_id)
    return _page(progress, opened, asked=task, status=422, own_word=(typed, fault.message))


def _painter(progress: Progress) -> int:
    return min(max(asked(request.values, "painter", 1), 1), max(progress.job.crew.painters, 1))


def next_for(progress: Progress, painter: int) -> str:
    """What a painter has in hand, else the next step that the plan gives to these hands, else anybody's.

    A step whose window closes soon comes first, but where the plan keeps its window with the other step done before.
    """
    left = [task.key for task in progress.left]
    mine = [key for key in left if progress.facts.of(key).state == "running" and progress.facts.of(key).painter == painter]
    free = [key for key in left if progress.facts.of(key).state != "running"]
    planned = next(iter([key for key in free if progress.in_force.painters.get(key) == painter] + left), "")
    now, starts = progress.live.wall(progress.now), progress.in_force.starts

    def closing(timer: Timer) -> bool:
        key = timer.task
        if timer.kind not in (CLOSES, OVERDUE) or timer.at - now >= SOON_MIN or key not in free or progress.waits[key].blocked:
            return False
        own = progress.task(key).minutes
        before = 0 if key == planned else progress.task(planned).minutes
        kept = starts[planned] <= starts[key] and max(starts[key], now + before) + own <= timer.at
        return not kept

    first = [timer.task for timer in progress.timers if closing(timer)]
    return next(iter([*mine, *first, *filter(None, [planned])]), progress.in_turn[-1].key if progress.in_turn else "")


def _place(progress: Progress, key: str) -> dict[str, object]:
    """The place of a step among all: its number, and those beside it."""
    order = [task.key for task in progress.in_turn]
    at = order.index(key) if key in order else 0
    done = sum(progress.facts.of(k).state in (DONE, SKIPPED) for k in order)
    return {
        "number": progress.numbers.get(key, at + 1),
        "of": len(order),
        "done": done,
        "before": order[at - 1] if at else "",
        "after": order[at + 1] if at + 1 < len(order) else "",
    }


def _last_undo(progress: Progress) -> tuple[str, str] | None:
    """The uid and words of the last entry that can be undone."""
    taken = {str(event.body.get("of", "")) for event in progress.events if event.kind == "undo"}
    for event in reversed(progress.events):
        if (
            event.kind in ("start", "done", "skip", "touch", "here")
            and event.uid not in taken
            and event.uid not in progress.facts.refused
        ):
            task = progress.by_key.get(event.task)
            when = day_and_time(event.at, progress.now)
            return event.uid, f"{SAID[event.kind]} {when}" + (f": {task.piece} {task.words}" if task else "")
    return None


@blueprint.post("/jobs/<int:job_id>/wall/begin")
def begin(job_id: int) -> ResponseReturnValue:
    """Begin the job; while its schedule is worked out, the page asks again."""
    try:
        run = at_the_wall.begin(connection(), job_id, since=request.form.get("since", ""))
    except BadInput as fault:
        flash(fault.message)
        return redirect(url_for("wall.show", job_id=job_id), 303)
    if run:
        keep_steps(run)
    if is_htmx():
        return go_to(url_for("wall.show", job_id=job_id)) if run else ("", 204)
    since = request.form.get("since") or moment().isoformat(timespec="seconds")
    return redirect(url_for("wall.show", job_id=job_id, wait=None if run else 1, since=None if run else since), 303)


@blueprint.post("/jobs/<int:job_id>/wall/record")
def record(job_id: int) -> ResponseReturnValue:
    """Record one entry by a form; what speaks against it is asked first, once."""
    opened = editing.open_job(connection(), job_id)
    run = at_the_wall.require_run(connection(), job_id)
    progress = progress_of(connection(), run)
    form = request.form
    kind, task = form.get("kind", ""), form.get("task", "")
    if kind == "toggle":
        kind = "untick" if (task, form.get("item", "")) in progress.facts.ticks else "tick"
    pressed = form.get("kind") in ("toggle", "undo")  # by a button that stands in the same place again
    again = second_press_said(progress, kind, task, form.get("item", ""), who().name) if pressed else ""
    if again:
        return _page(progress, opened, again, task, 422)
    if kind == "sensor":
        kind, sensed = "air", devices.air(connection())
        if sensed is None:
            return _page(progress, opened, "The sensor has sent nothing in the last half hour: type the air.", task, 422)
        form = ImmutableMultiDict(form | {"temperature": f"{sensed[0]:g} C", "humidity": f"{sensed[1]:g}"})
    asked_about = Questions()
    try:
        at = recorded.ago(form["ago"]) if form.get("ago") else None
        when = on_site(at) if at else progress.now
        asked_about = replace(questions_of(progress, kind, task, when, bool(form.get("took", "").strip())), typed=form)
        if not form.get("answer"):
            once = "" if at else same_press_said(progress, Event(kind, when, task, _painter(progress), body={"by": who().name}))
            asked_about = replace(asked_about, said=(*asked_about.said, *filter(None, [once])))
            if asked_about.said:
                return _page(progress, opened, "", task, 422, asked_about)
        events = _entries(progress, asked_about, kind, task, form, at)
        if form.get("all"):
            events = [
                _beside(events[-1], "tick", task, {"item": item}) for item in _whole(progress, task, form["all"])
            ] or events
        undone = next((event.task for event in progress.events if event.uid == form.get("of")), "")
        keep_steps(run)
        progress = at_the_wall.record(connection(), run, events, who().name)
    except BadInput as fault:
        return _page(progress, opened, fault.message, task, 422, asked_about)
    refused = progress.facts.refused.get(str(events[-1]["uid"]))
    for words in (refused, before_run_said(progress, at or clock.moment(), _took(events[-1])) if kind == "done" else ""):
        if words:
            flash(words)
    stay = undone if kind == "undo" else task if kind in ("tick", "untick", "start", "touch", "air", "here") else ""
    painter = _painter(progress)
    return redirect(url_for("wall.show", job_id=job_id, task=stay or None, painter=painter if painter > 1 else None), 303)


def _entries(
    progress: Progress, asked_about: Questions, kind: str, task: str, form: Mapping[str, str], at: datetime | None
) -> list[dict[str, Any]]:
    """What a form records, in order: the ticks that its answer makes, and the entry itself."""
    body: dict[str, object] = {name: form[name] for name in BODY if name in form}
    if form.get("answer") or at:
        body["sure"] = True
        if form.get("answer") and asked_about.noted:
            body["early"] = asked_about.noted
    event: dict[str, Any] = {
        "kind": kind,
        "task": task,
        "painter": _painter(progress),
        "uid": form.get("uid") or uuid4().hex,
        "body": body,
    }
    if at:
        event["at"] = at.isoformat()
    board = asked_about.board
    if form.get("answer") != "tick" or board is None or not asked_about.unticked:
        return [event]
    ticks = [_beside(event, "tick", board.cover, {"item": item}) for item in asked_about.unticked]
    laid = (
        []
        if board.cover == task or progress.facts.of(board.cover).state in (DONE, SKIPPED)
        else [_beside(event, "done", board.cover, {})]
    )
    return [*ticks, *laid, event]


def _whole(progress: Progress, task: str, group: str) -> list[str]:
    """The items of an edge, of a part (s5..s12), or all of a step's, that nobody has ticked yet; `WHOLE` is all."""
    board = shown_of(progress).boards.get(task)
    rows = board.rows if board else ()
    made = {item for key, item in progress.facts.ticks if key == task}
    first, _, last = group.partition("..")
    items = [row.item for row in rows]
    if last and first in items and last in items:
        rows = rows[items.index(first) : items.index(last) + 1]
        group = WHOLE
    return [row.item for row in rows if group in (row.group, WHOLE) and row.item not in made]


def _beside(event: dict[str, Any], kind: str, task: str, body: dict[str, object]) -> dict[str, Any]:
    """Another entry that goes with one."""
    return {**event, "kind": kind, "task": task, "uid": uuid4().hex, "body": {**body, "sure": True} if kind == "done" else body}


@blueprint.post("/jobs/<int:job_id>/wall/events")
def events(job_id: int) -> ResponseReturnValue:
    """Record the queue of a page's script, in order; answers how the run is getting on and which entries are settled."""
    run = at_the_wall.find_run(connection(), asked(request.args, "run", 0))
    if run is None or run.job_id != job_id:
        raise NotFound("This run is not known.")
    queue = request.get_json(silent=True)
    if not isinstance(queue, list) or not all(isinstance(each, dict) for each in queue):
        raise BadInput("A list of entries is expected.", "events")
    keep_steps(run)
    faults: dict[str, str] = {}
    good = []
    for each in queue:
        try:
            recorded.check(run, each)
            good.append(each)
        except BadInput as fault:
            faults[str(each.get("uid", ""))] = fault.message
    progress = at_the_wall.record(connection(), run, _meant(progress_of(connection(), run), good, faults), who().name)
    done = [each for each in good if each.get("kind") == "done" and each.get("at")]
    noted = {str(each["uid"]): before_run_said(progress, recorded.said_moment(each["at"]), _took(each)) for each in done}
    return jsonify(
        state_of(progress) | {"faults": faults, "noted": noted, "settled": [str(each.get("uid", "")) for each in queue]}
    )


def _took(entry: Mapping[str, Any]) -> float:
    """The minutes that an entry says it took; 0 where it says none that can be read."""
    written = str((entry.get("body") or {}).get("took", "")).replace(",", ".")
    return float(written) if re.fullmatch(r"\d+(\.\d*)?", written) else 0.0


def _meant(progress: Progress, queue: list[dict[str, Any]], faults: dict[str, str]) -> list[dict[str, Any]]:
    """The entries of a queue without those that were likely one press with the one before; those are said in `faults`."""
    found = []
    for each in queue:
        event = event_of(recorded.read(progress.run, each, who().name))
        said = same_press_said(progress, event)
        if said:
            faults[event.uid] = f"{said} Press it again if it was."
        else:
            found.append(each)
            progress = replace(progress, events=(*progress.events, event))
    return found


@blueprint.get("/jobs/<int:job_id>/wall/state")
def state(job_id: int) -> ResponseReturnValue:
    """How the run is getting on; only the time where nothing has changed since what the page has. Reads only: it is asked every few seconds."""
    run = at_the_wall.open_run(connection(), job_id)
    if run is None:
        return jsonify({"ended": True, "now": None})
    progress = progress_of(connection(), run)
    found = state_of(progress)
    if request.args.get("have") == f"{found['run']}.{found['events']}.{found['plan']}":
        return jsonify({"now": found["now"], "same": True, "behind": found["behind"]})
    return jsonify(found)


@blueprint.post("/jobs/<int:job_id>/wall/replan")
def replan(job_id: int) -> ResponseReturnValue:
    """Make the plan again where it is behind; answers as `state` does, or leads back to the page."""
    progress = at_the_wall.catch_up(connection(), at_the_wall.require_run(connection(), job_id))
    if request.accept_mimetypes.best == "application/json":
        return jsonify(state_of(progress))
    return redirect(url_for("wall.show", job_id=job_id), 303)


@blueprint.get("/jobs/<int:job_id>/wall/held")
def held(job_id: int) -> ResponseReturnValue:
    """All steps with their drawings, for a page to hold."""
    run = at_the_wall.require_run(connection(), job_id)
    return held_answer(progress_of(connection(), run), job_id)


@blueprint.get("/due")
def due() -> ResponseReturnValue:
    """The strip of every page: what falls due next."""
    return render_template("_due.html")


@blueprint.get("/wall-worker.js")
def worker() -> Response:
    """The script that lets a held page load without a connection; served here, as its reach is the folder that it comes from."""
    from flask import current_app

    response = current_app.send_static_file("wall-worker.js")
    response.headers["Cache-Control"] = "no-cache"
    return response


@blueprint.get("/jobs/<int:job_id>/wall/app.webmanifest")
def manifest(job_id: int) -> Response:
    """What a phone needs to keep this job's page as an app (W3C Web Application Manifest)."""
    opened = editing.open_job(connection(), job_id)
    start = url_for("wall.show", job_id=job_id)
    icons = [(192, "any"), (512, "any"), (512, "maskable")]
    made = jsonify(
        id=start,
        name=f"{opened.job.title} at the wall",
        short_name=opened.job.title[:24],
        start_url=start,
        scope=f"/jobs/{job_id}/",
        display="standalone",
        background_color="#f5f1e8",
        theme_color="#f5f1e8",
        icons=[
            {
                "src": url_for("static", filename=f"icon-{size}.png"),
                "sizes": f"{size}x{size}",
                "type": "image/png",
                "purpose": purpose,
            }
            for size, purpose in icons
        ],
    )
    made.mimetype = "application/manifest+json"
    return made
