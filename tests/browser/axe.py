"""Accessibility faults, found by axe-core."""

from pathlib import Path

AXE = (Path(__file__).parent / "vendor" / "axe-4.14.1.min.js").read_text()
FAULTS = """async (rule) => {
  const found = await axe.run({ resultTypes: ["violations"], ...(rule ? { runOnly: [rule] } : {}) });
  return found.violations.flatMap((fault) => fault.nodes.map((node) => [fault.id, node.html.slice(0, 160)]));
}"""


def violations(page, rule=None):
    """What axe-core finds wrong with a page, in short; by one rule alone where that is given."""
    if not page.evaluate("'axe' in window"):
        page.evaluate(AXE)
    return [
        tuple(fault) for fault in page.evaluate(FAULTS, rule)
    ]  # only the faults: the rest of what it finds takes longer to send than to find
