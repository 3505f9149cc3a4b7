"""Dockets on disk: JSON, paths relative to the docket where they can be, written whole."""

from __future__ import annotations

import hashlib
import json
import os
from pathlib import Path

from pydantic import ValidationError

from aptandum.core.atomic import write_atomic
from aptandum.core.docket.model import Docket
from aptandum.core.errors import AptandumError
from aptandum.core.file.write import unwritten
from aptandum.core.photo.facts import io_sentence, shown_name
from aptandum.core.words import say


class DocketError(AptandumError):
    """A docket that cannot be read or written; the message is a sentence."""


def load(path: str | os.PathLike[str]) -> Docket:
    """Read a docket; its photos' paths come back absolute.

    Raises:
        DocketError: with file and cause.
    """
    name = shown_name(path)
    folder = Path(os.fspath(path)).resolve().parent
    try:
        text = Path(os.fspath(path)).read_text(encoding="utf-8")
        docket = Docket.model_validate_json(text)
    except OSError as error:
        raise DocketError(io_sentence(error, name)) from None
    except (ValidationError, UnicodeDecodeError) as error:
        detail = error.errors()[0]["msg"] if isinstance(error, ValidationError) else "not UTF-8"
        raise DocketError(
            say("{file} is not a docket: {why}.", file=name, why=detail.lower())
        ) from None
    photos = tuple(
        entry.model_copy(update={"path": os.path.normpath(folder / entry.path)})
        for entry in docket.photos
    )
    docket = docket.with_files(lambda file: os.path.normpath(folder / file))
    return docket.model_copy(update={"photos": photos})


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
        return hashlib.sha256(Path(os.fspath(path)).read_bytes()).hexdigest()
    except OSError:
        return ""


def schema() -> dict[str, object]:
    """The docket's format as JSON Schema (2020-12)."""
    made = Docket.model_json_schema()
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **made}
