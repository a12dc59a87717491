"""Times whole plans and prints a table; nothing here passes or fails. Run: .venv/bin/python tests/bench/bench_plan.py

Each figure is the least of some runs, in processor time, as other work on the machine only ever adds.
"""

import math
import resource
import sys
import time
from pathlib import Path

import numpy as np
import shapely

sys.path.insert(0, str(Path(__file__).parents[1]))

from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.output.drawing import draw
from dividers.core.output.scene import View
from dividers.core.plan.plan import plan_job
from dividers.core.plan.plan_document import plan_text
from dividers.formats.drawings.scene_svg import scene_svg

INCH = 25.4
TYPICAL = {
    "stripes, 20": {"kind": "stripes", "count": 20},
    "chevron, 8 columns": {"kind": "chevron", "columns": 8, "rise": "10", "band": "8"},
    "diamonds, 16 x 14": {"kind": "diamonds", "columns": 16, "rows": 14},
    "chequers, 25 x 20": {"kind": "checker", "columns": 25, "rows": 20},
    "brick, 5 x 12 in": {"kind": "brick", "course": "5", "length": "12", "joint": "1/4", "colors": ["ink", "madder", None]},
    "hexagons, 20 across": {"kind": "hexagons", "columns": 20},
}


def job_of(pattern, width="120", height="96", tape="24 mm"):
    document = wall(panel={"width": width, "height": height}, pattern={"direction": None, "count": None, **pattern})
    document["products"]["delicate"]["width"] = tape
    return read_job(document)


def least(run, times):
    best = math.inf
    for _ in range(times):
        start = time.process_time()
        result = run()
        best = min(best, time.process_time() - start)
    return best, result


def whole(job):
    """The plan of a job with everything in it computed."""
    plan = plan_job(job)
    for piece in plan.pieces:
        _ = (
            piece.marks,
            piece.checks,
            piece.paints,
            piece.tapes,
            piece.taping.chosen.rounds[0].strips,
            piece.warnings,
            piece.facts,
        )
    return plan


def for_the_page(job):
    """What the Pattern station needs for each change: the layout, the rounds for its warnings, and the drawing."""
    piece = plan_job(job).pieces[0]
    _ = piece.warnings, piece.facts
    return scene_svg(draw(piece, job.palette, "in", View()), "x")


def chequers(columns, rows, tape):
    """Seconds for the whole plan of 1 in chequers, and for one union of their dark cells."""
    job = job_of({"kind": "checker", "size": "1"}, str(columns), str(rows), tape)
    times = 3 if columns * rows < 50_000 else 1
    plan, made = least(lambda: whole(job), times)
    x, y = np.meshgrid(np.arange(columns), np.arange(rows))
    dark = shapely.box(x * INCH, y * INCH, (x + 1) * INCH, (y + 1) * INCH)[(x + y) % 2 == 0]
    union, _ = least(lambda: shapely.union_all(dark), times) if columns * rows < 50_000 else (math.nan, None)
    text, _ = least(lambda: plan_text(made), 1)
    return plan, text, union, len(made.pieces[0].taping.chosen.rounds)


def main():
    print("| 1 in chequers | tape | cells | rounds | plan s | plan as JSON s | union s | plan / union |")
    print("|---|---|---|---|---|---|---|---|")
    times = {}
    for columns, rows, tape in ((40, 25, "24 mm"), (157, 98, "24 mm"), (157, 98, "36 mm"), (400, 250, "24 mm")):
        plan, text, union, rounds = chequers(columns, rows, tape)
        times[(columns * rows, tape)] = plan
        ratio = f"{plan / union:.2f}" if union == union else ""
        shown = f"{union:.2f}" if union == union else "not run"
        print(f"| {columns} x {rows} | {tape} | {columns * rows} | {rounds} | {plan:.2f} | {text:.2f} | {shown} | {ratio} |")
    growth = math.log(times[(100_000, "24 mm")] / times[(1000, "24 mm")]) / math.log(100)
    print(f"\nGrowth from 1,000 to 100,000 cells: exponent {growth:.2f}.")
    print(f"Most memory in this process: {resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024:.0f} MB.\n")
    print("| typical piece | cells | whole plan ms | Pattern page ms |")
    print("|---|---|---|---|")
    for name, pattern in TYPICAL.items():
        job = job_of(pattern)
        seconds, made = least(lambda job=job: whole(job), 7)
        page, _ = least(lambda job=job: for_the_page(job), 7)
        print(f"| {name} | {made.pieces[0].cell_count} | {1000 * seconds:.0f} | {1000 * page:.0f} |")


if __name__ == "__main__":
    main()
