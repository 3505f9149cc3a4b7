"""Mutated inputs against everything that reads what strangers send; what breaks a promise is kept as a small file.

python tools/fuzz.py facts|decode|docket|rulebook|listing|desk [--count N] [--seed S] [--keep FOLDER]

The same count and seed give the same inputs. The process may have so much memory and an input so many seconds and no
more; an error that is not one of those promised, an input that takes too long, and memory beyond the bound are finds.
"""

from __future__ import annotations

import argparse
import contextlib
import hashlib
import io
import json
import random
import resource
import signal
import struct
import sys
import tempfile
import time
import warnings
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image, ImageCms

from aptandum.core.docket.listing import ListingError, read_listing
from aptandum.core.docket.model import Docket
from aptandum.core.docket.opening import NoDocket, opened
from aptandum.core.errors import AptandumError
from aptandum.core.photo import apart
from aptandum.core.photo.facts import NotInside, PhotoError
from aptandum.core.photo.header import facts_of_bytes
from aptandum.core.rulebook.problems import RulebookError
from aptandum.core.rulebook.shelf import shipped_paths
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.desks.client import NotNow, NotTaken, Receipt, _read

MEGABYTES = 1200
SECONDS = 10
KEPT = Path(__file__).resolve().parent.parent / "tests" / "finds"


class TooLong(BaseException):
    """An input took longer than it may."""


# -- seeds -------------------------------------------------------------------------------------------


def _pixels(wide: int, high: int, bands: int, chance: np.random.Generator) -> Image.Image:
    made = chance.integers(0, 256, (high, wide, bands), dtype=np.uint8)
    return Image.fromarray(made[..., 0] if bands == 1 else made)


def pictures() -> list[bytes]:
    """Small pictures of seven formats: grey, colour, clear, in palettes, of one bit, with profiles, EXIF and
    several frames."""
    chance = np.random.default_rng(7)
    profile = ImageCms.ImageCmsProfile(ImageCms.createProfile("sRGB")).tobytes()
    exif = Image.Exif()
    exif[0x0112], exif[0x011A], exif[0x011B], exif[0x0128] = 6, 300.0, 300.0, 2
    exif.get_ifd(0x8825)[2] = (1.0, 2.0, 3.0)
    more: dict[str, list[dict[str, Any]]] = {
        "JPEG": [
            {},
            {"progressive": True, "icc_profile": profile},
            {"exif": exif, "dpi": (72, 72)},
        ],
        "PNG": [{}, {"icc_profile": profile, "dpi": (300, 300)}, {"exif": exif, "optimize": True}],
        "GIF": [{}, {"frames": 3}],
        "BMP": [{}],
        "TIFF": [
            {},
            {"compression": "tiff_lzw"},
            {"compression": "tiff_adobe_deflate", "frames": 2},
            {"exif": exif},
        ],
        "WEBP": [{}, {"lossless": True, "exif": exif}, {"frames": 3}],
        "AVIF": [{}, {"icc_profile": profile}],
    }
    made = []
    for format_, ways in more.items():
        for way in ways:
            for bands in (1, 3, 4):
                way_ = dict(way)
                frames = way_.pop("frames", 1)
                every = [_pixels(31, 23, bands, chance) for _ in range(frames)]
                held = io.BytesIO()
                with contextlib.suppress(OSError, ValueError):
                    if frames > 1:
                        way_ |= {"save_all": True, "append_images": every[1:]}
                    every[0].save(held, format_, **way_)
                    made.append(held.getvalue())
        for mode in ("1", "P"):
            held = io.BytesIO()
            with contextlib.suppress(OSError, ValueError):
                _pixels(31, 23, 3, chance).convert(mode).save(held, format_)
                made.append(held.getvalue())
    return made


def dockets() -> list[bytes]:
    """The demo docket and a few small ones with every part."""
    demo = next((Path(__file__).resolve().parent.parent / "src").rglob("*.docket"))
    whole = json.loads(demo.read_bytes())
    small = {**whole, "photos": whole["photos"][:2], "fittings": whole["fittings"][:3]}
    empty = Docket(title="x").model_dump(mode="json")
    return [json.dumps(one).encode() for one in (small, empty, {**small, "rulebooks": {}})]


def rulebooks() -> list[bytes]:
    """Those that are shipped."""
    return [path.read_bytes() for path in shipped_paths()]


def listings() -> list[bytes]:
    """Tables of several makes."""
    rows = [
        ("item", "picture file", "in stock"),
        ("Blue jug", "jug.jpg", "yes"),
        ('Krug "ä"', "b.jpg", "0"),
    ]
    made = []
    for parted in ",;\t":
        text = "\r\n".join(
            parted.join(f'"{c.replace(chr(34), chr(34) * 2)}"' for c in row) for row in rows
        )
        made += [text.encode(coding) for coding in ("utf-8-sig", "cp1252", "utf-16")]
    return [*made, b"sep=;\nitem;file\na;b.jpg\n"]


def answers() -> list[bytes]:
    """What a desk says of a file."""
    event = {"at": "2026-11-28T10:00:00Z", "state": "held", "says": "Size: 3; asked: 4."}
    reason = {"measure": "size", "measured": "3", "limit": "4", "says": "Size: 3; asked: 4."}
    receipt = {"number": "PO-1", "brief": "notice", "name": "a.jpg", "sha256": "0" * 64, "bytes": 3,
               "received": "now", "state": "held", "reasons": [reason], "history": [event, event]}  # fmt: skip
    return [json.dumps(receipt).encode(), json.dumps({"says": "no"}).encode()]


# -- mutations -----------------------------------------------------------------------------------------

_NUMBERS = (
    0,
    1,
    2,
    7,
    0x7F,
    0x80,
    0xFF,
    0x7FFF,
    0x8000,
    0xFFFF,
    0x10000,
    0x7FFFFFFF,
    0x80000000,
    0xFFFFFFFF,
)
_TEXTS = (b"NaN", b"Infinity", b"1e999", b"-1", b"null", b"[[[[", b"{", b'"', b"\\ud800", b"\x00", b"../../", b"=1+1",
          b"9" * 40, b"(a+)+$", b"\xef\xbb\xbf", b"\r", b"''''", b"[", b"]", b"#")  # fmt: skip


def mutated(chance: random.Random, seeds: list[bytes], text: bool) -> bytes:
    """One of the seeds, changed in a few places."""
    data = bytearray(chance.choice(seeds))
    for _ in range(chance.choice((1, 1, 2, 3, 6))):
        if not data:
            data = bytearray(b"\0")
        at = chance.randrange(len(data))
        way = chance.randrange(8)
        if way == 0:
            data[at] ^= 1 << chance.randrange(8)
        elif way == 1:
            data[at] = chance.choice((0, 1, 0x7F, 0x80, 0xFE, 0xFF, 0x22, 0x5B))
        elif way == 2:
            form = chance.choice((">H", "<H", ">I", "<I"))
            number = chance.choice(_NUMBERS) & (0xFFFF if form[1] == "H" else 0xFFFFFFFF)
            data[at : at + struct.calcsize(form)] = struct.pack(form, number)
        elif way == 3:
            del data[at : at + chance.choice((1, 2, 4, 16, 200))]
        elif way == 4:
            part = bytes(data[at : at + chance.choice((1, 4, 16, 64, 400))])
            there = chance.randrange(len(data) + 1)
            data[there:there] = part * chance.choice((1, 1, 2, 50))
        elif way == 5:
            del data[at:]
        elif way == 6:
            other = chance.choice(seeds)
            begin = chance.randrange(len(other))
            data[at:] = other[begin:]
        else:
            data[at:at] = (
                chance.choice(_TEXTS) if text else chance.randbytes(chance.choice((1, 4, 30)))
            )
    return bytes(data[:2_000_000])


# -- what is promised of each ---------------------------------------------------------------------------


def _facts(data: bytes) -> None:
    found = facts_of_bytes(data, "input")
    assert found.error is None or found.error.startswith("input "), found.error
    assert found.error is not None or found.size[0] > 0


def _decode(data: bytes) -> None:
    """All that a reader can be asked of a photo; one that is lost over it is a find."""
    found = apart.check_pixels(data, apart.facts_of_bytes(data, "input"))
    said = [found.error or ""]
    assert found.decodes is True or (found.error and found.error.startswith("input ")), found
    if found.width and found.format:
        asked: tuple[Callable[[], Any], ...] = (
            lambda: apart.open_pixels(data, found)[0].avg(),
            lambda: apart.second(data, found),
            lambda: apart.opaque(data, found),
            lambda: apart.credit_of(data),
            *(
                lambda what=what: apart.inside(data, found, what)
                for what in ("packing", "colours", "times")
            ),
        )
        for ask in asked:
            try:
                ask()
            except (PhotoError, NotInside) as error:
                said.append(str(error))
    assert not any("process that read it" in one or "too long" in one for one in said), said


def _docket(data: bytes) -> None:
    try:
        found = opened(data)
    except NoDocket as error:
        assert str(error)
        return
    held = found.docket
    ids = {photo.id for photo in held.photos}
    assert all(fitting.photo in ids for fitting in held.fittings)
    assert all(len(remark) < 2000 for remark in found.remarks)
    Docket.model_validate_json(held.model_dump_json())


def _rulebook(data: bytes) -> None:
    with contextlib.suppress(RulebookError):
        parse_rulebook(data.decode("utf-8", "replace"))


_PLACE = Path(tempfile.mkdtemp(prefix="aptandum-fuzz-")) / "listing.csv"


def _listing(data: bytes) -> None:
    _PLACE.write_bytes(data)
    try:
        read_listing(_PLACE)
    except ListingError as error:
        assert len(str(error)) < 3000, len(str(error))


def _desk(data: bytes) -> None:
    try:
        held = _read(data)
        Receipt.model_validate(held)
    except (NotNow, NotTaken):
        return
    except ValueError:  # pydantic's own, which the client tells as a receipt that cannot be read
        return


KINDS: dict[str, tuple[Callable[[], list[bytes]], Callable[[bytes], None], bool]] = {
    "facts": (pictures, _facts, False),
    "decode": (pictures, _decode, False),
    "docket": (dockets, _docket, True),
    "rulebook": (rulebooks, _rulebook, True),
    "listing": (listings, _listing, True),
    "desk": (answers, _desk, True),
}


def finds(kind: str, count: int, seed: int) -> Iterator[tuple[bytes, str]]:
    """The inputs that broke a promise, each with what it broke."""
    make, promise, text = KINDS[kind]
    seeds, chance = make(), random.Random(f"{kind} {seed}")

    def over(*_: object) -> None:
        raise TooLong

    signal.signal(signal.SIGALRM, over)
    for _ in range(count):
        data = mutated(chance, seeds, text)
        signal.setitimer(signal.ITIMER_REAL, SECONDS)
        try:
            promise(data)
        except TooLong:
            yield data, f"more than {SECONDS} s"
        except AptandumError as error:
            yield data, f"{type(error).__name__} where none is promised: {error}"
        except Exception as error:  # that is what is looked for
            yield data, f"{type(error).__name__}: {error}"
        finally:
            signal.setitimer(signal.ITIMER_REAL, 0)


def main() -> int:
    """Run one kind and say what was found."""
    parser = argparse.ArgumentParser(description=__doc__.split("\n")[0])
    parser.add_argument("kind", choices=KINDS)
    parser.add_argument("--count", type=int, default=10_000)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--keep", type=Path, default=KEPT)
    given = parser.parse_args()
    warnings.simplefilter("ignore")
    resource.setrlimit(resource.RLIMIT_DATA, (MEGABYTES << 20, MEGABYTES << 20))
    begun, broken = time.monotonic(), 0
    for data, why in finds(given.kind, given.count, given.seed):
        broken += 1
        given.keep.mkdir(parents=True, exist_ok=True)
        name = f"{given.kind}-{hashlib.sha256(data).hexdigest()[:12]}.bin"
        (given.keep / name).write_bytes(data)
        print(f"{name}: {why[:300]}")
    most = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss // 1024
    took = time.monotonic() - begun
    print(
        f"{given.kind}: {given.count} inputs, seed {given.seed}, {broken} finds, {most} MB, {took:.0f} s"
    )
    return 1 if broken or most > MEGABYTES else 0


if __name__ == "__main__":
    sys.exit(main())
