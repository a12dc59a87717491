"""Accessibility faults, found by axe-core."""

from pathlib import Path

AXE = Path(__file__).parent / "vendor" / "axe-4.14.1.min.js"


def violations(page, rule=None):
    """What axe-core finds wrong with a page, in short; by one rule alone where that is given."""
    page.evaluate(AXE.read_text())
    found = page.evaluate("(rule) => axe.run(rule ? { runOnly: [rule] } : {})", rule)["violations"]
    return [(entry["id"], node["html"][:160]) for entry in found for node in entry["nodes"]]
