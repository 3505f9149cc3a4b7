"""Reading published rules in words: text in, draft clauses out, by a grammar of our own."""

from aptandum.core.rulebook.words.draft import Aside, Draft, Reading
from aptandum.core.words import say

__all__ = ["Aside", "Draft", "Reading", "foreign_words", "read"]


def foreign_words() -> str:
    """What is said of a text in a language that is not read here."""
    return say(
        "The words seem to be neither English nor German, the languages that are read here: look at every rule."
    )


def read(text: str, language: str = "") -> Reading:
    """Read rules in words; the grammar is loaded with the first text.

    See :func:`aptandum.core.rulebook.words.grammar.read`.
    """
    from aptandum.core.rulebook.words import grammar

    return grammar.read(text, language)
