"""What lies around a picture's data in a file: its metadata, its density, its profile.

Each format's module takes a file apart into blocks and puts it together again with some of them
left out, others put in, and the compressed picture as it was, bit for bit.
"""

from __future__ import annotations

from collections.abc import Callable
from types import ModuleType

from aptandum.core.file.around import jpeg, png, tiff, webp
from aptandum.core.file.around.blocks import Around, Block, Unknown

_BY_FORMAT: dict[str, ModuleType] = {"jpeg": jpeg, "png": png, "webp": webp, "tiff": tiff}
FORMATS = tuple(_BY_FORMAT)
"""Formats of which what lies around the picture can be changed by itself."""


def blocks(data: bytes, format_: str) -> tuple[Block, ...]:
    """What lies around a picture, in the file's own order.

    Raises:
        Unknown: the file is built in a way that is not known here.
    """
    return _safely(_BY_FORMAT[format_].blocks, data)  # type: ignore[return-value]


def changed(data: bytes, format_: str, around: Around) -> bytes:
    """The same file with what lies around its picture changed, and the picture's data the same.

    Raises:
        Unknown: the file is built in a way that is not known here, or has no room for it.
    """
    return _safely(_BY_FORMAT[format_].changed, data, around)  # type: ignore[return-value]


def picture(data: bytes, format_: str) -> bytes:
    """The compressed picture and what says how it is coded, and nothing else: two files of which
    it is the same show the same pixels.

    Raises:
        Unknown: the file is built in a way that is not known here, or is not whole.
    """
    return _safely(_BY_FORMAT[format_].picture, data)  # type: ignore[return-value]


def _safely(do: Callable[..., object], *given: object) -> object:
    try:
        return do(*given)
    except Unknown:
        raise
    except Exception as error:  # a stranger's file: whatever is wrong, it is not taken apart
        raise Unknown(str(error)) from None


__all__ = ["FORMATS", "Around", "Block", "Unknown", "blocks", "changed", "picture"]
