"""Reading published rules in words: text in, draft clauses out, by a grammar of our own."""

from aptandum.core.rulebook.words.draft import Aside, Draft, Reading
from aptandum.core.rulebook.words.grammar import read

__all__ = ["Aside", "Draft", "Reading", "read"]
