"""The header of an ordinary JPEG, walked marker by marker: what an audit of thousands reads.

Reading a header through Pillow builds tables and objects that nobody asks for here. This walk (ITU-T
T.81, annex B; JFIF 1.02; Exif 3.0) takes only what :class:`~aptandum.core.photo.facts.Facts` holds, and
only from files without anything unusual: whatever it does not know well it leaves to Pillow by
giving ``None``. Both ways must say the same of a file.
"""

from __future__ import annotations

import struct
from dataclasses import dataclass
from typing import IO

from aptandum.core.photo import places

_PLAIN = frozenset((*range(0xE3, 0xED), 0xED, 0xEF, 0xFE, 0xC4, 0xDD))
"""Segments that hold nothing that is asked: other applications', comments, tables, intervals."""

_FRAMES = {0xC0: False, 0xC1: False, 0xC2: True}
"""Kinds of frames that are read here: baseline, extended, and progressive."""

_SAMPLING = {(1, 1): "4:4:4", (2, 1): "4:2:2", (2, 2): "4:2:0"}

_SIZES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4}
"""Bytes that one value of each kind of entry takes (TIFF 6.0, section 2)."""

_MOST = 1 << 20
"""Bytes of a header, at most."""


@dataclass
class Header:
    """What an ordinary JPEG's header says.

    Attributes:
        density: JFIF's unit (0 none, 1 per inch, 2 per centimetre) and counts; ``None`` without.
        resolution: EXIF's x, y and unit (2 inch, 3 centimetre); ``None`` where not both are told.
    """

    width: int = 0
    height: int = 0
    channels: int = 0
    progressive: bool = False
    subsampling: str | None = None
    orientation: int = 1
    density: tuple[int, int, int] | None = None
    resolution: tuple[float, float, int] | None = None
    icc: bytes = b""
    location: bool = False


def read(stream: IO[bytes], head: bytes) -> Header | None:
    """Walk a JPEG's header. ``head`` are its first bytes, which have been read already.

    Returns ``None`` for whatever is not plain; the stream may then stand anywhere.
    """
    walk = _Walk()
    at, data = 2, head
    while True:
        if len(data) - at < 4:
            data += stream.read(16_384)
            if len(data) - at < 4 or len(data) > _MOST:
                return None
        if data[at] != 0xFF:
            return None
        marker, size = data[at + 1], (data[at + 2] << 8) | data[at + 3]
        if marker == 0xFF:
            at += 1
            continue
        if size < 2:
            return None
        end = at + 2 + size
        while len(data) < end:
            more = stream.read(max(16_384, end - len(data)))
            if not more or len(data) > _MOST:
                return None
            data += more
        if marker == 0xDA:  # the first scan: of how many channels, and two bytes for each
            return walk.header() if size >= 8 and size == 6 + 2 * data[at + 4] else None
        if not walk.plain(marker, data, at + 4, end):
            return None
        at = end


_GAIN = b"urn:iso:std:iso:ts:21496:-1\0"


class _Walk:
    """What the segments of a plain JPEG say, one after the other."""

    def __init__(self) -> None:
        self.made = Header()
        self._profile: list[bytes] = []
        self._inner = False
        self._seen_exif = False

    def plain(self, marker: int, data: bytes, at: int, end: int) -> bool:
        """Take in a segment (``data[at:end]``); False where it is not plain."""
        made = self.made
        if (
            marker in _PLAIN or marker == 0xEE
        ):  # EE: how the channels are coded, the decoder's affair
            return True
        if marker in _FRAMES:
            if made.channels or not _frame(data, at, end - at, made):
                return False
            made.progressive = _FRAMES[marker]
            return True
        if marker == 0xDB:
            return _whole_tables(data, at, end)
        if marker == 0xE0 and data[at : at + 5] == b"JFIF\0":
            if made.density is not None or end - at < 12:
                return False
            made.density = struct.unpack_from(">BHH", data, at + 7)
            return True
        if marker == 0xE1:
            return self._first(data, at, end)
        if marker == 0xE2 and data[at : at + 12] == b"ICC_PROFILE\0":
            self._profile.append(data[at + 12 : end])
            return True
        if marker == 0xE2:
            # several pictures in one file, or a gain map
            return data[at : at + 4] != b"MPF\0" and data[at : at + 28] != _GAIN
        return marker == 0xE0 and data[at : at + 4] != b"JFIF"  # nor one whose zero is spoilt

    def _first(self, data: bytes, at: int, end: int) -> bool:
        """An APP1 segment: EXIF, or XMP."""
        if data[at : at + 6] != b"Exif\0\0":
            self.made.location |= places.told_in(data[at:end])
            # turned, or with a gain map, as XMP alone tells
            alone = (b"Orientation", b"hdrgm:", b"HDRGainMap")
            return all(data.find(word, at - 4, end) < 0 for word in alone)
        found = None if self._seen_exif else _exif(data[at + 6 : end], self.made)
        if found is None:
            return False
        self._seen_exif, self._inner = True, found
        return True

    def header(self) -> Header | None:
        """What has been learnt; ``None`` where it is not whole."""
        made, profile = self.made, self._profile
        if not made.channels or (self._inner and not profile):
            return None  # a camera's own hint at its colours is Pillow's to read
        if profile:
            if len(profile) > 1:
                profile.sort()
            parts = [(p[0], p[1]) if len(p) >= 2 else None for p in profile]
            if parts != [(i, len(profile)) for i in range(1, len(profile) + 1)]:
                return None
            made.icc = b"".join(p[2:] for p in profile)
        return made


def _whole_tables(data: bytes, at: int, end: int) -> bool:
    """Whether a segment holds quantisation tables and nothing else: 64 numbers of 8 or 16 bit,
    each after a byte that says which."""
    while at < end:
        at += 65 if data[at] < 16 else 129
    return at == end


def _frame(data: bytes, at: int, size: int, made: Header) -> bool:
    """A frame's header: bits, height, width, and the channels with their sampling."""
    if size < 6:
        return False
    bits, made.height, made.width, n = struct.unpack_from(">BHHB", data, at)
    if bits != 8 or n not in (1, 3) or size != 6 + 3 * n or not made.height or not made.width:
        return False
    made.channels = n
    if n == 3:
        first, second = data[at + 7], data[at + 10]
        across, up = second >> 4, second & 15
        if not across or not up:
            return False
        pair = (first >> 4) // across, (first & 15) // up
        made.subsampling = _SAMPLING.get(pair, f"{pair[0]}x{pair[1]}")
    return True


def _exif(block: bytes, made: Header) -> bool | None:
    """EXIF's first directory; gives whether the camera's own is there too, ``None`` where
    anything is not as it usually is."""
    order = {b"II*\0": "<", b"MM\0*": ">"}.get(block[:4])
    if order is None or len(block) < 14:
        return None
    entry = struct.Struct(order + "HHI4s")
    short, long = struct.Struct(order + "H"), struct.Struct(order + "I")
    rows = _rows(block, long.unpack_from(block, 4)[0], entry, short)
    if rows is None:
        return None
    told: dict[int, float] = {}
    for tag, kind, n, value in rows:
        if tag in (0x0112, 0x0128):
            if kind != 3 or n != 1:
                return None
            told[tag] = short.unpack_from(value)[0]
        elif tag in (0x011A, 0x011B):
            spot = long.unpack(value)[0]
            if kind != 5 or n != 1 or spot + 8 > len(block):
                return None
            over, under = struct.unpack_from(order + "II", block, spot)
            if not under:
                return None
            told[tag] = over / under
        elif tag == 0x8825:
            place = _rows(block, long.unpack(value)[0], entry, short)
            if kind not in (4, 13) or n != 1 or place is None:
                return None
            told_of = [row for row in place if row[0] in (2, 4)]
            if any(row[1:3] != (5, 3) for row in told_of):
                return None  # degrees, minutes and seconds they are, or Pillow has its say
            made.location |= bool(told_of)
    orientation = int(told.get(0x0112, 1))
    made.orientation = orientation if 1 <= orientation <= 8 else 1
    if 0x011A in told and 0x011B in told:
        made.resolution = told[0x011A], told[0x011B], int(told.get(0x0128, 2))
    return any(row[0] in (0x8769, 0xA005) for row in rows)


def _rows(
    block: bytes, at: int, entry: struct.Struct, short: struct.Struct
) -> list[tuple[int, int, int, bytes]] | None:
    """The entries of one directory, each tag once; ``None`` where they do not lie inside, or where
    one is of a kind that TIFF 6.0 does not know or has no value inside."""
    if at < 8 or at + 2 > len(block):
        return None
    n = short.unpack_from(block, at)[0]
    if at + 2 + 12 * n > len(block):
        return None
    rows: list[tuple[int, int, int, bytes]] = []
    for i in range(n):
        row = entry.unpack_from(block, at + 2 + 12 * i)
        _tag, kind, count, value = row
        size = count * _SIZES.get(kind, 0)
        if not size:
            return None
        if size > 4:
            spot = int.from_bytes(value, "little" if entry.format[0] == "<" else "big")
            if spot < 8 or spot + size > len(block):
                return None
        rows.append(row)
    return rows if len({row[0] for row in rows}) == n else None
