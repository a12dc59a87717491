"""A schedule as a chart of lanes: where each task, wait and window lies, nights and lunches narrowed; writers give it looks."""

from dataclasses import dataclass

from dividers.core.order.calendar import Calendar
from dividers.core.order.network import END, Lag, Task
from dividers.core.order.schedule import Schedule

PX_MIN = 1.6  # a minute of presence
LUNCH_PX, NIGHT_PX = 26.0, 44.0
LANE_PX, HEAD_PX, PAD_PX = 52.0, 40.0, 8.0
LETTERS = {
    "prep": "V", "base": "B", "mark": "M", "tape": "T", "seal": "S", "pull": "P", "touch-up": "U", "erase": "E", "clear-coat": "C",
}  # fmt: skip


@dataclass(frozen=True)
class Bar:
    """A task in its lane: from, to, its letter, the paint's hex where it has one."""

    key: str
    lane: int
    x0: float
    x1: float
    kind: str
    letter: str
    hex: str
    title: str


@dataclass(frozen=True)
class WaitBar:
    """Drying (a line) or a window to pull in (a bracket), in a lane."""

    kind: str
    lane: int
    x0: float
    x1: float
    title: str


@dataclass(frozen=True)
class Lane:
    """One round of a piece, or what is done to it as a whole."""

    piece: str
    key: str
    title: str
    number: int | None


@dataclass(frozen=True)
class Timeline:
    """Everything to draw. `days` are (x, words), `hours` (x, words), `gaps` (x0, x1, night or lunch)."""

    width: float
    height: float
    lanes: tuple[Lane, ...]
    bars: tuple[Bar, ...]
    waits: tuple[WaitBar, ...]
    days: tuple[tuple[float, str], ...]
    hours: tuple[tuple[float, str], ...]
    gaps: tuple[tuple[float, float, str], ...]


class _Scale:
    """From wall minutes to the chart: presence at its full length, gaps narrowed."""

    def __init__(self, calendar: Calendar, last: int) -> None:
        self.spans: list[tuple[int, int, float]] = []  # wall from, to, x
        self.gaps: list[tuple[float, float, str]] = []
        x = PAD_PX
        for number, (start, end) in enumerate(calendar.spans):
            if start >= last:
                break
            if number:
                before = calendar.spans[number - 1][1]
                night = calendar.day_of(before - 1) != calendar.day_of(start)
                wide = NIGHT_PX if night else LUNCH_PX
                self.gaps.append((x, x + wide, "night" if night else "lunch"))
                x += wide
            self.spans.append((start, end, x))
            x += (end - start) * PX_MIN
        self.width = x + PAD_PX

    def at(self, wall: int) -> float:
        for number, (start, end, x) in enumerate(self.spans):
            if wall < start:
                if not number:
                    return x
                _, before, left = self.spans[number - 1]
                from_x = left + (before - self.spans[number - 1][0]) * PX_MIN
                return from_x + (x - from_x) * (wall - before) / (start - before)
            if wall <= end:
                return x + (wall - start) * PX_MIN
        return self.width - PAD_PX


def timeline_of(schedule: Schedule) -> Timeline | None:
    """The chart of a schedule; None where none was found."""
    times = schedule.solution.times
    if times is None or not times.tasks:
        return None
    job, calendar = schedule.job, schedule.calendar
    scale = _Scale(calendar, times.finish)
    lanes = _lanes(schedule)
    number = {(lane.piece, lane.key): place for place, lane in enumerate(lanes)}
    in_turn = sorted(range(len(times.tasks)), key=lambda t: (times.starts[t], t))
    bars = []
    for turn, task in enumerate(in_turn, 1):
        own = times.tasks[task]
        colour = job.palette[own.color].hex if own.color and own.color in job.palette else ""
        begin, end = calendar.moment(times.start(task)), calendar.moment(times.end(task))
        title = f"{own.words}: {begin:%a %H:%M} to {end:%H:%M}, {own.minutes} min"
        lane = number[(own.piece, _lane_key(own))]
        letter = LETTERS.get(own.kind, str(own.coat or ""))
        bars.append(
            Bar(f"t{turn}", lane, scale.at(times.start(task)), scale.at(times.end(task)), own.kind, letter, colour, title)
        )
    waits = [wait for lag in schedule.work.lags if (wait := _wait(schedule, scale, number, lag))]
    days, hours = _heads(calendar, times.finish, scale)
    height = HEAD_PX + LANE_PX * len(lanes) + PAD_PX
    return Timeline(scale.width, height, tuple(lanes), tuple(bars), tuple(dict.fromkeys(waits)), days, hours, tuple(scale.gaps))


def _lane_key(task: Task) -> str:
    if task.number:
        return f"round {task.number}"
    return "whole"


def _lanes(schedule: Schedule) -> list[Lane]:
    lanes: dict[tuple[str, str], Lane] = {}
    titles = {"whole": "base, marks, finishing"}
    for piece in schedule.job.pieces:
        own = [task for task in schedule.work.tasks if task.name.piece == piece.key]
        keys = sorted({_lane_key(task) for task in own}, key=lambda key: 0 if key == "whole" else int(key[6:]))
        for key in keys:
            number = None if key == "whole" else int(key[6:])
            lanes[(piece.name, key)] = Lane(piece.name, key, titles.get(key, key.capitalize()), number)
    return list(lanes.values())


def _wait(schedule: Schedule, scale: _Scale, lanes: dict[tuple[str, str], int], lag: Lag) -> WaitBar | None:
    """A wait of some length as a line of drying; the window of a pull as a bracket."""
    times = schedule.solution.times
    assert times is not None
    then = times.tasks[lag.then]
    lane = lanes[(then.piece, _lane_key(then))]
    if lag.group == "pull" and lag.most is not None:
        start = times.anchor(lag.first, lag.of)
        return WaitBar("window", lane, scale.at(start), scale.at(min(start + lag.most, times.finish)), lag.why)
    if lag.of == END and lag.least >= 20 and lag.group != "pull":
        start = times.anchor(lag.first, lag.of)
        return WaitBar("drying", lane, scale.at(start), scale.at(min(start + lag.least, times.start(lag.then))), lag.why)
    return None


def _heads(
    calendar: Calendar, finish: int, scale: _Scale
) -> tuple[tuple[tuple[float, str], ...], tuple[tuple[float, str], ...]]:
    """The days' and the hours' figures along the top."""
    days: dict[int, tuple[float, str]] = {}
    hours = []
    for start, end in calendar.spans:
        if start >= finish:
            break
        moment = calendar.moment(start)
        days.setdefault(calendar.day_of(start), (scale.at(start), f"{moment:%A} {moment.day} {moment:%b}"))
        for hour in range(-(-start // 60), end // 60 + 1):
            hours.append((scale.at(hour * 60), f"{calendar.moment(hour * 60).hour}"))
    return tuple(days.values()), tuple(dict.fromkeys(hours))
