"""The desk's own books: what was handed over, when, and how it stands. SQLite, one file."""

from __future__ import annotations

import json
import sqlite3
import threading
import time
from collections.abc import Iterable
from datetime import datetime
from pathlib import Path
from typing import Any

WAITING, REVIEW, ACCEPTED, HELD, REFUSED, RETIRED, REPLACED = (
    "waiting",
    "review",
    "accepted",
    "held",
    "refused",
    "retired",
    "replaced",
)
OPEN = (WAITING, REVIEW)
OVER = (RETIRED, REPLACED)
"""States in which the same file may be handed over anew."""

_TABLES = """
CREATE TABLE IF NOT EXISTS hand_overs (
    row INTEGER PRIMARY KEY, number TEXT UNIQUE, brief TEXT NOT NULL, name TEXT NOT NULL,
    sha256 TEXT NOT NULL, bytes INTEGER NOT NULL, received TEXT NOT NULL, since REAL NOT NULL,
    state TEXT NOT NULL, reasons TEXT NOT NULL DEFAULT '[]', replaces TEXT NOT NULL DEFAULT '');
CREATE UNIQUE INDEX IF NOT EXISTS once ON hand_overs (brief, sha256)
    WHERE state NOT IN ('retired', 'replaced');
CREATE TABLE IF NOT EXISTS history (
    number TEXT NOT NULL, at TEXT NOT NULL, state TEXT NOT NULL, says TEXT NOT NULL);
"""


def now() -> str:
    """This moment as the desk writes it."""
    return datetime.now().astimezone().isoformat(timespec="milliseconds")


class Books:
    """One desk's hand-overs. Safe to use from several threads; every change is on the disk when
    its call returns."""

    def __init__(self, path: Path, prefix: str) -> None:
        self.prefix = prefix
        self._lock = threading.RLock()
        self._base = sqlite3.connect(path, check_same_thread=False, isolation_level=None)
        self._base.row_factory = sqlite3.Row
        self._base.execute("PRAGMA journal_mode = WAL")
        self._base.execute("PRAGMA synchronous = FULL")
        self._base.executescript(_TABLES)

    def close(self) -> None:
        """Close the desk's books."""
        with self._lock:
            self._base.close()

    def find(self, brief: str, sha256: str) -> dict[str, Any] | None:
        """What is held of a file, unless it was retired or replaced."""
        row = self._one(
            "SELECT * FROM hand_overs WHERE brief = ? AND sha256 = ?"
            " AND state NOT IN ('retired', 'replaced')",
            (brief, sha256),
        )
        return None if row is None else self._told(row)

    def get(self, number: str) -> dict[str, Any] | None:
        """A hand-over by its number; ``None`` where there is none."""
        row = self._one("SELECT * FROM hand_overs WHERE number = ?", (number,))
        return None if row is None else self._told(row)

    def all(self) -> list[dict[str, Any]]:
        """Every hand-over, in the order in which they came in."""
        with self._lock:
            rows = self._base.execute("SELECT * FROM hand_overs ORDER BY row").fetchall()
        return [self._told(row) for row in rows]

    def waiting(self) -> int:
        """How many have not got their verdict yet."""
        row = self._one("SELECT count(*) AS n FROM hand_overs WHERE state IN ('waiting', 'review')")
        return int(row["n"]) if row is not None else 0

    def receive(
        self, brief: str, name: str, sha256: str, size: int, replaces: str = ""
    ) -> tuple[dict[str, Any], bool]:
        """Take a file in and give its receipt; and whether it is new. The same file a second
        time gets the receipt of the first."""
        with self._lock:
            held = self.find(brief, sha256)
            if held is not None:
                return held, False
            self._base.execute("BEGIN IMMEDIATE")
            try:
                if replaces:
                    self._move(replaces, REPLACED, "Another file takes its place.")
                at = self._base.execute(
                    "INSERT INTO hand_overs (brief, name, sha256, bytes, received, since, state,"
                    " replaces) VALUES (?, ?, ?, ?, ?, ?, 'waiting', ?)",
                    (brief, name, sha256, size, now(), time.time(), replaces),
                ).lastrowid
                number = f"{self.prefix}-{at:05d}"
                self._base.execute("UPDATE hand_overs SET number = ? WHERE row = ?", (number, at))
                self._note(number, WAITING, "Received.")
                self._base.execute("COMMIT")
            except BaseException:
                self._base.execute("ROLLBACK")
                raise
            made = self.get(number)
            assert made is not None
            return made, True

    def move(self, number: str, state: str, says: str, reasons: Iterable[Any] = ()) -> None:
        """Put a hand-over into another state, and note that in its history."""
        with self._lock:
            self._base.execute("BEGIN IMMEDIATE")
            self._move(number, state, says, reasons)
            self._base.execute("COMMIT")

    def since(self, state: str) -> list[tuple[str, float]]:
        """Numbers that stand so, and since when (seconds since 1970)."""
        with self._lock:
            rows = self._base.execute(
                "SELECT number, since FROM hand_overs WHERE state = ?", (state,)
            ).fetchall()
        return [(row["number"], row["since"]) for row in rows]

    def _move(self, number: str, state: str, says: str, reasons: Iterable[Any] = ()) -> None:
        self._base.execute(
            "UPDATE hand_overs SET state = ?, since = ?, reasons = ? WHERE number = ?",
            (state, time.time(), json.dumps(list(reasons)), number),
        )
        self._note(number, state, says)

    def _note(self, number: str, state: str, says: str) -> None:
        self._base.execute("INSERT INTO history VALUES (?, ?, ?, ?)", (number, now(), state, says))

    def _one(self, query: str, given: tuple[Any, ...] = ()) -> sqlite3.Row | None:
        with self._lock:
            found: sqlite3.Row | None = self._base.execute(query, given).fetchone()
            return found

    def _told(self, row: sqlite3.Row) -> dict[str, Any]:
        with self._lock:
            events = self._base.execute(
                "SELECT at, state, says FROM history WHERE number = ? ORDER BY rowid",
                (row["number"],),
            ).fetchall()
        return {
            "number": row["number"],
            "brief": row["brief"],
            "name": row["name"],
            "sha256": row["sha256"],
            "bytes": row["bytes"],
            "received": row["received"],
            "state": row["state"],
            "reasons": json.loads(row["reasons"]),
            "replaces": row["replaces"] or None,
            "history": [dict(event) for event in events],
        }
