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
import threading
from collections.abc import Iterable, Iterator, Sequence
from datetime import datetime
from functools import lru_cache
from itertools import islice
from pathlib import Path
from typing import Any

from aptandum.core.docket.audit import Checked, Miss, stamp_of
from aptandum.core.docket.audit_found import Found, Known, Mask, Outcome
from aptandum.core.docket.audit_memory import History, Remembered
from aptandum.core.docket.listed import Keys, Listed, calm, runs
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.later import np
from aptandum.core.photo.facts import shown_name
from aptandum.core.words import customs, say, spoken

ENDING = ".audit.sqlite"
"""Of the book beside a docket."""
_FORM = 1
_AT_ONCE, _MOST_KNOWN, _SORTED, _MOST_WHOLE = 500, 4096, 8192, 65_536
_LOOKED = "file, size, changed, coalesce(wide, -1), coalesce(high, -1), standing, misses, trouble"
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

    def looked(self, items: Listed, wanted: Mask, rules: str) -> Iterator[Known]:
        """What is known of the wanted items whose picture is as it was when it was looked at under these rules, some
        hundreds of pictures at a time."""

        @lru_cache(_MOST_KNOWN)  # what is wrong with one is wrong with many
        def outcome(told: tuple[str, str, str]) -> Outcome:
            standing, said, trouble = told
            return standing, tuple(Miss(*one) for one in json.loads(said)), trouble  # type: ignore[return-value]

        places, begun = items.by_picture(wanted)
        many = np.diff(begun, append=len(places))
        ((kept,),) = self._rows("SELECT count(*) FROM look")
        whole = kept <= 2 * len(begun) and len(begun) <= _MOST_WHOLE
        step = max(len(begun), 1) if whole else _SORTED
        for at in range(0, len(begun), step):
            first = places[begun[at : at + step]].tolist()
            pictures = {os.fsencode(file): n for n, file in enumerate(items.files(first), at)}
            pictures.pop(b"", None)
            for rows in self._every(rules) if whole else self._some(sorted(pictures), rules):
                known = [row for row in rows if row[0] in pictures and stamp_of(row[0]) == row[1:3]]
                if known:
                    named, size, changed, wide, high, *told = zip(*known, strict=True)
                    which = np.array([pictures[file] for file in named])
                    yield Known.of(
                        places[runs(begun[which], many[which])],
                        many[which],
                        [outcome(one) for one in zip(*told, strict=True)],
                        np.array((size, changed), np.int64).T,
                        np.array((wide, high), np.int32).T,
                    )

    def _every(self, rules: str) -> Iterator[list[tuple[Any, ...]]]:
        """All that was looked at under some rules, some hundreds at a time: half of what asking for each takes."""
        last = b""
        asked = f"SELECT {_LOOKED} FROM look WHERE rules = ? AND file > ? ORDER BY file LIMIT ?"
        while rows := self._rows(asked, rules, last, _AT_ONCE):
            yield rows
            last = rows[-1][0]

    def _some(self, files: Sequence[bytes], rules: str) -> Iterator[list[tuple[Any, ...]]]:
        """The same of some files; where they are in order each page of the table is read once."""
        for at in range(0, len(files), _AT_ONCE):
            some = files[at : at + _AT_ONCE]
            marks = ", ".join("?" * len(some))
            asked = f"SELECT {_LOOKED} FROM look WHERE rules = ? AND file IN ({marks})"
            yield self._rows(asked, rules, *some)

    def remember(self, checked: Iterable[Checked], rules: str) -> None:
        """Keep what was found of pictures; of one that is not there, or whose look failed, nothing is kept."""
        each = iter(checked)
        while some := list(islice(each, _AT_ONCE)):
            self._remember(some, rules)

    def _remember(self, checked: Sequence[Checked], rules: str) -> None:
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
            trouble = calm(one.trouble)
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

    def record(self, visit: int, found: Found) -> None:
        """Write down how all items of a listing stand at a visit; again, where some were looked at anew meanwhile."""
        keys = found.items_listed.keys
        with self._change():
            (held,) = self._db.execute(
                "SELECT source, brief, at FROM visit WHERE id = ?", (visit,)
            ).fetchall()
            for begun in range(0, len(keys), _AT_ONCE):
                places = range(begun, min(begun + _AT_ONCE, len(keys)))
                named = {keys[at]: at for at in places}
                known = {row[0]: row for row in self._db.execute(
                    "SELECT key, visit, first_seen, danger, danger_before, danger_since, mended, accepted, accepted_of"
                    f" FROM item WHERE source = ? AND brief = ? AND key IN ({', '.join('?' * len(named))})",
                    (*held[:2], *named))}  # fmt: skip
                rows = [
                    _row(held, visit, key, found[at], known.get(key)) for key, at in named.items()
                ]
                self._db.executemany(
                    "INSERT OR REPLACE INTO item VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, NULL, ?, ?, ?)",
                    rows,
                )
            self._db.execute(
                "UPDATE item SET gone = ? WHERE source = ? AND brief = ? AND visit < ? AND gone IS NULL",
                (held[2], *held[:2], visit),
            )
            danger = int(found.in_danger.sum())
            self._db.execute(
                "UPDATE visit SET items = ?, danger = ? WHERE id = ?", (len(keys), danger, visit)
            )

    def visits(self, source: str, brief: str) -> list[tuple[str, int, int]]:
        """Every visit that was written down: when, how many items, how many in danger; the oldest first."""
        return self._rows(
            "SELECT at, items, danger FROM visit WHERE source = ? AND brief = ? AND items > 0 ORDER BY id",
            os.fsencode(source),
            brief,
        )

    def histories(self, source: str, brief: str) -> Iterator[tuple[str, History]]:
        """What is remembered of each item, by its key; those that are gone among them."""
        last, before = self._last_two(source, brief)
        asked = (
            "SELECT key, first_seen, danger_since, mended, gone, accepted, danger, danger_before, visit FROM item"
            " WHERE source = ? AND brief = ?"
        )
        with self._lock:
            for row in self._db.execute(asked, (os.fsencode(source), brief)):
                here = before is not None and row[8] == last
                yield (
                    row[0],
                    History(
                        row[1],
                        row[2] or "",
                        row[3] or "",
                        row[4] or "",
                        row[5] or "",
                        new=here and row[7] is None,
                        fell=here and bool(row[6]) and not row[7],
                        rose=here and not row[6] and bool(row[7]),
                    ),
                )

    def remembered(self, source: str, brief: str, keys: Keys) -> Remembered:
        """What is remembered of the items of a listing, by their places."""
        return Remembered(keys, self.histories(source, brief))

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
    because = because or calm(one.trouble[:200])
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
        *held[:2], key, calm(one.item.name), visit, first, int(danger), before, since, mended, accepted, of, because,
    )  # fmt: skip
