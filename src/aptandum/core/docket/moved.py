"""Photos by their content: found again where they were moved, and known where they changed."""

from __future__ import annotations

import contextlib
import hashlib
import os
import stat
from collections.abc import Callable, Iterable, Iterator
from pathlib import Path

from aptandum.core.docket.model import PhotoEntry
from aptandum.core.outside import NotOrdinary

_MOST_FILES = 20_000


def digest_of(path: str | os.PathLike[str]) -> str:
    """The SHA-256 of a file's bytes, in hexadecimal.

    Raises:
        OSError: it cannot be read.
    """
    handle = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
    with open(handle, "rb") as stream:
        if not stat.S_ISREG(os.fstat(handle).st_mode):
            raise NotOrdinary(os.fspath(path))
        return hashlib.file_digest(stream, "sha256").hexdigest()


def same(entry: PhotoEntry, path: str | os.PathLike[str]) -> bool:
    """Whether a file holds the very photo; a docket that kept no digest cannot tell, and says
    no."""
    try:
        if not entry.digest or os.path.getsize(path) != entry.bytes:
            return False
        return digest_of(path) == entry.digest
    except OSError:
        return False


_SYSTEM = tuple(Path(one) for one in ("/dev", "/proc", "/sys", "/run", "/boot", "/etc", "/usr", "/bin", "/sbin", "/lib", "/var"))  # fmt: skip
"""Folders of the system: no photo is looked for in them."""


def may_hold_photos(folder: Path) -> bool:
    """Whether photos are looked for in a folder: not in the system's own, nor in all there is."""
    return len(folder.parts) > 1 and not any(
        folder == one or one in folder.parents for one in _SYSTEM
    )


def look_for(
    entries: Iterable[PhotoEntry],
    folders: Iterable[Path],
    late: Callable[[], bool] = lambda: False,
) -> dict[str, Path]:
    """Photos that are not where they were, by their ids, found by their content in some folders and those
    inside them. Each folder is walked once, and only ordinary files of a photo's size are opened; one of its
    own name is looked at first.

    Args:
        late: whether the answer is still wanted.
    """
    wanted = [entry for entry in entries if entry.digest]
    sizes: dict[int, list[Path]] = {entry.bytes: [] for entry in wanted}
    for path, size in _files(folders, late):
        if size in sizes:
            sizes[size].append(path)
    known: dict[Path, str] = {}
    found: dict[str, Path] = {}
    for entry in wanted:
        name = os.path.basename(entry.path)
        for path in sorted(sizes[entry.bytes], key=lambda path: path.name != name):
            if late():
                return found
            with contextlib.suppress(OSError):
                if path not in known:
                    known[path] = digest_of(path)
                if known[path] == entry.digest:
                    found[entry.id] = path
                    break
    return found


def _files(folders: Iterable[Path], late: Callable[[], bool]) -> Iterator[tuple[Path, int]]:
    """The ordinary files below some folders, each once, with its bytes; links are not followed."""
    left = [folder for folder in dict.fromkeys(folders) if may_hold_photos(folder)]
    walked: set[str] = set()
    seen = 0
    while left and seen < _MOST_FILES and not late():
        folder = left.pop(0)
        key = os.path.realpath(folder)
        if key in walked:
            continue
        walked.add(key)
        with contextlib.suppress(OSError), os.scandir(folder) as entries:
            for entry in entries:
                seen += 1
                with contextlib.suppress(OSError):
                    if entry.is_dir(follow_symlinks=False) and not entry.name.startswith("."):
                        left.append(Path(entry.path))
                    elif entry.is_file(follow_symlinks=False):
                        yield Path(entry.path), entry.stat(follow_symlinks=False).st_size
