"""Aptandum makes a photo fit a receiving body's published rules, and proves it.

    import aptandum

    aptandum.facts("photo.jpg").width
    aptandum.check("photo.jpg", "vessary-ferries/deck-pass").meets_musts
    aptandum.conform("photo.jpg", "vessary-ferries/deck-pass").write("finished/")

See ``docs/library.md``. What is named here is imported when it is first used.
"""

from __future__ import annotations

TYPE_CHECKING = (
    False  # as checkers of types read it; the module of that name takes longer than --version
)
if TYPE_CHECKING:
    from typing import Any

    from aptandum.library import (
        AptandumError,
        Brief,
        BriefNotFound,
        Facts,
        Finding,
        Findings,
        Made,
        PhotoError,
        Rulebook,
        RulebookError,
        SettingError,
        WriteError,
        check,
        conform,
        facts,
    )

__version__ = "0.1.0"

__all__ = [
    "AptandumError",
    "Brief",
    "BriefNotFound",
    "Facts",
    "Finding",
    "Findings",
    "Made",
    "PhotoError",
    "Rulebook",
    "RulebookError",
    "SettingError",
    "WriteError",
    "__version__",
    "check",
    "conform",
    "facts",
]


def __getattr__(name: str) -> Any:
    if name in __all__:
        from aptandum import library

        return getattr(library, name)
    raise AttributeError(f"module {__name__!r} has no attribute {name!r}")


def __dir__() -> list[str]:
    return sorted(__all__)
