"""Names for finished files: telling from the original, safe everywhere, never taken."""

from __future__ import annotations

import re
from pathlib import Path

ENDINGS = {"jpeg": ".jpg", "png": ".png"}
_MOST = 180


def suggested(photo_name: str, brief_id: str, format_: str) -> str:
    """``ines_marrow_0417`` for the deck pass: ``ines_marrow_0417-deck-pass.jpg``."""
    stem = photo_name.rsplit(".", 1)[0] if "." in photo_name.strip(".") else photo_name
    stem = re.sub(r"[^\w.() +-]", "_", stem, flags=re.UNICODE).strip(" .") or "photo"
    return f"{stem[:_MOST]}-{brief_id}{ENDINGS[format_]}"


def free(path: Path) -> Path:
    """The path, or where it is taken the same with the first free number before its ending."""
    tried, n = path, 2
    while tried.exists() or tried.is_symlink():
        tried = path.with_name(f"{path.stem}-{n}{path.suffix}")
        n += 1
    return tried
