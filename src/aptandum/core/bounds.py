"""How much may be spent on one photo, by anything: pixels, and seconds of searching. Said where it is met.

They hold for this process and for the workers that it starts, which read them from the environment.
"""

from __future__ import annotations

import os
import re
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from functools import wraps
from typing import ParamSpec, TypeVar

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.words import say

P = ParamSpec("P")
R = TypeVar("R")

_NAME = "APTANDUM_LIMITS"
_WAITED = 4
"""A search may wait so many times as long as it may work: other things go on beside it."""


class LimitsError(AptandumError, ValueError):
    """Limits that cannot be; the message says what they look like."""


@frozen
class Bounds:
    """Attributes:
    megapixels: of one picture, all its frames counted; of a finished one as well.
    seconds: of work for finding what fits best into a byte limit; the best that was found by then is taken.
    """

    megapixels: int = 400
    seconds: float = 30.0

    @property
    def pixels(self) -> int:
        return self.megapixels * 1_000_000


def read(text: str) -> Bounds:
    """``megapixels=800,seconds=120``; what is not named is as usual.

    Raises:
        LimitsError: it is something else.
    """
    held: dict[str, float] = {}
    for part in filter(None, (one.strip() for one in text.split(","))):
        found = re.fullmatch(r"(megapixels|seconds)\s*=\s*(\d{1,7}(?:\.\d{1,3})?)", part)
        if found is None or float(found.group(2)) <= 0:
            raise LimitsError(
                say(
                    "--limits takes megapixels=400,seconds=30 (or one of them), not “{what}”.",
                    what=part,
                )
            )
        held[found.group(1)] = float(found.group(2))
    usual = Bounds()
    return Bounds(int(held.get("megapixels", usual.megapixels)), held.get("seconds", usual.seconds))


_known: tuple[str, Bounds] | None = None


def current() -> Bounds:
    """The bounds that hold."""
    global _known
    text = os.environ.get(_NAME, "")
    if _known is None or _known[0] != text:
        try:
            _known = text, read(text)
        except LimitsError:
            _known = text, Bounds()
    return _known[1]


def use(text: str) -> None:
    """Hold these from now on, here and in every worker that is started.

    Raises:
        LimitsError: they are none.
    """
    read(text)
    os.environ[_NAME] = text


@dataclass
class _Clock:
    worked: float
    began: float
    cut: bool = False


_clock: ContextVar[_Clock | None] = ContextVar("clock", default=None)


@contextmanager
def timed() -> Iterator[_Clock]:
    """Count the time of one fitting, inside which :func:`over` is asked; one inside another is of the outer."""
    held = _clock.get()
    if held is not None:
        yield held
        return
    made = _Clock(time.thread_time(), time.monotonic())
    token = _clock.set(made)
    try:
        yield made
    finally:
        _clock.reset(token)


def in_time(told: Callable[[R], R]) -> Callable[[Callable[P, R]], Callable[P, R]]:
    """Have the searches inside a function end in time.

    Args:
        told: what comes of it where one was ended, with that said.
    """

    def bound(act: Callable[P, R]) -> Callable[P, R]:
        @wraps(act)
        def timely(*given: P.args, **named: P.kwargs) -> R:
            with timed() as clock:
                result = act(*given, **named)
            return told(result) if clock.cut else result

        return timely

    return bound


def over() -> bool:
    """Whether the time for searching is spent; once it is, that is remembered of the fitting."""
    clock = _clock.get()
    if clock is None:
        return False
    seconds = current().seconds
    worked = time.thread_time() - clock.worked
    waited = time.monotonic() - clock.began
    if worked > seconds or waited > _WAITED * seconds:
        clock.cut = True
    return clock.cut


def cut_said() -> str:
    """That a search was ended, and how it may take longer."""
    return say(
        "The search for what fits best was ended after {n} seconds, and the best by then taken; "
        "--limits seconds={more} gives it more, and so does “Limits for one photo” in the window’s View menu.",
        n=f"{current().seconds:g}",
        more=f"{current().seconds * 4:g}",
    )
