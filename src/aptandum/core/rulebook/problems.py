"""What is wrong with a rulebook, and where."""

from __future__ import annotations

from collections.abc import Iterable

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.words import say


@frozen
class Problem:
    """One thing wrong in a rulebook file: where, what stood there, what was expected."""

    file: str
    line: int
    where: str
    stood: str
    expected: str

    def __str__(self) -> str:
        at = f"{self.file}:{self.line}" if self.line else self.file
        where = f"{self.where}: " if self.where else ""
        return say(
            "{at}: {where}found {stood}, expected {expected}",
            at=at,
            where=where,
            stood=self.stood,
            expected=self.expected,
        )


class RulebookError(AptandumError, ValueError):
    """A rulebook that cannot be used; :attr:`problems` holds all that is wrong, by line."""

    def __init__(self, problems: Iterable[Problem]) -> None:
        self.problems = tuple(sorted(problems, key=lambda p: p.line))
        super().__init__("\n".join(str(problem) for problem in self.problems))
