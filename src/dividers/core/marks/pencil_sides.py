"""On which side of a line the pencil goes: where dark paint will cover it, or under the tape, to be erased."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from dividers.core.base.colour import luminance
from dividers.core.base.tolerances import SAME_POINT_MM
from dividers.core.cells.layout import Layout
from dividers.core.geometry.ledger import NOTHING
from dividers.core.geometry.shapes import Bools, Floats, Ints
from dividers.core.job.method import BY_EYE
from dividers.core.job.products import Colour

# Paint darker than this covers a soft pencil line in its usual coats (common practice, no source).
COVERS_PENCIL = 0.4
IN_CHALK = "in chalk"  # where no paint of the layer comes near


def pencil_sides(layout: Layout, points: Floats, lines: Ints, wish: str, palette: Mapping[str, Colour]) -> list[str]:
    """For each mark, a point (n, 2) on its supporting line, where to put the pencil: on the side that dark paint will cover there, or under
    the tape, to be erased; in chalk where the layer paints on neither side. Never off the surface."""
    if layout.lined:
        return ["under the tape, to erase"] * len(lines)
    borders = layout.borders
    dark = np.array(
        [c is not None and c in palette and luminance(palette[c].hex) < COVERS_PENCIL for c in layout.colors] + [False]
    )
    first = np.searchsorted(borders.line, np.arange(len(borders.lines.offsets) + 1))
    along = (points * borders.lines.directions[lines]).sum(axis=1)
    words: dict[tuple[int, tuple[int, ...]], str] = {}
    found = []
    for line, t in zip(lines.tolist(), along.tolist(), strict=True):
        here = np.arange(first[line], first[line + 1])
        near = here[(borders.t0[here] - SAME_POINT_MM <= t) & (t <= borders.t1[here] + SAME_POINT_MM)]
        bare = not len(near) or not _painted_beside(layout, near)
        key = (line, tuple((here if bare else near).tolist()))
        if key not in words:
            words[key] = _pencil_side(
                layout, line, _beside(layout, here if bare else near, dark), IN_CHALK if bare and wish != BY_EYE else wish
            )
        found.append(words[key])
    return found


def _painted_beside(layout: Layout, here: Ints) -> bool:
    """Whether paint of this layer lies on either side of some borders."""
    beside = np.concatenate([layout.borders.plus[here], layout.borders.minus[here]])
    return bool(layout.painted[beside[beside != NOTHING]].any())


@dataclass(frozen=True)
class _Beside:
    """What lies on one side of a line: length of border with any cell there, with paint, and with paint that covers a pencil line; mm."""

    there: float
    painted: float
    dark: float


def _beside(layout: Layout, here: Ints, dark: Bools) -> tuple[_Beside, _Beside]:
    """What lies on the plus and on the minus side of some borders."""
    borders = layout.borders
    reach = borders.t1[here] - borders.t0[here]
    sides = []
    for cells in (borders.plus[here], borders.minus[here]):
        there = cells != NOTHING
        painted, covers = layout.painted[cells] & there, dark[layout.slots[cells]] & there
        sides.append(_Beside(*(float(reach[which].sum()) for which in (there, painted, covers))))
    return sides[0], sides[1]


def _pencil_side(layout: Layout, line: int, beside: tuple[_Beside, _Beside], wish: str) -> str:
    normal = layout.borders.lines.normals[line]
    level = abs(normal[1]) >= abs(normal[0])
    if wish == BY_EYE:
        return ""
    names = ("below the line", "above the line") if level else ("right of the line", "left of the line")
    if normal[1 if level else 0] < 0:
        names = names[::-1]
    plus, minus = beside
    on_surface = [side for side, what in enumerate(beside) if what.there]
    if wish not in ("tape-side", IN_CHALK) and (plus.dark or minus.dark or wish == "painted-side"):
        more = plus.dark >= minus.dark if plus.dark or minus.dark else plus.painted >= minus.painted
        return f"{names[0] if more else names[1]}, under the paint"
    then = "in chalk, to wipe off" if wish == IN_CHALK else "to erase"
    if len(on_surface) == 1:
        return f"{names[on_surface[0]]}, {then}"
    return f"{names[0] if plus.painted <= minus.painted else names[1]}, {then}"
