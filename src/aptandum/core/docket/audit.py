"""Auditing what is there already: a folder or a listing against a brief, without changing a byte.

A listing is a table (CSV) of items, each with its picture's file and whether it still matters: what
is out of stock is set aside. An item is in danger where its picture misses a ``must``, or cannot be
used at all.
"""

from __future__ import annotations

import csv
import io
import os
import re
from collections.abc import Callable, Iterable, Iterator, Sequence
from dataclasses import field, replace
from functools import cache, partial
from typing import Any

from aptandum.core.brief.model import Brief
from aptandum.core.conform import mask_once
from aptandum.core.docket.batch import lost_said
from aptandum.core.docket.listed import Item
from aptandum.core.docket.listing import ListingError, file_column, items_in, read_listing
from aptandum.core.docket.standings import Standing
from aptandum.core.errors import AptandumError
from aptandum.core.fitting.detection import asks_for_people, people_in
from aptandum.core.fitting.masking import supplied_look
from aptandum.core.fitting.settings import Settings
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Findings, judge
from aptandum.core.judge.measures import REGISTRY
from aptandum.core.judge.pixel_statistics import NoPixels
from aptandum.core.judge.reading import Reading, inside_of, of_supplied
from aptandum.core.mending import Fitted, offered
from aptandum.core.photo.decode import Photo, check_pixels, open_photo, photo_of
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.trying import makes_of
from aptandum.core.words import NEUTRAL, customs, neutrally, say, semicolons, sentences, spoken


@frozen
class Miss:
    """One clause that is not met: its name in the brief, what it is called, and the sentence; ``plain``
    is the sentence as machines read it, where the system's language has it otherwise, and ``figures`` are its numbers
    (:mod:`aptandum.core.judge.in_numbers`)."""

    verdict: str
    clause: str
    title: str
    says: str
    strength: str = "must"
    plain: str = ""
    figures: dict[str, Any] = field(default_factory=dict, hash=False)


@frozen
class Checked:
    """An item and how its picture stands.

    Attributes:
        misses: what is not met, the worst first.
        trouble: why the picture cannot be used; empty where it can.
        stamp: size and time of change of the file as it was read; ``None`` where it is not there.
        size: width and height of the picture as shown.
        passing: the look itself failed, and says nothing of the picture: it is not remembered.
    """

    item: Item
    standing: Standing
    misses: tuple[Miss, ...] = ()
    trouble: str = ""
    stamp: tuple[int, int] | None = None
    size: tuple[int, int] | None = None
    passing: bool = False

    @property
    def in_danger(self) -> bool:
        return self.standing in ("misses", "lost")


# -- looking -----------------------------------------------------------------------------------


@frozen
class Seen:
    """A file that was checked as it is."""

    findings: Findings
    size: tuple[int, int]
    facts: object = field(default=None, repr=False)
    plain: Findings | None = field(default=None, repr=False)


def check_file(
    path: str, brief: Brief, quick: bool = False, mends: bool = True, facts: Facts | None = None
) -> Seen:
    """Judge a file as it is. Nothing is written.

    Args:
        facts: what its header says, where that was read.
        quick: by its header alone: no pixel is read, what would need one is unknown, and what
            would mend a miss is left out.
        mends: also what would mend a miss, each tried on a fitting; thousands are judged faster
            without.

    Raises:
        PhotoError: it is not a usable photo; unless ``quick``, every pixel of it must be readable.
    """
    moving = any(REGISTRY[clause.measure or ""].moving for clause, _limit in brief.limits())
    photo = open_photo(path, moving) if facts is None else photo_of(facts, moving)
    if quick:
        reading = of_supplied(photo, see_opaque=_not_looked)
        return _seen(reading, brief, photo, mends=False)
    seen = check_pixels(photo.read(), photo.facts)
    if seen.error:
        raise PhotoError(seen.error)
    see = cache(partial(people_in, photo)) if asks_for_people(brief) else None
    see_mask = mask_once(photo)
    look = cache(partial(supplied_look, photo, see_mask))
    judged = _seen(of_supplied(photo, see, look), brief, photo, mends)
    if not mends:
        return judged
    people = see() if see is not None else None
    fitted = Fitted(
        photo.facts,
        brief,
        Settings(),
        people,
        makes_of(photo, see_mask),
        see_supplied=inside_of(photo),
    )
    return replace(judged, findings=offered(judged.findings, fitted))


def _seen(reading: Reading, brief: Brief, photo: Photo, mends: bool = True) -> Seen:
    """A reading judged, in the person's language and in that of machine output."""
    findings = judge(reading, brief, mends=mends)
    plain = None
    if customs() != NEUTRAL or spoken():
        with neutrally():
            plain = judge(reading, brief, mends=False)
    return Seen(findings, photo.facts.size, photo.facts, plain)


def _not_looked() -> bool:
    raise NoPixels(say("Whether it is transparent cannot be told by its header alone."))


@frozen
class Task:
    """One item to be checked, for any worker."""

    item: Item
    brief: Brief
    quick: bool = False


def check_one(task: Task) -> Checked:
    """Check an item's picture; trouble is told, not raised."""
    item = task.item
    if not item.file:
        sentence = say("No picture is listed for {item}.", item=item.name)
        return Checked(item, "lost", trouble=sentence)
    stamp = stamp_of(item.file)
    try:
        seen = check_file(item.file, task.brief, task.quick, mends=False)
    except (AptandumError, OSError) as error:
        return Checked(item, "lost", trouble=str(error), stamp=stamp)
    return _told(item, seen, stamp)


def check_lost(task: Task, error: BaseException) -> Checked:
    """An item whose worker died, or whose check failed by a mistake, which is logged."""
    item = task.item
    why = lost_said(item.file or item.name, error)
    return Checked(item, "lost", trouble=why, stamp=stamp_of(item.file), passing=True)


def _told(item: Item, seen: Seen, stamp: tuple[int, int] | None) -> Checked:
    order = ("misses", "unknown", "asks", "advises")
    findings, plain = seen.findings, {}
    if seen.plain is not None:
        plain = {f.clause.id: f.says for f in seen.plain.findings}
    left = tuple(
        Miss(
            f.verdict,
            f.clause.id,
            f.title,
            f.question if f.asked else f.says,
            f.clause.strength,
            plain.get(f.clause.id, ""),
            f.figures(),
        )
        for f in sorted(
            (f for f in findings.findings if f.verdict in order),
            key=lambda f: order.index(f.verdict),
        )
    )
    standing: Standing = "meets"
    for name in order:
        if any(m.verdict == name and (name != "unknown" or m.strength == "must") for m in left):
            standing = name  # type: ignore[assignment]
            break
    return Checked(item, standing, left, "", stamp, seen.size)


def stamp_of(path: str | bytes) -> tuple[int, int] | None:
    """Size and time of change of a file; ``None`` where it is not there."""
    try:
        state = os.stat(path)
    except (OSError, ValueError):
        return None
    return state.st_size, state.st_mtime_ns


# -- what came of it ---------------------------------------------------------------------------


UNUSABLE = "unusable"
"""The reason, in place of a clause's name, of pictures that are missing or damaged."""


def changed(checked: Sequence[Checked], now: Callable[[str], object] = stamp_of) -> list[int]:
    """The places of those whose file is another now than when it was checked."""
    return [i for i, one in enumerate(checked) if one.item.file and now(one.item.file) != one.stamp]


def with_file(item: Item, file: str) -> Item:
    """An item with another picture in place of its own. The old file stays where it is."""
    return replace(item, file=os.path.abspath(file))


_FORMULA = "=+@\t\r"
"""A cell that begins so is taken for a formula by table programs, and so is one with a minus that is no number."""
_NUMBER = re.compile(r"-\d+(?:[.,]\d+)?")

COLUMNS = ("item", "picture file", "in stock", "stands", "reasons", "what is missed")


OWN = COLUMNS[3:]
"""What an audit itself says, after whatever the listing has."""
REMEMBERED = ("first seen", "in danger since", "accepted")
"""What it says besides, where it keeps a book."""


def as_csv(
    every: Iterable[tuple[Checked, tuple[str, str, str]]],
    head: tuple[str, ...] = (),
    folder: str | os.PathLike[str] | None = None,
    kept: bool = False,
) -> Iterator[str]:
    """The lines of a table of items and how they stand, as CSV (RFC 4180): all columns of their listing in its order and spelling,
    and after them what the audit says. Files are named as seen from ``folder``. It can be read back as a listing.

    Args:
        every: items, and what the book says of each (:data:`REMEMBERED`), where one is ``kept``.
        head: the columns of their listing (:func:`heads_of`).
    """
    yield _line((*(head or COLUMNS[:3]), *OWN, *(REMEMBERED if kept else ())))
    for one, remembered in every:
        missed = [m for m in one.misses if m.verdict == "misses"]
        reasons = [m.title for m in missed] or ([say("No usable picture")] if one.trouble else [])
        words = [m.plain or m.says for m in missed] or ([one.trouble] if one.trouble else [])
        said = (one.standing, semicolons(reasons), sentences(words), *(remembered if kept else ()))
        yield _line((*_listed(one.item, head, folder), *said))


def _line(cells: Iterable[str]) -> str:
    out = io.StringIO(newline="")
    csv.writer(out).writerow([_calm(cell) for cell in cells])
    return out.getvalue()


def heads_of(heads: Sequence[tuple[str, ...]]) -> tuple[str, ...]:
    """The columns of a listing, without what an audit before has added; none where there is none, or are several."""
    head = heads[0] if len(heads) == 1 else ()
    return tuple(name for name in head if name.lower() not in (*OWN, *REMEMBERED))


def _listed(
    item: Item, head: tuple[str, ...], folder: str | os.PathLike[str] | None
) -> tuple[str, ...]:
    """What a listing says of an item, its file named as seen from ``folder``."""
    file = item.file
    if folder is not None and file:
        file = os.path.relpath(file, os.fspath(folder))
        file = os.path.join(os.curdir, file) if file[0] in _FORMULA + "-" else file
    if not head:
        return item.name, file, {None: "", True: "yes", False: "no"}[item.in_stock]
    held = dict(zip(item.head, item.row, strict=False))
    at = file_column(item.head)
    if at is not None:
        held[item.head[at]] = file
    return tuple(held.get(name, "") for name in head)


def _calm(cell: str) -> str:
    """A cell that no table program takes for a formula, and that is text whatever bytes it had."""
    cell = cell.encode("utf-8", "backslashreplace").decode("utf-8")
    formula = cell[:1] and (cell[0] in _FORMULA or (cell[0] == "-" and not _NUMBER.fullmatch(cell)))
    return "'" + cell if formula else cell


__all__ = ["Checked", "Item", "ListingError", "check_file", "items_in", "read_listing"]
