"""What an audit has found so far, by an item's place: in columns, so that a million take no more than their figures."""

from __future__ import annotations

import pickle
import threading
from array import array
from collections.abc import Iterable, Iterator, Mapping, Sequence, Set
from functools import cached_property, partial
from typing import TYPE_CHECKING, Any, TypeAlias

from aptandum.core.docket.audit import UNUSABLE, Checked, Miss
from aptandum.core.docket.listed import Item, Listed
from aptandum.core.docket.standings import STANDINGS, Standing
from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.packed import Packed
from aptandum.core.words import say

if TYPE_CHECKING:
    import numpy.typing as npt

Mask: TypeAlias = "npt.NDArray[np.bool_]"
_Outcome = tuple[Standing, tuple[tuple[Any, ...], ...], str, bool]
Outcome = tuple[Standing, tuple[Miss, ...], str]
"""Standing, misses and trouble of a picture."""
_MOST_KNOWN = 4096
_DANGER = tuple(name in ("misses", "lost") for name in STANDINGS)
_AT = {name: n for n, name in enumerate(STANDINGS)}

_dumps = partial(pickle.dumps, protocol=5)


@frozen
class Known:
    """What is known of some items from before; (N,) and (N, 2).

    Attributes:
        places: theirs.
        outcomes, which: what can be of them, and the place of each item's among those.
        stamps, sizes: as in :class:`~aptandum.core.docket.audit.Checked`; (-1, -1): no size.
    """

    places: npt.NDArray[np.intp]
    outcomes: tuple[Outcome, ...]
    which: npt.NDArray[np.intp]
    stamps: npt.NDArray[np.int64]
    sizes: npt.NDArray[np.int32]

    @staticmethod
    def of(
        places: npt.NDArray[np.intp],
        many: Sequence[int] | npt.NDArray[np.intp],
        outcomes: Sequence[Outcome],
        stamps: npt.NDArray[np.int64],
        sizes: npt.NDArray[np.int32],
    ) -> Known:
        """Of M pictures; outcomes that are alike are one object.

        Args:
            places: of the items, picture by picture; (N,).
            many: of each picture, how many items show it.
            stamps, sizes: (M, 2).
        """
        named = {id(one): one for one in outcomes}
        at = {one: n for n, one in enumerate(named)}
        return Known(
            places,
            tuple(named.values()),
            np.repeat(np.array([at[id(one)] for one in outcomes], np.intp), many),
            np.repeat(stamps, many, axis=0),
            np.repeat(sizes, many, axis=0),
        )

    @staticmethod
    def joined(some: Sequence[Known]) -> Known:
        """Several as one."""
        outcomes = tuple({id(one): one for part in some for one in part.outcomes}.values())
        at = {id(one): n for n, one in enumerate(outcomes)}
        which = [np.array([at[id(o)] for o in part.outcomes], np.intp)[part.which] for part in some]
        return Known(
            np.concatenate([part.places for part in some]),
            outcomes,
            np.concatenate(which),
            np.concatenate([part.stamps for part in some]),
            np.concatenate([part.sizes for part in some]),
        )

    def without(self, changed: Set[int]) -> Known:
        """The same but for the items at some places."""
        left = ~np.isin(self.places, np.fromiter(changed, np.intp, len(changed)))
        return Known(
            self.places[left], self.outcomes, self.which[left], self.stamps[left], self.sizes[left]
        )


class _Outcomes:
    """What can be found of a picture, each kept once where it is frequent; with its standing, how many rules it misses,
    and which. One thread puts, while others read."""

    def __init__(self) -> None:
        self._lock = threading.Lock()  # while an array is being read it cannot grow
        self._told: Packed[_Outcome] = Packed((), _dumps, pickle.loads)
        self._known: dict[bytes, int] = {}
        self._standing, self._misses, self._reasons = array("b"), array("i"), array("i")
        self._place: dict[tuple[tuple[str, str], ...], int] = {}
        self.reasons: list[tuple[tuple[str, str], ...]] = []
        """Which clauses are missed together, each by name and title."""

    def put(
        self, standing: Standing, missed: Sequence[Miss], trouble: str, passing: bool = False
    ) -> int:
        """Keep what was found: its number."""
        misses = tuple(tuple(vars(miss).values()) for miss in missed)
        told: _Outcome = (standing, misses, trouble, passing)
        key = _dumps(told)
        known = self._known.get(key)
        if known is not None:
            return known
        reasons = tuple((m.clause, m.title) for m in missed if m.verdict == "misses")
        if standing == "lost":
            reasons = ((UNUSABLE, say("No usable picture")), *reasons)
        if reasons not in self._place:
            self._place[reasons] = len(self.reasons)
            self.reasons.append(reasons)
        with self._lock:
            self._standing.append(_AT[standing])
            self._misses.append(sum(m.verdict == "misses" for m in missed))
            self._reasons.append(self._place[reasons])
        if len(self._known) >= _MOST_KNOWN:
            self._known.clear()
        self._known[key] = at = self._told.append(told)
        return at

    def told(self, at: int) -> tuple[Standing, tuple[Miss, ...], str, bool]:
        """What a number stands for: standing, misses, trouble, whether it is passing."""
        standing, misses, trouble, passing = self._told[at]
        return standing, tuple(Miss(*miss) for miss in misses), trouble, passing

    def columns(self) -> tuple[npt.NDArray[np.int8], npt.NDArray[np.int32], npt.NDArray[np.int32]]:
        """Of each: place of its standing, how many rules are missed, place of its reasons."""
        with self._lock:
            return (
                np.array(self._standing, np.int8),
                np.array(self._misses, np.int32),
                np.array(self._reasons, np.int32),
            )


class Found(Mapping[int, Checked]):
    """What was found of the items of a listing, by their places. It is changed by one thread; what others work with is a
    :meth:`copy`."""

    def __init__(self, items: Listed) -> None:
        self.items_listed = items
        many = len(items)
        self._outcomes = _Outcomes()
        self._which = np.full(many, -1, np.int32)
        self._stamp = np.full((many, 2), -1, np.int64)
        self._size = np.full((many, 2), -1, np.int32)

    @staticmethod
    def of(checked: Sequence[Checked]) -> Found:
        """All of a listing, in its order."""
        found = Found(Listed(one.item for one in checked))
        for at, one in enumerate(checked):
            found.put((at,), one)
        return found

    def copy(self, items: Listed | None = None) -> Found:
        """The same as it is now; of the same items, or with other pictures in place of some, of which nothing is known."""
        other = Found.__new__(Found)
        vars(other).update({k: v for k, v in vars(self).items() if k[0] == "_" and k != "_columns"})
        other.items_listed = items if items is not None else self.items_listed
        other._which, other._stamp, other._size = (
            self._which.copy(), self._stamp.copy(), self._size.copy(),
        )  # fmt: skip
        return other

    # -- changing it -----------------------------------------------------------------------------

    def put(self, places: Iterable[int], one: Checked) -> None:
        """What was found of a picture, for every item that shows it."""
        vars(self).pop("_columns", None)
        at = list(places)
        self._which[at] = self._outcomes.put(one.standing, one.misses, one.trouble, one.passing)
        self._stamp[at] = (-1, -1) if one.stamp is None else one.stamp
        self._size[at] = (-1, -1) if one.size is None else one.size

    def put_known(self, some: Known) -> None:
        """What is known of many pictures at once."""
        vars(self).pop("_columns", None)
        numbers = np.array([self._outcomes.put(*one) for one in some.outcomes], np.int32)
        if len(some.places):
            self._which[some.places] = numbers[some.which]
            self._stamp[some.places], self._size[some.places] = some.stamps, some.sizes

    def forget(self, places: Iterable[int]) -> None:
        """Nothing is known of some items any more."""
        vars(self).pop("_columns", None)
        self._which[list(places)] = -1

    # -- one by one ------------------------------------------------------------------------------

    def __getitem__(self, at: int) -> Checked:
        if at not in self:
            raise KeyError(at)
        return self.of_item(at, self.items_listed[at])

    def of_item(self, at: int, item: Item) -> Checked:
        """What was found of the item at a place, where it is at hand and was looked at."""
        standing, misses, trouble, passing = self._outcomes.told(int(self._which[at]))
        stamp, size = self._stamp[at].tolist(), self._size[at].tolist()
        return Checked(
            item,
            standing,
            misses,
            trouble,
            (stamp[0], stamp[1]) if stamp[0] >= 0 else None,
            (size[0], size[1]) if size[0] >= 0 else None,
            passing,
        )

    def __contains__(self, at: object) -> bool:
        return isinstance(at, int) and 0 <= at < len(self._which) and bool(self._which[at] >= 0)

    def __iter__(self) -> Iterator[int]:
        return iter(np.flatnonzero(self._which >= 0).tolist())

    def __len__(self) -> int:
        return int(np.count_nonzero(self._which >= 0))

    @property
    def whole(self) -> bool:
        """Whether every item was looked at."""
        return len(self) == len(self._which)

    # -- all at once -------------------------------------------------------------------------------

    @property
    def looked(self) -> Mask:
        """By place, whether it was looked at; (N,) bool."""
        return np.asarray(self._which >= 0)

    @cached_property
    def _columns(self) -> tuple[npt.NDArray[np.int8], npt.NDArray[np.int32], npt.NDArray[np.int32]]:
        standing, misses, reasons = self._outcomes.columns()
        if not len(standing):
            none = np.zeros(len(self._which), np.int32)
            return none.astype(np.int8), none, none
        which = np.maximum(self._which, 0)
        return standing[which], misses[which], reasons[which]

    @property
    def in_danger(self) -> Mask:
        """By place, whether its picture misses a rule or cannot be used; (N,) bool."""
        return np.asarray(np.array(_DANGER)[self._columns[0]] & self.looked)

    def by_weight(self, places: npt.NDArray[np.intp], after: Mask) -> npt.NDArray[np.intp]:
        """Places with the worst standing and the most misses first, the rest as they were.

        Args:
            after: of the places given, those that come behind all others; (M,) bool.
        """
        standing, misses, _reasons = self._columns
        lost = standing == _AT["lost"]
        at = np.where(lost, -1, standing)[places]
        return places[np.lexsort((-misses[places], at, after))]

    def missing(self, places: npt.NDArray[np.intp], clause: str) -> Mask:
        """Of some places, those that miss a clause; (M,) bool."""
        held = [any(name == clause for name, _t in one) for one in self._outcomes.reasons]
        return np.array(held, bool)[self._columns[2][places]] if held else np.zeros(len(places), bool)  # fmt: skip

    def counted(self, places: npt.NDArray[np.intp]) -> list[tuple[str, str, int]]:
        """The clauses that some places miss: name, title, how many; the most frequent first."""
        every = list(self._outcomes.reasons)  # more may come meanwhile
        many = np.bincount(self._columns[2][places], minlength=len(every))
        counts: dict[str, tuple[str, int]] = {}
        for reasons, n in zip(every, many.tolist(), strict=True):
            for clause, title in reasons if n else ():
                held = counts.get(clause, (title, 0))
                counts[clause] = held[0], held[1] + n
        made = [(clause, title, n) for clause, (title, n) in counts.items()]
        return sorted(made, key=lambda one: (-one[2], one[1]))
