"""A free name for a finished file: never one that is taken."""

from __future__ import annotations

from pathlib import Path


def free(path: Path) -> Path:
    """The path, or where it is taken the same with the first free number before its ending."""
    tried, n = path, 2
    while tried.exists() or tried.is_symlink():
        tried = path.with_name(f"{path.stem}-{n}{path.suffix}")
        n += 1
    return tried
