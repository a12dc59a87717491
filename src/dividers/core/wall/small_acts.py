"""The small acts that save an edge, each when it is due: by surface, paint, tape and pull (all common practice, no source)."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

from dividers.core.job.method import Method
from dividers.core.order.network import Task
from dividers.core.order.round_choices import RoundChoice
from dividers.core.plan.piece_plan import PiecePlan

FAST_MIN = 10  # a wet edge no longer than this makes a fast-drying paint


@dataclass(frozen=True)
class AtStep:
    """A step as the acts see it."""

    task: Task
    method: Method
    surface: str
    torn: bool
    pull: str  # wet, touch-dry or dry: how the round's tape is pulled

    @property
    def first_coat(self) -> bool:
        return self.task.kind == "coat" and self.task.coat == 1

    @property
    def more_coats(self) -> bool:
        """Whether the same colour is painted again later."""
        color = str(self.task.color)
        return self.task.kind == "coat" and bool(self.task.coat) and (self.task.coat or 0) < self.method.coats.get(color, 2)

    @property
    def fast(self) -> bool:
        paint = self.method.paint.get(str(self.task.color))
        return (
            paint is not None and paint.binder == "water" and paint.wet_edge_min is not None and paint.wet_edge_min <= FAST_MIN
        )

    @property
    def oil(self) -> bool:
        return any(paint.binder == "oil" for paint in self.method.paint.values())


@dataclass(frozen=True)
class Act:
    """What is done, why in half a sentence, how many minutes it takes, and when it is due."""

    key: str
    words: str
    why: str
    minutes: int
    due: Callable[[AtStep], bool]

    @property
    def said(self) -> str:
        return f"{self.words}: {self.why}{f' ({self.minutes} min)' if self.minutes else ''}."


def _pull(moment: AtStep) -> bool:
    return moment.task.kind == "pull"


ACTS = (
    Act("tack", "Wipe with a tack cloth", "a grain under the edge lets paint in", 2, lambda m: m.task.kind == "tape" and m.surface not in ("paper", "canvas")),
    Act("offload", "Roll the loaded roller out on the tray first", "a full one pushes paint under the tape", 1, lambda m: m.first_coat and m.method.tool == "roller" and m.surface not in ("paper", "canvas")),
    Act("mist", "Mist the base lightly and keep the brush wet", "this paint sets fast", 1, lambda m: m.first_coat and m.fast and m.surface != "paper"),
    Act("wrap", "Wrap brush or roller airtight until the next coat", "it keeps for a day and needn't be washed", 1, lambda m: m.more_coats),
    Act("misses", "Look along the surface for misses before the tape comes off", "a spot painted later has no edge to stop it", 2, _pull),
    Act("mop", "Mop wet paint off the tape", "it would run onto the paper", 1, lambda m: _pull(m) and m.surface == "paper"),
    Act("lift", "Lift an end with the tip of a blade held flat, away from your hand", "a steep blade scratches", 1, _pull),
    Act("warm", "Warm the tape where it grips, dryer low and moving, or start again from the other end", "warm glue lets go", 2, lambda m: _pull(m) and m.pull == "dry"),
    Act("straighten", "Straighten the edge with a flat brush, nearly dry, right after the pull", "the paint still moves", 3, lambda m: _pull(m) and m.pull == "wet" and not m.torn),
    Act("swab", "Keep a damp swab at hand", "a slip comes off while the paint is fresh", 0, lambda m: _pull(m) and m.pull == "wet" and not m.oil),
    Act("thinner", "Keep a cloth with a little thinner at hand, the window open and no flame near", "it takes a slip of oil paint off", 0, lambda m: _pull(m) and m.oil),
    Act("seep", "Leave a little seep", "it is welcome on a torn edge", 0, lambda m: _pull(m) and m.torn),
)  # fmt: skip


def acts_of(plan: PiecePlan, task: Task, choices: tuple[RoundChoice, ...]) -> tuple[Act, ...]:
    """What is due at a step, without what was switched off; whoever shows it says each once per piece."""
    choice = choices[task.number - 1] if task.number else None
    method = plan.piece_in(choice.layer).method if choice else plan.piece.method
    torn = any(layout.tiles.torn for layout in plan.layers[choice.layer].layouts) if choice else False
    moment = AtStep(task, method, plan.piece.surface.kind, torn, choice.window.pull_method if choice else "")
    return tuple(act for act in ACTS if act.key not in method.acts_off and act.due(moment))


def acts_in_all(plan: PiecePlan, tasks: Sequence[Task], choices: tuple[RoundChoice, ...]) -> tuple[Act, ...]:
    """What is due in a piece's steps, each act once, in the order in which they come."""
    own = [task for task in tasks if task.name.piece == plan.piece.key]
    return tuple(dict.fromkeys(act for task in own for act in acts_of(plan, task, choices)))
