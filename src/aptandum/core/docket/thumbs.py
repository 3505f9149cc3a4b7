"""Small pictures of photos, kept on disk within bounds."""

from __future__ import annotations

import hashlib
import os
from pathlib import Path
from typing import Any

from platformdirs import user_cache_path

from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.later import Image, np
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.facts import PhotoError

LONGEST = 256
"""Longest side of a small picture, in pixels."""

_MOST = 20_000
"""Small pictures that are kept; about 12 kB each."""

_EVERY = 200
"""So many are made between two looks at how many there are."""


class Thumbs:
    """The cache of small pictures, by path, bytes and time of change, and how the photo is turned.
    Safe to use from several threads."""

    def __init__(self, folder: Path | None = None, most: int = _MOST) -> None:
        self.folder = folder or user_cache_path("aptandum", appauthor=False) / "thumbs"
        self.most = most
        self._made = 0

    def _path(self, photo: Photo) -> Path:
        try:
            state = os.stat(photo.path)
            changed = f"{state.st_size}:{state.st_mtime_ns}"
        except OSError as error:
            raise PhotoError(str(error)) from None
        key = f"{photo.path}\0{changed}\0{photo.facts.turn}\0{LONGEST}"
        name = hashlib.sha256(os.fsencode(key)).hexdigest()[:32]
        return self.folder / name[:2] / f"{name}.jpg"

    def of(self, photo: Photo) -> Any:
        """A photo's small picture, RGB in sRGB, shape (h, w, 3), upright; read from the cache,
        else made and put there.

        Raises:
            PhotoError: its pixels cannot be read.
        """
        path = self._path(photo)
        try:
            with Image.open(path) as held:
                return np.asarray(held.convert("RGB"))
        except (OSError, ValueError, SyntaxError):
            pass  # not there yet, or spoilt: it is made anew
        made = for_screen(shown_on(photo, LONGEST))
        if made.shape[2] in (1, 2):
            made = np.concatenate([np.repeat(made[..., :1], 3, 2), made[..., 1:]], 2)
        if made.shape[2] == 4:
            cover = made[..., 3:4].astype(np.float32) / 255
            made = (made[..., :3] * cover + 255 * (1 - cover) + 0.5).astype(np.uint8)
        self._keep(path, np.ascontiguousarray(made))
        return made

    def _keep(self, path: Path, pixels: Any) -> None:
        part = path.with_suffix(f".{os.getpid()}.part")
        try:
            path.parent.mkdir(parents=True, exist_ok=True)
            Image.fromarray(pixels).save(part, "JPEG", quality=85)
            os.replace(part, path)
        except OSError:
            part.unlink(missing_ok=True)  # a cache that cannot be written is none
            return
        self._made += 1
        if self._made % _EVERY == 0:
            self.prune()

    def prune(self) -> None:
        """Forget those that were made first, where there are too many."""
        held = sorted(self.folder.glob("*/*.jpg"), key=lambda p: p.stat().st_mtime)
        for old in held[: max(0, len(held) - self.most)]:
            old.unlink(missing_ok=True)
