"""The one tree of exceptions.

Whatever the application itself raises stands below :class:`AptandumError`, and its message is a
sentence that a person may read. Anything else that is raised is a mistake in the application, and
is treated as one: logged with its traceback, told in general words, and survived.
"""

from __future__ import annotations


class AptandumError(Exception):
    """Something that a person can be told: its message is a whole sentence."""


class Cancelled(AptandumError):
    """Work ended because nobody wants its result any more; it has no message and is never told."""
