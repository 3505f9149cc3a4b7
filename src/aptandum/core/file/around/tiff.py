"""TIFF (6.0) of one page: a directory of entries, and strips or tiles that lie anywhere."""

from __future__ import annotations

import struct

from aptandum.core.file.around.blocks import Around, Block, Kind, Unknown

_WIDTHS = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4}
_EXIF, _GPS, _XMP, _IPTC, _RESOURCES, _ICC = 34665, 34853, 700, 33723, 34377, 34675
_STRIPS, _TILES = (273, 279), (324, 325)
_X, _Y, _UNIT = 282, 283, 296
_SHOWN = {
    254, 255, 256, 257, 258, 259, 262, 263, 266, 273, 274, 277, 278, 279, 280, 281, 284, 290, 291,
    292, 293, 297, 301, 317, 318, 319, 320, 321, 322, 323, 324, 325, 332, 333, 334, 336, 338, 339,
    340, 341, 347, 512, 529, 530, 531, 532, 34675,
}  # fmt: skip
"""Entries that say how the picture is coded and shown."""

_TOLD = {270: "text", 271: "text", 272: "text", 305: "text", 306: "text", 315: "text",
         316: "text", 33432: "text", 269: "text", 285: "text", 337: "text"}  # fmt: skip

Entry = tuple[int, int, bytes]
"""Type, count and value of an entry."""


class _File:
    def __init__(self, data: bytes) -> None:
        self.data = data
        order = {b"II*\0": "<", b"MM\0*": ">"}.get(data[:4])
        if order is None:
            raise Unknown("no TIFF of 32 bit")
        self.order = order
        (at,) = struct.unpack_from(order + "I", data, 4)
        self.entries, after = self.directory(at)
        if after:
            raise Unknown("more than one page")

    def directory(self, at: int) -> tuple[dict[int, Entry], int]:
        (count,) = struct.unpack_from(self.order + "H", self.data, at)
        found: dict[int, Entry] = {}
        for i in range(count):
            place = at + 2 + 12 * i
            tag, kind, n = struct.unpack_from(self.order + "HHI", self.data, place)
            size = _WIDTHS[kind] * n
            start = place + 8
            if size > 4:
                (start,) = struct.unpack_from(self.order + "I", self.data, start)
            value = self.data[start : start + size]
            if len(value) != size:
                raise Unknown("an entry that is cut short")
            found[tag] = kind, n, value
        (after,) = struct.unpack_from(self.order + "I", self.data, at + 2 + 12 * count)
        return found, after

    def numbers(self, tag: int) -> tuple[int, ...]:
        kind, n, value = self.entries[tag]
        return struct.unpack(self.order + {3: "H", 4: "I"}[kind] * n, value)


def _kind(tag: int) -> Kind:
    if tag in (_EXIF, _GPS) or tag in _TOLD:
        return "exif"
    if tag in (_X, _Y, _UNIT):
        return "density"
    named: dict[int, Kind] = {_XMP: "xmp", _IPTC: "iptc", _RESOURCES: "iptc", _ICC: "icc"}
    return named.get(tag, "picture" if tag in _SHOWN else "other")


def blocks(data: bytes) -> tuple[Block, ...]:
    """Every block but the picture's own; the EXIF block is the file itself, whose first directory
    holds its entries."""
    file = _File(data)
    found = [Block("exif", data)]
    for tag, (_type, _n, value) in file.entries.items():
        kind = _kind(tag)
        if kind not in ("picture", "exif"):
            found.append(Block(kind, value))
    return tuple(found)


def changed(data: bytes, around: Around) -> bytes:
    """The file with what lies around its picture changed: written anew about the same strips."""
    file = _File(data)
    order = file.order
    if 330 in file.entries:
        raise Unknown("pictures inside the picture")
    kept = {
        tag: entry
        for tag, entry in file.entries.items()
        if not (_kind(tag) == "exif" and around.exif is not None)
        and not (_kind(tag) == "density" and around.ppi is not None)
        and _kind(tag) not in around.leave_out
    }
    if around.exif is None and (_EXIF in kept or _GPS in kept):
        if around.leave_out:
            raise Unknown("directories that would be moved")
        return _appended(file, kept, around)
    if around.ppi is not None:
        ratio = struct.pack(order + "II", round(around.ppi * 1000), 1000)
        kept |= {_X: (5, 1, ratio), _Y: (5, 1, ratio), _UNIT: (3, 1, struct.pack(order + "H", 2))}
    if around.icc and _ICC not in kept:
        kept[_ICC] = 7, len(around.icc), around.icc
    out = bytearray(data[:4] + b"\0\0\0\0")
    for places, sizes in (_STRIPS, _TILES):
        if places in kept:
            moved = []
            for at, size in zip(file.numbers(places), file.numbers(sizes), strict=True):
                if at + size > len(data):
                    raise Unknown("a strip that is cut short")
                out += b"\0" * (len(out) % 2)
                moved.append(len(out))
                out += data[at : at + size]
            kept[places] = 4, len(moved), struct.pack(order + "I" * len(moved), *moved)
    inner: dict[int, int] = {}
    if around.exif:
        told, inner = _told(around.exif, order, out)
        kept |= {tag: entry for tag, entry in told.items() if tag not in kept}
    return _written(out, kept, inner, order)


def _told(block: bytes, order: str, out: bytearray) -> tuple[dict[int, Entry], dict[int, int]]:
    """The entries of an EXIF block, and where its inner directories now lie."""
    told = _File(block)
    found = dict(told.entries)
    for tag in (_X, _Y, _UNIT):
        found.pop(tag, None)
    inner = {}
    for tag in (_EXIF, _GPS):
        if tag in found:
            (at,) = struct.unpack(told.order + "I", found.pop(tag)[2])
            entries, _after = told.directory(at)
            inner[tag] = _directory(out, _ordered(entries, told.order, order), {}, order)
    return _ordered(found, told.order, order), inner


_UNITS = {3: 2, 4: 4, 5: 4, 8: 2, 9: 4, 10: 4, 11: 4, 12: 8, 13: 4}
"""Bytes of each number in a value, of TIFF's types that have an order of bytes."""


def _ordered(entries: dict[int, Entry], have: str, want: str) -> dict[int, Entry]:
    """Entries whose numbers are in another order of bytes."""
    if have == want:
        return entries
    made = {}
    for tag, (kind, n, value) in entries.items():
        unit = _UNITS.get(kind, 1)
        parts = (value[at : at + unit][::-1] for at in range(0, len(value), unit))
        made[tag] = kind, n, b"".join(parts)
    return made


def _directory(out: bytearray, entries: dict[int, Entry], inner: dict[int, int], order: str) -> int:
    """Write a directory and what its entries point at; where it lies."""
    rows = []
    for tag in sorted({*entries, *inner}):
        if tag in inner:
            rows.append(struct.pack(order + "HHII", tag, 4, 1, inner[tag]))
            continue
        kind, n, value = entries[tag]
        if len(value) > 4:
            out += b"\0" * (len(out) % 2)
            held = struct.pack(order + "I", len(out))
            out += value
        else:
            held = value.ljust(4, b"\0")
        rows.append(struct.pack(order + "HHI", tag, kind, n) + held)
    out += b"\0" * (len(out) % 2)
    at = len(out)
    out += struct.pack(order + "H", len(rows)) + b"".join(rows) + struct.pack(order + "I", 0)
    return at


def _written(out: bytearray, entries: dict[int, Entry], inner: dict[int, int], order: str) -> bytes:
    at = _directory(out, entries, inner, order)
    struct.pack_into(order + "I", out, 4, at)
    return bytes(out)


def _appended(file: _File, kept: dict[int, Entry], around: Around) -> bytes:
    """The file as it is, and a new directory behind it: its inner directories hold places in the
    file that nothing may move."""
    order = file.order
    if around.ppi is not None:
        ratio = struct.pack(order + "II", round(around.ppi * 1000), 1000)
        kept |= {_X: (5, 1, ratio), _Y: (5, 1, ratio), _UNIT: (3, 1, struct.pack(order + "H", 2))}
    if around.icc and _ICC not in kept:
        kept[_ICC] = 7, len(around.icc), around.icc
    return _written(bytearray(file.data), kept, {}, order)


def picture(data: bytes) -> bytes:
    """The strips or tiles, and what says how they are coded."""
    file = _File(data)
    parts = []
    for places, sizes in (_STRIPS, _TILES):
        if places in file.entries:
            for at, size in zip(file.numbers(places), file.numbers(sizes), strict=True):
                parts.append(data[at : at + size])
    coded = {
        tag: entry for tag, entry in sorted(file.entries.items())
        if tag in _SHOWN and tag not in (273, 324, _ICC)
    }  # fmt: skip
    return b"".join(parts) + repr(coded).encode()
