"""The measures: each a module of this package that holds a ``MEASURE`` (or ``MEASURES``).

Putting such a module here is all that it takes: the rulebook reader, resolving, the findings, the
ledger's gauges and the help find it in :data:`REGISTRY`. A measure from elsewhere is made known by
:func:`register`.
"""

from __future__ import annotations

import importlib
import pkgutil

from aptandum.core.brief import registry
from aptandum.core.judge.measure import Measure

REGISTRY: dict[str, Measure] = {}
STATED: dict[str, Measure] = {}
"""Those that a clause of a rulebook may name."""


def register(measure: Measure) -> None:
    """Make a measure known by its name.

    Raises:
        ValueError: the name is taken.
    """
    registry.register(measure)
    REGISTRY[measure.name] = measure
    if measure.stated:
        STATED[measure.name] = measure


def forget(name: str) -> None:
    """Make a measure unknown again; for tests that bring one of their own."""
    registry.forget(name)
    REGISTRY.pop(name, None)
    STATED.pop(name, None)


def _register_all() -> None:
    for entry in pkgutil.iter_modules(__path__):
        module = importlib.import_module(f"{__name__}.{entry.name}")
        single = getattr(module, "MEASURE", None)
        for measure in getattr(module, "MEASURES", (single,) if single else ()):
            register(measure)


_register_all()
