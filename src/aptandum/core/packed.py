"""Many things in order, of which few are looked at: kept as bytes, and made again one by one as they are asked for."""

from __future__ import annotations

import marshal
from abc import abstractmethod
from array import array
from collections.abc import Callable, Iterable, Iterator, Sequence
from itertools import accumulate, islice
from typing import Any, TypeVar, overload

T = TypeVar("T")

_CHUNK = 4096
"""Things whose bytes lie in one piece: no piece becomes so large that moving it as it grows would be felt."""


class InOrder(Sequence[T]):
    """Things that are made one by one, by their places."""

    @abstractmethod
    def _at(self, at: int) -> T:
        """The one at a place, 0 or more."""

    @overload
    def __getitem__(self, at: int) -> T: ...
    @overload
    def __getitem__(self, at: slice) -> Sequence[T]: ...
    def __getitem__(self, at: Any) -> Any:
        """Those of a slice, or the one at a place."""
        if isinstance(at, slice):
            return [self._at(n) for n in range(*at.indices(len(self)))]
        many = len(self)
        if not 0 <= at < many:
            if not -many <= at < 0:
                raise IndexError(at)
            at += many
        return self._at(at)


class Packed(InOrder[T]):
    """Things in order that do not change; more can be put behind them. One thread puts, any may read.

    A row of a table takes its characters and a few bytes, about a quarter of what it takes as objects. What is put in
    is given back as an equal thing, not as the same one.

    Args:
        dumps, loads: a thing as bytes and back; left out: tuples, texts, numbers and truths.
    """

    def __init__(
        self,
        things: Iterable[T] = (),
        dumps: Callable[[Any], bytes] = marshal.dumps,
        loads: Callable[[bytearray], Any] = marshal.loads,
    ) -> None:
        self._dumps, self._loads = dumps, loads
        self._chunks: list[bytearray] = []
        self._ends = array("I")
        self.extend(things)

    def append(self, thing: T) -> int:
        """Put a thing behind the others: its place."""
        at = len(self._ends)
        if at % _CHUNK == 0:
            self._chunks.append(bytearray())
        chunk = self._chunks[-1]
        chunk += self._dumps(thing)
        self._ends.append(len(chunk))  # last: until then nobody reads it
        return at

    def extend(self, things: Iterable[T]) -> None:
        """Put things behind the others, piece by piece: a third of what one by one takes."""
        each = iter(things)
        while made := list(map(self._dumps, islice(each, _CHUNK - len(self._ends) % _CHUNK))):
            if len(self._ends) % _CHUNK == 0:
                self._chunks.append(bytearray())
            chunk = self._chunks[-1]
            ends = list(accumulate(map(len, made), initial=len(chunk)))[1:]
            chunk += b"".join(made)
            self._ends.extend(ends)  # last: until then nobody reads them

    def __len__(self) -> int:
        return len(self._ends)

    def _at(self, at: int) -> T:
        chunk, place = divmod(at, _CHUNK)
        begun = self._ends[at - 1] if place else 0
        return self._loads(self._chunks[chunk][begun : self._ends[at]])  # type: ignore[no-any-return]

    def some(self, places: Iterable[int]) -> list[T]:
        """Those at some places, 0 or more: half of what one by one takes."""
        loads, chunks, ends = self._loads, self._chunks, self._ends
        return [
            loads(chunks[at // _CHUNK][ends[at - 1] if at % _CHUNK else 0 : ends[at]])
            for at in places
        ]

    def __iter__(self) -> Iterator[T]:
        for at in range(len(self)):
            yield self._at(at)
