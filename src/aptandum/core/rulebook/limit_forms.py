"""The words of a limit, and which of them may stand together."""

from __future__ import annotations

from aptandum.core.quantity import Kind
from aptandum.core.rulebook.language import LIMITS
from aptandum.core.words import listed, say

_LOWER, _UPPER = {"at_least", "above"}, {"at_most", "below"}
_ALONE = {"exactly", "between", "one_of"}


def wrong_form(form: tuple[str, ...], kind: Kind) -> tuple[str, str, str] | None:
    """What is wrong with the words of a limit on a measure of one kind: the word (empty: all of them
    together), what stood there and what was expected; ``None`` where nothing is."""
    for ends in (_LOWER, _UPPER):
        if ends <= set(form):
            both = listed(sorted(ends), "and")
            return "", say("{keys} together", keys=both), say("one of the two")
    if len(form) > 1 and (set(form) & _ALONE or not set(form) <= _LOWER | _UPPER):
        if _ALONE & set(form) and not set(form) <= {"one_of", "none_of"}:
            stood = say("{keys} together", keys=listed(form, "and"))
            return "", stood, say("one limit, or at_least with at_most")
    for key in ("above", "below"):
        if key in form and not kind.whole:
            return key, f'"{key}"', say("at_least or at_most: it is no whole number")
    if not kind.bounded:
        for key in ("at_least", "at_most", "between"):
            if key in form:
                return key, f'"{key}"', say("exactly, one_of or none_of")
    return None


__all__ = ["LIMITS", "wrong_form"]
