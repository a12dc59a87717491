"""What a task is called for good: by piece, kind, round, batch, colour and coat. The same work in a changed plan has the same key."""

from dataclasses import dataclass, replace

NONE = "-"


@dataclass(frozen=True)
class TaskKey:
    """A task's place in the work; `turn` counts tasks that are otherwise alike. As text it goes to files and phones.

    `area` is the part of a round that is taped by itself, where it is taped in several.

    >>> str(TaskKey("wall", "coat", 1, None, "ink", 2))
    'wall/coat/1/-/ink/2'
    >>> TaskKey.read("wall/mark/-/-/-/-/3").turn
    3
    >>> str(TaskKey.read("wall/tape/2.1/-/-/-"))
    'wall/tape/2.1/-/-/-'
    """

    piece: str
    kind: str
    number: int | None = None  # of the round
    batch: int | None = None
    color: str | None = None
    coat: int | None = None
    turn: int = 1
    area: int | None = None

    def __str__(self) -> str:
        number = self.number if self.area is None else f"{self.number}.{self.area}"
        parts = (self.piece, self.kind, number, self.batch, self.color, self.coat)
        text = "/".join(NONE if part is None else str(part) for part in parts)
        return text if self.turn == 1 else f"{text}/{self.turn}"

    @property
    def series(self) -> str:
        """The same for all coats of one colour in one batch."""
        return str(replace(self, coat=None, turn=1))

    @classmethod
    def read(cls, text: str) -> "TaskKey":
        """A key from its text. Raises ValueError where it is none."""
        piece, kind, numbers, batch, color, coat, *turn = text.split("/")
        number, _, area = numbers.partition(".")
        return cls(
            piece,
            kind,
            _number(number),
            _number(batch),
            None if color == NONE else color,
            _number(coat),
            int(*turn) if turn else 1,
            int(area) if area else None,
        )


def _number(text: str) -> int | None:
    return None if text == NONE else int(text)
