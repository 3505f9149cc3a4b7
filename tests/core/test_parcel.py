"""A rulebook with its pictures as one file: sent, read, and a stranger's refused."""

from __future__ import annotations

import io
import os
import stat
import zipfile
from pathlib import Path

import pytest

from aptandum.core.rulebook.parcel import packed, unpacked
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import read_own, read_shelf, shipped_paths
from aptandum.core.rulebook.toml import read_rulebook

PLAIN = 'format = 1\n[body]\nid = "pier"\nname = "Pier"\n[[brief]]\nid = "a"\ntitle = "A"\n'
PLAIN += '[[brief.clause]]\nmeasure = "width"\nexactly = "600"\n'


def archive(files: dict[str, bytes], mode: int = stat.S_IFREG | 0o644) -> bytes:
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as held:
        for name, content in files.items():
            entry = zipfile.ZipInfo(name)
            entry.external_attr = mode << 16
            entry.compress_type = zipfile.ZIP_DEFLATED
            held.writestr(entry, content)
    return made.getvalue()


def test_every_shipped_rulebook_travels_whole(tmp_path: Path):
    for path in shipped_paths():
        book = read_rulebook(path)
        file = tmp_path / "sent.zip"
        file.write_bytes(packed(book))
        again = read_rulebook(file)
        assert again.text == book.text and again.path == str(file)
        assert packed(again) == packed(book)
        for old, new in zip(book.briefs, again.briefs, strict=True):
            if old.border:
                there = Path(new.beside(new.border))
                assert there.read_bytes() == Path(old.beside(old.border)).read_bytes()
                assert there.parent != Path(old.folder)


@pytest.mark.parametrize(
    "files",
    [
        {"../rulebook.toml": PLAIN.encode()},
        {"/tmp/rulebook.toml": PLAIN.encode()},
        {"inner/rulebook.toml": PLAIN.encode()},
        {"rulebook.toml": PLAIN.encode(), "..\\x.png": b""},
        {"rulebook.toml": PLAIN.encode(), "run.sh": b"#!/bin/sh"},
        {"rulebook.toml": PLAIN.encode(), ".hidden.png": b""},
        {"rulebook.toml": PLAIN.encode(), "Rulebook.toml": PLAIN.encode()},
        {"other.toml": PLAIN.encode()},
        {"rulebook.toml": PLAIN.encode()} | {f"p{i}.png": b"" for i in range(70)},
        {"rulebook.toml": PLAIN.encode(), "much.png": bytes(101_000_000)},
        {},
    ],
    ids=lambda files: ",".join(files)[:24] or "empty",
)  # fmt: skip
def test_a_strangers_archive_is_refused_before_anything_is_written(tmp_path, monkeypatch, files):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path / "cache"))
    (tmp_path / "sent.zip").write_bytes(archive(files))
    with pytest.raises(RulebookError, match=r"sent\.zip"):
        unpacked(tmp_path / "sent.zip")
    assert not (tmp_path / "cache").exists()
    assert sorted(os.listdir(tmp_path)) == ["sent.zip"]


def test_links_and_broken_archives_are_refused(tmp_path: Path):
    link = archive({"rulebook.toml": b"/etc/passwd"}, stat.S_IFLNK | 0o777)
    sound = archive({"rulebook.toml": PLAIN.encode()})
    for i, raw in enumerate((link, b"", b"PK", sound[:60], sound[:-8], bytes(4000))):
        file = tmp_path / f"{i}.zip"
        file.write_bytes(raw)
        with pytest.raises(RulebookError, match=f"{i}.zip"):
            read_rulebook(file)
    damaged = bytearray(sound)
    damaged[45] ^= 0xFF
    (tmp_path / "d.zip").write_bytes(bytes(damaged))
    with pytest.raises(RulebookError):
        read_rulebook(tmp_path / "d.zip")


def test_a_picture_beside_a_rulebook_may_not_lead_elsewhere(tmp_path: Path):
    (tmp_path / "secret.png").write_bytes(b"x")
    folder = tmp_path / "book"
    folder.mkdir()
    (folder / "border.png").symlink_to(tmp_path / "secret.png")
    (folder / "book.toml").write_text(PLAIN + '[brief.border]\npicture = "border.png"\n')
    with pytest.raises(RulebookError, match="lies beside"):
        read_rulebook(folder / "book.toml")
    (folder / "border.png").unlink()
    (folder / "real.png").write_bytes(b"x")
    (folder / "border.png").symlink_to("real.png")
    read_rulebook(folder / "book.toml")


def test_a_pipe_is_not_waited_for(tmp_path: Path):
    os.mkfifo(tmp_path / "pipe.toml")
    os.mkfifo(tmp_path / "pipe.zip")
    for name in ("pipe.toml", "pipe.zip"):
        with pytest.raises(RulebookError, match="no ordinary file"):
            read_rulebook(tmp_path / name)


def test_ones_own_are_files_archives_and_folders_the_last_read_last(tmp_path: Path):
    dated = PLAIN.replace('name = "Pier"', 'name = "Pier"\nread_on = 2026-11-02')
    newer = PLAIN.replace('name = "Pier"', 'name = "Pier"\nread_on = 2026-11-20')
    (tmp_path / "z.toml").write_text(dated)
    (tmp_path / "a.zip").write_bytes(archive({"rulebook.toml": newer.encode()}))
    (tmp_path / "folder").mkdir()
    (tmp_path / "folder" / "rulebook.toml").write_text(PLAIN.replace('"pier"', '"quay"'))
    (tmp_path / "bad.toml").write_text("format = 9")
    books, wrong = read_own(tmp_path)
    assert len(books) == 3 and len(wrong) == 1
    assert read_shelf((), books).named("pier").body.read_on.day == 20
