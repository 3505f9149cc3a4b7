"""Reading pixels safely: limits first, then a streamed decode that can be reduced on the way.

libvips does the decoding, from bytes in memory (a file name can hold bytes and brackets that
it would read as options). BMP and animated AVIF, which it does not read, come through Pillow.
"""

from __future__ import annotations

import io
import os
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
import pyvips
import simplejpeg
from numpy.typing import NDArray
from PIL import Image

from aptandum.core.outside import read_whole
from aptandum.core.photo import limits
from aptandum.core.photo.facts import FORMAT_NAMES, Facts, PhotoError, io_sentence, shown_name
from aptandum.core.photo.header import facts_of_bytes, read_facts
from aptandum.core.photo.turning import then
from aptandum.core.words import say

# A file overwritten on disk would otherwise be served from libvips' cache.
pyvips.cache_set_max(0)
pyvips.block_untrusted_set(True)

_DAMAGE = ("premature", "huffman", "truncat", "not enough", "bad data", "unexpected end", "eof")


@dataclass(frozen=True)
class Photo:
    """A supplied file: its facts, and its bytes once they have been asked for."""

    path: str
    facts: Facts

    @property
    def name(self) -> str:
        return shown_name(self.path)

    def read(self) -> bytes:
        """The file's bytes.

        Raises:
            PhotoError: the file cannot be read any more, or has changed since its facts were
                read.
        """
        try:
            data = _read(self.path, os.stat(self.path).st_mtime_ns)
        except OSError as error:
            raise PhotoError(io_sentence(error, self.name)) from None
        except MemoryError:
            sentence = say("{file} needs more memory than there is.", file=self.name)
            raise PhotoError(sentence) from None
        if self.facts.bytes is not None and len(data) != self.facts.bytes:
            raise PhotoError(say("{file} has changed on disk since it was opened.", file=self.name))
        return data


@lru_cache(maxsize=2)
def _read(path: str, changed: int) -> bytes:
    return read_whole(path, limits.MOST_FILE_BYTES)


def open_photo(path: str | os.PathLike[str], moving: bool = False) -> Photo:
    """Open a supplied file by its header.

    Args:
        moving: an animation will do as well, to be looked at; no file can be made of it.

    Raises:
        PhotoError: the file is not a usable picture; the message names file and cause.
    """
    facts = read_facts(path)
    if facts.error:
        raise PhotoError(facts.error)
    several = facts.frames is not None and facts.frames > 1
    if several and not moving and facts.format != "tiff":
        sentence = say(
            "{file} is an animation of {n} frames; a photo has one.",
            file=shown_name(path),
            n=facts.frames,
        )
        raise PhotoError(sentence)
    photo = Photo(os.fspath(path), facts)
    return Photo(photo.path, replace(facts, clear_rim=_clear_rim(photo))) if facts.alpha else photo


_RIM_CLEAR = 0.99
"""The share of the pixels along all edges that must be wholly clear."""


def _clear_rim(photo: Photo) -> bool | None:
    """Whether nothing is seen along a picture's edges; ``None`` where its pixels cannot be read."""
    try:
        image, _turn = open_pixels(photo.read(), photo.facts)
        if not image.hasalpha():
            return False
        alpha = memory_of(image[image.bands - 1])
    except (PhotoError, pyvips.Error, MemoryError):
        return None  # whoever needs the pixels says what is wrong with them
    rim = np.concatenate([alpha[0], alpha[-1], alpha[:, 0], alpha[:, -1]])
    return bool((rim == 0).mean() >= _RIM_CLEAR)


def memory_of(image: pyvips.Image) -> NDArray[Any]:
    """One band of an image as an array of shape (height, width)."""
    made: NDArray[Any] = np.asarray(image.numpy())
    return made[..., 0] if made.ndim == 3 else made


def from_array(array: NDArray[Any]) -> pyvips.Image:
    """A libvips image over an array of shape (height, width, bands), uint8 or uint16."""
    image = pyvips.Image.new_from_array(np.ascontiguousarray(array))
    bands = array.shape[2] if array.ndim == 3 else 1
    wide = array.dtype == np.uint16
    names = {1: "grey16" if wide else "b-w", 2: "grey16" if wide else "b-w"}
    space = names.get(bands, "rgb16" if wide else "srgb")
    return image.copy(interpretation=space)


def _through_pillow(data: bytes) -> pyvips.Image:
    limits.guard_libraries()
    with Image.open(io.BytesIO(data)) as opened:
        opened.load()
        picture: Image.Image = opened
        if picture.mode == "1":
            picture = picture.convert("L")
        elif picture.mode not in ("L", "RGB", "RGBA", "CMYK"):
            alpha = "transparency" in picture.info or picture.mode in ("LA", "PA")
            picture = picture.convert("RGBA" if alpha else "RGB")
        image = from_array(np.asarray(picture))
        return image.copy(interpretation="cmyk") if picture.mode == "CMYK" else image


def open_pixels(
    data: bytes, facts: Facts, shrink: int = 1, *, streamed: bool = True, strict: str = "error"
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
    access = "sequential" if streamed else "random"
    options: dict[str, Any] = {"access": access, "fail_on": strict}
    if facts.format in ("jpeg",) and shrink > 1:
        options["shrink"] = shrink
    if facts.format == "webp" and shrink > 1:
        options["scale"] = 1 / shrink
    try:
        image = pyvips.Image.new_from_buffer(data, "", **options)
    except pyvips.Error as error:
        raise damaged(facts, str(error)) from None
    if facts.format == "avif":
        orientation = 1
    if image.interpretation == "cmyk" and image.bands > 4:
        image = image[0:4]
    return image, then(orientation, facts.turn)


_AT_ONCE = 40_000_000
"""Pixels of a JPEG that are decoded at once; more of them are streamed, to keep memory small."""


def whole_jpeg(data: bytes, facts: Facts, eighths: int = 8) -> NDArray[np.uint8] | None:
    """A JPEG's stored pixels, (height, width, 1 or 3), reduced to so many eighths on the way (a
    block of 8 x 8 is decoded to as many).

    libjpeg-turbo alone, without libvips' line by line hand-over: the same pixels in two thirds
    of the time. ``None`` where the file is of another kind, larger than is good to hold at once,
    or gives the least cause for complaint; :func:`open_pixels` then tells what is wrong, if
    anything is.
    """
    want = -(-(facts.height or 0) * eighths // 8), -(-(facts.width or 0) * eighths // 8)
    bands = {"rgb": 3, "grey": 1}.get(facts.mode or "")
    if facts.format != "jpeg" or bands is None or want[0] * want[1] > _AT_ONCE:
        return None
    if facts.error or limits.too_large(facts.width or 0, facts.height or 0):
        return None
    colours = "GRAY" if bands == 1 else "RGB"
    least = want if eighths < 8 else (0, 0)
    try:
        pixels = simplejpeg.decode_jpeg(
            data, colours, min_height=least[0], min_width=least[1], min_factor=1
        )
    except (ValueError, RuntimeError):
        return None
    return pixels if pixels.shape == (*want, bands) else None


def damaged(facts: Facts, detail: str = "") -> PhotoError:
    """The error for a picture whose header is right and whose pixels are not."""
    short = any(word in detail.lower() for word in ("premature", "truncat", "end of", "eof"))
    cause = say("it is cut short") if short else say("its picture data are damaged")
    sentence = say(
        "{file} cannot be read as {format}: {cause}.",
        file=shown_name(facts.file),
        format=FORMAT_NAMES.get(facts.format or "", "?"),
        cause=cause,
    )
    return PhotoError(sentence)


def check_pixels(data: bytes, facts: Facts) -> Facts:
    """The same facts with ``decodes`` (and ``error``) set by reading every pixel once."""
    if facts.error:
        return facts
    if whole_jpeg(data, facts) is not None:
        return replace(facts, decodes=True)
    for strict in ("warning", "error") if facts.format == "jpeg" else ("error",):
        try:
            image, _ = open_pixels(data, facts, strict=strict)
            image.avg()
        except PhotoError as error:
            return replace(facts, decodes=False, error=str(error))
        except pyvips.Error as error:
            # Some sound files make the decoder grumble; only words of real damage count.
            if strict == "warning" and not any(w in str(error).lower() for w in _DAMAGE):
                continue
            return replace(facts, decodes=False, error=str(damaged(facts, str(error))))
        except MemoryError:
            sentence = say("{file} needs more memory than there is.", file=shown_name(facts.file))
            return replace(facts, decodes=False, error=sentence)
        return replace(facts, decodes=True)
    return replace(facts, decodes=True)


def full_facts(path: str | os.PathLike[str], quick: bool = False) -> Facts:
    """Facts of a file; unless ``quick``, with every pixel read to tell whether it decodes."""
    facts = read_facts(path)
    if facts.error or quick:
        return facts
    try:
        data = read_whole(path, limits.MOST_FILE_BYTES)
    except OSError as error:
        return replace(facts, decodes=False, error=io_sentence(error, shown_name(path)))
    except MemoryError:
        sentence = say("{file} needs more memory than there is.", file=shown_name(path))
        return replace(facts, decodes=False, error=sentence)
    return check_pixels(data, facts)


def opaque(data: bytes, facts: Facts) -> bool:
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


__all__ = [
    "Photo",
    "check_pixels",
    "damaged",
    "facts_of_bytes",
    "from_array",
    "full_facts",
    "opaque",
    "open_photo",
    "open_pixels",
]
