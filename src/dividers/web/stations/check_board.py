"""The check of what was marked: one mark line at a time, or the diagonals, as found against as planned."""

from collections.abc import Mapping
from fractions import Fraction
from typing import Any

from flask import request

from dividers.core.base.lengths import write_kept
from dividers.core.job.surface import Panel
from dividers.core.marks.check_marks import check_diagonals, check_line
from dividers.core.plan.piece_plan import PiecePlan
from dividers.services.jobs.editing import Opened
from dividers.web.stations.mark_list import grouped


def marked_board(plan: PiecePlan, opened: Opened, typed: Mapping[str, Any]) -> dict[str, Any]:
    """What the check's template shows: the lines to choose from, the chosen one's rows, and what is said."""
    lines = list(dict.fromkeys((group.rows[0][2].panel, group.line, group.panel) for group in grouped(plan)))
    panels = {panel.name: panel for panel in plan.piece.surface.panels}
    wanted = (typed.get("panel") or request.args.get("panel", ""), typed.get("line", request.args.get("line", "-")))
    chosen = next((line for line in lines if line[:2] == wanted), None)
    if chosen is None and (wanted[1] != "" or wanted[0] not in panels):
        chosen = lines[0] if lines else None
    shown: dict[str, Any] = {"lines": lines, "panels": list(panels), "faults": typed.get("faults", {})}
    same = {check.panel: [c.reading.text for c in plan.checks if c.panel == check.panel] for check in plan.checks}
    if chosen is None:
        panel = panels.get(wanted[0]) or next(iter(panels.values()))
        shown |= _diagonals(plan, opened, panel, typed)
    else:
        shown |= _line(plan, opened, panels[chosen[0]], chosen[1], typed)
    return {"as_marked": shown, "marked_same": all(len(set(texts)) == 1 for texts in same.values())}


def _line(plan: PiecePlan, opened: Opened, panel: Panel, line: str, typed: Mapping[str, Any]) -> dict[str, Any]:
    job = opened.job
    marks = [(f"m{n}", mark) for n, mark in enumerate(plan.marks, 1) if mark.panel == panel.name and mark.line == line]
    marks.sort(key=lambda pair: (pair[1].datum.endswith(" right"), pair[1].run_mm))  # from one end, then from the other
    found = panel.marked.lines.get(line, ())
    check = check_line(marks, found, job.graduation, job.units, plan.piece.pattern.values.get("pinstripe") or Fraction(0))
    texts = typed.get("found") or ["" if row.found_mm is None else write_kept(row.found_mm, job.units) for row in check.rows]
    return {"panel": panel.name, "line": line, "check": check, "texts": texts}


def _diagonals(plan: PiecePlan, opened: Opened, panel: Panel, typed: Mapping[str, Any]) -> dict[str, Any]:
    checks = [check for check in plan.checks if check.panel == panel.name]
    found = [*panel.marked.diagonals, None, None][:2]
    texts = typed.get("found") or ["" if mm is None else write_kept(mm, opened.job.units) for mm in found]
    said = check_diagonals(panel, panel.marked, opened.job.graduation)
    return {"panel": panel.name, "line": "", "checks": checks, "texts": texts, "said": said}
