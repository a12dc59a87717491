"""Error budgets against 10,000 simulated wallfuls of marking, each error drawn by itself."""

import numpy as np
import pytest

from dividers.core.marks.error_budget import BOTH_ENDS, LASER, LEVEL, STEPPED, WAYS, Far, spread, worst

RUNS = 10_000
CASES = [Far(2400, 3600, 26, 25.4 / 16), Far(600, 900, 4, 1.0), Far(9000, 12_000, 60, 1.0)]


def simulated(way, far, dice):
    """Where the far end comes out, run by run."""

    def within(limit):
        return dice.uniform(-limit, limit, RUNS)

    if way == STEPPED:
        off = sum(within(far.step_mm / 2) + within(0.5) for _ in range(far.turn))
        return off + within(0.5)
    off = within(far.step_mm / 2) + within(0.5) + within(0.3 + 0.2 * far.reach_mm / 1000)
    tilt = {BOTH_ENDS: 0.0, LASER: 0.3, LEVEL: 0.5}[way]
    return off + within(tilt * far.across_mm / 1000) + within(0.5)


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("far", CASES)
def test_the_budget_is_what_simulation_finds(way, far):
    found = simulated(way, far, np.random.default_rng(7))
    assert spread(way, far) == pytest.approx(float(found.std()), rel=0.05)
    assert float((np.abs(found) <= worst(way, far)).mean()) >= 0.93  # more where one error outweighs the rest


def test_readings_from_the_datum_beat_stepping_and_a_laser_beats_a_level():
    far = CASES[0]
    assert worst(BOTH_ENDS, far) < worst(LASER, far) < worst(LEVEL, far)
    assert worst(BOTH_ENDS, far) < worst(STEPPED, far)
