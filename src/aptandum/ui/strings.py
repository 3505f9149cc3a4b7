"""Every word of the interface goes through here, as the core's do through ``core.words``."""

from aptandum.core.words import NBSP, commas, joined, listed, semicolons, sentences
from aptandum.core.words import say as t
from aptandum.core.words import say_n as t_n

__all__ = ["NBSP", "commas", "joined", "listed", "semicolons", "sentences", "t", "t_n"]
