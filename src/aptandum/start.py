"""Where command line and interface meet, so that neither has to know the other."""

from __future__ import annotations

import gc
import sys
from collections.abc import Sequence

from aptandum.core.words import say


def open_window(
    photos: Sequence[str] = (), brief: str = "", demo: bool = False, rulebooks: Sequence[str] = ()
) -> int:
    """Open the application and return its exit status. Qt is imported only now."""
    gc.disable()  # while modules are loaded, nothing is thrown away; the window enables it once it is up
    try:
        from aptandum.ui.app import run
    except ImportError as error:
        print(
            say(
                "The window cannot be opened: {why}. On Debian 12 scripts/demo installs what Qt "
                "needs; the command line works without it.",
                why=error,
            ),
            file=sys.stderr,
        )
        return 2
    return run(photos, brief, demo, rulebooks)
