"""A device that loads a finished file by a decoder of its own, and refuses what it cannot take.

The decoder is OpenCV's: neither the one that wrote the file (libvips) nor the one that read it
back (Pillow). What is refused is what the brief's own musts say: format, pixels, bits, frames
and bytes.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from aptandum.core.brief.binding import BITS, BYTES, CHANNELS, FORMAT, FRAMES
from aptandum.core.brief.bundles import courses
from aptandum.core.brief.model import Brief
from aptandum.core.errors import AptandumError
from aptandum.core.figures import show_exact_bytes, show_size
from aptandum.core.later import cv2, np
from aptandum.core.photo import decode
from aptandum.core.photo.apart import facts_of_bytes
from aptandum.core.photo.engine import Pixels, converted, memory
from aptandum.core.photo.facts import FORMAT_NAMES, Facts
from aptandum.core.photo.profile import shipped
from aptandum.core.sizes.conflicts import failing
from aptandum.core.sizes.region import allowed
from aptandum.core.sizes.said import clause_said
from aptandum.core.words import listed, say, sentences


class Refused(AptandumError):
    """The device does not take the file; the message is a sentence that says why."""


@dataclass(frozen=True, eq=False)
class Loaded:
    """A file as a device has it.

    Attributes:
        pixels: shape (h, w, 4): red, green, blue in sRGB, and how opaque it is.
        facts: of the file's header.
        unread: the profile that the device did not read, though the colours need it; empty
            where it is read, or is sRGB.
    """

    pixels: Pixels
    facts: Facts
    unread: str = ""

    @property
    def size(self) -> tuple[int, int]:
        return self.pixels.shape[1], self.pixels.shape[0]


def load(data: bytes, brief: Brief, *, strict: bool, managed: bool) -> Loaded:
    """Load a finished file.

    Args:
        strict: refuse what the brief's musts exclude, as a device with a fixed screen does.
        managed: read the profile; without, numbers are taken as sRGB, whatever they are.

    Raises:
        Refused: the file cannot be decoded, or ``strict`` forbids it.
    """
    facts = facts_of_bytes(data, "file")
    if facts.error is not None:
        raise Refused(say("The bytes are no picture that can be read."))
    if strict:
        reasons = min((list(_reasons(facts, course)) for course in courses(brief)), key=len)
        if reasons:
            raise Refused(sentences(reasons))
    pixels = _decoded(data)
    if facts.orientation not in (None, 1):
        raise Refused(say("The picture lies turned, and its tag for it is not read here."))
    icc, name = facts.icc_bytes, facts.icc or ""
    other = bool(icc) and facts.colour_space not in ("srgb", "grey")
    if managed and other:
        image = decode.from_array(pixels)
        pixels = memory(converted(image, icc, shipped("srgb"), 8, "relative", True))
    return Loaded(pixels, facts, name if other and not managed else "")


def _reasons(facts: Facts, brief: Brief) -> Iterator[str]:
    formats = brief.bound(FORMAT)
    if formats is not None and not formats.allows(facts.format):
        asked = listed([FORMAT_NAMES[f] for f in formats.one_of])
        yield say(
            "It takes {asked}; this is {have}.",
            asked=asked or say("another format"),
            have=FORMAT_NAMES.get(facts.format or "", facts.format or "?"),
        )
    size = facts.size
    if not allowed(brief).contains(*size):
        broken = [clause_said(clause) for clause in failing(brief, size)]
        asked = listed([f"“{words}”" for words in broken], "and")
        yield say("It keeps to {asked}; this has {have}.", asked=asked, have=show_size(size))
    bits = brief.bound(BITS)
    mono = brief.bound(CHANNELS)
    one = mono is not None and set(mono.one_of) == {"mono"}
    if (bits is not None and not bits.allows(facts.bits)) or (one and facts.bits != 1):
        asked = listed([str(b) for b in bits.one_of]) if bits is not None and bits.one_of else "1"
        yield say("It takes {asked} bit; this has {have}.", asked=asked, have=facts.bits)
    elif one and facts.mode != "mono":
        yield say("It takes black and white alone; this has other colours.")
    frames = brief.bound(FRAMES)
    if frames is not None and not frames.allows(facts.frames or 1):
        yield say("It takes a still picture; this has {n} frames.", n=facts.frames)
    room = brief.bound(BYTES)
    if room is not None and room.at_most is not None and (facts.bytes or 0) > room.at_most:
        yield say(
            "It has room for {most}; this has {n}.",
            most=show_exact_bytes(int(room.at_most)),
            n=show_exact_bytes(facts.bytes or 0),
        )


def _decoded(data: bytes) -> Pixels:
    held = cv2.imdecode(
        np.frombuffer(data, np.uint8), cv2.IMREAD_UNCHANGED | cv2.IMREAD_IGNORE_ORIENTATION
    )
    if held is None:
        raise Refused(say("Its decoder cannot read this file."))
    array = np.asarray(held)
    if array.dtype == np.uint16:
        array = (array // 257).astype(np.uint8)
    elif array.dtype != np.uint8:
        raise Refused(say("Its decoder cannot read this depth."))
    if array.ndim == 2:
        array = array[..., None]
    bands = array.shape[2]
    opaque = np.full((*array.shape[:2], 1), 255, np.uint8)
    if bands == 1:
        return np.concatenate([np.repeat(array, 3, 2), opaque], 2)
    if bands == 2:
        return np.concatenate([np.repeat(array[..., :1], 3, 2), array[..., 1:]], 2)
    colour = array[..., 2::-1]
    return np.ascontiguousarray(
        np.concatenate([colour, array[..., 3:4] if bands == 4 else opaque], 2)
    )
