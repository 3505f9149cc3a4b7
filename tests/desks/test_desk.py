"""Handing over: real desks in their own processes, a client that is killed, and two books."""

from __future__ import annotations

import hashlib
import io
import json
import random
import socket
import sqlite3
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import httpx
import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.docket.hand_over import HandOver
from aptandum.core.docket.store import load
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.desks.book import AlreadyHanded, Book, sha256_of
from aptandum.desks.client import Address, Desk, NotNow, NotTaken
from aptandum.desks.errands import Errands, patience, step, wished
from aptandum.desks.intake.review import judged, look_at
from aptandum.desks.simulated import Opened
from samples import THOROUGH, clause

RULES = (
    'format = 1\n[body]\nid = "pier-office"\nname = "Pier Office"\n[[brief]]\nid = "notice"\n'
    'title = "Notice"\n'
    + clause("size", exactly="40 x 30")
    + clause("format", one_of=["jpeg"])
    + clause("file_bytes", at_most="9 kB (1000)")
)
BOOK = parse_rulebook(RULES)
BRIEF = "pier-office/notice"


def picture(seed: int, size: tuple[int, int] = (40, 30), form: str = "JPEG") -> bytes:
    pixels = np.random.default_rng(seed).integers(0, 255, (size[1], size[0], 3)).astype(np.uint8)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, form)
    return out.getvalue()


def item_of(data: bytes, name: str = "mole.jpg", ready: bool = True) -> HandOver:
    return HandOver(
        id="x", brief=BRIEF, name=name, sha256=sha256_of(data), bytes=len(data), ready=ready
    )


@pytest.fixture
def opened(tmp_path: Path) -> Iterator[Opened]:
    made = Opened(BOOK, tmp_path / "desk", {"review": 0.0}, seed=5)
    yield made
    made.close()


@pytest.fixture
def desk(opened: Opened) -> Iterator[Desk]:
    made = Desk(opened.address)
    yield made
    made.close()


@pytest.fixture
def book(tmp_path: Path) -> Iterator[Book]:
    made = Book(tmp_path / "handed")
    yield made
    made.close()


def hand(book: Book, desk: Desk, *files: bytes, name: str = "mole.jpg") -> list[HandOver]:
    """Hand files over and wait until nothing is left to do."""
    begun = book.begin_many("d", [(item_of(data, name), data) for data in files])
    run(book, desk)
    return [held for item in begun if (held := book.get(item.id)) is not None]


def run(book: Book, desk: Desk) -> None:
    Errands(book, lambda body: desk, ask_every=0.02, longest_wait=0.1).run()


# -- the intake ----------------------------------------------------------------------------------


def test_a_file_that_meets_is_accepted_with_a_receipt_of_its_hash(book: Book, desk: Desk):
    data = picture(1)
    (item,) = hand(book, desk, data)
    assert item.state == "accepted" and item.number == "PO-00001" and item.received
    assert [e.state for e in item.history if e.by == "desk"] == ["waiting", "review", "accepted"]
    assert desk.ask(item).sha256 == hashlib.sha256(data).hexdigest()


def test_a_file_that_misses_is_held_and_each_reason_has_its_figure(book: Book, desk: Desk):
    (item,) = hand(book, desk, picture(1, (44, 30), "PNG"))
    assert item.state == "held"
    said = {reason.measure: (reason.measured, reason.limit) for reason in item.reasons}
    assert said == {"size": ("44 x 30", "40 x 30"), "format": ("png", "jpeg")}


def test_what_is_no_picture_is_refused(book: Book, desk: Desk):
    (item,) = hand(book, desk, b"no picture at all")
    assert item.state == "refused" and item.number and "cannot be read" in item.reasons[0].says


def test_the_same_file_is_taken_once_and_gets_the_same_receipt(desk: Desk):
    data = picture(2)
    first = desk.hand_over(item_of(data), data)
    again = desk.hand_over(item_of(data, "other.jpg"), data)
    assert again.number == first.number and again.name == "mole.jpg"


def test_a_retired_file_may_be_handed_over_anew(book: Book, desk: Desk):
    data = picture(3)
    (item,) = hand(book, desk, data)
    with pytest.raises(AlreadyHanded, match="PO-00001"):
        book.begin("d", item_of(data), data)
    book.write(wished(item, "retire"))
    run(book, desk)
    assert book.get(item.id).state == "retired"
    (second,) = hand(book, desk, data)
    assert second.state == "accepted" and second.number == "PO-00002"


def test_a_mended_file_takes_the_place_of_the_one_that_was_held(book: Book, desk: Desk):
    (held,) = hand(book, desk, picture(4, (41, 30)))
    mended = picture(4)
    item = item_of(mended).model_copy(update={"replaces": held.number})
    book.begin("d", item, mended)
    run(book, desk)
    states = {i.number: i.state for i in book.all()}
    assert states["PO-00002"] == "accepted"
    assert desk.ask(held).state == "replaced"


def test_a_desk_that_is_wrong_about_a_unit_is_asked_for_another_look(book: Book, desk: Desk):
    desk.tell({"wrong_unit": True})
    data = picture(5)
    (item,) = hand(book, desk, data)
    assert item.state == "held" and item.ready
    assert item.reasons[0].limit == "at most 1125" and item.reasons[0].measured == str(len(data))
    desk.tell({"wrong_unit": False})
    book.write(wished(item, "review"))
    run(book, desk)
    assert book.get(item.id).state == "accepted" and book.get(item.id).number == item.number


def test_a_stranger_is_not_answered(opened: Opened, desk: Desk):
    for token in ("", "guess"):
        stranger = Desk(Address(opened.address.url, token))
        with pytest.raises(NotNow, match="does not know you"):
            stranger.about()
        stranger.close()
    assert desk.about()["simulated"] is True


def test_a_desk_listens_on_this_machine_alone_and_closes_with_its_keeper(opened: Opened):
    port = int(opened.address.url.rpartition(":")[2])
    table = Path("/proc/net/tcp").read_text().splitlines()
    listening = [line.split()[1] for line in table if line.split()[3] == "0A"]
    assert [one for one in listening if one.endswith(f":{port:04X}")] == [f"0100007F:{port:04X}"]
    opened.process.stdin.close()
    assert opened.process.wait(5) == 0


def test_what_arrives_damaged_is_not_taken(opened: Opened):
    data = picture(6)
    answer = httpx.post(
        opened.address.url + "/hand-overs",
        params={"brief": "notice", "name": "a.jpg", "sha256": sha256_of(data)},
        headers={"Authorization": f"Bearer {opened.address.token}"},
        content=data[:-1],
        trust_env=False,
    )
    assert answer.status_code == 422 and "not what was sent" in answer.json()["says"]


def test_the_desk_reads_turned_deep_and_clear_pictures_as_a_viewer_would():
    exif = Image.Exif()
    exif[0x0112] = 6
    out = io.BytesIO()
    Image.new("RGB", (60, 40)).save(out, "JPEG", exif=exif, dpi=(300, 300))
    seen = look_at(out.getvalue())
    assert (seen.width, seen.height, seen.ppi, seen.bits) == (40, 60, 300.0, 8)
    out = io.BytesIO()
    Image.fromarray(np.full((9, 7), 40000, np.uint16)).save(out, "PNG")
    assert (look_at(out.getvalue()).bits, look_at(out.getvalue()).channels) == (16, "grey")
    out = io.BytesIO()
    Image.new("RGBA", (8, 8), (1, 2, 3, 255)).save(out, "PNG")
    assert not look_at(out.getvalue()).alpha  # opaque everywhere is not transparent


def test_the_desk_judges_by_the_rulebook_and_not_by_what_we_say():
    brief = BOOK.briefs[0]
    assert judged(picture(7), "a.jpg", brief) == []
    (reason,) = judged(picture(7, (30, 40)), "a.jpg", brief)
    assert reason.says == "Size: 30 x 40; asked: 40 x 30."


# -- the client ------------------------------------------------------------------------------------


def test_a_lost_answer_is_found_by_its_hash_and_nothing_is_sent_twice(book: Book, desk: Desk):
    desk.tell({"lose": 1.0})
    data = picture(8)
    item = book.begin("d", item_of(data), data)
    with pytest.raises(NotNow, match="cut"):
        step(item, desk, lambda: data, book.write)
    unsure = book.get(item.id)
    assert unsure.state == "unsure" and not unsure.number  # nothing is reported that did not come
    desk.tell({"lose": 0.0})
    sent = []
    found = step(unsure, desk, lambda: sent.append(1) or data, book.write)
    assert found.number == "PO-00001" and not sent


def test_a_full_desk_is_waited_for(book: Book, desk: Desk):
    desk.tell({"full": True})
    data = picture(9)
    item = book.begin("d", item_of(data), data)
    threading.Timer(0.5, lambda: desk.tell({"full": False})).start()
    run(book, desk)
    held = book.get(item.id)
    assert held.state == "accepted" and held.tries == 0
    assert "full just now" in " ".join(event.says for event in held.history)


def test_a_desk_that_is_not_there_is_no_refusal(book: Book):
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        gone = Desk(Address(f"http://127.0.0.1:{free.getsockname()[1]}"))
    data = picture(10)
    item = book.begin("d", item_of(data), data)
    with pytest.raises(NotNow, match="cannot be reached"):
        step(item, gone, lambda: data, book.write)
    assert book.get(item.id).state == "ready"
    withdrawn = step(wished(book.get(item.id), "retire"), gone, lambda: data, book.write)
    assert withdrawn.state == "withdrawn" and withdrawn.settled
    gone.close()


@pytest.mark.parametrize(
    "answer",
    [
        b"",
        b"{",
        b"[]",
        b'{"number": "PO-1"}',
        json.dumps(
            {
                "number": "PO-1",
                "brief": "notice",
                "name": "a",
                "sha256": "0" * 64,
                "bytes": 3,
                "received": "now",
                "state": "accepted",
            }
        ).encode(),
        json.dumps(
            {
                "number": "PO-1",
                "brief": "notice",
                "name": "a",
                "sha256": "SAME",
                "bytes": 3,
                "received": "now",
                "state": "splendid",
            }
        ).encode(),
    ],
)
def test_an_answer_that_is_not_a_receipt_of_this_file_is_not_believed(answer: bytes, book: Book):
    data = picture(11)
    answer = answer.replace(b"SAME", sha256_of(data).encode())
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            caller, _ = server.accept()
            caller.settimeout(2)
            held = b""
            while b"\r\n\r\n" not in held:
                held += caller.recv(65536)
            caller.sendall(
                b"HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: "
                + str(len(answer)).encode()
                + b"\r\n\r\n"
                + answer
            )
            time.sleep(0.1)
            caller.close()

        threading.Thread(target=serve, daemon=True).start()
        false = Desk(Address(f"http://127.0.0.1:{server.getsockname()[1]}"), timeout=2)
        item = book.begin("d", item_of(data), data)
        with pytest.raises(NotNow):
            step(item, false, lambda: data, book.write)
        assert book.get(item.id).state == "unsure" and not book.get(item.id).number
        false.close()


def test_a_no_is_a_no_and_is_not_asked_again(book: Book, desk: Desk):
    data = picture(12)
    item = item_of(data).model_copy(update={"brief": "pier-office/poster"})
    made = book.begin("d", item, data)
    run(book, desk)
    held = book.get(made.id)
    assert held.state == "refused" and "no brief “poster”" in held.reasons[0].says
    with pytest.raises(NotTaken, match="not the file"):
        desk.hand_over(item, data + b"x")


def test_a_file_damaged_beside_the_book_is_not_sent(book: Book, desk: Desk):
    data = picture(13)
    item = book.begin("d", item_of(data), data)
    (book.files / item.sha256).write_bytes(data[:-4] + b"oops")
    run(book, desk)
    held = book.get(item.id)
    assert held.state == "withdrawn" and "damaged on the disk" in held.history[-1].says
    with pytest.raises(NotTaken):
        desk.ask(held.model_copy(update={"number": "PO-00001"}))


@given(st.integers(1, 200), st.floats(0, 1), st.floats(0, 3600))
def test_patience_grows_stays_bounded_and_heeds_the_desk(tries: int, chance: float, asked: float):
    wait = patience(tries, asked, chance)
    assert wait >= asked and wait <= max(60.0, asked)
    assert patience(tries + 1, 0.0, chance) >= patience(tries, 0.0, chance)


# -- five hundred ---------------------------------------------------------------------------------


def _moods(url: Address, done: threading.Event, seen: set[str]) -> None:
    """Has the desk fail in every way, by turns."""
    chance = random.Random(20)
    keeper = Desk(url)
    moods = [
        ("slow", {"slow": 0.03}),
        ("full", {"full": True}),
        ("wrong_unit", {"wrong_unit": True}),
        ("cut", {"cut": 0.35}),
        ("lose", {"lose": 0.5}),
        ("all", {"slow": 0.01, "places": 30, "cut": 0.2, "lose": 0.3, "wrong_unit": True}),
    ]
    calm = {"slow": 0.0, "full": False, "places": 0, "wrong_unit": False, "cut": 0.0, "lose": 0.0}
    while not done.is_set():
        for name, mood in chance.sample(moods, len(moods)):
            keeper.tell(calm | mood)
            seen.add(name)
            if done.wait(0.5):
                break
    keeper.tell(calm)
    keeper.close()


MANY = 500 if THOROUGH else 120
KILLED_AT = (40, 130, 220, 310, 400) if THOROUGH else (20, 50, 90)


@pytest.mark.long
def test_five_hundred_files_through_a_failing_desk_with_the_client_killed_five_times(
    tmp_path: Path, opened: Opened
):
    rules, files = tmp_path / "pier-office.toml", tmp_path / "files"
    rules.write_text(RULES)
    files.mkdir()
    for i in range(MANY):
        size = (40, 31) if i % 10 == 3 else (40, 30)  # every tenth truly misses
        (files / f"notice_{i:03d}.jpg").write_bytes(picture(1000 + i, size))
    before = {p.name: sha256_of(p.read_bytes()) for p in files.iterdir()}
    docket, folder = tmp_path / "notices.docket", tmp_path / "handed"
    call = [
        sys.executable,
        "-m",
        "aptandum",
        "hand-over",
        str(files),
        "--brief",
        BRIEF,
        "--rulebook",
        str(rules),
        "--desk",
        opened.address.url,
        "--token",
        opened.address.token,
        "--book",
        str(folder),
        "--docket",
        str(docket),
        "--unproved",
        "--i-know",
        "--json",
        "--ask-every",
        "0.1",
        "--longest-wait",
        "0.3",
    ]
    done, seen = threading.Event(), set()
    failing = threading.Thread(target=_moods, args=(opened.address, done, seen))
    failing.start()
    base = sqlite3.connect(tmp_path / "desk" / "books.sqlite")

    def taken_in() -> int:
        return base.execute("SELECT count(*) FROM hand_overs").fetchone()[0]

    chance = random.Random(7)
    kills = 0
    try:
        for at in (*KILLED_AT, None):  # killed whenever the desk has so many
            client = subprocess.Popen(call, stdout=subprocess.DEVNULL, stderr=subprocess.PIPE)
            while at is not None and taken_in() < at and client.poll() is None:
                time.sleep(0.02)
            if at is not None:
                time.sleep(chance.uniform(0, 0.3))
                kills += client.poll() is None
                client.kill()
            _out, trouble = client.communicate(timeout=240)
            assert at is not None or client.returncode in (0, 1), trouble.decode()
    finally:
        done.set()
        failing.join()
    assert kills == len(KILLED_AT) and (len(seen) == 6 or not THOROUGH)

    # Whatever the desk held for a unit that it had wrong is looked at again, now that it is calm.
    book = Book(folder)
    for item in book.all():
        if item.state == "held" and {r.measure for r in item.reasons} == {"file_bytes"}:
            book.write(wished(item, "review"))
    book.close()
    ended = subprocess.run(call, capture_output=True, text=True, timeout=240)
    assert ended.returncode == 1, ended.stderr  # some truly miss

    assert {p.name: sha256_of(p.read_bytes()) for p in files.iterdir()} == before
    theirs = base.execute("SELECT number, name, sha256, bytes, state, reasons FROM hand_overs")
    theirs = {row[0]: row[1:] for row in theirs.fetchall()}
    once = base.execute("SELECT count(*) FROM history WHERE says = 'Received.'").fetchone()[0]
    assert len(theirs) == once == MANY  # each was taken in exactly once
    assert {row[0]: row[1] for row in theirs.values()} == before
    for name, sha256, size, state, reasons in theirs.values():
        data = (files / name).read_bytes()
        assert (sha256, size) == (before[name], len(data))
        assert (tmp_path / "desk" / "files" / sha256).read_bytes() == data
        if int(name[7:10]) % 10 == 3:
            said = {r["measure"]: r["measured"] for r in json.loads(reasons)}
            assert state == "held" and said["size"] == "40 x 31", (name, state, reasons)
        else:
            assert state == "accepted", (name, state, reasons)
    ours = {item.number: item for item in load(docket).handed}
    assert ours.keys() == theirs.keys()
    for number, item in ours.items():
        name, sha256, size, state, reasons = theirs[number]
        assert (item.name, item.sha256, item.bytes, item.state) == (name, sha256, size, state)
        assert [r.model_dump() for r in item.reasons] == json.loads(reasons)
        assert item.ready == (state == "accepted")


def test_a_desk_reads_choices_conditions_and_bounds_of_a_size_by_itself():
    """40 x 30 as JPEG up to 9 kB, or 20 x 20 at most as PNG; from 2090 on nothing else counts."""
    rules = (
        'format = 1\n[body]\nid = "pier-office"\nname = "Pier Office"\n[[brief]]\nid = "notice"\n'
        'title = "Notice"\n'
        + clause("size", exactly="40 x 30", either="large")
        + clause("format", id="f1", exactly="jpeg", either="large")
        + clause("size", id="s2", at_most="20 x 20", either="small")
        + clause("format", id="f2", exactly="png", either="small")
        + clause("file_bytes", at_most="9 kB (1000)").rstrip()
        + '\nwhen = { measure = "format", exactly = "jpeg" }\n'
        + clause("width", exactly="7").rstrip()
        + "\nvalid_from = 2090-01-01\n"
    )
    brief = parse_rulebook(rules).briefs[0]
    assert judged(picture(1), "mole.jpg", brief) == []
    assert judged(picture(1, (20, 19), "PNG"), "mole.png", brief) == []
    (wrong,) = judged(picture(1, (19, 21), "PNG"), "mole.png", brief)
    assert wrong.measure == "size"
    assert {r.measure for r in judged(picture(1, (300, 200)), "mole.jpg", brief)} == {
        "size",
        "file_bytes",
    }
