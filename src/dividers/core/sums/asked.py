"""What a sum asks and answers. What is typed is read here, each with its fault at its question."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from dividers.core.base.errors import BadInput
from dividers.core.base.lengths import GRADUATIONS, Graduation, read_length, read_off, usual_graduation
from dividers.core.base.whole import whole

LENGTH, COUNT, NUMBER, TEXT, CHOICE = "length", "count", "number", "text", "choice"


@dataclass(frozen=True)
class Question:
    """One thing to type. `usual` is what an empty field counts as, None where it is needed; `choices` are (value, words)."""

    key: str
    label: str
    kind: str = LENGTH
    usual: str | None = None
    help: str = ""
    choices: tuple[tuple[str, str], ...] = ()
    most: int = 1000


@dataclass(frozen=True)
class SumAnswer:
    """Sentences, the chief one first; what to show on a drawn tape measure; marks along a run, in mm; and what a job could begin with."""

    said: tuple[str, ...]
    reading_mm: Fraction | None = None
    marks: tuple[tuple[float, str], ...] = ()
    run_mm: float = 0.0
    job: Mapping[str, Any] = field(default_factory=dict)


class SumAsked:
    """What was typed into a sum, read in units."""

    def __init__(self, typed: Mapping[str, str], questions: tuple[Question, ...], unit: str) -> None:
        self.typed, self.unit = typed, unit
        self.questions = {question.key: question for question in questions}
        self.graduation: Graduation = GRADUATIONS[usual_graduation(unit)].in_unit(unit)

    def text(self, key: str) -> str:
        """What was typed, or what is usual. Raises BadInput where it is needed."""
        question = self.questions[key]
        text = self.typed.get(key, "").strip() or question.usual
        if text is None:
            raise BadInput(f"{question.label} is needed.", key)
        return text

    def length(self, key: str) -> Fraction:
        try:
            return read_length(self.text(key), self.unit).mm
        except BadInput as fault:
            raise BadInput(fault.message, key) from fault

    def count(self, key: str, least: int = 1) -> int:
        most = self.questions[key].most
        found = whole(self.text(key), most)
        if found is None or found < least:
            raise BadInput(f"“{self.text(key)[:40]}” is not a whole number from {least} to {most}.", key)
        return found

    def number(self, key: str, least: float = 0.0, most: float = 1e6) -> float:
        try:
            found = float(self.text(key).replace(",", "."))
        except ValueError:
            found = float("nan")
        if not least <= found <= most:
            raise BadInput(f"“{self.text(key)[:40]}” is not a number from {least:g} to {most:g}.", key)
        return found

    def read(self, mm: Fraction) -> str:
        """A length as the tape measure shows it."""
        return read_off(mm, self.graduation).text


@dataclass(frozen=True)
class Sum:
    """A small calculation that needs no job."""

    key: str
    title: str
    questions: tuple[Question, ...]
    work: Callable[[SumAsked], SumAnswer]
    help: str = ""

    def answer(self, typed: Mapping[str, str], unit: str) -> SumAnswer:
        """Work it out. Raises BadInput with the question's key as its path."""
        return self.work(SumAsked(typed, self.questions, unit))
