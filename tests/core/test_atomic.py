"""One way to write a file: whole or not at all, links followed, modes kept, photos never touched."""

from __future__ import annotations

import os
import stat
import threading
from pathlib import Path

import pytest

from aptandum.core.atomic import ProtectedError, write_atomic
from aptandum.core.docket import store
from aptandum.core.docket.model import Docket
from aptandum.core.file.write import WriteError, write


@pytest.fixture(params=[0o077, 0o022])
def umask(request):
    before = os.umask(request.param)
    yield request.param
    os.umask(before)


def mode(path: Path) -> int:
    return stat.S_IMODE(path.stat().st_mode)


def test_a_new_file_gets_the_mode_that_the_umask_gives(tmp_path, umask):
    write_atomic(tmp_path / "a.txt", "tide")
    write(b"tide", tmp_path / "b.jpg", [])
    store.save(Docket(title="Tide"), tmp_path / "c.docket")
    for name in ("a.txt", "b.jpg", "c.docket"):
        assert mode(tmp_path / name) == 0o666 & ~umask


@pytest.mark.parametrize("kept", [0o644, 0o600, 0o664, 0o640])
def test_a_file_that_is_written_over_keeps_its_mode(tmp_path, umask, kept):
    for name in ("a.txt", "b.jpg", "c.docket"):
        (tmp_path / name).write_bytes(b"before")
        (tmp_path / name).chmod(kept)
    write_atomic(tmp_path / "a.txt", "after")
    write(b"after", tmp_path / "b.jpg", [], replace=True)
    store.save(Docket(title="Tide"), tmp_path / "c.docket")
    for name in ("a.txt", "b.jpg", "c.docket"):
        assert mode(tmp_path / name) == kept
    assert (tmp_path / "b.jpg").read_bytes() == b"after"


def test_a_link_stays_a_link_and_the_file_behind_it_is_replaced(tmp_path):
    (tmp_path / "shelf").mkdir()
    real = tmp_path / "shelf" / "real.docket"
    real.write_text("before")
    real.chmod(0o640)
    link, second = tmp_path / "mine.docket", tmp_path / "again.docket"
    link.symlink_to(os.path.join("shelf", "real.docket"))
    second.symlink_to(link)
    store.save(Docket(title="Tide"), second)
    assert link.is_symlink() and second.is_symlink() and not real.is_symlink()
    assert store.load(real).title == "Tide" and mode(real) == 0o640
    assert sorted(p.name for p in tmp_path.rglob("*")) == [
        "again.docket",
        "mine.docket",
        "real.docket",
        "shelf",
    ]


def test_a_link_to_nothing_yet_is_filled(tmp_path):
    (tmp_path / "mine").symlink_to(tmp_path / "later")
    write_atomic(tmp_path / "mine", "tide")
    assert (tmp_path / "later").read_text() == "tide" and (tmp_path / "mine").is_symlink()


def test_a_supplied_photo_is_never_written_to_by_any_link(tmp_path):
    photo = tmp_path / "sea.jpg"
    photo.write_bytes(b"a photo")
    link, hard = tmp_path / "out.jpg", tmp_path / "twin.jpg"
    link.symlink_to(photo)
    os.link(photo, hard)
    for target in (photo, link, hard):
        with pytest.raises(WriteError, match="supplied photo and is never written to"):
            write(b"new", target, [photo], replace=True)
        with pytest.raises(ProtectedError):
            write_atomic(target, b"new", [photo])
    assert photo.read_bytes() == b"a photo"
    docket = Docket().with_photo(str(photo))[0]
    with pytest.raises(store.DocketError, match="never written to"):
        store.save(docket, link)
    assert photo.read_bytes() == b"a photo"


def test_a_pipe_a_device_and_a_folder_are_refused_in_a_sentence(tmp_path):
    os.mkfifo(tmp_path / "pipe")
    with pytest.raises(ProtectedError, match="pipe is not an ordinary file"):
        write_atomic(tmp_path / "pipe", "tide")
    with pytest.raises(ProtectedError, match="null is not an ordinary file"):
        write_atomic("/dev/null", "tide")
    with pytest.raises(ProtectedError, match="is a folder"):
        write_atomic(tmp_path, "tide")


def test_what_cannot_be_written_leaves_what_was_there(tmp_path, monkeypatch):
    target = tmp_path / "a.docket"
    target.write_text("before")

    def full(*_given):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(OSError, match="No space"):
        write_atomic(target, "after" * 1000)
    assert target.read_text() == "before"
    assert [p.name for p in tmp_path.iterdir()] == ["a.docket"]


def test_many_at_once_under_one_name_get_a_number_each(tmp_path):
    made: list[Path] = []

    def one(n: int) -> None:
        made.append(write(str(n).encode(), tmp_path / "plate.jpg", []))

    threads = [threading.Thread(target=one, args=(n,)) for n in range(12)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(set(made)) == 12
    assert sorted(int(p.read_bytes()) for p in made) == list(range(12))


def test_the_umask_of_the_process_is_not_touched(tmp_path, monkeypatch):
    monkeypatch.setattr(os, "umask", lambda mask: pytest.fail("the umask was set"))
    write_atomic(tmp_path / "a", "x")
    write(b"x", tmp_path / "b", [])
