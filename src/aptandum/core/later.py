"""Large libraries that are loaded when they are first used, so that what needs none of them starts at once.

For modules that every start goes through. Elsewhere a plain ``import`` says the same more plainly. They stand for
the library itself: ``from aptandum.core.later import np``. Nothing of them may be touched while a module is
imported, or they are loaded then.
"""

from __future__ import annotations

import importlib
import os
import types
from collections.abc import Callable
from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    import ai_edge_litert.interpreter as litert
    import cv2
    import numpy as np
    import pyjpegxl
    import pyvips
    import regex
    import tomlkit
    from PIL import (
        Image,
        ImageCms,
        ImageDraw,
        ImageFont,
        IptcImagePlugin,
        PngImagePlugin,
        TiffImagePlugin,
    )

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
"""NumPy's products are of narrow bands, by as many threads as a photo may have: more of its own only wait for them."""


class Later(types.ModuleType):
    """Stands for a module until something of it is asked for; several threads may ask at once, since Python's own
    lock makes one import of it."""

    def __init__(self, name: str, then: Callable[[Any], None] | None = None) -> None:
        super().__init__(name)
        self.__dict__["_then"] = then

    def __setattr__(self, name: str, value: Any) -> None:
        setattr(importlib.import_module(self.__name__), name, value)

    def __getattr__(self, name: str) -> Any:
        if name.startswith("__"):
            raise AttributeError(name)
        module = importlib.import_module(self.__name__)
        if self.__dict__["_then"] is not None:
            self.__dict__["_then"](module)
            self.__dict__["_then"] = None
        found = getattr(module, name)
        self.__dict__[name] = found
        return found


def _guarded(vips: Any) -> None:
    # A file overwritten on disk would otherwise be served from libvips' cache.
    vips.cache_set_max(0)
    vips.block_untrusted_set(True)


if not TYPE_CHECKING:
    np = Later("numpy")
    cv2 = Later("cv2")
    litert = Later("ai_edge_litert.interpreter")
    pyjpegxl = Later("pyjpegxl")
    pyvips = Later("pyvips", _guarded)
    regex = Later("regex")
    tomlkit = Later("tomlkit")
    Image = Later("PIL.Image")
    ImageCms = Later("PIL.ImageCms")
    ImageDraw = Later("PIL.ImageDraw")
    ImageFont = Later("PIL.ImageFont")
    IptcImagePlugin = Later("PIL.IptcImagePlugin")
    PngImagePlugin = Later("PIL.PngImagePlugin")
    TiffImagePlugin = Later("PIL.TiffImagePlugin")

__all__ = [
    "Image",
    "ImageCms",
    "ImageDraw",
    "ImageFont",
    "IptcImagePlugin",
    "PngImagePlugin",
    "TiffImagePlugin",
    "cv2",
    "litert",
    "np",
    "pyjpegxl",
    "pyvips",
    "regex",
    "tomlkit",
]
