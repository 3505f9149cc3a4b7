"""Writing: whole or not at all, never over a supplied photo, never over anything unasked."""

from __future__ import annotations

import errno
import os
import tempfile
from collections.abc import Iterable
from pathlib import Path

from aptandum.core.file import names
from aptandum.core.photo.facts import io_sentence, shown_name
from aptandum.core.words import say


class WriteError(Exception):
    """A file that could not be written; the message is a sentence naming file and cause."""


def _same(a: Path, b: Path) -> bool:
    try:
        return a.resolve() == b.resolve() or (a.exists() and b.exists() and a.samefile(b))
    except OSError:
        return False


def write(
    data: bytes,
    path: str | os.PathLike[str],
    supplied: Iterable[str | os.PathLike[str]],
    *,
    replace: bool = False,
    counted: str = "",
) -> Path:
    """Write a finished file and return where it went.

    The bytes go to a hidden file beside the target first and are moved into place at once,
    so that a crash leaves either nothing or all of it. A name already taken gets a number,
    unless ``replace``; a ``counted`` name (with ``{n}`` where its number stands) gets its first
    free one. A supplied photo is never the target, whatever was said.

    Raises:
        WriteError: the folder cannot be written to, or the target is a supplied photo.
    """
    target = Path(os.fspath(path))
    protected = [Path(os.fspath(photo)) for photo in supplied]
    if replace and any(_same(target, photo) for photo in protected):
        raise WriteError(
            say("{file} is a supplied photo and is never written to.", file=shown_name(target))
        )
    if target.is_dir():
        raise WriteError(say("{file} is a folder.", file=shown_name(target)))
    holding = ""
    try:
        handle, holding = tempfile.mkstemp(prefix=".aptandum-", suffix=".part", dir=target.parent)
        with os.fdopen(handle, "wb") as stream:
            stream.write(data)
            stream.flush()
            os.fsync(stream.fileno())
        umask = os.umask(0)
        os.umask(umask)
        os.chmod(holding, 0o666 & ~umask)
        if replace:
            os.replace(holding, target)
            return target
        while True:
            target = names.free(target, counted)
            try:
                # A link fails where a name has been taken meanwhile; a move would replace it.
                os.link(holding, target)
            except FileExistsError:
                continue
            except OSError:  # a file system without links
                os.replace(holding, target)
                return target
            return target
    except OSError as error:
        raise WriteError(unwritten(error, target)) from None
    finally:
        if holding and os.path.exists(holding):
            os.unlink(holding)


def unwritten(error: OSError, path: str | os.PathLike[str]) -> str:
    """A sentence for a file that could not be written."""
    target = Path(os.fspath(path))
    if isinstance(error, PermissionError):
        return say(
            "{file} was not written: the folder {folder} may not be written to.",
            file=shown_name(target),
            folder=shown_name(target.parent),
        )
    if isinstance(error, FileNotFoundError):
        return say(
            "{file} was not written: there is no folder {folder}.",
            file=shown_name(target),
            folder=shown_name(target.parent),
        )
    if error.errno == errno.ENAMETOOLONG:
        return io_sentence(error, shown_name(target))
    reason = (error.strerror or str(error) or type(error).__name__).lower()
    return say("{file} was not written: {reason}.", file=shown_name(target), reason=reason)
