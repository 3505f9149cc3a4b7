"""A reader's side: a file's header. Its facts by its content, without decoding a pixel."""

from __future__ import annotations

import io
import struct
from dataclasses import replace
from typing import IO, Any

from PIL import Image, ImageFile, UnidentifiedImageError

from aptandum.core.photo import (
    beside,
    damage,
    header_pixels,
    jpeg_header,
    limits,
    other_kinds,
    places,
    profile,
    walk,
)
from aptandum.core.photo.facts import (
    FORMAT_NAMES,
    ORIENTATION,
    RESUNIT,
    TURNED,
    XRES,
    YRES,
    Facts,
    Format,
    Mode,
    io_sentence,
    shown_name,
    sniff,
)
from aptandum.core.photo.profile import Profile, Space
from aptandum.core.words import say


def facts_of(stream: IO[bytes], file: str, size: int) -> Facts:
    """Facts of an open file of ``size`` bytes, read from where its content begins."""
    head = stream.read(16_384)
    if head[:3] == b"\xff\xd8\xff":
        plain = jpeg_header.read(stream, head)
        if plain is not None:
            return _of_plain_jpeg(plain, file, size)
    name = shown_name(file)
    facts = Facts(file, bytes=size, decodes=False)
    if size == 0:
        return replace(facts, error=say("{file} is empty.", file=name))
    stream.seek(0)
    head = head[:512]
    format_ = sniff(head)
    if format_ is None:
        return replace(facts, error=other_kinds.why_not(head, name))
    facts, claim = replace(facts, format=format_), None
    try:
        claim = walk.claimed(stream, format_)
        if claim is not None:
            large = limits.too_large(claim.width, claim.height, _frames_at_once(claim, format_))
            if large is not None:
                return _too_large(facts, claim, large)
            if claim.unread:
                return _not_read(facts, claim)
        return _HeaderReader(stream, head, facts, claim).read()
    except walk.Impossible as error:
        cause = str(error)
        if error.size is not None and (large := limits.too_large(*error.size)) is not None:
            return _too_large(facts, walk.Declared(*error.size), large)
    except Image.DecompressionBombError:
        cause = say("it claims more pixels than are opened")
    except UnidentifiedImageError:
        cause = _header_cause(stream, size, format_)
    except MemoryError:
        cause = say("its header asks for more memory than there is")
    except OSError as error:
        if error.errno is not None:
            return replace(facts, error=io_sentence(error, name))
        cause = _header_cause(stream, size, format_)
    except Exception:  # Pillow raises ValueError, SyntaxError, struct.error, … on hostile bytes
        cause = _header_cause(stream, size, format_)
    if claim is not None:
        facts = _too_large(facts, claim, "")
    return replace(
        facts,
        error=say(
            "{file} cannot be read as {format}: {cause}.",
            file=name,
            format=FORMAT_NAMES[format_],
            cause=cause,
        ),
    )


_MOST_LOOKED_AT = 64 << 20


def _header_cause(stream: IO[bytes], size: int, format_: Format) -> str:
    """Why a header cannot be read: a file that says where it ends, and ends before, is cut short."""
    stream.seek(0)
    if format_ == "tiff":
        cut = damage.lacks_directory(stream.read(16), size)
    else:
        cut = size <= _MOST_LOOKED_AT and damage.is_cut(stream.read(), format_)
    if cut:
        return say("it is cut short")
    return say("its header is damaged or cut short")


def _frames_at_once(claim: walk.Declared, format_: Format) -> int:
    """Frames that are held together: pages of a TIFF are read one at a time."""
    return 1 if format_ == "tiff" else claim.frames


def _not_read(facts: Facts, claim: walk.Declared) -> Facts:
    """What is known of a sound picture of a kind that is not supported."""
    return replace(
        _too_large(facts, claim, ""),
        bits=claim.bits,
        frames=claim.frames,
        error=say(
            "{file} cannot be read as {format}: {cause}.",
            file=shown_name(facts.file),
            format=FORMAT_NAMES[facts.format or "jpeg"],
            cause=claim.unread,
        ),
    )


def _too_large(facts: Facts, claim: walk.Declared, cause: str) -> Facts:
    sentence = say("{file} is not opened: {cause}.", file=shown_name(facts.file), cause=cause)
    return replace(
        facts,
        width=claim.width,
        height=claim.height,
        oriented_width=claim.width,
        oriented_height=claim.height,
        error=sentence,
    )


def _of_plain_jpeg(held: jpeg_header.Header, file: str, size: int) -> Facts:
    """Facts of an ordinary JPEG; as :class:`_HeaderReader` gives them."""
    wide, high = held.width, held.height
    known = profile.identify(held.icc) if held.icc else None
    mode: Mode = "grey" if held.channels == 1 else "rgb"
    if known is not None and known.channels and known.channels != held.channels:
        known = Profile(known.description, "untagged", 0, say("it is for another kind of picture"))
    usable = known is not None and not known.broken
    ppi: tuple[float | None, float | None] = None, None
    if held.density is not None and held.density[0] in (1, 2):
        unit, x, y = held.density
        ppi = _per_inch(x, y, unit + 1)
    elif held.resolution is not None:
        ppi = _per_inch(*held.resolution)
    space: Space = "untagged" if mode == "rgb" else "grey"
    if usable:
        assert known is not None
        space = known.space
    turned = held.orientation in TURNED
    error = None
    large = limits.too_large(wide, high)
    if large is not None:
        error = say("{file} is not opened: {cause}.", file=shown_name(file), cause=large)
    return Facts(
        file=file,
        format="jpeg",
        width=wide,
        height=high,
        oriented_width=high if turned else wide,
        oriented_height=wide if turned else high,
        bits=8,
        mode=mode,
        alpha=False,
        icc=(known.description or "unnamed") if usable and known is not None else None,
        colour_space=space,
        orientation=held.orientation,
        ppi_x=ppi[0],
        ppi_y=ppi[1],
        bytes=size,
        frames=1 if error is None else None,
        progressive=held.progressive,
        decodes=None if error is None else False,
        error=error,
        profile=known,
        icc_bytes=held.icc if usable else b"",
        subsampling=held.subsampling,
        location=held.location,
    )


def _positive(value: Any) -> float | None:
    try:
        number = float(value)
    except (TypeError, ValueError, ZeroDivisionError):
        return None
    return number if 0 < number < 1e6 else None


def tidy_ppi(value: float | None) -> float | None:
    """Pixels per inch without the dust of its storage.

    Files count per metre or per centimetre in whole numbers, so 300 ppi comes back as
    299.9994. What lies within half a step per metre (0.0127 ppi) of a whole number is it.
    """
    if value is None:
        return None
    whole = round(value)
    return float(whole) if abs(value - whole) <= 0.0128 else round(value, 2)


def _per_inch(x: Any, y: Any, unit: int) -> tuple[float | None, float | None]:
    """Density in TIFF/EXIF terms to ppi; unit 2 is inches, 3 centimetres, 1 none."""
    across, up = _positive(x), _positive(y)
    if unit not in (2, 3) or across is None or up is None:
        return None, None
    factor = 2.54 if unit == 3 else 1.0
    return tidy_ppi(across * factor), tidy_ppi(up * factor)


class _HeaderReader:
    def __init__(
        self, stream: IO[bytes], head: bytes, facts: Facts, claim: walk.Declared | None = None
    ) -> None:
        self.claim = claim
        self.stream = stream
        self.head = head
        self.facts = facts
        self.format: Format = facts.format or "jpeg"

    def read(self) -> Facts:
        limits.guard_libraries()
        kinds = {"jpeg": ("JPEG", "MPO"), "heic": ("HEIF",), "jxl": ("JXL",)}.get(
            self.format, (self.format.upper(),)
        )
        with Image.open(self.stream, formats=kinds) as image:
            return self.of(image)

    def of(self, image: ImageFile.ImageFile | Image.Image) -> Facts:
        width, height = self.stored_size(image)
        exif = self.exif(image)
        orientation = self.orientation(image, exif)
        icc = header_pixels.profile_bytes(self.format, image, self.stream)
        lost = header_pixels.lost_profile(self.format, image, self.head)
        known = profile.identify(icc) if icc else lost
        kind = header_pixels.kind_of(self.format, image, self.head, self.stream)
        mode, bits, alpha = kind
        if (
            known is not None
            and known.channels
            and known.channels not in _channels(mode, self.format)
        ):
            cause = say("it is for another kind of picture")
            known = Profile(known.description, "untagged", 0, cause)
        ppi_x, ppi_y = self.density(image, exif)
        turned = orientation in TURNED
        facts = replace(
            self.facts,
            width=width,
            height=height,
            oriented_width=height if turned else width,
            oriented_height=width if turned else height,
            bits=bits,
            mode=mode,
            alpha=alpha,
            icc=None if known is None or known.broken else (known.description or "unnamed"),
            colour_space=header_pixels.space_of(self.format, image, kind, known, self.stream),
            orientation=orientation,
            ppi_x=ppi_x,
            ppi_y=ppi_y,
            progressive=self.progressive(image),
            decodes=None,
            profile=known,
            icc_bytes=icc if known is not None and not known.broken else b"",
            subsampling=self.subsampling(image),
            location=bool(exif is not None and places.in_exif(exif)) or self.placed(image),
            hint=_hint(exif) if exif is not None and known is None else None,
            gain_map=beside.has_gain_map(self.format, image, self.stream),
            pictures=beside.pictures(self.format, image),
        )
        # Counting frames can walk the whole file: not before the size is known to be sane.
        large = limits.too_large(width, height)
        if large is None:
            facts = replace(facts, frames=self.frames(image))
            if self.format in ("gif", "webp", "avif", "png"):
                large = limits.too_large(width, height, facts.frames or 1)
        if large is not None:
            name = shown_name(self.facts.file)
            sentence = say("{file} is not opened: {cause}.", file=name, cause=large)
            facts = replace(facts, error=sentence, decodes=False)
        return facts

    # -- geometry ------------------------------------------------------------------------

    def stored_size(self, image: Image.Image) -> tuple[int, int]:
        if self.format == "tiff":  # Pillow has turned the size, but not the orientation tag
            tags = image.tag_v2  # type: ignore[attr-defined]
            return int(tags[256]), int(tags[257])
        if self.format == "gif":  # what lies outside its screen is not shown
            across, down = struct.unpack_from("<HH", self.head, 6)
            return (across or image.width), (down or image.height)
        return image.size

    def exif(self, image: Image.Image) -> Image.Exif | None:
        try:
            if self.format != "png":
                return image.getexif()
            # Pillow decodes a PNG whole to look for EXIF behind its pixels; the walk has seen where it lies.
            if "exif" not in image.info and self.claim is not None and self.claim.exif:
                self.stream.seek(self.claim.exif[0])
                image.info["exif"] = self.stream.read(self.claim.exif[1] - self.claim.exif[0])
            return Image.Image.getexif(image)
        except Exception:  # broken EXIF must not hide the rest of the header
            return None

    def placed(self, image: Image.Image) -> bool:
        """Whether the place of the shot is told elsewhere than in EXIF."""
        if self.format == "jpeg":
            segments = getattr(image, "applist", ())
            return any(name == "APP1" and places.told_in(body) for name, body in segments)
        if self.format == "tiff":
            packet = image.tag_v2.get(700)  # type: ignore[attr-defined]
            return isinstance(packet, (bytes, str)) and places.told_in(packet)
        for name, start, end in self.claim.texts if self.claim is not None else ():
            self.stream.seek(start)
            body = self.stream.read(min(end - start, places.MOST_TEXT))
            if places.told_in_text(name, body, places.in_exif_block):
                return True
        packet = image.info.get("xmp")
        return isinstance(packet, (bytes, str)) and places.told_in(packet)

    def orientation(self, image: Image.Image, exif: Image.Exif | None) -> int:
        if self.format in ("gif", "bmp", "heic", "jxl"):
            return 1  # HEIC and JPEG XL say in places of their own how they are turned; their decoders turn them
        value = exif.get(ORIENTATION) if exif is not None else None
        return int(value) if isinstance(value, int) and 1 <= value <= 8 else 1

    def density(
        self, image: Image.Image, exif: Image.Exif | None
    ) -> tuple[float | None, float | None]:
        info = image.info
        if self.format == "jpeg":
            unit = info.get("jfif_unit")
            if unit in (1, 2) and "jfif_density" in info:
                x, y = info["jfif_density"]
                return _per_inch(x, y, {1: 2, 2: 3}[unit])
        if self.format in ("png", "bmp"):
            if "dpi" in info:
                x, y = info["dpi"]
                return tidy_ppi(_positive(x)), tidy_ppi(_positive(y))
            if self.format == "bmp":
                return None, None
        if self.format == "gif" or exif is None or XRES not in exif or YRES not in exif:
            return None, None
        unit = exif.get(RESUNIT, 2)
        return _per_inch(exif[XRES], exif[YRES], unit if isinstance(unit, int) else 2)

    def frames(self, image: Image.Image) -> int:
        if self.format in ("jpeg", "heic", "jxl"):
            return 1  # the picture that the file names as its own; others lie beside it
        if self.format == "tiff":
            return self.tiff_pages(image)
        return int(getattr(image, "n_frames", 1) or 1)

    def tiff_pages(self, image: Image.Image) -> int:
        """Pages that are pictures: reduced copies of another page (tag 254, bit 0) are not."""
        total = min(int(getattr(image, "n_frames", 1) or 1), 1000)
        if total == 1:
            return 1
        count = 0
        for i in range(total):
            image.seek(i)
            kind = image.tag_v2.get(254, 0)  # type: ignore[attr-defined]
            count += 0 if isinstance(kind, int) and kind & 1 else 1
        image.seek(0)
        return max(1, count)

    def progressive(self, image: Image.Image) -> bool:
        if self.format == "png":
            return self.head[28] == 1
        return bool(image.info.get("progressive") or image.info.get("progression"))

    def subsampling(self, image: Image.Image) -> str | None:
        layers = getattr(image, "layer", None)
        if self.format != "jpeg" or not layers or len(layers) < 3:
            return None
        h, v = layers[0][1] // max(1, layers[1][1]), layers[0][2] // max(1, layers[1][2])
        return {(1, 1): "4:4:4", (2, 1): "4:2:2", (2, 2): "4:2:0"}.get((h, v), f"{h}x{v}")


def _channels(mode: Mode, format_: Format) -> tuple[int, ...]:
    """Channels that a profile may have; black and white of a palette are colours or grey, as one likes."""
    of_mode = header_pixels.channels_of(mode)
    return (1, 3) if mode == "mono" and format_ in ("gif", "png", "bmp") else (of_mode,)


def _hint(exif: Image.Exif) -> Space | None:
    """The optional colour space of a camera file (DCF 2.0): interoperability index ``R03``, with
    an EXIF colour space that is not sRGB's 1."""
    try:
        inner = exif.get_ifd(0x8769)
        index = str(exif.get_ifd(0xA005).get(1) or inner.get(0xA005) or "").strip("\0 ")
        colour = inner.get(0xA001)
    except Exception:  # a broken directory hints at nothing
        return None
    return "adobe-rgb" if colour == 2 or (index == "R03" and colour != 1) else None


def facts_of_bytes(data: bytes, file: str = "") -> Facts:
    """Facts of a picture that is in memory; ``file`` names it in messages."""
    return facts_of(io.BytesIO(data), file, len(data))
