"""Schedules against references from outside: a checker that knows only the JSON, longest paths, brute force, a published optimum."""

import copy
import json
from datetime import datetime
from itertools import permutations

import networkx
from budget import examples
from hypothesis import given
from hypothesis import strategies as st
from jobs import any_jobs
from layered_jobs import layered_jobs
from schedule_checker import Checker

from dividers.core.base.errors import BadInput, BadJob
from dividers.core.job.crew import Crew
from dividers.core.job_file.job_reader import read_job
from dividers.core.order.calendar import Calendar, calendar_of
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.schedule import schedule_of
from dividers.core.order.schedule_document import add_areas, forecast_document, schedule_document
from dividers.core.order.solve import solve
from dividers.core.order.task_key import TaskKey
from dividers.core.order.times import broken
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_document

ALWAYS = Calendar(datetime(2001, 1, 1), ((0, 100_000),))
PAINTS = {
    "quick": {
        "kind": "paint",
        "touch_dry": "20 min",
        "recoat": "40 min",
        "tape_safe": "3 h",
        "full_dry": "6 h",
        "wet_edge": "14 min",
    },
    "slow": {
        "kind": "paint",
        "touch_dry": "2 h",
        "recoat": "5 h",
        "tape_safe": "20 h",
        "full_dry": "30 h",
        "wet_edge": "40 min",
    },
}


def by_hand(layers):
    """Motifs and shading over one of a piece's layers."""
    over = st.sampled_from([layer["name"] for layer in layers])
    color = st.sampled_from(["ink", "madder", "cream"])
    at = st.sampled_from(["crossings", "centres", "between"])
    motifs = {"kind": st.just("motifs"), "name": st.just("motifs"), "of": over, "at": at, "width": st.just("1"), "color": color}
    shading = {
        "kind": st.just("shading"),
        "name": st.just("shading"),
        "of": over,
        "dark": color,
        "bright": color,
        "line": st.just("1/8"),
    }
    return st.fixed_dictionaries(motifs) | st.fixed_dictionaries(shading)


@st.composite
def scheduled_jobs(draw):
    """Jobs of one or two pieces with paints, crews, hours, schools and coats of all sorts."""
    job = draw(any_jobs() | layered_jobs())
    if draw(st.booleans()):
        other = copy.deepcopy(draw(any_jobs())["pieces"][0])
        job["pieces"].append(other | {"name": "Other"})
    job["products"] |= PAINTS
    for piece in job["pieces"]:
        method = piece["method"]
        method["paint"] = draw(st.dictionaries(st.sampled_from(["ink", "madder", "cream"]), st.sampled_from(list(PAINTS))))
        method["coats"] = draw(st.dictionaries(st.sampled_from(["ink", "madder"]), st.integers(1, 3)))
        method["pull"] = draw(st.sampled_from(["auto", "auto", "touch-dry", "dry", "wet"]))
        if "layers" in piece and draw(st.booleans()):
            piece["layers"] += draw(
                st.lists(by_hand(piece["layers"]), min_size=1, max_size=2, unique_by=lambda each: each["name"])
            )
        method["seal"] = draw(st.sampled_from(["auto", "none", "base", "clear", "matte-medium", "moisten"]))
    hours = draw(
        st.sampled_from(
            [[["08:00", "12:00"], ["12:30", "17:30"]], [["09:00", "15:00"]], [["07:00", "11:00"], ["18:00", "21:00"]]]
        )
    )
    job["crew"] = {"painters": draw(st.integers(1, 3)), "start": "2027-03-06T08:00", "hours": hours}
    return job


@given(scheduled_jobs())
@examples(14)
def test_schedules_keep_every_rule_by_an_independent_checker(document):
    try:
        plan = plan_job(read_job(document))
    except (BadInput, BadJob):
        return
    order = schedule_of(plan, 0.3)
    if order.solution.times is None:
        assert order.work.problems or order.solution.clashes
        return
    written = json.loads(json.dumps(plan_document(plan) | {"schedule": schedule_document(order)}))
    for piece, own in zip(written["pieces"], plan.pieces, strict=True):
        choices = order.work.choices[own.piece.key]
        piece["forecast"] = forecast_document(choices)
        add_areas(piece["rounds"], own, choices)
    if written["schedule"]["tasks"]:
        Checker(document, written).check()
        assert order.solution.bound <= order.solution.times.finish


def coat(number, minutes, **more):
    return Task(TaskKey("p", "coat", coat=number), "p", minutes, f"task {number}", **more)


@st.composite
def networks(draw, most=9, windows=False):
    """Tasks that take 1 to 90 minutes, with minimum lags along their order."""
    count = draw(st.integers(1, most))
    tasks = tuple(coat(n, draw(st.integers(1, 90)), split=draw(st.booleans())) for n in range(count))
    lags = []
    for then in range(count):
        for first in draw(st.sets(st.integers(0, max(then - 1, 0)), max_size=2)) if then else ():
            least = draw(st.integers(0, 300))
            most_wait = least + draw(st.integers(60, 400)) if windows and draw(st.booleans()) else None
            lags.append(Lag(first, then, least, "", "wait", most_wait, draw(st.sampled_from([START, END]))))
    return tasks, tuple(lags)


@given(networks(most=14))
def test_without_hours_and_with_hands_enough_the_finish_is_the_longest_path(network):
    """networkx's longest path over tasks and lags."""
    tasks, lags = network
    graph = networkx.DiGraph()
    graph.add_node("end")
    for number, task in enumerate(tasks):
        graph.add_edge("start", number, weight=0)
        graph.add_edge(number, "end", weight=task.minutes)
    for lag in lags:
        weight = lag.least + (tasks[lag.first].minutes if lag.of == END else 0)
        weight = max(weight, graph.get_edge_data(lag.first, lag.then, {"weight": 0})["weight"])
        graph.add_edge(lag.first, lag.then, weight=weight)
    found = solve(tasks, lags, ALWAYS, len(tasks), 1.0)
    assert found.times.finish == networkx.dag_longest_path_length(graph)
    assert found.status == "optimal"


def best_by_trying(tasks, lags, calendar):
    """The least finish of one painter over every order of the tasks, each as early as it can be."""
    best = None
    for order in permutations(range(len(tasks))):
        free, starts, good = 0, {}, True
        for task in order:
            wall = 0
            for lag in lags:
                if lag.then == task:
                    if lag.first not in starts:
                        good = False
                        break
                    begin = starts[lag.first]
                    anchor = calendar.wall_end(begin + tasks[lag.first].minutes) if lag.of == END else calendar.wall(begin)
                    wall = max(wall, anchor + lag.least)
            if not good:
                break
            at = max(calendar.at_or_after(wall), free)
            while not tasks[task].split and calendar.span_of(at) != calendar.span_of(at + tasks[task].minutes - 1):
                at = calendar.before[calendar.span_of(at) + 1]
            starts[task], free = at, at + tasks[task].minutes
        if good:
            finish = max(calendar.wall_end(start + tasks[task].minutes) for task, start in starts.items())
            best = finish if best is None else min(best, finish)
    return best


@given(
    networks(most=6),
    st.sampled_from(
        [(("08:00", "12:00"), ("12:30", "17:30")), (("08:00", "10:00"),), (("09:00", "11:00"), ("12:00", "13:45"))]
    ),
)
@examples(20)
def test_one_painter_in_hours_is_as_good_as_trying_every_order(network, hours):
    tasks, lags = network
    calendar = calendar_of(Crew(hours=hours), datetime(2027, 3, 1, 8), 40)
    found = solve(tasks, lags, calendar, 1, 2.0)
    assert found.status == "optimal"
    assert found.times.finish == best_by_trying(tasks, lags, calendar)


@given(networks(most=10, windows=True), st.integers(1, 3))
@examples(30)
def test_windows_hold_where_there_is_a_schedule(network, painters):
    tasks, lags = network
    calendar = calendar_of(Crew(), datetime(2027, 3, 1, 8), 30)
    found = solve(tasks, lags, calendar, painters, 0.5)
    if found.times is not None:
        assert broken(found.times, lags, painters) == []
    else:
        assert found.status == "infeasible"


def test_the_optimum_of_a_published_example_is_found():
    """R. L. Graham 1969 (from memory): nine tasks on three processors, 3 2 2 2 4 4 4 4 9, 1 before 9 and 4 before 5 to 8: 12."""
    tasks = tuple(coat(n, minutes) for n, minutes in enumerate((3, 2, 2, 2, 4, 4, 4, 4, 9), 1))
    lags = (Lag(0, 8, 0, "", "order"), *(Lag(3, n, 0, "", "order") for n in range(4, 8)))
    assert solve(tasks, lags, ALWAYS, 3, 1.0).times.finish == 12
    assert solve(tasks, lags, ALWAYS, 4, 1.0).times.finish == 12


def test_the_same_job_gives_the_same_schedule():
    tasks = tuple(coat(n, 20 + n) for n in range(12))
    lags = tuple(Lag(n, n + 3, 90, "", "recoat") for n in range(9))
    calendar = calendar_of(Crew(painters=2), datetime(2027, 3, 1, 8), 10)
    assert solve(tasks, lags, calendar, 2, 0.5) == solve(tasks, lags, calendar, 2, 0.5)


def test_what_clashes_is_named():
    """A pull within ten minutes of a coat that takes twenty, in hours that are long enough."""
    tasks = (coat(0, 20), coat(1, 5))
    lags = (Lag(0, 1, 0, "", "pull"), Lag(0, 1, 0, "", "pull", 10, START, END))
    found = solve(tasks, lags, calendar_of(Crew(), datetime(2027, 3, 1, 8), 5), 1, 0.5)
    assert (found.status, found.clashes) == ("infeasible", ("pull",))
