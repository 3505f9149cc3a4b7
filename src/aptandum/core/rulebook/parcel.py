"""A rulebook that travels with its pictures as one file: a ZIP archive with ``rulebook.toml`` and the
pictures beside it.

A stranger's archive is looked through before anything of it is written: plain names without folders, no
links, no passwords, few and small enough. Its pictures are laid in a folder of their own below the cache,
named by the archive's hash; nothing in it is ever run.
"""

from __future__ import annotations

import hashlib
import io
import os
import re
import stat
import zipfile
from collections.abc import Iterator
from pathlib import Path

import platformdirs

from aptandum.core.atomic import write_atomic
from aptandum.core.brief.model import Rulebook
from aptandum.core.outside import read_whole
from aptandum.core.rulebook.problems import Problem, RulebookError
from aptandum.core.words import say

NAME = "rulebook.toml"
ENDING = ".zip"

_MOST_FILES = 64
_MOST_BYTES = 50_000_000  # the archive
_MOST_INSIDE = 100_000_000  # all that is in it
_PLAIN = re.compile(r"[^\W_][\w .()+-]{0,120}\.(?:toml|png|jpe?g|webp|tiff?)", re.I)
_DAY = (2026, 1, 1, 0, 0, 0)
"""The day in an archive: the same rulebook always makes the same file."""


def is_parcel(path: str | os.PathLike[str]) -> bool:
    """Whether a path is an archive by its ending."""
    return os.fspath(path).lower().endswith(ENDING)


def packed(book: Rulebook) -> bytes:
    """A rulebook and its pictures as an archive.

    Raises:
        RulebookError: one of its pictures cannot be read.
    """
    made = io.BytesIO()
    with zipfile.ZipFile(made, "w", zipfile.ZIP_DEFLATED) as archive:
        _add(archive, NAME, book.text.encode())
        for picture in pictures_of(book):
            try:
                _add(archive, picture.name, picture.read_bytes())
            except OSError as error:
                raise _wrong(
                    book.path or NAME, error.strerror or str(error), picture.name
                ) from None
    return made.getvalue()


def _add(archive: zipfile.ZipFile, name: str, content: bytes) -> None:
    entry = zipfile.ZipInfo(name, _DAY)
    entry.compress_type = zipfile.ZIP_DEFLATED
    entry.external_attr = (stat.S_IFREG | 0o644) << 16
    archive.writestr(entry, content)


def pictures_of(book: Rulebook) -> list[Path]:
    """Where the pictures lie that a rulebook names, each once."""
    found: dict[str, Path] = {}
    for brief in book.briefs:
        names = [brief.border, brief.template.shade if brief.template else None]
        names += [one.picture for one in brief.examples]
        for name in names:
            path = brief.beside(name)
            if name and path:
                found[name] = Path(path)
    return list(found.values())


def unpacked(path: str | os.PathLike[str], into: Path | None = None) -> Path:
    """Lay out an archive; the path of the rulebook in it.

    Args:
        into: a folder; left out: one in the cache, of this archive alone.

    Raises:
        RulebookError: it is no sound archive of a rulebook; nothing was written.
    """
    shown = os.fsencode(os.fspath(path)).decode("utf-8", "replace")
    try:
        raw = read_whole(path, _MOST_BYTES)
    except OSError as error:
        raise _wrong(shown, error.strerror or str(error)) from None
    members = dict(_members(raw, shown))
    folder = into or _cache() / hashlib.sha256(raw).hexdigest()[:32]
    try:
        folder.mkdir(parents=True, exist_ok=True)
        for name, content in members.items():
            there = folder / name
            if not there.is_file() or there.is_symlink() or there.read_bytes() != content:
                there.unlink(missing_ok=True)
                write_atomic(there, content)
    except OSError as error:
        where = error.filename or str(folder)
        raise _wrong(
            str(where), error.strerror or str(error), say("a place to lay it out")
        ) from None
    return folder / NAME


def _cache() -> Path:
    return Path(platformdirs.user_cache_dir("aptandum", appauthor=False)) / "rulebooks"


def _members(raw: bytes, shown: str) -> Iterator[tuple[str, bytes]]:
    """The files of an archive, all of them looked at before the first is unpacked."""
    try:
        archive = zipfile.ZipFile(io.BytesIO(raw))
        entries = archive.infolist()
    except (zipfile.BadZipFile, ValueError, NotImplementedError, OSError):
        raise _wrong(shown, say("no ZIP archive")) from None
    names = [entry.filename for entry in entries]
    if len(entries) > _MOST_FILES:
        raise _wrong(shown, say("{n} files", n=len(entries)), say("at most {n}", n=_MOST_FILES))
    for entry in entries:
        mode = entry.external_attr >> 16
        link = bool(mode) and not stat.S_ISREG(mode) and stat.S_IFMT(mode) != 0
        if not _PLAIN.fullmatch(entry.filename) or link or entry.flag_bits & 1:
            stood = say("“{name}”", name=entry.filename[:80])
            raise _wrong(shown, stood, say("plain files beside one another, without passwords"))
    if NAME not in names or len({name.lower() for name in names}) < len(names):
        raise _wrong(
            shown,
            say("{n} files", n=len(entries)),
            say("one {name}, and each name once", name=NAME),
        )
    if sum(entry.file_size for entry in entries) > _MOST_INSIDE:
        raise _wrong(shown, say("too much to unpack"), say("at most {n} bytes", n=_MOST_INSIDE))
    found, left = [], _MOST_INSIDE
    for entry in entries:
        try:
            with archive.open(entry) as stream:
                content = stream.read(left + 1)
        except Exception as error:  # a stranger's archive may be broken in any way
            raise _wrong(shown, say("“{name}”: {why}", name=entry.filename, why=error)) from None
        left -= len(content)
        if left < 0:  # it is larger than it says
            raise _wrong(shown, say("too much to unpack"), say("at most {n} bytes", n=_MOST_INSIDE))
        found.append((entry.filename, content))
    return iter(found)


def _wrong(file: str, stood: str, expected: str = "") -> RulebookError:
    return RulebookError(
        [Problem(file, 0, "", stood, expected or say("a rulebook and its pictures"))]
    )
