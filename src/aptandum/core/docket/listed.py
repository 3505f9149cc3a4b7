"""The items of a listing or a folder, however many: kept as bytes, with columns for what is asked of all of them."""

from __future__ import annotations

from array import array
from collections.abc import Iterable, Iterator, Mapping, Sequence
from dataclasses import field
from functools import cached_property
from itertools import islice, pairwise
from typing import TYPE_CHECKING, Any, Protocol, TypeAlias

from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.packed import InOrder, Packed

if TYPE_CHECKING:
    import numpy.typing as npt

Places: TypeAlias = "npt.NDArray[np.intp]"
Told = tuple[str, str, tuple[str, ...], tuple[str, ...], str]
"""Name, file, head, row and key of an item."""


class Telling(Protocol):
    """What tells of an item what is only asked where it is looked at, by what is kept of it."""

    def told(self, kept: Any, line: int) -> Told:
        """Of one, and the line of its listing."""

    def files(self, kept: Sequence[Any]) -> list[str]:
        """The pictures' files of many."""


@frozen
class Item:
    """Something listed.

    Attributes:
        name: what it is called.
        file: its picture's.
        in_stock: whether it still matters; ``None``: nobody says.
        line: where it stands in its listing, 1-based; 0 for a file of a folder.
        head, row: its listing's columns in their own order and spelling, and what stands in them; none for a file of
            a folder.
        key: by what it is known again, where the listing has a column for that.
        value: what it is worth, in whatever the listing counts.
    """

    name: str
    file: str
    in_stock: bool | None = None
    line: int = 0
    head: tuple[str, ...] = field(default=(), repr=False, compare=False)
    row: tuple[str, ...] = field(default=(), repr=False, compare=False)
    key: str = field(default="", repr=False, compare=False)
    value: float | None = field(default=None, repr=False, compare=False)

    @property
    def matters(self) -> bool:
        return self.in_stock is not False


_MIXED = 1_000_003
AT_ONCE = 256
"""Items of a part."""


@frozen
class Part:
    """Some of what is listed, without an object for each: columns of what is asked of all of them.

    Attributes:
        names, files, lines, keys: as of :class:`Item`.
        stocks: 1 in stock, 0 not, -1 nobody says.
        values: NaN: nobody says.
        kept: what the rest is told by: tuples or lists of texts and numbers.
    """

    names: Sequence[str]
    files: Sequence[str]
    stocks: Sequence[int]
    lines: Sequence[int]
    keys: Sequence[str]
    values: Sequence[float]
    kept: Sequence[Any]


class Listed(InOrder[Item]):
    """Items in their order. They do not change: another picture in place of a listed one makes another of these
    (:meth:`with_files`), which shares everything else.

    Attributes:
        matters: by place, whether an item still matters; (N,) bool.
        values: what each is worth; (N,) float64, NaN where nobody says.
        says_stock: whether it is said of any that it is in stock or not.
        heads: the columns of the listings that the items are of; of a folder, that of none.
        instead: the files that are looked at in place of listed ones, by place.
    """

    def __init__(self, items: Iterable[Item]) -> None:
        heads: dict[tuple[str, ...], int] = {}
        self._take(_parts_of(items, heads))
        self.heads = tuple(heads)
        self._telling: Telling = _Whole(self.heads)

    @classmethod
    def of_parts(
        cls, parts: Iterable[Part], telling: Telling, heads: Sequence[tuple[str, ...]]
    ) -> Listed:
        """The same without an object for each, for a listing of many."""
        listed = cls.__new__(cls)
        listed._take(parts)
        listed.heads = tuple(heads)
        listed._telling = telling
        return listed

    def _take(self, parts: Iterable[Part]) -> None:
        self._kept: Packed[Any] = Packed()
        self._stock, self._lines, worth = array("b"), array("i"), array("d")
        named, keyed, filed = array("q"), array("q"), array("q")
        for part in parts:
            self._kept.extend(part.kept)
            many = len(part.kept)
            for column, these in (
                (self._stock, part.stocks),
                (self._lines, part.lines),
                (worth, part.values),
                (named, map(hash, _calm(part.names))),
                (keyed, map(hash, _calm(part.keys))),  # that of an empty text is 0
                (filed, map(hash, part.files)),
            ):  # two thirds of what `extend` takes
                column.frombytes(np.fromiter(these, column.typecode, many).tobytes())
        told = np.asarray(self._stock)
        self.matters: npt.NDArray[np.bool_] = told != 0
        self.says_stock = bool(np.any(told >= 0))
        self.values: npt.NDArray[np.float64] = np.asarray(worth)
        self._names, self._keyed = np.asarray(named), np.asarray(keyed)
        self._files = np.asarray(filed)
        self.instead: dict[int, str] = {}

    def with_files(self, files: Mapping[int, str]) -> Listed:
        """The same with other pictures in place of some; a listed one in its own place is none."""
        other = Listed.__new__(Listed)
        vars(other).update({k: v for k, v in vars(self).items() if k != "keys"})
        other.instead, other._files = dict(self.instead), self._files.copy()
        for at, file in files.items():
            other._files[at] = hash(file) if file else 0
            if file == self.listed_file(at):
                other.instead.pop(at, None)
            else:
                other.instead[at] = file
        return other

    @property
    def as_listed(self) -> Listed:
        """The same before any picture was put in place of a listed one."""
        return self.with_files({at: self.listed_file(at) for at in self.instead})

    def listed_file(self, at: int) -> str:
        """The file that is listed, whatever is looked at in its place."""
        return self._telling.files([self._kept[at]])[0]

    def file(self, at: int) -> str:
        """The file that is looked at; empty: none."""
        return self.instead.get(at) or self.listed_file(at)

    def files(self, places: Sequence[int]) -> list[str]:
        """As :meth:`file`, of many."""
        listed: list[str] = []
        for begun in range(0, len(places), AT_ONCE):  # the fewer rows at a time, the less to sweep
            listed += self._telling.files(self._kept.some(places[begun : begun + AT_ONCE]))
        if not self.instead:
            return listed
        return [self.instead.get(at) or file for at, file in zip(places, listed, strict=True)]

    def is_like(self, other: Listed) -> bool:
        """Whether it is the same listing, with the same pictures in place of others."""
        return self._kept is other._kept and self.instead == other.instead

    # -- one by one ------------------------------------------------------------------------------

    def __len__(self) -> int:
        return len(self._kept)

    def _at(self, at: int) -> Item:
        return self._item(at, self._kept[at])

    def __iter__(self) -> Iterator[Item]:
        for at, kept in enumerate(self._kept):
            yield self._item(at, kept)

    def _item(self, at: int, kept: Any) -> Item:
        line, stock, value = self._lines[at], self._stock[at], float(self.values[at])
        name, file, head, row, key = self._telling.told(kept, line)
        in_stock = None if stock < 0 else stock > 0
        worth = None if value != value else value
        return Item(name, self.instead.get(at) or file, in_stock, line, head, row, key, worth)

    # -- pictures --------------------------------------------------------------------------------

    def pictures(self, wanted: npt.NDArray[np.bool_]) -> Iterator[tuple[int, ...]]:
        """The places of the wanted items that show one picture, picture by picture, in the order of the first of
        each; an item without a picture comes alone.

        Args:
            wanted: by place; (N,) bool.
        """
        places, begun = self.by_picture(wanted)
        for first, end in pairwise([*begun.tolist(), len(places)]):
            yield tuple(places[first:end].tolist())

    def by_picture(self, wanted: npt.NDArray[np.bool_]) -> tuple[Places, Places]:
        """The same as columns: the places of all wanted items, and where among those each picture's begin. Files are
        told apart by the 64 bits of their names' hashes: of a million two are taken for one in one listing of forty
        million.
        """
        places = np.flatnonzero(wanted)
        files = self._files[places]
        files = np.where(files == 0, np.arange(len(files)), files)
        _one, first, which = np.unique(files, return_index=True, return_inverse=True)
        by_first = first[which.reshape(-1)]  # of each, where its picture comes first
        order = np.argsort(by_first, kind="stable")
        begun = np.flatnonzero(np.diff(by_first[order], prepend=-1))
        return places[order], begun

    def count_pictures(self, wanted: npt.NDArray[np.bool_]) -> int:
        """How many pictures the wanted items show, an item without one counted as one."""
        files = self._files[wanted]
        return len(np.unique(files[files != 0])) + int(np.count_nonzero(files == 0))

    # -- by what an item is known again ------------------------------------------------------------

    @cached_property
    def keys(self) -> Keys:
        """By what each item is known again at another visit."""
        return Keys(self)


@frozen
class _Whole:
    """Of items that are kept whole: their name, file, which head, row and key."""

    heads: tuple[tuple[str, ...], ...]

    def told(self, kept: Any, _line: int) -> Told:
        name, file, head, row, key = kept
        return name, file, self.heads[head], row, key

    def files(self, kept: Sequence[Any]) -> list[str]:
        return [one[1] for one in kept]


def _parts_of(items: Iterable[Item], heads: dict[tuple[str, ...], int]) -> Iterator[Part]:
    each = iter(items)
    while some := list(islice(each, AT_ONCE)):
        yield Part(
            [one.name for one in some],
            [one.file for one in some],
            [-1 if one.in_stock is None else int(one.in_stock) for one in some],
            [one.line for one in some],
            [one.key for one in some],
            [np.nan if one.value is None else one.value for one in some],
            [
                (one.name, one.file, heads.setdefault(one.head, len(heads)), one.row, one.key)
                for one in some
            ],
        )


def _calm(texts: Sequence[str]) -> Iterable[str]:
    return texts if "".join(texts).isascii() else map(calm, texts)


def runs(begun: Places, many: Places) -> Places:
    """All numbers of runs, by where each begins and how many it has."""
    before = np.cumsum(many) - many
    return np.asarray(np.repeat(begun - before, many) + np.arange(int(many.sum())))


def calm(text: str) -> str:
    """Text that can be written down, whatever bytes it was a name of."""
    return text if text.isascii() else text.encode("utf-8", "backslashreplace").decode("utf-8")


class Keys(InOrder[str]):
    """By what each item is known again, each another: its key, where the listing has one; else its name, with its
    picture where several have that name; where all is the same, with its number among those.
    """

    def __init__(self, items: Listed) -> None:
        self._items = items
        keyed, names = items._keyed, items._names
        self._shared = np.zeros(len(names), bool)
        unkeyed = np.flatnonzero(keyed == 0)
        if len(unkeyed):
            _one, which, many = np.unique(names, return_inverse=True, return_counts=True)
            self._shared[unkeyed] = many[which][unkeyed] > 1
        both = names * _MIXED ^ items._files  # of a name and a file, whatever the whole is called
        alike = np.where(keyed != 0, keyed, np.where(self._shared, both, names))
        order = np.argsort(alike, kind="stable")
        first = np.r_[True, np.diff(alike[order]) != 0] if len(order) else np.zeros(0, bool)
        begun = np.maximum.accumulate(np.where(first, np.arange(len(order)), 0))
        self._nth = np.zeros(len(order), np.int32)
        self._nth[order] = np.arange(len(order)) - begun

    @cached_property
    def hashes(self) -> npt.NDArray[np.int64]:
        """Of each; (N,) int64. Where names are shared every item is looked at, so that it is asked for beside the
        interface."""
        items = self._items
        hashes = np.where(items._keyed != 0, items._keyed, items._names)
        for at in np.flatnonzero(self._shared | (self._nth > 0)).tolist():
            hashes[at] = hash(self[at])
        return hashes

    def _base(self, at: int, item: Item) -> str:
        return calm(item.key or (f"{item.name}\n{item.file}" if self._shared[at] else item.name))

    def of(self, at: int, item: Item) -> str:
        """That of the item at a place, where it is at hand."""
        nth = int(self._nth[at])
        return f"{self._base(at, item)}\n{nth + 1}" if nth else self._base(at, item)

    def __len__(self) -> int:
        return len(self._nth)

    def _at(self, at: int) -> str:
        return self.of(at, self._items[at])

    def places(self, keys: Sequence[str]) -> Places:
        """Where items are that are known by some keys; -1 where none is."""
        if not len(self):
            return np.full(len(keys), -1, np.intp)
        hashes = np.fromiter(map(hash, keys), np.int64, len(keys))
        at = np.minimum(np.searchsorted(self._sorted, hashes), len(self) - 1)
        return np.where(self._sorted[at] == hashes, self._order[at], -1)

    @cached_property
    def _order(self) -> Places:
        return np.argsort(self.hashes, kind="stable")

    @cached_property
    def _sorted(self) -> npt.NDArray[np.int64]:
        return self.hashes[self._order]
