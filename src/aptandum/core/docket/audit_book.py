"""The book of an audit: how each item stood at each visit, so that it can be told what is new since last time.

An SQLite file beside the docket. It also keeps what was found of each picture, by the picture's stamp and the rules:
what has not changed is not looked at again.
"""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import sqlite3
import sys
import threading
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping, Sequence
from datetime import datetime
from pathlib import Path
from typing import Any

from aptandum.core.docket.audit import Checked, Miss, stamp_of
from aptandum.core.docket.listing import Item
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.photo.facts import shown_name
from aptandum.core.words import customs, say, spoken

ENDING = ".audit.sqlite"
"""Of the book beside a docket."""
_FORM = 1
_TABLES = """
CREATE TABLE visit (
    id INTEGER PRIMARY KEY, source BLOB NOT NULL, brief TEXT NOT NULL, at TEXT NOT NULL,
    items INTEGER NOT NULL DEFAULT 0, danger INTEGER NOT NULL DEFAULT 0
);
CREATE TABLE item (
    source BLOB NOT NULL, brief TEXT NOT NULL, key TEXT NOT NULL, name TEXT NOT NULL, visit INTEGER NOT NULL,
    first_seen TEXT NOT NULL, danger INTEGER NOT NULL, danger_before INTEGER, danger_since TEXT, mended TEXT,
    gone TEXT, accepted TEXT, accepted_of TEXT, because TEXT NOT NULL,
    PRIMARY KEY (source, brief, key)
) WITHOUT ROWID;
CREATE TABLE look (
    file BLOB NOT NULL, rules TEXT NOT NULL, size INTEGER NOT NULL, changed INTEGER NOT NULL,
    standing TEXT NOT NULL, misses TEXT NOT NULL, trouble TEXT NOT NULL, wide INTEGER, high INTEGER,
    PRIMARY KEY (file, rules)
) WITHOUT ROWID;
"""


class AuditBookError(AptandumError):
    """A book that cannot be used; the message is a sentence naming file and cause."""


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


@frozen
class Since:
    """What has changed since the visit before.

    Attributes:
        before: when that was; empty: there was none.
        at: when this visit began.
        gone: what was listed then, and is not now: key and name.
    """

    before: str = ""
    at: str = ""
    new: int = 0
    fell: int = 0
    rose: int = 0
    gone: tuple[tuple[str, str], ...] = ()


def keys_of(items: Sequence[Item]) -> list[str]:
    """By what each item is known again at another visit, each another: its key, where the listing has one; else its name,
    with its picture where several have that name; where all is the same, with its number among those."""
    names = Counter(item.name for item in items)
    taken: Counter[str] = Counter()
    found = []
    for item in items:
        key = item.key or (item.name if names[item.name] == 1 else f"{item.name}\n{item.file}")
        key = _calm(key)
        taken[key] += 1
        found.append(key if taken[key] == 1 else f"{key}\n{taken[key]}")
    return found


def _calm(text: str) -> str:
    """Text that can be written down, whatever bytes it was a name of."""
    return text.encode("utf-8", "backslashreplace").decode("utf-8")


def rules_key(text: str, brief: str, quick: bool) -> str:
    """What tells the rules, and how deep was looked, from others: under others a picture is looked at anew."""
    told = f"{_FORM}\n{brief}\n{int(quick)}\n{customs()}{spoken()}\n{text}"
    return hashlib.sha256(told.encode("utf-8", "backslashreplace")).hexdigest()[:32]


class AuditBook:
    """See the module. May be used from several threads.

    Raises:
        AuditBookError: the file is no such book, is of a newer form, or cannot be opened.
    """

    def __init__(self, path: str | os.PathLike[str]) -> None:
        self.path = Path(path)
        self._lock = threading.RLock()
        try:
            self.path.parent.mkdir(parents=True, exist_ok=True)
            self._db = sqlite3.connect(
                self.path, timeout=10, isolation_level=None, check_same_thread=False
            )
            with self._change():
                (form,) = self._db.execute("PRAGMA user_version").fetchone()
                if form == 0:
                    for one in filter(str.strip, _TABLES.split(";")):
                        self._db.execute(one)
                    self._db.execute(f"PRAGMA user_version = {_FORM}")
        except sqlite3.OperationalError as error:
            raise AuditBookError(self._said(str(error))) from None
        except sqlite3.DatabaseError:
            raise AuditBookError(
                say(
                    "{file} is not the book of an audit, or is damaged: rename it to begin anew.",
                    file=shown_name(path),
                )
            ) from None
        except OSError as error:
            raise AuditBookError(self._said(error.strerror or str(error))) from None
        if form > _FORM:
            self.close()
            raise AuditBookError(
                say("{file} was written by a newer Aptandum.", file=shown_name(path))
            )

    def _said(self, why: str) -> str:
        return say("{file} cannot be used: {why}.", file=shown_name(self.path), why=why.lower())

    def close(self) -> None:
        """Let go of the file."""
        with self._lock:
            self._db.close()

    @contextlib.contextmanager
    def _change(self) -> Iterator[None]:
        """All of it, or nothing."""
        with self._lock:
            self._db.execute("BEGIN IMMEDIATE")
            try:
                yield
            except BaseException:
                self._db.execute("ROLLBACK")
                raise
            self._db.execute("COMMIT")

    def _rows(self, asked: str, *given: object) -> list[tuple[Any, ...]]:
        with self._lock:
            return self._db.execute(asked, given).fetchall()

    # -- pictures that were looked at ----------------------------------------------------------

    def looked(self, items: Sequence[Item], rules: str) -> dict[int, Checked]:
        """What is known of the items whose picture is as it was when it was looked at under these rules, by their
        places."""
        wanted: dict[str, list[int]] = {}
        for at, item in enumerate(items):
            if item.file:
                wanted.setdefault(item.file, []).append(at)
        found: dict[int, Checked] = {}
        said: dict[str, tuple[Miss, ...]] = {}  # what is wrong with one is wrong with many
        for row in self._rows("SELECT * FROM look WHERE rules = ?", rules):
            file = os.fsdecode(row[0])
            places = wanted.get(file)
            if not places or stamp_of(file) != (row[2], row[3]):
                continue
            size = (row[7], row[8]) if row[7] is not None else None
            misses = said.get(row[5])
            if misses is None:
                misses = said[row[5]] = tuple(Miss(*one) for one in json.loads(row[5]))
            standing, stamp = sys.intern(row[4]), (row[2], row[3])
            for at in places:
                found[at] = Checked(items[at], standing, misses, row[6], stamp, size)  # type: ignore[arg-type]
        return found

    def remember(self, checked: Iterable[Checked], rules: str) -> None:
        """Keep what was found of pictures; of one that is not there, or whose look failed, nothing is kept."""
        rows = {}
        for one in checked:
            if one.stamp is None or not one.item.file or one.passing:
                continue
            misses = [
                (m.verdict, m.clause, m.title, m.says, m.strength, m.plain, m.figures)
                for m in one.misses
            ]
            said = json.dumps(misses, default=str)
            file, size = os.fsencode(one.item.file), one.size or (None, None)
            trouble = _calm(one.trouble)
            rows[file] = (file, rules, *one.stamp, one.standing, said, trouble, *size)
        with self._change():
            self._db.executemany(
                "INSERT OR REPLACE INTO look VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)", rows.values()
            )

    # -- visits --------------------------------------------------------------------------------

    def begin(self, source: str, brief: str, at: datetime) -> int:
        """A visit begins: its number."""
        with self._change():
            made = self._db.execute(
                "INSERT INTO visit (source, brief, at) VALUES (?, ?, ?)",
                (os.fsencode(source), brief, at.isoformat(timespec="seconds")),
            )
            return int(made.lastrowid or 0)

    def record(self, visit: int, checked: Sequence[Checked]) -> None:
        """Write down how all items stand at a visit; again, where some were looked at anew meanwhile."""
        with self._change():
            (held,) = self._db.execute(
                "SELECT source, brief, at FROM visit WHERE id = ?", (visit,)
            ).fetchall()
            known = {
                row[0]: row
                for row in self._db.execute(
                    "SELECT key, visit, first_seen, danger, danger_before, danger_since, mended, accepted, accepted_of"
                    " FROM item WHERE source = ? AND brief = ?",
                    held[:2],
                )
            }
            keys = keys_of([one.item for one in checked])
            rows = [
                _row(held, visit, key, one, known.get(key))
                for key, one in zip(keys, checked, strict=True)
            ]
            self._db.executemany(
                "INSERT OR REPLACE INTO item VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, ?, ?)",
                rows,
            )
            self._db.execute(
                "UPDATE item SET gone = ? WHERE source = ? AND brief = ? AND visit < ? AND gone IS NULL",
                (held[2], *held[:2], visit),
            )
            danger = sum(one.in_danger for one in checked)
            self._db.execute(
                "UPDATE visit SET items = ?, danger = ? WHERE id = ?", (len(checked), danger, visit)
            )

    def visits(self, source: str, brief: str) -> list[tuple[str, int, int]]:
        """Every visit that was written down: when, how many items, how many in danger; the oldest first."""
        return self._rows(
            "SELECT at, items, danger FROM visit WHERE source = ? AND brief = ? AND items > 0 ORDER BY id",
            os.fsencode(source),
            brief,
        )

    def histories(self, source: str, brief: str) -> Mapping[str, History]:
        """What is remembered of each item by its key, those that are gone among them."""
        last, before = self._last_two(source, brief)
        found = {}
        for row in self._rows(
            "SELECT key, first_seen, danger_since, mended, gone, accepted, danger, danger_before, visit FROM item"
            " WHERE source = ? AND brief = ?",
            os.fsencode(source),
            brief,
        ):
            here = before is not None and row[8] == last
            found[row[0]] = History(
                row[1],
                row[2] or "",
                row[3] or "",
                row[4] or "",
                row[5] or "",
                new=here and row[7] is None,
                fell=here and bool(row[6]) and not row[7],
                rose=here and not row[6] and bool(row[7]),
            )
        return found

    def since(self, source: str, brief: str) -> Since:
        """What has changed since the visit before the last one."""
        last, before = self._last_two(source, brief)
        if last is None:
            return Since()
        at = dict(self._rows("SELECT id, at FROM visit WHERE id IN (?, ?)", last, before))
        if before is None:
            return Since("", at[last])
        where = os.fsencode(source), brief
        ((new, fell, rose),) = self._rows(
            "SELECT total(danger_before IS NULL), total(danger AND NOT coalesce(danger_before, 0)),"
            " total(NOT danger AND coalesce(danger_before, 0)) FROM item WHERE source = ? AND brief = ? AND visit = ?",
            *where,
            last,
        )
        gone = self._rows(
            "SELECT key, name FROM item WHERE source = ? AND brief = ? AND gone = ? ORDER BY key",
            *where,
            at[last],
        )
        return Since(at[before], at[last], int(new), int(fell), int(rose), tuple(gone))

    def _last_two(self, source: str, brief: str) -> tuple[int | None, int | None]:
        rows = self._rows(
            "SELECT id FROM visit WHERE source = ? AND brief = ? AND items > 0 ORDER BY id DESC LIMIT 2",
            os.fsencode(source),
            brief,
        )
        numbers = [row[0] for row in rows]
        first, second, *_rest = (*numbers, None, None)
        return first, second

    # -- what a person says --------------------------------------------------------------------

    def accept(self, source: str, brief: str, keys: Iterable[str], at: datetime | None) -> None:
        """An item may stay as it is, until something else is wrong with it; ``at`` left out: no longer."""
        said = at.isoformat(timespec="seconds") if at is not None else None
        with self._change():
            self._db.executemany(
                "UPDATE item SET accepted = ?, accepted_of = CASE WHEN ? IS NULL THEN NULL ELSE because END"
                " WHERE source = ? AND brief = ? AND key = ?",
                [(said, said, os.fsencode(source), brief, key) for key in keys],
            )

    def take_over(self, other: Path, sources: Iterable[str]) -> None:
        """Take over what another book remembers of some sources. This one is new, and remembers nothing."""
        with self._lock:
            self._db.execute("ATTACH ? AS other", (os.fspath(other),))
            try:
                with self._change():
                    for source in dict.fromkeys(sources):
                        named = (os.fsencode(source),)
                        for table in ("visit", "item"):
                            self._db.execute(
                                f"INSERT INTO {table} SELECT * FROM other.{table} WHERE source = ?",
                                named,
                            )
                    self._db.execute("INSERT OR IGNORE INTO look SELECT * FROM other.look")
            finally:
                self._db.execute("DETACH other")


def _row(
    held: tuple[bytes, str, str],
    visit: int,
    key: str,
    one: Checked,
    known: tuple[Any, ...] | None,
) -> tuple[object, ...]:
    """An item's line in the book after a look, by what stood there before."""
    at, danger = held[2], one.in_danger
    because = ", ".join(sorted(m.clause for m in one.misses if m.verdict == "misses"))
    because = because or _calm(one.trouble[:200])
    first, before, since, mended, accepted, of = at, None, None, None, None, None
    if known is not None:
        _key, when, first, now, before, since, mended, accepted, of = known
        if when != visit:
            before = now
    if danger:
        since, mended = since or at, None
    elif since:
        since, mended = None, at
    if accepted and (not danger or of != because):  # something else is wrong, or nothing
        accepted = of = None
    return (
        *held[:2], key, _calm(one.item.name), visit, first, int(danger), before, since, mended, accepted, of, because,
    )  # fmt: skip
