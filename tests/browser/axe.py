"""Accessibility faults, found by axe-core."""

from pathlib import Path

AXE = Path(__file__).parent / "vendor" / "axe-4.14.1.min.js"


def violations(page):
    """What axe-core finds wrong with a page, in short."""
    page.evaluate(AXE.read_text())
    found = page.evaluate("axe.run()")["violations"]
    return [(entry["id"], node["html"][:160]) for entry in found for node in entry["nodes"]]
