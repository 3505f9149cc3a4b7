"""Ctrl-C: raised at once, and remembered, for a library that is called back swallows what is raised within it. Where much
is under way it asks to stop first, so that nothing is left half made."""

from __future__ import annotations

import signal
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager, suppress
from types import FrameType

from aptandum.cli.console import err_line, main_thread
from aptandum.core.words import say

_heard = False
_ONE = 0.7
"""Seconds within which a second one is the same press: the terminal and what the program was called by both tell it."""


@contextmanager
def listening() -> Iterator[None]:
    """Within it Ctrl-C is remembered; who handles it already goes on doing so."""
    global _heard
    _heard = False
    if not main_thread() or signal.getsignal(signal.SIGINT) is not signal.default_int_handler:
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


@contextmanager
def asked_to_stop(elsewhere: bool = False) -> Iterator[Callable[[], bool]]:
    """Whether Ctrl-C was pressed within it, which raises nothing.

    Args:
        elsewhere: what is under way is done by others, who may be gone: a second Ctrl-C is raised.
    """
    asked = 0.0

    def hear(_number: int, _frame: FrameType | None) -> None:
        nonlocal asked
        before, now = asked, time.monotonic()
        asked = asked or now
        if not elsewhere:
            return
        if before and now - before > _ONE:
            raise KeyboardInterrupt
        if not before:
            with suppress(RuntimeError):  # it may be in the middle of another line
                err_line(say("Stopping once the workers have done what they have; Ctrl-C again stops at once."))  # fmt: skip

    if not main_thread():
        yield lambda: False
        return
    before = signal.signal(signal.SIGINT, hear)
    try:
        yield lambda: bool(asked)
    finally:
        signal.signal(signal.SIGINT, before)
