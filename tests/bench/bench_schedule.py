"""Times schedules of 5 to 80 rounds and prints a table; nothing here passes or fails. Run: .venv/bin/python tests/bench/bench_schedule.py

Rounds are facets three a row: each with tape, seal, two coats and a wet pull, and tape that lies on the paint of some neighbours.
All rates and drying times are invented.
"""

import random
import time
from datetime import datetime

from dividers.core.job.crew import Crew
from dividers.core.order.calendar import calendar_of
from dividers.core.order.network import END, START, Lag, Task
from dividers.core.order.solve import solve
from dividers.core.order.task_key import TaskKey


def facets(rounds, seed):
    """Tasks and lags of so many rounds."""
    dice = random.Random(seed)
    tasks, lags, parts = [], [], []
    base = [Task(TaskKey("p", "base", coat=n), "p", 30, f"base {n}") for n in (1, 2)]
    tasks += base
    lags.append(Lag(0, 1, 120, "", "recoat"))
    for number in range(rounds):
        first = len(tasks)
        sizes = [dice.randint(10, 40), dice.randint(5, 15), dice.randint(3, 6), dice.randint(3, 6), dice.randint(2, 3)]
        kinds = ("tape", "seal", "coat", "coat", "pull")
        tasks += [
            Task(TaskKey("p", k, number, coat=turn), "p", m, f"{k} {number}", split=k == "tape")
            for turn, (k, m) in enumerate(zip(kinds, sizes, strict=True))
        ]
        tape, seal, one, two, pull = range(first, first + 5)
        lags += [Lag(1, tape, 1440, "", "tape-safe"), Lag(tape, seal, 0, "", "seal"), Lag(seal, one, 40, "", "seal")]
        lags += [Lag(one, two, 120, "", "recoat"), Lag(two, pull, 0, "", "pull"), Lag(two, pull, 0, "", "pull", 12, START, END)]
        for other in (number - 1, number - 3):
            if other >= 0 and (other == number - 3 or number % 3) and dice.random() < 0.45:
                lags += [Lag(parts[other][1], tape, 180, "", "tape-safe"), Lag(parts[other][0], tape, 0, "", "order")]
        parts.append((pull, two))
    return tuple(tasks), tuple(lags)


def main():
    print("| rounds | tasks | painters | limit s | proved | gap min, each | wall s, each |")
    print("|---|---|---|---|---|---|---|")
    for rounds in (5, 10, 20, 40, 80):
        for painters in (1, 2):
            for limit in (2.0, 10.0):
                calendar = calendar_of(Crew(painters=painters), datetime(2027, 3, 1, 8), 120)
                rows = []
                for seed in range(3):
                    tasks, lags = facets(rounds, seed)
                    begun = time.time()
                    found = solve(tasks, lags, calendar, painters, limit)
                    finish = calendar.at_or_after(found.times.finish)
                    rows.append((found.status == "optimal", found.gap_min, 100 * found.gap_min / finish, time.time() - begun))
                gaps = ", ".join(f"{gap} ({share:.1f} %)" for _, gap, share, _ in rows)
                walls = ", ".join(f"{seconds:.1f}" for *_, seconds in rows)
                print(
                    f"| {rounds} | {len(tasks)} | {painters} | {limit:g} | {sum(ok for ok, *_ in rows)} of 3 | {gaps} | {walls} |",
                    flush=True,
                )


if __name__ == "__main__":
    main()
