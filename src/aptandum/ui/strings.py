"""Every word of the interface goes through here, as the core's do through ``core.words``."""

from aptandum.core.words import NBSP, joined, listed, sentences
from aptandum.core.words import say as t
from aptandum.core.words import say_n as t_n

__all__ = ["NBSP", "joined", "listed", "sentences", "t", "t_n"]
