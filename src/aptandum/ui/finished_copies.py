"""Copies of finished files for other programs to take, in the cache, the newest few only."""

from __future__ import annotations

import hashlib
import shutil
from pathlib import Path

from platformdirs import user_cache_path

from aptandum.core.atomic import write_atomic

KEPT = 20
"""How many files' copies are kept."""


def copy_of(data: bytes, name: str) -> Path:
    """A file of these bytes under this name.

    Raises:
        OSError: it cannot be written.
    """
    root = user_cache_path("aptandum", appauthor=False) / "handed"
    folder = root / hashlib.sha256(data).hexdigest()[:16]
    folder.mkdir(parents=True, exist_ok=True)
    path = folder / name
    if not path.exists() or path.read_bytes() != data:
        write_atomic(path, data)
    others = sorted((p for p in root.iterdir() if p != folder), key=lambda p: p.stat().st_mtime)
    for old in others[: max(0, len(others) - KEPT + 1)]:
        shutil.rmtree(old, ignore_errors=True)
    return path
