"""A reader's side: what the first bytes of a JPEG XL file say, without its decoder.

Source: ISO/IEC 18181-1 (size header, image metadata, extra channels, colour encoding) and ISO/IEC 18181-2 (boxes).
Numbers are packed from each byte's lowest bit upwards.
"""

from __future__ import annotations

import mmap
import struct

from aptandum.core.frozen import frozen

Buffer = bytes | memoryview | mmap.mmap

_BOXES = 64
_HEAD = 4096
_SIGNATURE = b"\xff\x0a"
_RATIOS = ((1, 1), (12, 10), (4, 3), (3, 2), (16, 9), (5, 4), (2, 1))
_ALPHA, _SPOT, _BLACK, _FILTER = 0, 2, 4, 5
_TURNED = (5, 6, 7, 8)


@frozen
class Header:
    """What a codestream says of itself.

    Attributes:
        width, height: in pixels, as shown.
        bits: of each number.
        fractions: its numbers are fractions.
        moving: it is an animation.
        black: a channel of black ink stands beside its colours.
        profile: it carries a profile; otherwise its colours are named.
    """

    width: int
    height: int
    bits: int = 8
    fractions: bool = False
    moving: bool = False
    black: bool = False
    profile: bool = False


def read(data: Buffer) -> Header | None:
    """What a file says; ``None`` where it ends before it has said its size."""
    start = _codestream(data)
    head = bytes(data[start : start + _HEAD]) if start is not None else b""
    if head[:2] != _SIGNATURE:
        return None
    return _header(_Bits(head[2:]))


def _codestream(data: Buffer) -> int | None:
    """Where the compressed picture begins."""
    if bytes(data[:2]) == _SIGNATURE:
        return 0
    at = 0
    for _ in range(_BOXES):
        if at + 8 > len(data):
            return None
        size, name, head = struct.unpack_from(">I", data, at)[0], bytes(data[at + 4 : at + 8]), 8
        if size == 1 and at + 16 <= len(data):
            size, head = struct.unpack_from(">Q", data, at + 8)[0], 16
        if name == b"jxlc":
            return at + head
        if name == b"jxlp":
            return at + head + 4  # behind the part's number
        if size < head:
            return None
        at += size
    return None


class _Bits:
    def __init__(self, data: bytes) -> None:
        self._held, self._at, self._most = int.from_bytes(data, "little"), 0, len(data) * 8

    def take(self, count: int) -> int:
        value = (self._held >> self._at) & ((1 << count) - 1)
        self._at += count
        if self._at > self._most:
            raise EOFError
        return value

    def flag(self) -> bool:
        return bool(self.take(1))

    def either(self, *ways: tuple[int, int]) -> int:
        """One of four ways to say a number: a constant, and bits that are added to it."""
        base, bits = ways[self.take(2)]
        return base + self.take(bits)


def _header(bits: _Bits) -> Header | None:
    try:
        width, height = _size(bits)
    except EOFError:
        return None
    try:
        return _metadata(bits, width, height)
    except EOFError:
        return Header(width, height)


def _size(bits: _Bits) -> tuple[int, int]:
    small = bits.flag()

    def side() -> int:
        if small:
            return (bits.take(5) + 1) * 8
        return bits.either((1, 9), (1, 13), (1, 18), (1, 30))

    height = side()
    ratio = bits.take(3)
    if not ratio:
        return side(), height
    across, up = _RATIOS[ratio - 1]
    return height * across // up, height


def _metadata(bits: _Bits, width: int, height: int) -> Header:
    if bits.flag():  # everything as usual
        return Header(width, height)
    turned = moving = False
    if bits.flag():
        turned = bits.take(3) + 1 in _TURNED
        if bits.flag():
            _size(bits)
        if bits.flag():  # a preview: what stands behind it is left to the decoder
            return Header(*((height, width) if turned else (width, height)))
        moving = bits.flag()
    if turned:
        width, height = height, width
    if moving:
        return Header(width, height, moving=True)
    depth, fractions = _depth(bits)
    bits.flag()  # whether 16 bit are enough for its sums
    inks = [_channel(bits) for _ in range(bits.either((0, 0), (1, 0), (2, 4), (1, 12)))]
    bits.flag()  # whether its colours are coded by XYB
    usual = bits.flag()
    return Header(width, height, depth, fractions, False, any(inks), not usual and bits.flag())


def _depth(bits: _Bits) -> tuple[int, bool]:
    if not bits.flag():
        return bits.either((8, 0), (10, 0), (12, 0), (1, 6)), False
    depth = bits.either((32, 0), (16, 0), (24, 0), (1, 6))
    bits.take(4)
    return depth, True


def _channel(bits: _Bits) -> bool:
    """One more channel than its colours; whether it is black ink."""
    if bits.flag():
        return False  # transparency, as usual
    kind = bits.either((0, 0), (1, 0), (2, 4), (18, 6))
    _depth(bits)
    bits.either((0, 0), (3, 0), (4, 0), (1, 3))
    bits.take(8 * bits.either((0, 0), (0, 4), (16, 5), (48, 10)))
    if kind == _ALPHA:
        bits.flag()
    elif kind == _SPOT:
        bits.take(4 * 16)
    elif kind == _FILTER:
        bits.either((1, 0), (0, 2), (3, 4), (19, 8))
    return kind == _BLACK
