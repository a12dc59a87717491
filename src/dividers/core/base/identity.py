"""Objects that hold arrays, and so can't be compared, as keys by identity."""

from dataclasses import dataclass
from typing import Generic, TypeVar

T = TypeVar("T")


@dataclass(frozen=True, eq=False)
class ById(Generic[T]):
    """A key that is equal only for the very same object, which it keeps alive."""

    value: T

    def __hash__(self) -> int:
        return id(self.value)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, ById) and self.value is other.value
