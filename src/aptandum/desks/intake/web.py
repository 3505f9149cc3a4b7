"""The desk's intake: what it answers over HTTP, and how it goes wrong when it is told to."""

from __future__ import annotations

import hashlib
import hmac
import random
import threading
import time
from collections.abc import Iterator
from dataclasses import asdict, dataclass, fields
from pathlib import Path
from typing import Any

from flask import Flask, Response, jsonify, request

from aptandum.core.atomic import write_atomic
from aptandum.core.brief.model import Rulebook
from aptandum.desks.intake.books import ACCEPTED, HELD, OPEN, REFUSED, RETIRED, REVIEW, Books
from aptandum.desks.intake.review import NoPicture, Reason, judged

MOST_BYTES = 256 * 1024 * 1024
"""The largest file that a desk takes."""


@dataclass
class Conditions:
    """How a desk has been told to behave.

    Attributes:
        review: seconds from receipt to verdict; half of them are spent waiting.
        slow: seconds before each answer.
        full: it takes in nothing new.
        places: how many files may wait at once; 0: any number.
        wrong_unit: it takes bytes for bits in its limits.
        cut: the share of calls whose connection is cut before anything is done.
        lose: the share of files that are taken in, and whose answer is lost.
    """

    review: float = 8.0
    slow: float = 0.0
    full: bool = False
    places: int = 0
    wrong_unit: bool = False
    cut: float = 0.0
    lose: float = 0.0

    def having(self, changes: dict[str, Any]) -> Conditions:
        """With other values.

        Raises:
            ValueError: a name is unknown, or a value of another kind or below zero.
        """
        held = asdict(self)
        for name, value in changes.items():
            if name not in held:
                raise ValueError(f"A desk has no condition “{name}”.")
            kind = type(held[name])
            good = type(value) is kind or (kind is float and type(value) is int)
            if not good or (kind is not bool and not 0 <= value <= _MOST[name]):
                raise ValueError(f"“{value}” is no {kind.__name__} for “{name}”.")
            held[name] = kind(value)
        return Conditions(**held)


_MOST = {"review": 1e6, "slow": 3600.0, "places": 10**6, "cut": 1.0, "lose": 1.0}
"""What a condition may be at most; a number that is none is below nothing."""


class Desk:
    """A simulated desk: its rulebook, its books, its shelf of files, and its conditions."""

    def __init__(self, book: Rulebook, folder: Path, conditions: Conditions, seed: int = 0) -> None:
        self.book, self.folder, self.conditions = book, folder, conditions
        self.files = folder / "files"
        self.files.mkdir(parents=True, exist_ok=True)
        prefix = "".join(word[0] for word in book.body.id.split("-")).upper()
        self.books = Books(folder / "books.sqlite", prefix)
        self._chance = random.Random(seed or None)
        self._settling = threading.Lock()

    def happens(self, share: float) -> bool:
        """Whether, by chance, a mishap of this share befalls a request."""
        return share > 0 and self._chance.random() < share

    def keep(self, sha256: str, data: bytes) -> None:
        """Lay a file on the desk's shelf, whole, before it is written into the books."""
        target = self.files / sha256
        if not target.exists():
            write_atomic(target, data)

    def settle(self) -> None:
        """Bring every file as far as the time allows: from waiting to review, and to a verdict."""
        if not self._settling.acquire(blocking=False):
            return
        try:
            now, half = time.time(), self.conditions.review / 2
            for number, since in self.books.since("waiting"):
                if now - since >= half:
                    self.books.move(number, REVIEW, "Under review.")
            for number, since in self.books.since(REVIEW):
                if now - since >= half:
                    self._decide(number)
        finally:
            self._settling.release()

    def _decide(self, number: str) -> None:
        held = self.books.get(number)
        brief = self.book.brief(held["brief"]) if held is not None else None
        if held is None or brief is None:
            return
        try:
            data = (self.files / held["sha256"]).read_bytes()
            found = judged(data, held["name"], brief, self.conditions.wrong_unit)
        except (NoPicture, OSError) as error:
            reason = Reason("format", "", "", str(error))
            self.books.move(number, REFUSED, str(error), [reason.record()])
            return
        if found:
            says = " ".join(reason.says for reason in found)
            self.books.move(number, HELD, says, [reason.record() for reason in found])
        else:
            self.books.move(number, ACCEPTED, "Accepted.")


class _Cut(Exception):
    """The connection ends in the middle of an answer."""


def _broken() -> Response:
    """An answer of which only the beginning arrives."""

    def body() -> Iterator[bytes]:
        yield b"{"
        raise _Cut

    answer = Response(body(), mimetype="application/json")
    answer.headers["Content-Length"] = "400"
    return answer


def _says(sentence: str, status: int, **headers: str) -> tuple[Response, int, dict[str, str]]:
    return jsonify({"says": sentence}), status, headers


def intake(desk: Desk, token: str) -> Flask:
    """The web application of a desk. Every call must carry the token that its keeper was given."""
    app = Flask("aptandum-desk")
    app.config["MAX_CONTENT_LENGTH"] = MOST_BYTES

    @app.before_request
    def first() -> Any:
        given = request.headers.get("Authorization", "")
        if not hmac.compare_digest(given.encode(), f"Bearer {token}".encode()):
            return _says("This desk does not know you.", 401)
        if request.path == "/conditions":
            return None
        if desk.conditions.slow:
            time.sleep(desk.conditions.slow)
        desk.settle()
        return _broken() if desk.happens(desk.conditions.cut) else None

    @app.get("/")
    def about() -> Any:
        body = desk.book.body
        return jsonify(
            {
                "desk": body.id,
                "name": body.name,
                "edition": body.edition,
                "simulated": True,
                "briefs": [brief.id for brief in desk.book.briefs],
                "conditions": asdict(desk.conditions),
            }
        )

    @app.post("/hand-overs")
    def receive() -> Any:
        brief, name = request.args.get("brief", ""), request.args.get("name", "")
        told, replaces = request.args.get("sha256", ""), request.args.get("replaces", "")
        if desk.book.brief(brief) is None:
            return _says(f"This desk has no brief “{brief}”.", 404)
        data = request.get_data(cache=False)
        sha256 = hashlib.sha256(data).hexdigest()
        if sha256 != told:
            return _says("What arrived is not what was sent.", 422)
        if not name or "/" in name:
            return _says("A file needs a name.", 400)
        if desk.books.find(brief, sha256) is None:
            if _full(desk):
                return _says("The intake is full just now.", 503, **{"Retry-After": "1"})
            old = desk.books.get(replaces) if replaces else None
            if replaces and (old is None or old["brief"] != brief):
                return _says(f"There is no {replaces} to take the place of.", 404)
        desk.keep(sha256, data)
        held, new = desk.books.receive(brief, name, sha256, len(data), replaces)
        if desk.happens(desk.conditions.lose):
            return _broken()
        return jsonify(held), 201 if new else 200

    _questions(app, desk)
    return app


def _questions(app: Flask, desk: Desk) -> None:
    """What can be asked of a file that the desk has, and of the desk itself."""

    @app.get("/hand-overs")
    def find() -> Any:
        held = desk.books.find(request.args.get("brief", ""), request.args.get("sha256", ""))
        return jsonify(held) if held is not None else _says("No such file is here.", 404)

    @app.get("/hand-overs/<number>")
    def ask(number: str) -> Any:
        held = desk.books.get(number)
        return jsonify(held) if held is not None else _says(f"There is no {number} here.", 404)

    @app.post("/hand-overs/<number>/retire")
    def retire(number: str) -> Any:
        held = desk.books.get(number)
        if held is None:
            return _says(f"There is no {number} here.", 404)
        if held["state"] not in (RETIRED, "replaced"):
            desk.books.move(number, RETIRED, "Retired by whoever handed it over.")
        return jsonify(desk.books.get(number))

    @app.post("/hand-overs/<number>/review")
    def again(number: str) -> Any:
        held = desk.books.get(number)
        if held is None:
            return _says(f"There is no {number} here.", 404)
        if held["state"] in (HELD, REFUSED):
            desk.books.move(number, "waiting", "Another look was asked for.")
        return jsonify(desk.books.get(number))

    @app.post("/conditions")
    def conditions() -> Any:
        try:
            desk.conditions = desk.conditions.having(request.get_json(force=True))
        except (ValueError, TypeError, AttributeError, RecursionError, OverflowError) as error:
            return _says(str(error), 400)
        return jsonify(asdict(desk.conditions))


def _full(desk: Desk) -> bool:
    places = desk.conditions.places
    return desk.conditions.full or bool(places and desk.books.waiting() >= places)


NAMES = tuple(f.name for f in fields(Conditions))
__all__ = ["NAMES", "OPEN", "Conditions", "Desk", "intake"]
