"""Writing: whole or not at all, never over a supplied photo, never over anything unasked."""

from __future__ import annotations

import errno
import os
from collections.abc import Iterable
from functools import partial
from pathlib import Path

from aptandum.core.atomic import ProtectedError, create_atomic, write_atomic
from aptandum.core.errors import AptandumError
from aptandum.core.file import free_name
from aptandum.core.photo.facts import io_sentence, shown_name
from aptandum.core.words import say


class WriteError(AptandumError):
    """A file that could not be written; the message is a sentence naming file and cause."""


def write(
    data: bytes,
    path: str | os.PathLike[str],
    supplied: Iterable[str | os.PathLike[str]],
    *,
    replace: bool = False,
    counted: str = "",
) -> Path:
    """Write a finished file, whole or not at all, and return where it went.

    A name already taken gets a number, unless ``replace``; a ``counted`` name (with ``{n}`` where
    its number stands) gets its first free one. A supplied photo is never the target, whatever was
    said.

    Raises:
        WriteError: the folder cannot be written to, or the target is a supplied photo.
    """
    target = Path(os.fspath(path))
    if target.is_dir():
        raise WriteError(say("{file} is a folder.", file=shown_name(target)))
    try:
        if not replace:
            return create_atomic(target, data, partial(free_name.free, counted=counted))
        write_atomic(target, data, supplied)
        return target
    except ProtectedError as error:
        raise WriteError(str(error)) from None
    except OSError as error:
        raise WriteError(unwritten(error, target)) from None


def unwritten(error: OSError, path: str | os.PathLike[str]) -> str:
    """A sentence for a file that could not be written."""
    target = Path(os.fspath(path))
    if isinstance(error, ProtectedError):
        return str(error)
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
