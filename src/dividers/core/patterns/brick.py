"""Brick: courses of bricks with taped joints, each course shifted against the last, toned so that no two neighbours are alike."""

import itertools
import random
from fractions import Fraction

import numpy as np

from dividers.core.base.errors import BadInput
from dividers.core.geometry.graph import drawn_colouring
from dividers.core.geometry.ledger import borders_of
from dividers.core.geometry.shapes import Ints, Shapes, from_rings
from dividers.core.job.surface import Rectangle
from dividers.core.patterns.base.grids import LIGHT, MOST_COUNT, light_from
from dividers.core.patterns.base.ground import Ground
from dividers.core.patterns.base.origin import ORIGIN
from dividers.core.patterns.base.parameters import Note, Parameter, Pattern, Tiles, Values

MOST_BRICKS = 10_000


def lay(ground: Ground, values: Values) -> Tiles:
    """Bricks course by course from the top left. Sizes are from joint middle to joint middle."""
    area, course, length = ground.area, values["course"], values["length"]
    joint, uneven = values["joint"], values["unevenness"] or Fraction(0)
    if joint >= min(course, length):
        raise BadInput("The joints are as wide as the bricks. Make them narrower, or the bricks larger.", "joint")
    if uneven >= min(course, length) / 4:
        raise BadInput("Bricks that uneven would run into each other: at most a quarter of the smaller side.", "unevenness")
    many = (area.height // course + 1) * (area.width // length + 2)
    if many > MOST_BRICKS or area.height / course > MOST_COUNT:
        raise BadInput(f"That makes about {int(many)} bricks; at most {MOST_BRICKS} are allowed.", "course")
    dice = random.Random(values["seed"])
    rings = _rings(area, values, dice, float(uneven))
    shapes = from_rings(np.array(rings))
    colors: tuple[str | None, ...] = tuple(values["colors"])
    slots, alike = toned(shapes, len(colors), values["seed"])
    notes: tuple[Note, ...] = ()
    if alike and len(colors) > 1:
        notes = (
            Note(
                "alike",
                f"With {len(colors)} tones {alike} pairs of neighbours are alike. Four tones are always enough.",
                "colors",
            ),
        )
    return Tiles(shapes, slots, colors, notes, light=light_from(values["light"]), toned=True)


def _rings(area: Rectangle, values: Values, dice: random.Random, uneven: float) -> list[list[tuple[float, float]]]:
    """Four corners a brick. Joints move by up to `uneven` mm, but for those on the area's edges."""
    left, right, bottom = float(area.left), float(area.right), float(area.bottom)
    course, length, bond = values["course"], values["length"], values["bond"]
    rows = -(-area.height // course)
    tops = [float(area.top)]
    for row in range(1, int(rows)):
        tops.append(float(area.top + course * row) + dice.uniform(-uneven, uneven))
    tops.append(bottom)
    least = float(values["joint"]) + 1.0  # a brick that is all joint is left to its neighbour
    rings = []
    for row, (top, below) in enumerate(itertools.pairwise(tops)):
        shift = (row * bond) % 1
        joints = [left]
        number = 0
        while (at := float(area.left + length * (number + 1 - shift))) < right - least:
            at += dice.uniform(-uneven, uneven)
            if at > left + least:
                joints.append(at)
            number += 1
        joints.append(right)
        rings += [[(a, top), (b, top), (b, below), (a, below)] for a, b in itertools.pairwise(joints)]
    return rings


def toned(shapes: Shapes, tones: int, seed: int) -> tuple[Ints, int]:
    """A tone for each shape so that neighbours differ, and how many pairs don't."""
    return drawn_colouring(len(shapes), borders_of(shapes).neighbours(), tones, seed)


def first(ground: Ground) -> dict[str, object]:
    area = ground.area
    course = area.height / 8
    return {"course": course, "length": course * 5 / 2, "joint": min(Fraction(6), course / 6), "bond": 0.5}


PATTERN = Pattern(
    key="brick",
    title="Brick",
    summary="Courses with taped joints, each brick in its own tone.",
    parameters=(
        Parameter(
            "course",
            "Course",
            "length",
            "height from joint middle to joint middle",
            least=Fraction(4),
            needed=True,
            repeats="down",
        ),
        Parameter(
            "length",
            "Brick length",
            "length",
            "from joint middle to joint middle",
            least=Fraction(4),
            needed=True,
            repeats="across",
        ),
        Parameter("joint", "Joint", "length", "width of the tape that is the joint", Fraction(6), Fraction(1)),
        Parameter(
            "bond", "Bond", "share", "how far a course is shifted, in brick lengths, 0 to 1", Fraction(1, 2), most=Fraction(1)
        ),
        Parameter("unevenness", "Unevenness", "length", "how far joints stray from straight; empty for none", None),
        Parameter(
            "seed", "Variation", "count", "another number gives another unevenness and other tones", 1, most=Fraction(9999)
        ),
        Parameter("colors", "Tones", "colors", "three or four of one family; no two neighbours get the same"),
        *ORIGIN,
        LIGHT,
    ),
    lay=lay,
    first=first,
    inks=("dark", "mid", None),
    reserve_key="joint",
)
