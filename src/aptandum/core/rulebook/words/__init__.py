"""Reading published rules in words: text in, draft clauses out, by a grammar of our own."""

from aptandum.core.rulebook.words.draft import Aside, Draft, Reading

__all__ = ["Aside", "Draft", "Reading", "read"]


def read(text: str, language: str = "") -> Reading:
    """Read rules in words; the grammar is loaded with the first text.

    See :func:`aptandum.core.rulebook.words.grammar.read`.
    """
    from aptandum.core.rulebook.words import grammar

    return grammar.read(text, language)
