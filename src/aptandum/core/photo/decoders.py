"""A reader's side: pixels out of a file's bytes. Limits first, then a streamed decode that can be reduced on the way.

libvips does the decoding, from bytes in memory (a file name can hold bytes and brackets that
it would read as options). BMP and animated AVIF, which it does not read, come through Pillow.
"""

from __future__ import annotations

import io
import mmap
from dataclasses import replace
from typing import Any

import numpy as np
import simplejpeg
from numpy.typing import NDArray
from PIL import Image

from aptandum.core.later import pyvips
from aptandum.core.photo import damage, jumps, jxl, limits
from aptandum.core.photo.arrays import from_array, memory_of
from aptandum.core.photo.facts import Facts, PhotoError, damaged, shown_name
from aptandum.core.photo.turning import then
from aptandum.core.words import say

_DAMAGE = ("premature", "huffman", "truncat", "not enough", "bad data", "unexpected end", "eof")


_RIM_CLEAR = 0.99
"""The share of the pixels along all edges that must be wholly clear."""


def clearness(data: Data, facts: Facts) -> tuple[bool, bool] | None:
    """Whether nothing is seen along a picture's edges, and whether any pixel of it is less than opaque; ``None`` where
    its pixels cannot be read."""
    try:
        image, _turn = open_pixels(data, facts)
        if not image.hasalpha():
            return False, False
        alpha = memory_of(image[image.bands - 1])
    except (PhotoError, pyvips.Error, MemoryError):
        return None  # whoever needs the pixels says what is wrong with them
    rim = np.concatenate([alpha[0], alpha[-1], alpha[:, 0], alpha[:, -1]])
    top = np.iinfo(alpha.dtype).max
    return bool((rim == 0).mean() >= _RIM_CLEAR), bool(alpha.min() < top)


Data = bytes | mmap.mmap
"""A file's bytes, or a map of them."""


def stream_of(data: Data) -> Any:
    """The bytes as a file that Pillow reads, from their beginning."""
    if isinstance(data, bytes):
        return io.BytesIO(data)
    data.seek(0)
    return data


def _from_bytes(data: Data, options: dict[str, Any]) -> pyvips.Image:
    if isinstance(data, bytes):
        return pyvips.Image.new_from_buffer(data, "", **options)
    return pyvips.Image.new_from_source(pyvips.Source.new_from_memory(data), "", **options)


def _through_pillow(data: Data) -> pyvips.Image:
    limits.guard_libraries()
    with Image.open(stream_of(data)) as opened:
        opened.load()
        picture: Image.Image = opened
        if picture.mode == "1":
            picture = picture.convert("L")
        elif picture.mode not in ("L", "RGB", "RGBA", "CMYK"):
            alpha = "transparency" in picture.info or picture.mode in ("LA", "PA")
            picture = picture.convert("RGBA" if alpha else "RGB")
        image = from_array(np.asarray(picture))
        return image.copy(interpretation="cmyk") if picture.mode == "CMYK" else image


def _through_heif(data: Data, facts: Facts) -> pyvips.Image:
    """The picture that a HEIC file names as its own, turned as the file says; deeper ones in 16 bit."""
    import pillow_heif

    try:
        held = pillow_heif.open_heif(stream_of(data), convert_hdr_to_8bit=False)
        picture = held[held.primary_index]
        array = np.asarray(picture)
    except MemoryError:
        raise
    except Exception as error:  # libheif's own kinds, and ValueError
        raise damaged(facts, str(error)) from None
    if array.dtype == np.uint16:  # its bits stand on the left: repeated, so that white is white
        bits = int(str(picture.info.get("bit_depth") or 10))
        array = array | (array >> bits)
    return from_array(array if array.ndim == 3 else array[..., None])


def _through_jxl(data: Data, facts: Facts) -> pyvips.Image:
    try:
        return from_array(jxl.pixels_of(data, facts.bits or 8))
    except MemoryError:
        raise
    except Exception as error:  # libjxl's own kinds
        raise damaged(facts, str(error)) from None


def _as_said(image: pyvips.Image, facts: Facts) -> pyvips.Image:
    """A decoder's picture as the header has it: one channel of what is grey, and no more than a GIF's own screen."""
    if facts.mode in ("grey", "mono") and image.bands >= 3:
        image = image[0].bandjoin(image[image.bands - 1]) if image.hasalpha() else image[0]
        image = image.copy(interpretation="b-w")
    if facts.format == "gif" and (image.width, image.height) != (facts.width, facts.height):
        image = image.crop(0, 0, facts.width or 1, facts.height or 1)
    return image


def open_pixels(
    data: Data, facts: Facts, shrink: int = 1, *, streamed: bool = True, strict: str = "error"
) -> tuple[pyvips.Image, int]:
    """Open a picture's pixels for one pass from top to bottom.

    Args:
        data: the file's bytes.
        facts: what :func:`facts_of_bytes` said of them.
        shrink: 1, 2, 4 or 8: a JPEG is reduced by this while it is decoded, WebP too; other
            formats come whole.
        streamed: read once from top to bottom; False allows any order, at the cost of memory.
        strict: how libvips treats damage: ``error`` or ``warning``.

    Returns:
        the image as stored, and the EXIF orientation that is still to be applied: the file's
        own (none where the decoder has turned it already), and what a person turned it by.

    Raises:
        PhotoError: the picture is too large or its pixels cannot be read.
    """
    name = shown_name(facts.file)
    cause = limits.too_large(facts.width or 0, facts.height or 0)
    if facts.error or cause:
        raise PhotoError(
            facts.error or say("{file} is not opened: {cause}.", file=name, cause=cause)
        )
    orientation = facts.orientation or 1
    animated_avif = facts.format == "avif" and (facts.frames or 1) > 1
    if facts.format == "bmp" or animated_avif:
        try:
            return _through_pillow(data), then(orientation, facts.turn)
        except Exception as error:  # Pillow raises many kinds on damaged data
            raise damaged(facts, str(error)) from None
    if facts.format == "heic":
        return _through_heif(data, facts), facts.turn
    if facts.format == "jxl":
        return _through_jxl(data, facts), facts.turn
    access = "sequential" if streamed else "random"
    options: dict[str, Any] = {"access": access, "fail_on": strict}
    if facts.format in ("jpeg",) and shrink > 1:
        options["shrink"] = shrink
    if facts.format == "webp" and shrink > 1:
        options["scale"] = 1 / shrink
    try:
        image = _from_bytes(data, options)
    except pyvips.Error as error:
        raise damaged(facts, str(error)) from None
    if facts.format == "avif":
        orientation = 1
    if image.interpretation == "cmyk" and image.bands > 4:
        image = image[0:4]
    return _as_said(image, facts), then(orientation, facts.turn)


_AT_ONCE = 40_000_000
"""Pixels of a JPEG that are decoded at once; more of them are streamed, to keep memory small."""


def whole_jpeg(
    data: Data,
    facts: Facts,
    eighths: int = 8,
    room: memoryview | None = None,
    most: int | None = _AT_ONCE,
) -> NDArray[np.uint8] | None:
    """A JPEG's stored pixels, (height, width, 1 or 3), reduced to so many eighths on the way (a
    block of 8 x 8 is decoded to as many).

    libjpeg-turbo alone, without libvips' line by line hand-over: the same pixels in two thirds
    of the time. ``None`` where the file is of another kind, larger than is good to hold at once,
    or gives the least cause for complaint; :func:`open_pixels` then tells what is wrong, if
    anything is.

    Args:
        room: memory into which it is decoded.
        most: pixels that are decoded at once.
    """
    want = -(-(facts.height or 0) * eighths // 8), -(-(facts.width or 0) * eighths // 8)
    bands = {"rgb": 3, "grey": 1}.get(facts.mode or "")
    if facts.format != "jpeg" or bands is None or (most is not None and want[0] * want[1] > most):
        return None
    if facts.error or limits.too_large(facts.width or 0, facts.height or 0):
        return None
    colours = "GRAY" if bands == 1 else "RGB"
    least = want if eighths < 8 else (0, 0)
    size = want[0] * want[1] * bands
    if room is not None and len(room) < size:
        return None
    into = None if room is None else np.frombuffer(room, np.uint8, size)
    try:
        pixels = simplejpeg.decode_jpeg(
            data, colours, min_height=least[0], min_width=least[1], min_factor=1, buffer=into
        )
    except (ValueError, RuntimeError):
        return None
    return pixels if pixels.shape == (*want, bands) else None


_MOST_AT_ONCE = 120_000_000


def _complaint(data: Data, facts: Facts, own: bool) -> str:
    """What speaks against a picture's compressed data, beside what its decoder says; empty where nothing does."""
    if (facts.width or 0) * (facts.height or 0) > _MOST_AT_ONCE:
        return ""
    if facts.format == "jpeg" and _at_once(facts):
        return damage.in_jpeg(bytes(data[:]), 0 if own else jumps.side_of(facts))
    if facts.format == "webp":
        return damage.in_webp(bytes(data[:]))
    if facts.format == "tiff":
        return damage.in_tiff(bytes(data[:]), facts.width or 0, facts.height or 0)
    return ""


def _at_once(facts: Facts) -> bool:
    """Whether a JPEG is decoded at once by the strict decoder."""
    small = (facts.width or 0) * (facts.height or 0) <= _MOST_AT_ONCE
    return small and facts.mode in ("rgb", "grey")


def _is_cut(data: Data, facts: Facts) -> bool:
    return facts.format is not None and damage.is_cut(bytes(data[:]), facts.format)


def check_pixels(data: Data, facts: Facts, *, own: bool = False) -> Facts:
    """The same facts with ``decodes`` (and ``error``) set by reading every pixel once.

    Args:
        own: the file was made here: a picture that jumps is a photo that does.
    """
    if facts.error:
        return facts
    why = _complaint(data, facts, own)
    unclear = "unsupported" in why or "memory" in why
    if why and not unclear:
        if facts.format == "jpeg":
            why = "truncated" if _is_cut(data, facts) else "damaged"
        return replace(facts, decodes=False, error=str(damaged(facts, why)))
    if facts.format == "jpeg" and _at_once(facts) and not unclear:
        return replace(facts, decodes=True)  # the whole of it has just been read
    for strict in ("warning", "error") if facts.format == "jpeg" else ("error",):
        try:
            image, _ = open_pixels(data, facts, strict=strict)
            image.avg()
        except PhotoError as error:
            why = str(damaged(facts, "truncated")) if _is_cut(data, facts) else str(error)
            return replace(facts, decodes=False, error=why)
        except pyvips.Error as error:
            # Some sound files make the decoder grumble; only words of real damage count.
            if strict == "warning" and not any(w in str(error).lower() for w in _DAMAGE):
                continue
            why = "truncated" if _is_cut(data, facts) else str(error)
            return replace(facts, decodes=False, error=str(damaged(facts, why)))
        except MemoryError:
            sentence = say("{file} needs more memory than there is.", file=shown_name(facts.file))
            return replace(facts, decodes=False, error=sentence)
        return replace(facts, decodes=True)
    return replace(facts, decodes=True)


def opaque(data: Data, facts: Facts) -> bool:
    """Whether every pixel is fully opaque: an alpha channel that hides nothing is none.

    Raises:
        PhotoError: its pixels cannot be read.
    """
    if not facts.alpha:
        return True
    image, _ = open_pixels(data, facts)
    if not image.hasalpha():
        return True
    top = 65535 if image.format == "ushort" else 255
    try:
        return bool(image[image.bands - 1].min() >= top)
    except pyvips.Error as error:
        raise damaged(facts, str(error)) from None


def second(data: Data, facts: Facts) -> NDArray[Any]:
    """A picture's pixels by the second reader (Pillow), shape (height, width, bands): grey or colour, with its
    transparency last; or, where that would cut 16 bit down to 8, by libvips.

    Raises:
        PhotoError: its pixels cannot be read.
    """
    try:
        if (facts.bits or 8) > 8:
            image, _turn = open_pixels(data, facts)
            return np.asarray(image.numpy()).reshape(image.height, image.width, image.bands)
        limits.guard_libraries()
        with Image.open(stream_of(data)) as opened:
            opened.load()
            grey = facts.mode in ("grey", "mono")
            array = np.asarray(
                opened.convert(("L" if grey else "RGB") + ("A" if facts.alpha else ""))
            )
            if facts.format == "gif":
                array = array[: facts.height, : facts.width]
    except PhotoError:
        raise
    except MemoryError:
        raise
    except Exception as error:  # Pillow raises many kinds on damaged data
        raise damaged(facts, str(error)) from None
    return array[..., None] if array.ndim == 2 else array


def second_opaque(data: Data) -> bool:
    """Whether every pixel is fully opaque, by the second reader."""
    limits.guard_libraries()
    with Image.open(stream_of(data)) as picture:
        return bool(picture.convert("RGBA").getchannel("A").getextrema()[0] == 255)
