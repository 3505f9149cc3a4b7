"""Files written whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


def write_whole(target: Path, content: str | bytes) -> None:
    """Write a file, text as UTF-8: beside its place first, and then into it at once.

    Raises:
        OSError: it could not be written; what was there is as it was.
    """
    holding = ""
    try:
        handle, holding = tempfile.mkstemp(prefix=".aptandum-", dir=target.resolve().parent)
        if isinstance(content, str):
            content = content.encode("utf-8", "surrogateescape")
        with os.fdopen(handle, "wb") as out:
            out.write(content)
            out.flush()
            os.fsync(out.fileno())
        os.replace(holding, target)
    finally:
        if holding and os.path.exists(holding):
            os.unlink(holding)
