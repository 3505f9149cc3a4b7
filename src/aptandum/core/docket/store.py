"""Dockets on disk: JSON, paths relative to the docket where they can be, written whole."""

from __future__ import annotations

import hashlib
import json
import os
from dataclasses import replace
from pathlib import Path

from aptandum.core.atomic import write_atomic
from aptandum.core.docket.model import Docket
from aptandum.core.docket.opening import MOST_BYTES, NoDocket, Opened, opened
from aptandum.core.errors import AptandumError
from aptandum.core.file.write import unwritten
from aptandum.core.outside import read_whole
from aptandum.core.photo.facts import io_sentence, shown_name
from aptandum.core.words import say


class DocketError(AptandumError):
    """A docket that cannot be read or written; the message is a sentence."""


def load(path: str | os.PathLike[str]) -> Docket:
    """Read a docket; its photos' paths come back absolute. What of it cannot be used is left out.

    Raises:
        DocketError: with file and cause.
    """
    return load_telling(path).docket


def load_telling(path: str | os.PathLike[str]) -> Opened:
    """Read a docket as :func:`load` does, and tell what of it was left out.

    Raises:
        DocketError: with file and cause.
    """
    name = shown_name(path)
    try:
        folder = Path(os.fspath(path)).resolve().parent
        found = opened(read_whole(path, MOST_BYTES))
    except OSError as error:
        raise DocketError(io_sentence(error, name)) from None
    except (NoDocket, ValueError, RecursionError, MemoryError) as error:
        raise DocketError(
            say("{file} is not a docket: {why}.", file=name, why=str(error).lower().rstrip("."))
        ) from None
    docket = found.docket
    photos = tuple(
        entry.model_copy(update={"path": os.path.normpath(os.path.join(folder, entry.path))})
        for entry in docket.photos
    )
    docket = docket.with_files(lambda file: os.path.normpath(os.path.join(folder, file)))
    return replace(found, docket=docket.model_copy(update={"photos": photos}))


def save(docket: Docket, path: str | os.PathLike[str]) -> None:
    """Write a docket whole or not at all.

    Raises:
        DocketError: with file and cause.
    """
    target = Path(os.fspath(path))
    folder = target.resolve().parent

    def near(file: str) -> str:
        relative = os.path.relpath(file, folder)
        return file if relative.startswith(os.path.join("..", "..", "..")) else relative

    photos = tuple(e.model_copy(update={"path": near(e.path)}) for e in docket.photos)
    held = docket.with_files(near).model_copy(update={"photos": photos})
    # What is as usual is left out: most of many fittings is.
    record = {"format": held.format, **held.model_dump(mode="json", exclude_defaults=True)}
    try:
        text = json.dumps(record, indent=1, ensure_ascii=False) + "\n"
        write_atomic(target, text, [entry.path for entry in docket.photos])
    except OSError as error:
        raise DocketError(unwritten(error, target)) from None


def digest_on_disk(path: str | os.PathLike[str]) -> str:
    """The SHA-256 of a docket's file as it is now; empty where there is none that can be read."""
    try:
        return hashlib.sha256(read_whole(path, MOST_BYTES)).hexdigest()
    except (OSError, ValueError):
        return ""


def schema() -> dict[str, object]:
    """The docket's format as JSON Schema (2020-12)."""
    made = Docket.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made}
