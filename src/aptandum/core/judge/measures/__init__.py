"""The measures: each a module of this package that holds a ``MEASURE`` (or ``MEASURES``).

Putting such a module here is all that it takes: the rulebook reader, the findings, the
ledger's gauges and the help find it in :data:`REGISTRY`.
"""

from __future__ import annotations

import importlib
import pkgutil

from aptandum.core.judge.measure import Measure

REGISTRY: dict[str, Measure] = {}
STATED: dict[str, Measure] = {}
"""Those that a clause of a rulebook may name."""


def _register() -> None:
    for entry in pkgutil.iter_modules(__path__):
        module = importlib.import_module(f"{__name__}.{entry.name}")
        single = getattr(module, "MEASURE", None)
        for measure in getattr(module, "MEASURES", (single,) if single else ()):
            if measure.name in REGISTRY:
                raise RuntimeError(f"two measures are called {measure.name}")
            REGISTRY[measure.name] = measure
            if measure.stated:
                STATED[measure.name] = measure


_register()
