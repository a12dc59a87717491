"""The schedule played on the drawing: a piece at each moment at which it changes, with the clock; still pictures for who prints them."""

from dataclasses import dataclass
from datetime import datetime

from flask import Blueprint, Response, render_template, request
from flask.typing import ResponseReturnValue
from markupsafe import Markup

from dividers.core.base.errors import NotFound, NotYet
from dividers.core.order.schedule import Schedule
from dividers.core.order.state_at import PieceState, moments_of, state_at
from dividers.core.output.moment_scene import frame
from dividers.core.plan.piece_plan import PiecePlan
from dividers.formats.drawings.moving_picture import frames_apng
from dividers.formats.drawings.scene_svg import scene_svg
from dividers.formats.print.paper import About, paper, paper_for
from dividers.services.clock import date_of
from dividers.services.jobs import editing, evidence
from dividers.services.jobs.planning import piece_plan
from dividers.services.stations import scheduling
from dividers.web.database import connection
from dividers.web.htmx import is_htmx
from dividers.web.numbers import asked

MOST_SHOTS = 30
MODELLED = "As planned, not as it happened: drying goes by the labels."
blueprint = Blueprint("rehearsal", __name__, url_prefix="/jobs/<int:job_id>/<piece>/rehearsal")


@dataclass(frozen=True)
class ShownMoment:
    """A moment as the page shows it: its number of how many, the clock, what was just done, what is on, and what comes next."""

    number: int
    count: int
    clock: str
    done: tuple[str, ...]
    on: str
    following: str
    picture: Markup


@blueprint.get("")
def show(job_id: int, piece: str) -> ResponseReturnValue:
    opened, schedule, plan, moments = _rehearsed(job_id, piece)
    number = min(max(asked(request.args, "at", 0), 0), len(moments) - 1)
    if "task" in request.args:
        number = _before(schedule, moments, request.args["task"])
    return render_template(
        "stations/_rehearsal.html" if is_htmx() else "stations/rehearsal.html",
        opened=opened,
        job=opened.job,
        piece=plan.piece,
        shown=_shown(schedule, plan, moments, number),
    )


def _before(schedule: Schedule, moments: list[int], task: str) -> int:
    """The number of the last moment at which a task isn't begun yet; the first where there is no such task."""
    times = schedule.solution.times
    assert times is not None
    start = next((times.start(n) for n, each in enumerate(times.tasks) if each.key == task), moments[0])
    return max((number for number, at in enumerate(moments) if at <= start), default=0)


@blueprint.get("/picture.png")
def picture(job_id: int, piece: str) -> ResponseReturnValue:
    """All moments as one animated picture."""
    opened, schedule, plan, moments = _rehearsed(job_id, piece)
    scenes = [frame(plan, state_at(schedule, plan, at), opened.job.palette, opened.job.units) for at in moments]
    words = [_clock(schedule, at) for at in moments]
    headers = {"Content-Disposition": f'attachment; filename="{piece}-rehearsal.png"'}
    return Response(frames_apng(scenes, words), mimetype="image/png", headers=headers)


@blueprint.get("/contact-sheet.pdf")
def contact_sheet(job_id: int, piece: str) -> ResponseReturnValue:
    """Moments from the first to the last on a sheet of paper, to show how the piece will come about."""
    opened, schedule, plan, moments = _rehearsed(job_id, piece)
    step = max(1, -(-len(moments) // MOST_SHOTS))
    chosen = sorted({*moments[::step], moments[-1]})
    shots = [
        (frame(plan, state_at(schedule, plan, at), opened.job.palette, opened.job.units), _clock(schedule, at)) for at in chosen
    ]
    inches = opened.job.units == "in"
    day = date_of(opened.revision.made_at).isoformat()
    about = About(
        f"{plan.piece.name}: how it comes about", opened.job.title, day, paper_for(opened.job.units), inches, (MODELLED,)
    )
    headers = {"Content-Disposition": f'attachment; filename="{piece}-contact-sheet.pdf"'}
    return Response(paper(about, lambda pen: pen.contact(shots, 3, 120)), mimetype="application/pdf", headers=headers)


def _rehearsed(job_id: int, piece: str) -> tuple[editing.Opened, Schedule, PiecePlan, list[int]]:
    """A job with the schedule and the plan of the same state, and the moments of the piece. Raises NotFound, NotYet."""
    opened = editing.open_job(connection(), job_id)
    opened.piece(piece)
    informed = evidence.informed(connection(), opened.revision.document)
    schedule = scheduling.schedule_for(opened.id, informed)
    if schedule is None:
        raise NotYet("the schedule")
    schedule = schedule.at_risk
    moments = moments_of(schedule, piece)
    if not moments:
        raise NotFound(f"There is no schedule to rehearse. {schedule.said[0]}")
    return opened, schedule, piece_plan(informed, piece), moments


def _shown(schedule: Schedule, plan: PiecePlan, moments: list[int], number: int) -> ShownMoment:
    times = schedule.solution.times
    assert times is not None
    minute = moments[number]
    state = state_at(schedule, plan, minute)
    own = [(times.end(n), task) for n, task in enumerate(times.tasks) if task.name.piece == plan.piece.key]
    done = tuple(task.words for end, task in own if end == minute)
    coming = sorted(
        (times.start(n), n)
        for n, task in enumerate(times.tasks)
        if task.name.piece == plan.piece.key and times.start(n) >= minute
    )
    following = ""
    if coming:
        start, first = coming[0]
        wait = "" if start <= minute else f", {_clock(schedule, start)}"
        following = f"{times.tasks[first].words}{wait}"
    scene = frame(plan, state, schedule.job.palette, schedule.job.units)
    title = f"{plan.piece.name}, {_clock(schedule, minute)}"
    return ShownMoment(
        number, len(moments), _clock(schedule, minute), done, _on(state, plan), following, scene_svg(scene, title)
    )


def _on(state: PieceState, plan: PiecePlan) -> str:
    """What is on, in a sentence."""
    said = []
    if state.base:
        said.append(f"the base, {state.base.state}")
    if state.strips:
        said.append(f"{len(state.strips)} strip{'s' if len(state.strips) > 1 else ''} of tape")
    for look in ("wet", "drying", "dry"):
        count = sum(coat.state == look for coat in state.cells.values())
        if count:
            said.append(f"{count} part{'s' if count > 1 else ''} {look}")
    return f"On {plan.piece.name}: {', '.join(said)}." if said else "Nothing is on yet."


def _clock(schedule: Schedule, minute: int) -> str:
    moment: datetime = schedule.calendar.moment(minute)
    return f"{moment:%A} {moment.day} {moment:%B}, {moment:%H:%M}"
