"""A rogue desk: whatever it answers, its file stands with a true reason, other desks go on, nothing is sent twice."""

from __future__ import annotations

import json
import select
import socket
import threading
import time
from collections.abc import Callable, Iterator
from pathlib import Path

import pytest
from test_once import MadeUpDesk

from aptandum.core import mistakes
from aptandum.core.docket.hand_over import HandOver
from aptandum.desks.book import Book, sha256_of
from aptandum.desks.client import Address, Desk, NotNow, NotTaken
from aptandum.desks.errands import Errands
from aptandum.desks.intake.web import Conditions
from aptandum.desks.simulated import Opened

DATA = bytes(range(256)) * 40


def receipt(**changes: object) -> dict[str, object]:
    made = {
        "number": "PO-1", "brief": "notice", "name": "pier.jpg", "sha256": sha256_of(DATA),
        "bytes": len(DATA), "received": "2026-11-28T10:00:00Z", "state": "waiting", "reasons": [], "history": [],
    }  # fmt: skip
    return {**made, **changes}


def http(body: bytes | str | object, status: int = 200, **headers: object) -> bytes:
    held = (
        body
        if isinstance(body, bytes)
        else body.encode()
        if isinstance(body, str)
        else json.dumps(body).encode()
    )
    lines = [f"HTTP/1.1 {status} X", "Content-Type: application/json"]
    named = {
        "Content-Length": len(held),
        "Connection": "close",
        **{k.replace("_", "-"): v for k, v in headers.items()},
    }
    lines += [f"{name}: {value}" for name, value in named.items() if value is not None]
    return "\r\n".join(lines).encode() + b"\r\n\r\n" + held


Act = Callable[[socket.socket], None]


def say_(whole: bytes) -> Act:
    return lambda peer: peer.sendall(whole)


def _gone(peer: socket.socket, longest: float) -> bool:
    """Whether the caller has hung up, which is waited for at most so many seconds."""
    ready, _, _ = select.select([peer], [], [], longest)
    return bool(ready) and not peer.recv(1)


def drip(whole: bytes, pause: float = 0.05) -> Act:
    def act(peer: socket.socket) -> None:
        for byte in whole:
            peer.sendall(bytes([byte]))
            if _gone(peer, pause):
                return

    return act


def endless(start: bytes, part: bytes) -> Act:
    def act(peer: socket.socket) -> None:
        peer.sendall(start)
        while True:
            peer.sendall(part)

    return act


def silent(peer: socket.socket) -> None:
    _gone(peer, 5)


DEEP = "[" * 100_000 + "]" * 100_000
EVENT = {"at": "2026-11-28T10:00:00Z", "state": "waiting", "says": "Taken."}
ANSWERS: dict[str, Act] = {
    **{f"status {n} with a receipt": say_(http(receipt(), n)) for n in
       (100, 201, 204, 300, 301, 302, 303, 304, 307, 308, 400, 401, 403, 404, 405, 409, 410, 413, 418, 422, 429, 451,
        500, 501, 502, 503, 504, 599, 999)},
    "an empty object": say_(http({})),
    "a list": say_(http([receipt()])),
    "a number": say_(http("7")),
    "null": say_(http("null")),
    "nothing at all": say_(http(b"")),
    "half an object": say_(http('{"number": "PO-1"')),
    "NaN for bytes": say_(http(json.dumps(receipt(bytes=float("nan"))))),
    "another file's receipt": say_(http(receipt(sha256="0" * 64))),
    "other bytes": say_(http(receipt(bytes=1))),
    "a state that is none": say_(http(receipt(state="eaten"))),
    "our own state": say_(http(receipt(state="sending"))),
    "a number with a line end": say_(http(receipt(number="PO-1\r\nX: y"))),
    "a number that leads elsewhere": say_(http(receipt(number="../../conditions?"))),
    "a number without end": say_(http(receipt(number="9" * 100_000))),
    "no number": say_(http(receipt(number=""))),
    "half a letter": say_(http('{"says": "\\ud800", "number": "PO-\\udfff"}', 400)),
    "half a letter in its words": say_(http('{"says": "a \\ud83d b"}', 503)),
    "control characters": say_(http({"says": "\x1b[2J\x07 no \x00"}, 400)),
    "words without end": say_(http({"says": "no " * 200_000}, 400)),
    "deep lists": say_(http(DEEP)),
    "deep lists inside": say_(http('{"says": "x", "reasons": ' + DEEP + "}")),
    "bytes that are no text": say_(http(b"\xff\xfe\x00\x80" * 50)),
    "a body without end": endless(http(b"", Content_Length=None), b"x" * 65_536),
    "chunks without end": endless(
        http(b"", Content_Length=None, Transfer_Encoding="chunked"), b"1000\r\n" + b" " * 4096 + b"\r\n"),
    "headers without end": endless(b"HTTP/1.1 200 OK\r\n", b"X-A: " + b"b" * 4000 + b"\r\n"),
    "one byte at a time": drip(http(receipt())),
    "headers one byte at a time": drip(b"HTTP/1.1 200 OK\r\nX-Long: " + b"a" * 4000),
    "silence": silent,
    "a closed door": lambda peer: peer.close(),
    "less than it says": say_(http(receipt(), Content_Length=100_000)),
    "no HTTP": say_(b"SSH-2.0-none\r\n"),
    "packed wrongly": say_(http(b"no gzip", Content_Encoding="gzip")),
    "to wait for ever": say_(http({"says": "later"}, 503, Retry_After="inf")),
    "to wait until nothing": say_(http({"says": "later"}, 429, Retry_After="nan")),
    "ten thousand events": say_(http(receipt(history=[EVENT] * 3000))),
}  # fmt: skip


class Rogue:
    """Answers each call as it is told, and counts the files that it was sent."""

    def __init__(self, act: Act) -> None:
        self.act, self.posted, self.looked = act, 0, 0
        self.called = threading.Event()
        self._door = socket.create_server(("127.0.0.1", 0))
        self.address = f"http://127.0.0.1:{self._door.getsockname()[1]}"
        self._over = threading.Event()
        threading.Thread(target=self._serve, daemon=True).start()

    def _serve(self) -> None:
        while not self._over.is_set():
            try:
                peer, _ = self._door.accept()
            except OSError:
                return
            threading.Thread(target=self._one, args=(peer,), daemon=True).start()

    def _one(self, peer: socket.socket) -> None:
        try:
            with peer:
                peer.settimeout(10)
                head = b""
                while b"\r\n\r\n" not in head:
                    head += peer.recv(65_536)
                if head.startswith(b"POST /hand-overs?"):
                    self.posted += 1
                    while not head.endswith(DATA[-64:]):
                        head += peer.recv(65_536)
                else:
                    self.looked += 1
                self.called.set()
                self.act(peer)
        except OSError:
            return

    def close(self) -> None:
        self._over.set()
        self._door.close()


@pytest.fixture
def rogue(request) -> Iterator[Rogue]:
    made = Rogue(ANSWERS[request.param])
    yield made
    made.close()


def item(body: str) -> HandOver:
    return HandOver(
        id=body,
        brief=f"{body}/notice",
        name="pier.jpg",
        sha256=sha256_of(DATA),
        bytes=len(DATA),
        ready=True,
    )


FINAL = {"status 201 with a receipt", "status 100 with a receipt"}


@pytest.mark.parametrize("rogue", ANSWERS, indirect=True)
@pytest.mark.long
def test_a_rogue_desk_is_outlasted_and_named(rogue, request, tmp_path: Path):
    name = request.node.callspec.params["rogue"]
    book = Book(tmp_path)
    rogue_id = book.begin("d", item("rogue"), DATA).id
    good_id = book.begin("d", item("good"), DATA).id
    good, bad = MadeUpDesk(), Desk(Address(rogue.address), timeout=0.6)
    happened = threading.Event()
    errands = Errands(
        book,
        {"rogue": bad, "good": good}.__getitem__,
        lambda _item: happened.set(),
        ask_every=0.02,
        longest_wait=0.05,
    )
    running = threading.Thread(target=errands.run, kwargs={"until_settled": False}, daemon=True)
    running.start()
    until = time.monotonic() + 20
    while time.monotonic() < until:
        held = book.get(rogue_id)
        # it was told something of the desk, and the other desk has its file
        if book.get(good_id).number and (held.tries > 1 or held.state not in ("ready", "sending")):
            break
        happened.wait(max(0.0, until - time.monotonic()))
        happened.clear()
    errands.stop()
    bad.close()
    running.join(15)
    held = book.get(rogue_id)
    assert not running.is_alive() and good.taken_in == 1
    assert held.history and held.history[-1].says, name
    says = " ".join(event.says for event in held.history)
    assert says.isprintable() and len(held.history[-1].says) <= 2000 and "Traceback" not in says
    held.model_dump_json().encode()  # what is kept can be kept
    if name != "status 404 with a receipt":
        assert rogue.posted == 1 or held.state == "ready", (name, rogue.posted, says)
    if "receipt" not in name:
        assert not held.number
    book.close()


def test_only_not_there_means_not_there(tmp_path: Path):
    """An empty answer to a look-up was taken for it once, and the file sent 18 times."""
    rogue = Rogue(say_(http({})))
    desk = Desk(Address(rogue.address), timeout=2)
    for _ in range(3):
        with pytest.raises(NotNow):
            desk.find(item("rogue"))
    rogue.act = say_(http({"says": "no"}, 410))
    with pytest.raises(NotNow, match="could not say whether it has it: no"):
        desk.find(item("rogue"))
    rogue.act = say_(http({"says": "no such file"}, 404))
    assert desk.find(item("rogue")) is None
    with pytest.raises(NotTaken, match="no such file"):
        desk.ask(item("rogue").model_copy(update={"number": "PO-1"}))
    rogue.close()
    desk.close()


@pytest.mark.parametrize(
    "how", ["one byte at a time", "headers one byte at a time", "a body without end", "silence"]
)
def test_no_answer_takes_longer_than_it_may(how):
    rogue = Rogue(ANSWERS[how])
    desk = Desk(Address(rogue.address), timeout=0.5)
    begun = time.monotonic()
    with pytest.raises(NotNow):
        desk.about()
    assert time.monotonic() - begun < 8  # far from 0.05 s for each of 4,000 bytes
    rogue.close()
    desk.close()


def test_a_desk_that_is_closed_keeps_nobody_waiting():
    rogue = Rogue(silent)
    desk = Desk(Address(rogue.address), timeout=60)
    ended = threading.Event()

    def ask() -> None:
        with pytest.raises(NotNow):
            desk.about()
        ended.set()

    threading.Thread(target=ask, daemon=True).start()
    assert rogue.called.wait(10)
    desk.close()
    assert ended.wait(10)
    rogue.close()


def test_a_mistake_in_one_errand_ends_no_other(tmp_path: Path, mistakes_met):
    class Odd(MadeUpDesk):
        def hand_over(self, one: HandOver, data: bytes):
            raise AssertionError("a mistake of ours")

    book = Book(tmp_path)
    book.begin("d", item("odd"), DATA)
    good_id = book.begin("d", item("good"), DATA).id
    good = MadeUpDesk()
    taken, noted = threading.Event(), threading.Event()
    mistakes.heard.append(heard := lambda _error: noted.set())

    def changed(one: HandOver) -> None:
        if one.id == good_id and one.number:
            taken.set()

    desks = {"odd": Odd(), "good": good}
    errands = Errands(book, desks.__getitem__, changed, ask_every=0.02, longest_wait=0.05)
    running = threading.Thread(target=errands.run, kwargs={"until_settled": False}, daemon=True)
    running.start()
    assert taken.wait(20) and noted.wait(20)
    errands.stop()
    mistakes.heard.remove(heard)
    running.join(10)
    assert not running.is_alive()
    assert {type(error) for error in mistakes_met} == {AssertionError}
    mistakes_met.clear()  # it was expected
    book.close()


@pytest.mark.parametrize("value", [float("nan"), float("inf"), -1, 1e308, "soon", None, True, [1]])
@pytest.mark.parametrize("name", ["review", "slow", "cut", "lose", "places"])
def test_a_desk_takes_no_condition_that_cannot_be(name, value):
    with pytest.raises(ValueError, match="is no"):
        Conditions().having({name: value})
    assert Conditions().having({"review": 0.5, "places": 3}).review == 0.5


def test_half_open_connections_keep_a_desk_from_nobody(tmp_path: Path):
    from aptandum.core.rulebook.shelf import read_shelf

    opened = Opened(read_shelf().named("keepers-hall"), tmp_path, {}, 1)
    host, port = opened.address.url.removeprefix("http://").split(":")
    half = [socket.create_connection((host, int(port))) for _ in range(150)]
    for peer in half:
        peer.sendall(b"GET / HTTP/1.1\r\nHost: ")
    desk = Desk(opened.address, timeout=8)
    assert desk.about()["desk"] == "keepers-hall"
    desk.close()
    for peer in half:
        peer.close()
    opened.close()
