"""The words of the formats' modules: a block, and what is to become of all of them."""

from __future__ import annotations

import struct
from typing import Literal

from aptandum.core.errors import AptandumError
from aptandum.core.frozen import frozen

Kind = Literal["exif", "xmp", "iptc", "icc", "density", "text", "trailer", "other", "picture"]


class Unknown(AptandumError):
    """A file whose build is not known here; it is then encoded anew."""


@frozen
class Block:
    """One block.

    Attributes:
        kind: what it holds; ``trailer`` is what follows the picture's end, ``other`` what is not
            known here.
        body: its content, without the format's own marks.
    """

    kind: Kind
    body: bytes


@frozen
class Around:
    """What is to be changed.

    Attributes:
        leave_out: kinds of blocks that go.
        exif: an EXIF block (TIFF structure) to be put in instead of the file's own; ``None``: the
            file's own stays; empty: none.
        ppi: pixels per inch to be stated; ``None``: what the file states stays.
        icc: a profile to be put in where the file has none; empty: none is put in.
    """

    leave_out: frozenset[Kind] = frozenset()
    exif: bytes | None = None
    ppi: float | None = None
    icc: bytes = b""


_XRES, _YRES, _UNIT = 282, 283, 296


def density_in(block: bytes, ppi: float) -> bytes:
    """An EXIF block with its density changed in place, where it states one."""
    made = bytearray(block)
    order = {b"II": "<", b"MM": ">"}.get(bytes(made[:2]))
    if order is None:
        return block
    (at,) = struct.unpack_from(order + "I", made, 4)
    (count,) = struct.unpack_from(order + "H", made, at)
    for i in range(count):
        place = at + 2 + 12 * i
        tag, kind, n, value = struct.unpack_from(order + "HHII", made, place)
        if tag in (_XRES, _YRES) and kind == 5 and n == 1:
            struct.pack_into(order + "II", made, value, round(ppi * 1000), 1000)
        elif tag == _UNIT and kind == 3:
            struct.pack_into(order + "H", made, place + 8, 2)
    return bytes(made)
