"""What a task is called for good: by piece, kind, round, batch, colour and coat. The same work in a changed plan has the same key."""

from dataclasses import dataclass, replace

NONE = "-"


@dataclass(frozen=True)
class TaskKey:
    """A task's place in the work; `turn` counts tasks that are otherwise alike. As text it goes to files and phones.

    >>> str(TaskKey("wall", "coat", 1, None, "ink", 2))
    'wall/coat/1/-/ink/2'
    >>> TaskKey.read("wall/mark/-/-/-/-/3").turn
    3
    """

    piece: str
    kind: str
    number: int | None = None  # of the round
    batch: int | None = None
    color: str | None = None
    coat: int | None = None
    turn: int = 1

    def __str__(self) -> str:
        parts = (self.piece, self.kind, self.number, self.batch, self.color, self.coat)
        text = "/".join(NONE if part is None else str(part) for part in parts)
        return text if self.turn == 1 else f"{text}/{self.turn}"

    @property
    def series(self) -> str:
        """The same for all coats of one colour in one batch."""
        return str(replace(self, coat=None, turn=1))

    @classmethod
    def read(cls, text: str) -> "TaskKey":
        """A key from its text. Raises ValueError where it is none."""
        piece, kind, number, batch, color, coat, *turn = text.split("/")
        return cls(
            piece,
            kind,
            _number(number),
            _number(batch),
            None if color == NONE else color,
            _number(coat),
            int(*turn) if turn else 1,
        )


def _number(text: str) -> int | None:
    return None if text == NONE else int(text)
