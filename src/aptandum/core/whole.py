"""Text files written whole or not at all."""

from __future__ import annotations

import os
import tempfile
from pathlib import Path


def write_whole(target: Path, text: str) -> None:
    """Write a text file as UTF-8: beside its place first, and then into it at once.

    Raises:
        OSError: it could not be written; what was there is as it was.
    """
    holding = ""
    try:
        handle, holding = tempfile.mkstemp(prefix=".aptandum-", dir=target.resolve().parent)
        with os.fdopen(handle, "w", encoding="utf-8", errors="surrogateescape", newline="") as out:
            out.write(text)
            out.flush()
            os.fsync(out.fileno())
        os.replace(holding, target)
    finally:
        if holding and os.path.exists(holding):
            os.unlink(holding)
