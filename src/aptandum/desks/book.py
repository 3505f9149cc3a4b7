"""Our own book of what was handed over, on the disk before anything is sent.

A docket is saved when a person saves it; this book is written at every step, so that whatever
kills the application, it is known afterwards what may have reached a desk. The files themselves
lie beside it under their hashes, as they were proved, until a desk has accepted them.
"""

from __future__ import annotations

import hashlib
import sqlite3
import threading
import time
import uuid
from collections.abc import Iterable
from pathlib import Path

from platformdirs import user_data_path

from aptandum.core.atomic import write_atomic
from aptandum.core.docket.hand_over import HandOver
from aptandum.core.errors import AptandumError
from aptandum.core.words import say


def own_folder() -> Path:
    """Where a person's book lies."""
    return user_data_path("aptandum", appauthor=False) / "handed"


class AlreadyHanded(AptandumError):
    """The very same file stands at that desk already.

    Attributes:
        item: as it stands.
    """

    def __init__(self, item: HandOver) -> None:
        super().__init__(
            say(
                "{file} has been handed over already{number}.",
                file=item.name,
                number=f" ({item.number})" if item.number else "",
            )
        )
        self.item = item


class Book:
    """Every hand-over of a person's dockets. Safe to use from several threads."""

    def __init__(self, folder: Path | None = None) -> None:
        self.folder = folder or own_folder()
        self.files = self.folder / "files"
        self.files.mkdir(parents=True, exist_ok=True)
        self._lock = threading.RLock()
        self._base = sqlite3.connect(
            self.folder / "book.sqlite", check_same_thread=False, isolation_level=None, timeout=20
        )
        self._base.execute("PRAGMA journal_mode = WAL")
        self._base.execute("PRAGMA synchronous = FULL")
        self._base.execute(
            "CREATE TABLE IF NOT EXISTS handed (row INTEGER PRIMARY KEY, id TEXT UNIQUE,"
            " docket TEXT NOT NULL, brief TEXT NOT NULL, sha256 TEXT NOT NULL, over INTEGER NOT NULL,"
            " settled INTEGER NOT NULL, record TEXT NOT NULL)"
        )
        self._base.execute(
            "CREATE TABLE IF NOT EXISTS dockets (key TEXT PRIMARY KEY, path TEXT NOT NULL,"
            " title TEXT NOT NULL)"
        )
        self._base.execute(
            "CREATE UNIQUE INDEX IF NOT EXISTS once ON handed (brief, sha256) WHERE NOT over"
        )

    def close(self) -> None:
        """Close the book."""
        with self._lock:
            self._base.close()

    def lay(self, data: bytes) -> str:
        """Lay a file beside the book before it is begun, so that it need not be held in memory;
        gives its hash.

        Raises:
            OSError: it could not be written.
        """
        sha256 = sha256_of(data)
        self._keep(sha256, data)
        return sha256

    def sweep(self, age: float = 86_400.0) -> None:
        """Take away files that were laid there and never begun, once they are a day old."""
        with self._lock:
            rows = self._base.execute("SELECT sha256 FROM handed").fetchall()
        known = {row[0] for row in rows}
        for file in self.files.iterdir():
            if file.name not in known and time.time() - file.stat().st_mtime > age:
                file.unlink(missing_ok=True)

    def begin(self, docket: str, item: HandOver, data: bytes | None = None) -> HandOver:
        """Write down a file that is to be handed over, and lay it beside the book (``None``: it
        lies there).

        Raises:
            AlreadyHanded: the same file is on its way to that brief, or stands there.
            OSError: it could not be written.
        """
        return self.begin_many(docket, [(item, data)])[0]

    def begin_many(
        self, docket: str, items: Iterable[tuple[HandOver, bytes | None]]
    ) -> list[HandOver]:
        """:meth:`begin` for several, all or none."""
        made = []
        with self._lock:
            self._base.execute("BEGIN IMMEDIATE")
            try:
                for item, data in items:
                    item = item.model_copy(update={"id": uuid.uuid4().hex[:12]})
                    held = self.standing(item.brief, item.sha256)
                    if held is not None:
                        raise AlreadyHanded(held)
                    if data is not None:
                        self._keep(item.sha256, data)
                    item = item.moved("ready", say("Written down, to be sent."))
                    self._base.execute(
                        "INSERT INTO handed (id, docket, brief, sha256, over, settled, record)"
                        " VALUES (?, ?, ?, ?, 0, 0, ?)",
                        (item.id, docket, item.brief, item.sha256, item.model_dump_json()),
                    )
                    made.append(item)
                self._base.execute("COMMIT")
            except BaseException:
                self._base.execute("ROLLBACK")
                raise
        return made

    def write(self, item: HandOver, wish_was: str | None = None) -> HandOver:
        """Write down how one stands now, and give what was written.

        Args:
            wish_was: what was wanted of it when the errand began whose end this is; a wish that has
                come since is kept.
        """
        with self._lock:
            if wish_was is not None:
                held = self.get(item.id)
                if held is not None and held.wish != wish_was:
                    item = item.model_copy(update={"wish": held.wish})
            self._base.execute(
                "UPDATE handed SET over = ?, settled = ?, record = ? WHERE id = ?",
                (item.over, item.settled, item.model_dump_json(), item.id),
            )
            needed = self._base.execute(
                "SELECT 1 FROM handed WHERE sha256 = ? AND NOT settled", (item.sha256,)
            ).fetchone()
            if (item.over or item.state == "accepted") and needed is None:
                (self.files / item.sha256).unlink(missing_ok=True)
        return item

    def of(self, docket: str) -> list[HandOver]:
        """All of a docket, in the order in which they were begun."""
        return self._read("WHERE docket = ?", (docket,))

    def remember(self, docket: str, path: str, title: str) -> None:
        """Write down where a docket that has handed something over lies (an empty path: nowhere
        yet), and what it is called."""
        with self._lock:
            self._base.execute(
                "INSERT INTO dockets (key, path, title) VALUES (?, ?, ?) ON CONFLICT (key)"
                " DO UPDATE SET path = excluded.path, title = excluded.title",
                (docket, path, title),
            )

    def dockets(self) -> dict[str, tuple[str, str]]:
        """Every docket that has handed something over: its file and title, by its key."""
        with self._lock:
            rows = self._base.execute(
                "SELECT DISTINCT handed.docket, COALESCE(path, ''), COALESCE(title, '')"
                " FROM handed LEFT JOIN dockets ON dockets.key = handed.docket"
            ).fetchall()
        return {key: (path, title) for key, path, title in rows if key}

    def adopt(self, item_id: str, docket: str) -> HandOver | None:
        """Make a hand-over another docket's."""
        with self._lock:
            self._base.execute("UPDATE handed SET docket = ? WHERE id = ?", (docket, item_id))
        return self.get(item_id)

    def all(self) -> list[HandOver]:
        """Every hand-over, in the order in which they were written."""
        return self._read("", ())

    def unsettled(self) -> list[HandOver]:
        """Those with which something is still to be done."""
        return self._read("WHERE NOT settled", ())

    def unsettled_ids(self) -> list[str]:
        """:meth:`unsettled` by their ids alone, which takes no time for thousands."""
        with self._lock:
            rows = self._base.execute("SELECT id FROM handed WHERE NOT settled ORDER BY row")
            return [row[0] for row in rows.fetchall()]

    def get(self, item_id: str) -> HandOver | None:
        """A hand-over by its id; ``None`` where there is none."""
        return next(iter(self._read("WHERE id = ?", (item_id,))), None)

    def numbered(self, body: str, number: str) -> list[HandOver]:
        """Those to which a body's desk has given a number."""
        return [i for i in self.all() if i.number == number and i.body == body]

    def standing(self, brief: str, sha256: str) -> HandOver | None:
        """The hand-over of a file to a brief that is not over."""
        found = self._read("WHERE brief = ? AND sha256 = ? AND NOT over", (brief, sha256))
        return found[0] if found else None

    def data(self, item: HandOver) -> bytes:
        """The file as it was proved.

        Raises:
            OSError: it is not there any more, or is damaged.
        """
        data = (self.files / item.sha256).read_bytes()
        if hashlib.sha256(data).hexdigest() != item.sha256:
            raise OSError(say("{file} has been damaged on the disk.", file=item.name))
        return data

    def _keep(self, sha256: str, data: bytes) -> None:
        target = self.files / sha256
        if not target.exists() or target.stat().st_size != len(data):
            write_atomic(target, data)

    def _read(self, where: str, given: tuple[str, ...]) -> list[HandOver]:
        with self._lock:
            rows = self._base.execute(
                f"SELECT record FROM handed {where} ORDER BY row", given
            ).fetchall()
        return [HandOver.model_validate_json(row[0]) for row in rows]


def sha256_of(data: bytes) -> str:
    """The SHA-256 of a file's content, read by parts."""
    return hashlib.sha256(data).hexdigest()
