"""Plans the demo and generated jobs here and at an earlier revision, and compares them number for number.

Run: .venv/bin/python tests/bench/compare_plans.py REVISION [--jobs 300]

For changes that should change no plan. Words may differ, and so may the keys that RENAMED lists; every number, time, id, colour and
the order of every list must be equal. Exits with 1 where anything differs.
"""

import argparse
import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
from pathlib import Path

ROOT = Path(__file__).parents[2]
RENAMED = {"passes": "rounds", "pass": "round"}
# Sentences and names for people: compared by their number, not by their text.
WORDS = {
    "facts",
    "message",
    "said",
    "reason",
    "reasons",
    "what",
    "side",
    "where",
    "cautions",
    "because_said",
    "line",
    "from",
    "item",
    "use",
}
FORMATS = {"dividers-plan/1", "dividers-plan/2"}


def make_jobs(folder, count):
    """Write the demo and `count` generated jobs that can be planned, the same ones each time."""
    sys.path[:0] = [str(ROOT / "tests"), str(ROOT / "tests/reference"), str(ROOT / "src")]
    from hypothesis import HealthCheck, Phase, given, settings
    from hypothesis import strategies as st
    from jobs import surveyed_jobs
    from test_schedules import scheduled_jobs

    found = [json.loads((ROOT / "src/dividers/demo/lantern-cart.json").read_text())]

    @given(st.one_of(scheduled_jobs(), scheduled_jobs(), surveyed_jobs()))
    @settings(
        max_examples=4 * count,
        deadline=None,
        derandomize=True,
        database=None,
        phases=[Phase.generate],
        suppress_health_check=list(HealthCheck),
    )
    def collect(job):
        if len(found) <= count and plan_text_of(json.dumps(job), schedule=False) is not None:
            found.append(job)

    collect()
    for number, job in enumerate(found):
        (folder / f"{number:04}.json").write_text(json.dumps(job))


def plan_text_of(job, schedule=True):
    """What `dividers plan` prints for a job's text, or None where it refuses it."""
    from dividers.cli import main

    with tempfile.NamedTemporaryFile("w", suffix=".json") as file, contextlib.redirect_stdout(io.StringIO()) as out:
        file.write(job)
        file.flush()
        with contextlib.redirect_stderr(io.StringIO()):
            code = main(["plan", file.name, *(["--schedule"] if schedule else [])])
    return out.getvalue() if code == 0 else None


def plan_all(jobs, out):
    """Plan every job of a folder. The solver's own steps alone limit a search, so that a busy machine gives the same schedule."""
    from ortools.sat.python import cp_model

    solve = cp_model.CpSolver.solve

    def patiently(solver, *arguments):
        solver.parameters.max_time_in_seconds = 3600
        return solve(solver, *arguments)

    cp_model.CpSolver.solve = patiently
    for path in sorted(jobs.glob("*.json")):
        (out / path.name).write_text(plan_text_of(path.read_text()) or "null")


def planned_by(tree, jobs, out):
    """Plan every job with the program of a checkout."""
    out.mkdir()
    subprocess.run(
        [sys.executable, __file__, "--plan", str(jobs), str(out)],
        check=True,
        env={**os.environ, "PYTHONPATH": str(tree / "src")},
    )


def differences(one, other, path=""):
    """Where two plans differ in anything but words."""
    if isinstance(one, dict) and isinstance(other, dict):
        one = {RENAMED.get(key, key): value for key, value in one.items()}
        other = {RENAMED.get(key, key): value for key, value in other.items()}
        if one.keys() != other.keys():
            yield f"{path}: keys {sorted(one.keys() ^ other.keys())}"
        for key in one.keys() & other.keys():
            if key not in WORDS or not (isinstance(one[key], str) and isinstance(other[key], str)):
                yield from differences(one[key], other[key], f"{path}.{key}")
    elif isinstance(one, list) and isinstance(other, list):
        if len(one) != len(other):
            yield f"{path}: {len(one)} entries, {len(other)} now"
        elif path.rsplit(".", 1)[-1] not in WORDS:
            for number, pair in enumerate(zip(one, other, strict=True)):
                yield from differences(*pair, f"{path}.{number}")
    elif one != other and not {one, other} <= FORMATS:
        yield f"{path}: {one!r}, {other!r} now"


def numbers_in(plan):
    if isinstance(plan, dict | list):
        return sum(map(numbers_in, plan.values() if isinstance(plan, dict) else plan))
    return isinstance(plan, int | float)


def compare(before, after):
    """Print what differs; whether nothing does."""
    same = numbers = refused = 0
    paths = sorted(before.glob("*.json"))
    for path in paths:
        one, other = json.loads(path.read_text()), json.loads((after / path.name).read_text())
        found = list(differences(one, other))
        same += not found
        refused += one is None
        numbers += numbers_in(one)
        for line in found[:5]:
            print(f"{path.name}{line}")
    print(f"{same} of {len(paths)} plans are equal ({numbers} numbers; {refused} jobs refused by both or one)")
    return same == len(paths)


def main():
    parser = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    parser.add_argument("revision", nargs="?")
    parser.add_argument("--jobs", type=int, default=300)
    parser.add_argument("--plan", nargs=2, type=Path, help=argparse.SUPPRESS)
    options = parser.parse_args()
    if options.plan:
        plan_all(*options.plan)
        return 0
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        (folder / "jobs").mkdir()
        (folder / "tree").mkdir()
        make_jobs(folder / "jobs", options.jobs)
        archive = subprocess.run(["git", "archive", options.revision], cwd=ROOT, check=True, capture_output=True).stdout
        subprocess.run(["tar", "x", "-C", str(folder / "tree")], input=archive, check=True)
        planned_by(folder / "tree", folder / "jobs", folder / "before")
        planned_by(ROOT, folder / "jobs", folder / "after")
        return 0 if compare(folder / "before", folder / "after") else 1


if __name__ == "__main__":
    sys.exit(main())
