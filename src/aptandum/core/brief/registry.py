"""The measures that are known, by the names that rulebooks use.

The table stands below everything that reads it; :mod:`aptandum.core.judge.measures` fills it when
it is imported. Nothing here knows any measure by name.
"""

from __future__ import annotations

from typing import Protocol

from aptandum.core.brief.binding import Bind
from aptandum.core.quantity import Kind


class Known(Protocol):
    """What the table tells of a measure; see :class:`aptandum.core.judge.measure.Measure`."""

    @property
    def name(self) -> str: ...
    @property
    def title(self) -> str: ...
    @property
    def kind(self) -> Kind: ...
    @property
    def binds(self) -> Bind | None: ...


_known: dict[str, Known] = {}


def register(measure: Known) -> None:
    """Make a measure known.

    Raises:
        ValueError: its name is taken.
    """
    if measure.name in _known:
        raise ValueError(f"two measures are called {measure.name}")
    _known[measure.name] = measure


def forget(name: str) -> None:
    """Make a measure unknown again; for tests that bring one of their own."""
    _known.pop(name, None)


def known(name: str) -> Known:
    """A measure by its name.

    Raises:
        LookupError: there is none, or the measures have not been loaded.
    """
    if not _known:
        raise LookupError("the measures are not loaded: import aptandum.core.judge.measures")
    return _known[name]


def binds_of(name: str | None) -> Bind | None:
    """What the limits of a measure bind; ``None`` for a question to a person."""
    return None if name is None else known(name).binds
