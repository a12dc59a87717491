"""A masked band wider than two widths of tape takes an infill strip that laps over both; narrower ones and outer ground take none."""

import pytest
from jobs import wall

from dividers.core.job_file.job_reader import read_job
from dividers.core.plan.infill import infills
from dividers.core.plan.plan import plan_job


def planned(left, right, fills):
    """Ground between two upright lines, so far from the left in inches; the outer parts are painted."""
    job = wall()
    job["pieces"][0]["pattern"] = {
        "kind": "facets",
        "points": {
            "A": [left, "0"],
            "B": {"left": left, "bottom": "0"},
            "C": [right, "0"],
            "D": {"left": right, "bottom": "0"},
        },
        "lines": [["A", "B"], ["C", "D"]],
        "fills": fills,
    }
    return plan_job(read_job(job)).pieces[0]


BOTH = [{"at": ["1", "1"], "color": "ink"}, {"at": ["110", "1"], "color": "ink"}]


@pytest.mark.parametrize(
    ("left", "right", "fills", "many"),
    [("40", "45", BOTH, 1), ("40", "42", BOTH, 0), ("40", "60", BOTH, 0), ("40", "45", BOTH[:1], 0)],
)
def test_only_bands_between_paint_take_an_infill_strip(left, right, fills, many):
    plan = planned(left, right, fills)
    found = infills(plan.layouts, plan.cell_keys, "facets", float(plan.piece.method.tape.width_mm))
    assert len(found) == many
    if many:
        assert found[0][1] == pytest.approx(5 * 25.4 - 2 * 36 + 12, abs=0.5)
        assert any("infill strip" in fact.message for fact in plan.facts)
