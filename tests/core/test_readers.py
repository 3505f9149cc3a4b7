"""Readers: processes that read strangers' bytes, may do nothing else, and cost one file when they are lost."""

from __future__ import annotations

import gc
import os
import subprocess
import sys
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image, TiffImagePlugin

from aptandum.core.photo import apart, decoders, header, inside_file, metadata_read, plain
from aptandum.core.photo.decode import facts_many, full_facts, open_photo
from aptandum.core.photo.facts import Facts, PhotoError
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.readers import lockdown, wire
from aptandum.core.readers import shared as rooms
from aptandum.core.readers.pool import Readers, shared
from aptandum.core.readers.reader import Answer, Lost, TooLittle, Wish
from samples import DEMO, examples, jpeg, scene


@pytest.fixture
def taken() -> Iterator[Readers]:
    """Readers that a stranger has taken over."""
    held = Readers(2, ["hostile_acts"])
    yield held
    held.stop()


@contextmanager
def some_file(tmp_path: Path) -> Iterator[int]:
    path = tmp_path / "supplied"
    path.write_bytes(b"as it was")
    handle = os.open(path, os.O_RDONLY)
    yield handle
    os.close(handle)
    assert path.read_bytes() == b"as it was"


# --- what a reader may do ---------------------------------------------------------------------------


def test_a_reader_can_get_at_nothing_but_what_it_was_given(taken: Readers, tmp_path: Path):
    with some_file(tmp_path) as handle:
        made = taken.ask(Wish("escape", {"there": str(tmp_path / "left")}, [handle])).value
    assert "done" not in made.values(), made
    assert not (tmp_path / "left").exists()


def test_a_reader_says_what_it_gave_up(taken: Readers):
    taken.ask(Wish("names", {"items": []}))
    gave_up = taken._idle[0].gave_up
    assert gave_up["no_new_privileges"] and gave_up["seccomp"]
    assert gave_up["memory"] == lockdown.MEMORY


def test_a_reader_ends_with_the_one_who_started_it(taken: Readers):
    taken.ask(Wish("names", {"items": []}))
    pid = taken.processes()[0]
    taken._idle[0]._line.close()  # as when the application is killed
    until = time.monotonic() + 20
    while Path(f"/proc/{pid}/stat").exists() and "Z" not in Path(f"/proc/{pid}/stat").read_text():
        assert time.monotonic() < until
        time.sleep(0.01)


# --- readers that are lost --------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("name", "why"), [("crash", "SIGSEGV"), ("spin", "too long"), ("sleep", "too long")]
)
@pytest.mark.long
def test_one_of_many_files_that_costs_a_reader_is_named_and_the_others_are_read(
    taken: Readers, tmp_path: Path, monkeypatch: pytest.MonkeyPatch, name: str, why: str
):
    monkeypatch.setattr("aptandum.core.readers.reader._WAITED", 0 if name == "sleep" else 4)
    items = ["a", "b", name, "d", name, "f"]
    with some_file(tmp_path) as handle:
        found = list(taken.each(Wish("names", seconds=1), items, [handle] * 6))
    assert [one.value if isinstance(one, Answer) else None for one in found] == [
        "a",
        "b",
        None,
        "d",
        None,
        "f",
    ]
    assert why in str(found[2]) and why in str(found[4])


def test_one_of_many_that_asks_for_too_much_is_told_and_the_others_are_read(
    taken: Readers, tmp_path: Path
):
    with some_file(tmp_path) as handle:
        found = list(taken.each(Wish("names"), ["a", "gulp", "c"], [handle] * 3))
    assert isinstance(found[1], TooLittle)
    assert [found[0].value, found[2].value] == ["a", "c"]


def test_what_needs_more_memory_than_usual_gets_more_once(taken: Readers):
    assert taken.ask(Wish("gulp", {"megabytes": 900})).value == 900 << 20
    with pytest.raises(TooLittle):
        taken.ask(Wish("gulp", {"megabytes": 3000}))
    assert taken.ask(Wish("gulp", {"megabytes": 20})).value == 20 << 20


def test_a_library_that_ends_its_reader_where_memory_is_refused_gets_more_once(taken: Readers):
    """A sound photo of 60 megapixels was called damaged, now and then, by a product of matrices that found no room."""
    assert taken.ask(Wish("leave", {"megabytes": 900})).value == 900 << 20
    with pytest.raises(Lost):
        taken.ask(Wish("leave", {"megabytes": 3000}))


def test_products_have_their_room_before_memory_is_counted():
    """In a reader that is ready and may have hardly any more, a large product is made all the same."""
    script = (
        "import resource, numpy as np\n"
        "from aptandum.core.photo import acts\n"
        "acts.make_ready()\n"
        "one = np.ones((400, 400), np.float32); out = np.empty_like(one)\n"
        "held = int(open('/proc/self/status').read().split('VmData:')[1].split()[0]) << 10\n"
        "resource.setrlimit(resource.RLIMIT_DATA, (held, held))\n"
        "np.matmul(one, one, out=out); print(out[0, 0])"
    )
    told = {**os.environ, "OPENBLAS_NUM_THREADS": "1"}
    made = subprocess.run([sys.executable, "-c", script], env=told, capture_output=True, text=True)
    assert made.stdout.strip().endswith("400.0"), made.stderr


def test_a_reader_that_had_died_before_it_was_asked_costs_nothing(taken: Readers):
    assert taken.ask(Wish("names", {"items": ["a"]})).value == ["a"]
    os.kill(taken.processes()[0], 9)
    assert taken.ask(Wish("names", {"items": ["b"]})).value == ["b"]


def test_endless_talk_is_cut_off(taken: Readers):
    with pytest.raises(Lost, match="cannot be used"):
        taken.ask(Wish("nonsense"))
    assert taken.ask(Wish("names", {"items": ["b"]})).value == ["b"]


# --- memory that is shared --------------------------------------------------------------------------


def test_what_a_reader_still_holds_cannot_be_cut_short(taken: Readers):
    room = rooms.Room(1 << 20)
    for size in (0, 2 << 20):
        with pytest.raises(PermissionError):
            os.ftruncate(room.handle, size)


def test_a_room_is_used_again_only_when_nobody_looks_into_it(taken: Readers):
    rooms.clear()
    one = taken.ask(Wish("fill", {"number": 1}, room=100_000))
    first = one.room.array((2, 2, 3), np.uint8)
    view = first[1:, :, ::2]
    del one, first
    gc.collect()
    other = taken.ask(Wish("fill", {"number": 2}, room=100_000)).room.array((2, 2, 3), np.uint8)
    assert (view == 1).all() and (other == 2).all()
    before = view.ctypes.data
    del view
    gc.collect()
    third = taken.ask(Wish("fill", {"number": 3}, room=100_000)).room.array((2, 2, 3), np.uint8)
    assert third.ctypes.data <= before < third.ctypes.data + (1 << 20)  # the same memory


def test_pixels_are_never_taken_from_beyond_the_room():
    room = rooms.Room(4096)
    for shape in ((1 << 20, 1, 3), (1 << 40, 1 << 40, 3), (-1, 2, 2)):
        with pytest.raises(ValueError):
            room.array(shape, np.uint8)


@pytest.mark.parametrize(
    "said",
    [
        None, [], {}, {"shape": [9, 9], "format": "uchar"}, {"shape": [9, 9, 3], "format": "double"},
        {"shape": [9, 9, 99], "format": "uchar"}, {"shape": [9, True, 3], "format": "uchar"},
        {"shape": [9, "9", 3], "format": "uchar"}, {"shape": [9000, 9000, 3], "format": "uchar"},
        {"shape": [9, 9, 3], "format": "uchar", "space": "lab"},
        {"shape": [9, 9, 3], "format": "uchar", "orientation": 9}, {"shape": [0, 9, 3], "format": "uchar"},
    ],
)  # fmt: skip
def test_a_reader_that_lies_about_pixels_is_told_so(said: object):
    answer = Answer(said, rooms.Room(1 << 16))
    with pytest.raises(
        PhotoError, match="it.jpg could not be read: its reader gave no usable answer"
    ):
        apart._array_of(answer, Facts("it.jpg"))


# --- what goes over the wire ------------------------------------------------------------------------

FACTS = st.builds(
    Facts,
    file=st.text(max_size=20),
    format=st.sampled_from(["jpeg", "png", "tiff", None]),
    width=st.one_of(st.none(), st.integers(0, 1 << 31)),
    bits=st.one_of(st.none(), st.integers(1, 32)),
    mode=st.sampled_from(["rgb", "grey", "cmyk", None]),
    alpha=st.one_of(st.none(), st.booleans()),
    ppi_x=st.one_of(st.none(), st.floats(0, 1e6)),
    orientation=st.one_of(st.none(), st.integers(1, 8)),
    icc_bytes=st.binary(max_size=40),
    turn=st.integers(1, 8),
    location=st.booleans(),
)


@given(FACTS)
@settings(max_examples=examples(100), deadline=None)
def test_facts_come_back_as_they_were(facts: Facts):
    assert plain.facts(plain.told(facts)) == facts


@given(
    st.recursive(
        st.none() | st.booleans() | st.integers() | st.floats() | st.text(max_size=8),
        lambda inner: (
            st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=8), inner, max_size=4)
        ),
    )
)
@settings(max_examples=examples(200), deadline=None)
def test_whatever_a_reader_says_of_facts_or_metadata_is_taken_or_refused(said: object):
    for held in (said, {"width": said, "profile": said, "format": said, "icc_bytes": said}):
        with suppress(PhotoError):
            assert isinstance(plain.facts(held), Facts)
    assert isinstance(
        plain.credit(
            {"by": said, "rights": "", "caption": "", "date": "", "camera": said, "place": []}
        ),
        Credit,
    )


def test_metadata_come_back_as_they_were():
    told = Credit(
        "Ines Marrow", "", "Low water", "2026:11:02 17:40:00",
        {0x829D: TiffImagePlugin.IFDRational(28, 10), 0x010F: "Vessel"},
        {1: "N", 2: (TiffImagePlugin.IFDRational(54, 1), 12.5, 0), 5: b"\0", 29: "2026:11:02"},
    )  # fmt: skip
    back = plain.credit(plain.credit_told(told))
    assert back == told
    assert [type(v) for v in back.place.values()] == [type(v) for v in told.place.values()]


@given(st.binary(max_size=60))
@settings(max_examples=examples(200), deadline=None)
def test_any_bytes_on_the_wire_are_a_message_or_none(data: bytes):
    inbox = wire.Inbox()
    for i in range(0, len(data), 7):
        inbox.add(data[i : i + 7])
        try:
            while inbox.take()[0]:
                pass
        except wire.Garbled:
            return


# --- photos -----------------------------------------------------------------------------------------


@pytest.mark.long
def test_a_reader_says_what_the_decoders_say():
    """The border changes nothing: facts, pixels, metadata and what else a file holds."""
    for path in sorted(DEMO.glob("*.*")):
        if path.suffix.lower() not in (".jpg", ".png", ".tif", ".webp"):
            continue
        data = path.read_bytes()
        near = header.facts_of_bytes(data, str(path))
        far = apart.facts_of_bytes(data, str(path))
        assert far == near == apart.read_facts(path)
        if near.error:
            continue
        assert apart.check_pixels(data, far) == decoders.check_pixels(data, near)
        assert (apart.second(data, far) == decoders.second(data, near)).all()
        image, turn = apart.open_pixels(data, far, 2)
        other, same = decoders.open_pixels(data, near, 2)
        assert turn == same and np.array_equal(image.numpy(), other.numpy())
        assert apart.credit_of(data) == metadata_read.credit_of(data)
        held = inside_file.InFile(data, near)
        told = apart.inside(data, far, "packing")
        assert tuple(told["packing"][0]) == held.packing and told["told"][0] == held.told


def test_facts_of_many_are_those_of_each(tmp_path: Path):
    paths = []
    for i in range(150):
        path = tmp_path / f"{i:03d}.jpg"
        path.write_bytes(jpeg(scene(20 + i, 30)) if i % 10 else b"no picture at all")
        paths.append(path)
    paths[77].unlink()
    os.mkfifo(paths[77])
    found = list(facts_many(paths))
    assert [one.file for one in found] == [str(path) for path in paths]
    assert found == [apart.read_facts(path) for path in paths]
    assert found[77].error == "077.jpg is not an ordinary file."
    assert [one.width for one in found[1:4]] == [21, 22, 23]


def resident() -> int:
    """Bytes of memory that this process has in use."""
    return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")


@contextmanager
def killing() -> Iterator[None]:
    """Whatever reader is at work here is killed, again and again."""
    stop = threading.Event()

    def kill() -> None:
        while not stop.is_set():
            for pid in shared().processes():
                with suppress(ProcessLookupError):
                    os.kill(pid, 9)
            stop.wait(0.002)

    thread = threading.Thread(target=kill)
    thread.start()
    try:
        yield
    finally:
        stop.set()
        thread.join()


@pytest.mark.long
def test_a_decoder_that_is_killed_costs_one_sentence_and_its_memory_comes_back(tmp_path: Path):
    path = tmp_path / "large.png"
    Image.effect_noise((3000, 3000), 90).convert("RGB").save(path, compress_level=1)
    photo = open_photo(path)
    before = resident()
    with (
        killing(),
        pytest.raises(
            PhotoError,
            match=r"^large\.png could not be read: the process that read it was ended \(SIGKILL\)\.",
        ),
    ):
        apart.open_pixels(photo.read(), photo.facts)
    image, _turn = apart.open_pixels(photo.read(), photo.facts)
    assert (image.width, image.height) == (3000, 3000)
    del image
    gc.collect()
    rooms.clear()
    assert resident() < before + (60 << 20)


def test_a_file_made_here_whose_reader_is_lost_is_read_by_another(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    path = tmp_path / "a.jpg"
    path.write_bytes(jpeg(scene(40, 30)))
    data, facts = path.read_bytes(), apart.read_facts(path)
    held, lost = shared(), []

    class Unlucky:
        def ask(self, wish: Wish) -> Answer:
            if not lost:
                lost.append(wish.act)
                raise Lost("it took too long", 0, True, None)
            return held.ask(wish)

    monkeypatch.setattr("aptandum.core.photo.apart.shared", Unlucky)
    assert apart.check_pixels(data, facts, own=True).decodes and lost == ["check"]
    lost.clear()
    assert "took too long" in (apart.check_pixels(data, facts).error or "")
    broken = data[: len(data) // 2]
    assert apart.check_pixels(broken, replace(facts, bytes=len(broken)), own=True).error


def test_the_seconds_of_a_file_are_counted_as_the_kernel_counts_them(
    monkeypatch: pytest.MonkeyPatch,
):
    """Its clock by ticks runs ahead of the exact one: what has worked for long was ended at its next file."""
    from aptandum.core.readers import process

    held: list[int] = []
    monkeypatch.setattr(process.time, "process_time", lambda: 0.0)
    monkeypatch.setattr(process.resource, "setrlimit", lambda _which, both: held.append(both[0]))
    process._allow_seconds(5.0)
    assert held[-1] > time.clock_gettime(process._BY_TICKS) + 5.0 > 5.0

    def refused(_clock: int) -> float:
        raise OSError(22, "Invalid argument")

    monkeypatch.setattr(process.time, "clock_gettime", refused)
    process._allow_seconds(7.0)
    assert held[-1] == 8


def test_readers_that_nobody_asks_are_let_go_but_for_one(
    taken: Readers, monkeypatch: pytest.MonkeyPatch
):
    threads = [
        threading.Thread(target=lambda: taken.ask(Wish("gulp", {"megabytes": 200}))) for _ in "ab"
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    assert len(taken.processes()) == 2
    taken.let_go()
    assert len(taken.processes()) == 2  # not yet
    monkeypatch.setattr("aptandum.core.readers.pool.IDLE_SECONDS", 0.0)
    taken.let_go()
    assert len(taken.processes()) == 1
    assert taken.ask(Wish("names", {"items": ["a"]})).value == ["a"]


@pytest.mark.parametrize("what", ["memory to share", "a process", "memory for pixels"])
def test_a_machine_that_gives_no_readers_is_told_of_each_file(
    what: str, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
):
    path = tmp_path / "a.jpg"
    path.write_bytes(jpeg(scene(40, 30)))
    data, facts = path.read_bytes(), apart.read_facts(path)

    def refused(*_given: object, **_named: object) -> int:
        raise OSError(12, "Cannot allocate memory")

    if what == "memory for pixels":
        monkeypatch.setattr("aptandum.core.readers.shared.room_for", refused)
        with pytest.raises(PhotoError, match="a.jpg needs more memory than there is"):
            apart.open_pixels(data, facts)
        return
    held = Readers(1)
    monkeypatch.setattr("aptandum.core.photo.apart.shared", lambda: held)
    target = "os.memfd_create" if what == "memory to share" else "subprocess.Popen"
    monkeypatch.setattr(target, refused)
    said = apart.read_facts(path).error or ""
    assert said.startswith("a.jpg could not be read: no process could be started to read it")
    with pytest.raises(PhotoError):
        apart.open_pixels(b"x" + data, facts)
    monkeypatch.undo()
    assert apart.read_facts(path) == facts


def test_several_threads_share_the_readers(tmp_path: Path):
    path = tmp_path / "a.jpg"
    path.write_bytes(jpeg(scene(400, 300)))
    wrong: list[object] = []

    def look() -> None:
        for _ in range(8):
            facts = full_facts(path)
            if not facts.decodes:
                wrong.append(facts)

    threads = [threading.Thread(target=look) for _ in range(6)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    assert not wrong and not any(thread.is_alive() for thread in threads)
    assert len(shared().processes()) <= 3


def test_there_is_no_waiting_for_a_header_behind_large_pictures(taken: Readers):
    """One more reader is there for what is done at once."""
    busy = [
        threading.Thread(target=lambda: list(taken.each(Wish("names", seconds=3), ["spin"], [0])))
        for _ in "ab"
    ]
    for thread in busy:
        thread.start()
    until = time.monotonic() + 20
    while len(taken._busy) < 2 and time.monotonic() < until:
        time.sleep(0.01)
    assert taken.ask(Wish("names", {"items": ["quick"]}, quick=True)).value == ["quick"]
    assert any(thread.is_alive() for thread in busy)
    for pid in taken.processes():
        os.kill(pid, 9)
    for thread in busy:
        thread.join(20)
