"""The book of a watched folder: what was made of which content, so that nothing is made twice, whatever ends the program.

An SQLite file beside the results. A name is written down before the file that gets it, with the hash of its bytes: after a
crash the file is there whole and is taken for done, or it is not there and is made again.
"""

from __future__ import annotations

import contextlib
import datetime
import hashlib
import os
import sqlite3
from pathlib import Path
from typing import Literal

from aptandum.core.atomic import PREFIX
from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen
from aptandum.core.watched.arrivals import Stamp
from aptandum.core.words import say

NAME = ".aptandum-watch.sqlite"
_TABLES = """
CREATE TABLE IF NOT EXISTS made (
    content TEXT NOT NULL, asked TEXT NOT NULL, file BLOB NOT NULL,
    state TEXT NOT NULL CHECK (state IN ('making', 'made', 'aside')),
    target BLOB, result TEXT, reason TEXT NOT NULL DEFAULT '', at TEXT NOT NULL,
    PRIMARY KEY (content, asked)
);
CREATE TABLE IF NOT EXISTS known (
    file BLOB PRIMARY KEY, size INTEGER, changed INTEGER, inode INTEGER, content TEXT NOT NULL
);
"""
_LATER = 60.0
"""Seconds after which a hidden part of a file is a crash's: no file takes that long to be written."""

State = Literal["making", "made", "aside"]


class BookTaken(AptandumError):
    """Another program watches for the same folder of results, or its book cannot be used; a sentence says which."""


@frozen
class Held:
    """What the book says of one content for one brief.

    Attributes:
        target: the path of the result; empty: none.
        result: hash of the result's bytes.
        reason: why it was set aside.
        at: local time, ISO 8601.
        found: it was written before a crash, and only now taken for made.
    """

    file: str
    state: State
    target: str = ""
    result: str = ""
    reason: str = ""
    at: str = ""
    found: bool = False


class WatchBook:
    """The book beside the results, held by one program at a time.

    Args:
        folder: that of the results; it is there.

    Raises:
        BookTaken: another program holds it, or the file is no such book.
        OSError: it cannot be opened.
    """

    def __init__(self, folder: str | os.PathLike[str]) -> None:
        self.folder = Path(folder)
        path = self.folder / NAME
        try:
            self._db = sqlite3.connect(
                path, timeout=0.2, isolation_level=None, check_same_thread=False
            )
            self._db.execute("PRAGMA locking_mode = EXCLUSIVE")
            self._db.execute("PRAGMA synchronous = FULL")
            self._db.execute("BEGIN EXCLUSIVE")
            for one in _TABLES.split(";"):
                self._db.execute(one)
            self._db.execute("COMMIT")
        except sqlite3.OperationalError as error:
            if "locked" in str(error):
                said = say(
                    "Another program watches for {folder} already.", folder=os.fspath(folder)
                )
            else:
                said = say("{file} cannot be opened: {why}.", file=os.fspath(path), why=str(error))
            raise BookTaken(said) from None
        except sqlite3.DatabaseError:
            said = say(
                "{file} is not a watched folder’s book, or is damaged: rename it to begin anew.",
                file=os.fspath(path),
            )
            raise BookTaken(said) from None
        self._tidy()

    def _tidy(self) -> None:
        """Remove what a crash left of files that were being written."""
        now = datetime.datetime.now().timestamp()
        for part in self.folder.glob(f"{PREFIX}*.part"):
            with contextlib.suppress(OSError):
                if now - part.stat().st_mtime > _LATER:
                    part.unlink()

    def close(self) -> None:
        """Let go of it."""
        self._db.close()

    def held(self, content: str, asked: str) -> Held | None:
        """What was made of a content for a brief; one that a crash cut short is settled first.

        A result that was being written is taken for made where its file holds the very bytes, and for not begun
        where it does not.
        """
        row = self._db.execute(
            "SELECT file, state, target, result, reason, at FROM made WHERE content = ? AND asked = ?",
            (content, asked),
        ).fetchone()
        if row is None:
            return None
        target = os.fsdecode(row[2]) if row[2] is not None else ""
        found = Held(os.fsdecode(row[0]), row[1], target, row[3] or "", row[4], row[5])
        if found.state != "making":
            return found
        if found.target and hash_of(found.target) == found.result:
            made = Held(found.file, "made", found.target, found.result, found=True)
            self.put(content, asked, made)
            return made
        self._db.execute("DELETE FROM made WHERE content = ? AND asked = ?", (content, asked))
        return None

    def put(self, content: str, asked: str, held: Held) -> None:
        """Write down what becomes or became of a content, to the disk.

        Raises:
            sqlite3.OperationalError: it cannot be written, as on a full disk; the book is as it was.
        """
        now = held.at or datetime.datetime.now().astimezone().isoformat(timespec="seconds")
        target = os.fsencode(held.target) if held.target else None
        self._db.execute(
            "INSERT OR REPLACE INTO made VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (
                content,
                asked,
                os.fsencode(held.file),
                held.state,
                target,
                held.result or None,
                held.reason,
                now,
            ),
        )

    def content_of(self, file: str, stamp: Stamp) -> str:
        """The hash of a file that was read before and has the same stamp; empty: it is not known."""
        row = self._db.execute(
            "SELECT content FROM known WHERE file = ? AND size = ? AND changed = ? AND inode = ?",
            (os.fsencode(file), *stamp),
        ).fetchone()
        return "" if row is None else str(row[0])

    def know(self, file: str, stamp: Stamp, content: str) -> None:
        """Write down the hash of a file, so that it is not read again."""
        self._db.execute(
            "INSERT OR REPLACE INTO known VALUES (?, ?, ?, ?, ?)",
            (os.fsencode(file), *stamp, content),
        )

    def aside(self) -> list[tuple[str, str, str]]:
        """What is set aside: file, reason and when, of files whose content is still that; the newest last."""
        rows = self._db.execute(
            "SELECT DISTINCT known.file, made.reason, made.at FROM made JOIN known USING (content) "
            "WHERE made.state = 'aside' ORDER BY made.at, known.file"
        ).fetchall()
        return [(os.fsdecode(file), reason, at) for file, reason, at in rows]

    def forget_aside(self) -> int:
        """Have what was set aside be tried again; how many there were."""
        return self._db.execute("DELETE FROM made WHERE state = 'aside'").rowcount

    def count(self, state: State) -> int:
        """How many results there are of a state."""
        row = self._db.execute("SELECT count(*) FROM made WHERE state = ?", (state,)).fetchone()
        return int(row[0])


def hash_of(file: str | os.PathLike[str]) -> str:
    """SHA-256 of a file; empty where there is none that can be read."""
    try:
        with open(file, "rb") as stream:
            return hashlib.file_digest(stream, "sha256").hexdigest()
    except OSError:
        return ""
