"""A reader that is ready for one format alone: it says the same as one that is ready for all, or that it is not the
one to be asked."""

from __future__ import annotations

import os
from collections.abc import Iterator

import pytest

import corpus
from aptandum.__main__ import _BEGINS, _format_of
from aptandum.core.photo import apart, plain
from aptandum.core.photo.facts import sniff
from aptandum.core.readers.pool import ACTS, Readers
from aptandum.core.readers.reader import NotReady, Reader, Wish
from samples import DEMO, jpeg, scene

FORMATS = tuple(dict.fromkeys(name for name, _begins in _BEGINS))


def files() -> Iterator[tuple[str, bytes]]:
    for name, one in corpus.sound().items():
        yield name, bytes(one[0] if isinstance(one, tuple) else getattr(one, "data", one))
    for name, (_why, data) in corpus.refused().items():
        yield f"refused {name}", bytes(data)


def asked(reader: Reader, name: str, data: bytes) -> tuple[object, object]:
    handle = os.memfd_create(name)
    try:
        os.write(handle, data)
        told = reader.ask(Wish("facts", {"items": [[name, len(data)]]}, [handle])).value
        if plain.facts_many(told)[0].error:
            return told, None
        return told, reader.ask(Wish("check", {"facts": told[0], "own": False}, [handle])).value
    finally:
        os.close(handle)


@pytest.mark.long
def test_it_says_the_same_as_one_that_is_ready_for_all():
    everything, narrow = Reader(ACTS), {name: Reader(ACTS, name) for name in FORMATS}
    seen = dict.fromkeys(FORMATS, 0)
    try:
        for name, data in files():
            kind = sniff(data[:512])
            if kind in narrow:
                assert asked(narrow[kind], name, data) == asked(everything, name, data), name
                seen[kind] += 1
    finally:
        for reader in (everything, *narrow.values()):
            reader.end()
    assert min(seen.values()) > 20


@pytest.mark.parametrize("act", ["another format", "another act"])
def test_what_it_is_not_ready_for_it_does_not_do(act):
    reader = Reader(ACTS, "png")
    data = jpeg(scene(320, 240))
    handle = os.memfd_create("supplied")
    try:
        os.write(handle, data)
        wish = Wish("facts", {"items": [["supplied", len(data)]]}, [handle])
        if act == "another act":
            wish = Wish("credit", {"facts": []}, [handle])
        with pytest.raises(NotReady):
            reader.ask(wish)
    finally:
        os.close(handle)
        reader.end()


def test_another_is_asked_where_it_cannot(monkeypatch):
    readers = Readers(1)
    monkeypatch.setattr(apart, "shared", lambda: readers)
    try:
        readers.warm("png")
        (first,) = readers.processes()
        found = apart.read_facts(DEMO / "blue_jug_03.jpg")
        assert found.format == "jpeg" and not found.error
        assert first not in readers.processes()
    finally:
        readers.stop()


def test_the_format_is_guessed_by_the_first_bytes_alone(tmp_path):
    for begins, kind in (
        (b"\xff\xd8\xff\xe0", "jpeg"),
        (b"\x89PNG\r\n", "png"),
        (b"MM\0*", "tiff"),
        (b"no", ""),
    ):
        path = tmp_path / "photo.txt"
        path.write_bytes(begins)
        assert _format_of([str(path), "--json"]) == kind
        assert _format_of([str(path), str(path)]) == ""
    fifo = tmp_path / "fifo"
    os.mkfifo(fifo)
    assert _format_of([str(fifo)]) == _format_of([str(tmp_path)]) == _format_of(["gone.jpg"]) == ""
