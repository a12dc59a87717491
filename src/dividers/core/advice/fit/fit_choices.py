"""What the border finder, shared repeats and must-hit lines found, as choices: in words, and with what each changes in the piece."""

from collections.abc import Sequence
from fractions import Fraction
from math import sqrt
from typing import Any

from dividers.core.advice.fit.border import BorderFound, BorderWish, find_borders
from dividers.core.advice.fit.hits import Hit, MustHit, find_hits
from dividers.core.advice.fit.shared_runs import corner_parts, shared_sizes
from dividers.core.advice.fit.sizes import COARSE, Choice, Chooser
from dividers.core.base.lengths import exact, read_off, write_kept
from dividers.core.job.surface import Rectangle
from dividers.core.survey.outline import unshaped


def steps_for(chooser: Chooser) -> list[Fraction]:
    """The marks that sizes may lie on, coarsest first, down to the tape's graduation."""
    step = chooser.graduation.step_mm
    return [each for each in COARSE[chooser.graduation.unit] if each > step] + [step]


def border_choices(across: Chooser, down: Chooser | None, wish: BorderWish, inside: bool) -> list[Choice]:
    """Borders of a piece of one panel that make its field divide; `inside` puts them within the margins there are."""
    panel = unshaped(across.piece.surface.panels[0])
    room = panel.field if inside else Rectangle(Fraction(0), Fraction(0), panel.width_mm, panel.height_mm)
    found = find_borders(room.width, room.height, wish, steps_for(across), across.run.size_mm)
    return [_border(each, across, down, panel.width_mm, panel.height_mm, room) for each in found]


def _border(
    found: BorderFound, across: Chooser, down: Chooser | None, width: Fraction, height: Fraction, room: Rectangle
) -> Choice:
    say, unit = across.say, across.job.units
    margins = {
        "left": room.left + found.across_mm,
        "right": width - room.right + found.across_mm,
        "top": room.top + found.down_mm,
        "bottom": height - room.bottom + found.down_mm,
    }
    changes: dict[str, Any] = {f"surface.panels.0.margin.{side}": write_kept(mm, unit) for side, mm in margins.items()}
    changes |= across.counted(found.columns)
    if down and found.rows:
        changes |= down.counted(found.rows)
    counts = f"{found.columns} by {found.rows}" if found.rows else f"{found.columns} across"
    size = say(found.wide_mm) if found.high_mm in (None, found.wide_mm) else f"{say(found.wide_mm)} by {say(found.high_mm)}"
    border = f"{say(found.across_mm)} all round"
    if found.across_mm != found.down_mm:
        border = f"{say(found.across_mm)} left and right, {say(found.down_mm)} at top and bottom"
    said = [f"Border {border}."]
    if any(mm % across.graduation.step_mm for mm in (found.across_mm, found.down_mm)):
        said.append("The border isn't on a mark; the sizes are.")
    if across.piece.pattern.kind == "diamonds" and found.high_mm:
        side = exact(sqrt(float(found.wide_mm) ** 2 + float(found.high_mm) ** 2) / 2)
        said.append(f"On point: a side is about {read_off(side, across.graduation).text}.")
    return Choice(f"{counts}, each {size}", " ".join(said), found.demerit, changes)


def hit_choices(chooser: Chooser, wishes: Sequence[MustHit]) -> list[Choice]:
    """Ways to let lines or middles fall on places along a run."""
    run = chooser.run
    found = find_hits(run.length, run.size_mm, wishes, chooser.graduation.step_mm)
    return [choice for hit in found if (choice := _hit(hit, chooser, wishes)) is not None]


def _hit(hit: Hit, chooser: Chooser, wishes: Sequence[MustHit]) -> Choice | None:
    run, say = chooser.run, chooser.say
    even = not hit.begins_mm and run.length % hit.size_mm == 0
    changes = chooser.counted(int(run.length / hit.size_mm)) if even else chooser.sized(hit.size_mm, hit.begins_mm)
    if changes is None and hit.size_mm == run.size_mm:
        changes = {f"pattern.{run.origin_key}": write_kept(hit.begins_mm, chooser.job.units)}
    if changes is None:
        return None
    missed = [
        f"misses {wish.name} by {say(abs(miss))}"
        for wish, miss in zip(wishes, hit.misses, strict=True)
        if abs(miss) >= chooser.graduation.step_mm / 2
    ]
    said = (
        ["Hits it exactly." if len(wishes) == 1 else "Every line hits its place exactly."]
        if not missed
        else [f"It {'; '.join(missed)}."]
    )
    off = hit.size_mm - run.size_mm
    if off:
        said.append(f"Each {chooser.small(abs(off))} {'wider' if off > 0 else 'narrower'} than now.")
    ends = [say(part) for part in hit.parts if part]
    said.append(f"Part-repeats at the ends: {' and '.join(ends)}." if ends else "Whole repeats at both ends.")
    if hit.size_mm % chooser.graduation.step_mm:
        said.append("Not on a mark: measure each from the datum.")
    where = f", the first whole one begins at {say(hit.begins_mm)}" if hit.begins_mm else ""
    about = "About " if hit.size_mm % chooser.graduation.step_mm else ""
    return Choice(f"{about}{say(hit.size_mm)} each{where}", " ".join(said), hit.demerit, changes)


def shared_choices(choosers: Sequence[Chooser]) -> list[Choice]:
    """Sizes that suit the same run of several sheets, such as walls that don't meet, drawers or risers."""
    first = choosers[0]
    runs = [(chooser.sheet.placed[0].panel.name, chooser.run.length) for chooser in choosers]
    found = []
    for shared in shared_sizes(runs, first.run.size_mm, steps_for(first), first.graduation.step_mm):
        rest = any(part.rest_mm for part in shared.parts)
        changes = first.sized(shared.size_mm, "centre" if rest else None)
        if changes is None:
            continue
        said = [
            f"{part.name}: {part.whole}" + (f" and {first.say(part.rest_mm)} over" if part.rest_mm else ", nothing over")
            for part in shared.parts
        ]
        tail = " The remainder is centred, the same at both ends." if rest else ""
        about = "" if shared.on_marks else "About "
        found.append(Choice(f"{about}{first.say(shared.size_mm)} each", "; ".join(said) + "." + tail, shared.demerit, changes))
    return found


def corners_said(chooser: Chooser, begins: Fraction) -> list[str]:
    """What each fold of a joined run cuts a repeat into."""
    run, sheet = chooser.run, chooser.sheet
    creases = [crease for crease in sheet.creases if (crease.axis == 0) == (run.axis == "across")]
    parts = corner_parts([crease.at for crease in creases], run.low, run.size_mm, begins)
    said = []
    for crease, part in zip(creases, parts, strict=True):
        names = " and ".join(sheet.placed[number].panel.name for number in (crease.first, crease.second))
        rest = run.size_mm - part
        said.append(
            f"Between {names} a repeat ends right at the corner."
            if not part
            else f"Between {names} the corner cuts a repeat into {chooser.say(part)} and {chooser.say(rest)}."
        )
    return said
