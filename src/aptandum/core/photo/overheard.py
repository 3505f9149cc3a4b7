"""What a reading of a picture's pixels tells on the way: that its decoder had nothing to complain of.

Whether a photo's data are whole is asked beside the work on it, and is answered by a decode of all of it: where the work
itself needs one, that one will do.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from typing import TYPE_CHECKING, Any, TypeAlias

if TYPE_CHECKING:
    from numpy.typing import NDArray

Heard: TypeAlias = "Callable[[bytes, NDArray[Any]], None]"
"""Called with a file's bytes and all of its pixels, as they are stored."""

_LISTENS: ContextVar[Heard | None] = ContextVar("_LISTENS", default=None)


def tell(data: bytes, pixels: NDArray[Any]) -> None:
    """All of a picture's pixels were decoded, at their full size, by the decoder that stops at the least doubt."""
    heard = _LISTENS.get()
    if heard is not None:
        heard(data, pixels)


@contextmanager
def by(heard: Heard) -> Iterator[None]:
    """Whoever listens to what is read in this context."""
    before = _LISTENS.set(heard)
    try:
        yield
    finally:
        _LISTENS.reset(before)
