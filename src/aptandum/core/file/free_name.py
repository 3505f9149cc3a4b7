"""A free name for a finished file: never one that is taken."""

from __future__ import annotations

from pathlib import Path

from aptandum.core.fitting.filenames import numbered


def free(path: Path, counted: str = "") -> Path:
    """The path, or where it is taken the same with the first free number before its ending; a
    counted name (``plate-{n:3}.jpg``) gets its first free number instead."""
    if counted and path.name == numbered(counted, 1):
        n = 1
        while (tried := path.with_name(numbered(counted, n))).exists() or tried.is_symlink():
            n += 1
        return tried
    tried, n = path, 2
    while tried.exists() or tried.is_symlink():
        tried = path.with_name(f"{path.stem}-{n}{path.suffix}")
        n += 1
    return tried
