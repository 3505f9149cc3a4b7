"""What the words of a body are read as, for tests to compare: clauses without their quotes."""

from __future__ import annotations

from aptandum.core.rulebook.words import read


def told(text: str, language: str = "") -> list[dict[str, object]]:
    """The clauses of a text but for its questions."""
    return [clause for clause in all_told(text, language) if "ask" not in clause]


def all_told(text: str, language: str = "") -> list[dict[str, object]]:
    """The clauses of a text, questions too."""
    return [dict(draft.fields) for draft in read(text, language).drafts]


def of(measure: str, **limit: object) -> dict[str, object]:
    """A clause of a measure."""
    return {"measure": measure, **limit}
