"""The one way to write a file: whole or not at all.

The bytes go to a hidden file beside the target and are moved into place at once, so that a crash
leaves what was there or what is new, never half of either. A symbolic link stays a link: the file
behind it is replaced. A file that is written over keeps its mode; a new one gets the mode that the
umask gives, without the process's umask being touched.
"""

from __future__ import annotations

import contextlib
import os
import stat
from collections.abc import Callable, Iterable, Iterator
from contextvars import ContextVar
from pathlib import Path

from aptandum.core.errors import AptandumError
from aptandum.core.words import say

PREFIX = ".aptandum-"
"""How the hidden files begin; what a crash leaves of them may be deleted."""

Pathlike = str | os.PathLike[str]

_run: ContextVar[str] = ContextVar("run", default="")


@contextlib.contextmanager
def of_run(mark: str) -> Iterator[None]:
    """Name the hidden files of what is written within so that :func:`clear` knows them.

    Args:
        mark: letters and digits that nobody else has; empty: none.
    """
    before = _run.set(f"{mark}-" if mark else "")
    try:
        yield
    finally:
        _run.reset(before)


def clear(folder: Pathlike, mark: str) -> None:
    """Delete what those that were killed on the way left of the files that they wrote; all others are left alone."""
    for part in Path(os.fspath(folder)).glob(f"{PREFIX}{mark}-*.part"):
        with contextlib.suppress(OSError):
            part.unlink()


class ProtectedError(AptandumError, OSError):
    """A target that is never written to; the message is a sentence that names it."""


def same_file(a: Pathlike, b: Pathlike) -> bool:
    """Whether two paths lead to one file, by whatever links."""
    try:
        return os.path.realpath(a) == os.path.realpath(b) or os.path.samefile(a, b)
    except (OSError, ValueError):
        return False


def write_atomic(
    target: Pathlike, content: str | bytes | Iterable[str], protected: Iterable[Pathlike] = ()
) -> Path:
    """Write a file over whatever is there; text as UTF-8.

    Args:
        content: all of it, or text in parts, each of which is asked for as it is written.
        protected: files that are never written to, whatever was said: the supplied photos.

    Returns:
        The path of the file that was written, behind any links.

    Raises:
        ProtectedError: the target is one of those, or no ordinary file.
        OSError: it could not be written; what was there is as it was.
    """
    real = _checked(target, protected)
    with contextlib.suppress(FileNotFoundError):
        before = os.stat(real)
        return _place(real, content, lambda part: os.replace(part, real), before)
    return _place(real, content, lambda part: os.replace(part, real), None)


def create_atomic(target: Pathlike, content: bytes, free_name: Callable[[Path], Path]) -> Path:
    """Write a new file under a name that nothing has: ``free_name`` says which, and is asked again
    where another program takes that name meanwhile.

    Raises:
        OSError: it could not be written.
    """
    path = Path(os.fspath(target))
    held: list[Path] = []

    def settle(part: str) -> None:
        while True:
            name = free_name(path)
            try:
                # A link fails where a name has been taken meanwhile; a move would replace it.
                os.link(part, name)
            except FileExistsError:
                continue
            except OSError:  # a file system without links
                try:
                    with open(name, "xb"):  # takes the name, or fails where it is taken
                        pass
                except FileExistsError:
                    continue
                os.replace(part, name)
            held.append(name)
            return

    _place(path, content, settle, None)
    return held[0]


def _checked(target: Pathlike, protected: Iterable[Pathlike]) -> str:
    real = os.path.realpath(os.fspath(target))
    name = Path(os.fsdecode(os.fspath(target))).name
    if any(same_file(real, one) for one in protected):
        raise ProtectedError(say("{file} is a supplied photo and is never written to.", file=name))
    with contextlib.suppress(FileNotFoundError):
        mode = os.stat(real).st_mode
        if stat.S_ISDIR(mode):
            raise ProtectedError(say("{file} is a folder.", file=name))
        if not stat.S_ISREG(mode):
            raise ProtectedError(
                say("{file} is not an ordinary file and is not written to.", file=name)
            )
    return real


def _place(
    real: Pathlike,
    content: str | bytes | Iterable[str],
    settle: Callable[[str], None],
    before: os.stat_result | None,
) -> Path:
    parts = [content] if isinstance(content, str | bytes) else content
    path = Path(os.fspath(real))
    part = os.path.join(path.parent, f"{PREFIX}{_run.get()}{os.urandom(16).hex()}.part")
    # The kernel applies the umask to the mode of a new file.
    handle = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)
    try:
        with os.fdopen(handle, "wb") as stream:
            if before is not None:
                with contextlib.suppress(OSError):  # only root may give a file away
                    os.fchown(stream.fileno(), before.st_uid, before.st_gid)
                os.fchmod(stream.fileno(), stat.S_IMODE(before.st_mode))
            for one in parts:
                stream.write(
                    one if isinstance(one, bytes) else one.encode("utf-8", "surrogateescape")
                )
            stream.flush()
            os.fsync(stream.fileno())
        settle(part)
    finally:
        with contextlib.suppress(FileNotFoundError):
            os.unlink(part)
    return path
