"""Where command line and interface meet, so that neither has to know the other."""

from __future__ import annotations

import sys
from collections.abc import Sequence


def open_window(
    photos: Sequence[str] = (), brief: str = "", demo: bool = False, rulebooks: Sequence[str] = ()
) -> int:
    """Open the application and return its exit status. Qt is imported only now."""
    try:
        from aptandum.ui.app import run
    except ImportError as error:
        print(
            f"The window cannot be opened: {error}. On Debian 12 scripts/demo installs what Qt "
            "needs; the command line works without it.",
            file=sys.stderr,
        )
        return 2
    return run(photos, brief, demo, rulebooks)
