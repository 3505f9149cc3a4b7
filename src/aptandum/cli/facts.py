"""The command ``facts``. It is asked often and for little: nothing is imported that a header does not need."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from aptandum.cli.console import (
    MEETS,
    STANDARD,
    UNREADABLE,
    as_named,
    doing,
    failed_line,
    json_line,
    name_of,
    out_line,
)
from aptandum.cli.naming import named_files
from aptandum.core.photo.decode import facts_many, tried


def ordinary(words: Sequence[str]) -> dict[str, Any] | None:
    """What a call without anything unusual asks for; ``None`` where the parser has to look at it, which is slow to
    begin."""
    files = [word for word in words if not word.startswith("-") or word == STANDARD]
    flags = [word for word in words if word not in files]
    if not files or not set(flags) <= {"--json", "--quick"}:
        return None
    return {"files": files, "as_json": "--json" in flags, "quick": "--quick" in flags}


def tell_facts(files: Sequence[str], as_json: bool, quick: bool) -> int:
    """Print the facts of files.

    Args:
        quick: by their headers only.

    Returns:
        the exit status.
    """
    status = MEETS
    for found in facts_many(named_files(files)):
        doing(f"{name_of(found.file)}: header read" + ("" if quick else ", reading every pixel"))
        found, file = (found if quick else tried(found)), found.file
        if found.error:
            status = UNREADABLE
            if not as_json:
                failed_line(file, found.error)
        record = found.contract() | {"file": as_named(file)}
        if as_json:
            json_line(record)
        else:
            shown = " ".join(
                f"{key}={_plain(value)}" for key, value in record.items() if key != "file"
            )
            out_line(f"{name_of(file)}: {shown}")
    return status


def _plain(value: Any) -> str:
    if value is None:
        return "-"
    if isinstance(value, bool):
        return "yes" if value else "no"
    text = f"{value:g}" if isinstance(value, float) else str(value)
    return f'"{text}"' if " " in text else text
