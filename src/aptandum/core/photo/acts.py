"""What a reader of photos can be asked. Runs in its process, never in the application's."""

from __future__ import annotations

import importlib
import os
from collections.abc import Callable
from functools import lru_cache
from importlib import resources
from importlib.resources.abc import Traversable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from aptandum.core.later import pyvips
from aptandum.core.photo import (
    decoders,
    header,
    jumps,
    jxl,
    limits,
    plain,
    profile,
)
from aptandum.core.photo.arrays import from_array
from aptandum.core.photo.facts import Facts, NotInside, PhotoError, damaged, sniff
from aptandum.core.readers.process import Call, Unready
from aptandum.core.words import say

_PLUGINS = {
    "avif": ("Avif",),
    "bmp": ("Bmp",),
    "gif": ("Gif",),
    "jpeg": ("Jpeg", "Mpo"),
    "png": ("Png",),
    "tiff": ("Tiff",),
    "webp": ("WebP",),
}
"""Those of Pillow, by format; importing them is what makes them known."""

_CHECKED = ("lossless.webp", "deep.tif", "deflate.tif", "jpeg.tif", "plain.jxl")
"""Files that are also looked at for damage, each in a way of its own."""
_FORMATS = {"uchar": 1, "ushort": 2}


_only = ""
"""The one format that this reader is ready for; empty: all of them."""


def make_ready(only: str = "") -> None:
    """Load whatever is loaded late: once everything is given up, no module, table or plugin can be.

    Args:
        only: be ready for no more than the facts of files of this format, which takes half as long.
    """
    # No other plugin is ever looked for: what nobody here reads cannot be attacked.
    Image._initialized = 2
    limits.guard_libraries()
    for format_, names in _PLUGINS.items():
        for name in names if only in ("", format_) else ():
            importlib.import_module(f"PIL.{name}ImagePlugin")
    if only:
        _ready_for(only)
    else:
        _ready_for_all()
    profile.identify(profile.shipped("srgb"))
    _used(profile.shipped("srgb"))
    "ready".encode("utf-16-be").decode("utf-16-be", "replace").encode("latin-1").decode(
        "utf-8", "replace"
    )


def _ready_for(only: str) -> None:
    global _only
    _only = only
    for file in _ready_files():
        data = file.read_bytes()
        if sniff(data[:512]) == only:
            decoders.check_pixels(data, header.facts_of_bytes(data, "ready"))
            decoders.check_pixels(data[:-40], header.facts_of_bytes(data[:-40], "ready"))
    jumps.breaks(_lively(), 16)


def _ready_files() -> list[Traversable]:
    return sorted(resources.files("aptandum.data").joinpath("ready").iterdir(), key=str)


def _lively() -> NDArray[np.uint8]:
    """A picture that is lively enough to be looked at for breaks, and flat below."""
    rows, columns, bands = np.ogrid[:80, :320, :3]
    made: NDArray[np.uint8] = ((rows * 73 + columns * 151 + bands * 57) ** 2 % 251).astype(np.uint8)
    made[32:48, 160:], made[48:] = 250, 250
    return made


def _ready_for_all() -> None:
    import pillow_heif

    from aptandum.core.photo import inside_file, metadata_read

    metadata_read.credit_of(b"")
    pillow_heif.register_heif_opener(thumbnails=False)
    jxl.register()
    room = memoryview(bytearray(24 * 16 * 16))
    for file in _ready_files():
        data = file.read_bytes()
        known = header.facts_of_bytes(data, "ready")
        decoders.second(data, known)
        image, _turn = decoders.open_pixels(data, known)
        _written(image, room)
        if file.name in _CHECKED:
            decoders.check_pixels(data, known)
        if file.name.startswith("plain"):
            held = inside_file.InFile(data, known)
            _ = (held.packing, held.bits_per_pixel, held.colours, held.times, held.speaks)
            decoders.check_pixels(data, known)
            decoders.check_pixels(data[:-40], known)
            header.facts_of_bytes(data[:40], "ready")
    jumps.breaks(_lively(), 16)
    _have_room_for_products()
    decoders.whole_jpeg(plain_jpeg := _ready("plain.jpg"), header.facts_of_bytes(plain_jpeg), 2)


def _have_room_for_products() -> None:
    """OpenBLAS takes memory for itself at the first product that is not small, keeps it, and ends the process where it is
    refused: it takes it now."""
    for kind in (np.float32, np.float64):
        one = np.ones((160, 160), kind)
        _ = one @ one, one @ one[0]


def _ready(name: str) -> bytes:
    return resources.files("aptandum.data").joinpath("ready", name).read_bytes()


@lru_cache(maxsize=64)
def _used(icc: bytes) -> None:
    """Have the colour engine use a profile on a few pixels: one that ends it ends this process, and not the one
    that converts whole pictures by it."""
    bands = {b"GRAY": 1, b"CMYK": 4}.get(icc[16:20], 3)
    image = from_array(np.full((4, 4, bands), 100, np.uint8))
    if bands == 4:
        image = image.copy(interpretation="cmyk")
    try:
        image = image.copy()
        image.set_type(pyvips.GValue.blob_type, "icc-profile-data", icc)
        for intent in ("relative", "perceptual"):
            image.icc_import(embedded=True, intent=intent, pcs="lab").avg()
    except pyvips.Error:
        pass  # the application says so itself where it comes to it


def facts(call: Call) -> list[list[Any]]:
    """The facts of each file, from its header."""
    made: list[Facts] = []
    for place, (handle, (file, size)) in enumerate(
        zip(call.files, call.args["items"], strict=True)
    ):
        call.next_file(place)
        with os.fdopen(handle, "rb", closefd=False) as stream:
            stream.seek(0)
            found = header.facts_of(stream, file, size)
        if _only not in ("", found.format):
            raise Unready
        if found.icc_bytes:
            _used(found.icc_bytes)
        made.append(found)
    return plain.told_many(made)


def _facts(call: Call) -> Facts:
    known = plain.facts(call.args["facts"])
    if _only not in ("", known.format):
        raise Unready
    return known


def check(call: Call) -> list[Any]:
    """Whether every pixel can be read."""
    own = bool(call.args.get("own"))
    return plain.told(decoders.check_pixels(call.bytes_of(), _facts(call), own=own))


def opaque(call: Call) -> bool:
    """Whether every pixel is fully opaque."""
    return decoders.opaque(call.bytes_of(), _facts(call))


def second_opaque(call: Call) -> bool:
    """The same by the second reader."""
    return decoders.second_opaque(call.bytes_of())


def clearness(call: Call) -> tuple[bool, bool] | None:
    """Whether nothing is seen along its edges, and whether any pixel is less than opaque."""
    return decoders.clearness(call.bytes_of(), _facts(call))


def pixels(call: Call) -> dict[str, Any]:
    """A picture's stored pixels into the room, row by row; ``again`` where it was begun anew on the way."""
    room, known = _room(call), _facts(call)
    shrink, strict = int(call.args["shrink"]), str(call.args["strict"])
    data = call.bytes_of()
    again = 0
    if strict == "error" and known.format == "jpeg":
        again = 1
        whole = decoders.whole_jpeg(data, known, 8 // shrink, room, most=None)
        if whole is not None:
            space = "srgb" if whole.shape[2] == 3 else "b-w"
            return {**_said(whole.shape, "uchar", space, known.orientation or 1), "again": False}
    # What can be read of a damaged picture is shown; whether a file is made of it is asked elsewhere.
    for way in dict.fromkeys((strict, "none")):
        image, turn = decoders.open_pixels(data, replace_turn(known), shrink, strict=way)
        try:
            made = _written(image, room)
        except pyvips.Error as error:
            if "out of memory" in str(error):
                raise MemoryError from None
            if way == "none" or strict != "error":
                raise damaged(known, str(error)) from None
            again += 1
            continue
        break
    return {**made, "orientation": turn, "again": again > 0}


def replace_turn(known: Facts) -> Facts:
    """The facts as of the file alone: what a person turned it by is the application's to say."""
    return known.turned_by(1) if known.turn != 1 else known


def _written(image: pyvips.Image, room: memoryview) -> dict[str, Any]:
    """An image's pixels into memory, while they are decoded."""
    if image.format not in _FORMATS:
        raise PhotoError(say("Pixels of this kind are not read."))
    at = 0
    target = pyvips.TargetCustom()

    def write(part: bytes) -> int:
        nonlocal at
        size = len(part)
        if at + size > len(room):
            return 0  # more than was announced
        room[at : at + size] = part
        at += size
        return size

    target.on_write(write)
    image.rawsave_target(target)
    shape = image.height, image.width, image.bands
    if at != shape[0] * shape[1] * shape[2] * _FORMATS[image.format]:
        raise pyvips.Error("premature end")
    return _said(shape, image.format, image.interpretation, 1)


def _said(shape: tuple[int, ...], format_: str, space: str, orientation: int) -> dict[str, Any]:
    return {"shape": list(shape), "format": format_, "space": space, "orientation": orientation}


def _room(call: Call) -> memoryview:
    if call.room is None:
        raise PhotoError(say("There is no room for pixels."))
    return call.room


def jpeg(call: Call) -> list[int] | None:
    """A JPEG's pixels, reduced to so many eighths, into the room; ``None`` where that is not the way to go."""
    whole = decoders.whole_jpeg(
        call.bytes_of(), _facts(call), int(call.args["eighths"]), _room(call)
    )
    return None if whole is None else list(whole.shape)


def second(call: Call) -> dict[str, Any]:
    """A picture's pixels by the second reader, into the room."""
    array = decoders.second(call.bytes_of(), _facts(call))
    room = _room(call)
    np.frombuffer(room, array.dtype, array.size).reshape(array.shape)[...] = array
    return {"shape": list(array.shape), "format": "ushort" if array.dtype == np.uint16 else "uchar"}


_INSIDE = ("packing", "quality", "bits_per_pixel", "colours", "times", "speaks", "told")


def inside(call: Call) -> dict[str, Any]:
    """What a file holds beside its header; each as its value and why there is none."""
    from aptandum.core.photo import inside_file

    held = inside_file.InFile(call.bytes_of(), _facts(call))
    made: dict[str, Any] = {}
    for what in call.args["what"]:
        try:
            value: Any = getattr(held, what) if what in _INSIDE else None
            made[what] = plain.credit_told(value) if what == "told" else value, None
        except NotInside as error:
            made[what] = None, str(error)
    return made


def credit(call: Call) -> dict[str, Any]:
    """What a file's metadata tell."""
    from aptandum.core.photo import metadata_read

    return plain.credit_told(metadata_read.credit_of(call.bytes_of()))


ONLY = ("facts", "check")
"""What a reader that is ready for one format may be asked."""

ACTS: dict[str, Callable[[Call], Any]] = {
    "facts": facts,
    "check": check,
    "opaque": opaque,
    "second_opaque": second_opaque,
    "clearness": clearness,
    "pixels": pixels,
    "jpeg": jpeg,
    "second": second,
    "inside": inside,
    "credit": credit,
}
