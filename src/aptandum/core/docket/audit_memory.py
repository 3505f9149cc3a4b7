"""What the book of an audit remembers of the items of a listing, by their places."""

from __future__ import annotations

from array import array
from collections.abc import Iterable
from itertools import islice
from typing import TYPE_CHECKING, Literal

from aptandum.core.docket.listed import Keys
from aptandum.core.frozen import frozen
from aptandum.core.later import np

if TYPE_CHECKING:
    import numpy.typing as npt

Mark = Literal["new", "fell", "rose", "accepted"]
_MARKS: tuple[Mark, ...] = ("new", "fell", "rose", "accepted")
_TIMES = ("first_seen", "danger_since", "mended", "accepted")
_AT_ONCE = 20_000


@frozen
class History:
    """What is remembered of an item under a brief; times are ISO 8601, empty: never.

    Attributes:
        first_seen: the visit at which it was listed first.
        danger_since: since which visit it has been in danger without a break.
        mended: the visit at which it was found to be in danger no more.
        gone: the visit from which on it is no longer listed.
        accepted: when a person said that it may stay as it is.
        new: it was not listed at the visit before.
        fell: it is in danger and was not at the visit before.
        rose: it was in danger at the visit before, and is not.
    """

    first_seen: str
    danger_since: str = ""
    mended: str = ""
    gone: str = ""
    accepted: str = ""
    new: bool = False
    fell: bool = False
    rose: bool = False


class Remembered:
    """The histories of listed items, by their places, in columns: times are few, and each is kept once."""

    def __init__(self, keys: Keys, histories: Iterable[tuple[str, History]]) -> None:
        many = len(keys)
        self._times = np.full((many, len(_TIMES)), -1, np.int32)
        self._marks = np.zeros((many, len(_MARKS)), bool)
        self._said: list[str] = []
        known: dict[str, int] = {"": -1}
        each = iter(histories)
        while some := list(islice(each, _AT_ONCE)):
            at = keys.places([key for key, _one in some])
            times = array("i")
            for _key, one in some:
                for name in _TIMES:
                    when = getattr(one, name)
                    if when not in known:
                        known[when] = len(self._said)
                        self._said.append(when)
                    times.append(known[when])
            listed = at >= 0
            self._times[at[listed]] = np.array(times, np.int32).reshape(-1, len(_TIMES))[listed]
            marks = np.array([[bool(getattr(one, name)) for name in _MARKS] for _k, one in some])
            self._marks[at[listed]] = marks[listed]

    def __getitem__(self, at: int) -> History | None:
        """What is remembered of an item; ``None``: nothing."""
        times = ["" if n < 0 else self._said[n] for n in self._times[at].tolist()]
        if not times[0]:
            return None
        new, fell, rose, _accepted = self._marks[at].tolist()
        return History(
            times[0], times[1], times[2], accepted=times[3], new=new, fell=fell, rose=rose
        )

    def marked(self, mark: Mark) -> npt.NDArray[np.bool_]:
        """By place, whether something is remembered of an item; (N,) bool."""
        return self._marks[:, _MARKS.index(mark)]
