"""Every word of the interface goes through here, as the core's do through ``core.words``."""

from aptandum.core.words import NBSP, listed
from aptandum.core.words import say as t

__all__ = ["NBSP", "listed", "t"]
