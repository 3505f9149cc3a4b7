"""Ctrl-C: raised at once, and remembered, for a library that is called back swallows what is raised within it."""

from __future__ import annotations

import signal
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from types import FrameType

_heard = False


@contextmanager
def listening() -> Iterator[None]:
    """Within it Ctrl-C is remembered; who handles it already goes on doing so."""
    global _heard
    _heard = False
    main = threading.current_thread() is threading.main_thread()
    if not main or signal.getsignal(signal.SIGINT) is not signal.default_int_handler:
        yield
        return
    before = signal.signal(signal.SIGINT, _hear)
    try:
        yield
    finally:
        signal.signal(signal.SIGINT, before)


def _hear(_number: int, _frame: FrameType | None) -> None:
    global _heard
    _heard = True
    raise KeyboardInterrupt


def look() -> None:
    """Raise what was swallowed.

    Raises:
        KeyboardInterrupt: Ctrl-C was pressed.
    """
    if _heard:
        raise KeyboardInterrupt
