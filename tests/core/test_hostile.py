"""Strangers' files: what a few bytes claim is looked at before anything is allocated by it."""

from __future__ import annotations

import os
import struct
import subprocess
import sys
import threading
import zlib
from dataclasses import replace
from io import BytesIO
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core import bounds
from aptandum.core.outside import NotOrdinary, TooMuch, read_whole
from aptandum.core.photo import apart, walk
from aptandum.core.photo.decode import facts_of_bytes, read_facts
from aptandum.core.photo.facts import PhotoError, sniff
from aptandum.core.readers.shared import sealed
from samples import scene


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def png(width: int, height: int, *more: bytes, data: bytes = b"") -> bytes:
    head = chunk(b"IHDR", struct.pack(">IIBBBBB", width, height, 8, 2, 0, 0, 0))
    tail = chunk(b"IDAT", data) + chunk(b"IEND", b"")
    return b"\x89PNG\r\n\x1a\n" + head + b"".join(more) + tail


def far_gif() -> bytes:
    """A canvas of 1 x 1 whose one frame lies at the far corner."""
    frame = b"\x2c" + struct.pack("<HHHHB", 65534, 65534, 60000, 60000, 0) + b"\x02\x02\x4c\x01\x00"
    return b"GIF89a" + struct.pack("<HHBBB", 1, 1, 0x80, 0, 0) + bytes(6) + frame + b"\x3b"


def tall_bmp() -> bytes:
    head = struct.pack("<IiiHHIIiiII", 40, 30000, -30000, 1, 32, 0, 0, 0, 0, 0, 0)
    return b"BM" + struct.pack("<IHHI", 1082, 0, 0, 54) + head + bytes(1000)


def wide_tiff() -> bytes:
    tags = [(256, 4, 1, 60000), (257, 4, 1, 60000), (258, 3, 1, 8), (277, 3, 1, 3)]
    body = struct.pack("<H", len(tags))
    body += b"".join(struct.pack("<HHII", *tag) for tag in tags) + bytes(4)
    return b"II*\0" + struct.pack("<I", 8) + body


def many_samples() -> bytes:
    body = struct.pack("<H", 2) + struct.pack("<HHII", 256, 4, 0x40000000, 8)
    body += struct.pack("<HHII", 277, 3, 1, 60000) + bytes(4)
    return b"II*\0" + struct.pack("<I", 8) + body


def vast_webp() -> bytes:
    body = b"\0\0\0\0" + (16383).to_bytes(3, "little") * 2
    anmf = bytes(6) + (16383).to_bytes(3, "little") * 2 + bytes(4)
    parts = b"WEBP" + b"VP8X" + struct.pack("<I", 10) + body
    parts += (b"ANMF" + struct.pack("<I", 16) + anmf) * 4
    return b"RIFF" + struct.pack("<I", len(parts)) + parts


def heavy_text() -> bytes:
    """Texts of a PNG that unpack to gigabytes."""
    packed = zlib.compress(bytes(50_000_000), 9)
    return png(8, 8, *[chunk(b"zTXt", b"k%d\0\0" % i + packed) for i in range(40)],
               data=zlib.compress(bytes(8 * 25)))  # fmt: skip


BOMBS = {
    "a frame outside its canvas": far_gif(),
    "a PNG without its data": png(60000, 60000),
    "a PNG just below the limit": png(20000, 19000),
    "a BMP's height": tall_bmp(),
    "a TIFF of nothing": wide_tiff(),
    "numbers without end": many_samples(),
    "an animation of large frames": vast_webp(),
    "texts that unpack": heavy_text(),
}


@pytest.fixture(scope="module")
def bombs(tmp_path_factory) -> Path:
    folder = tmp_path_factory.mktemp("bombs")
    for name, data in BOMBS.items():
        (folder / f"{name}.bin").write_bytes(data)
    return folder


RUN = """
import resource, sys
resource.setrlimit(resource.RLIMIT_DATA, (700_000_000, 700_000_000))
from aptandum.cli.main import run
status = run(sys.argv[1:], lambda *a: 0)
# What getrusage says is of the process that this one was forked from as well.
from aptandum.core.readers.pool import shared
whose = ["self", *map(str, shared().processes())]
assert len(whose) > 1
most = max(int(line.split()[1]) for pid in whose for line in open(f"/proc/{pid}/status") if line.startswith("VmHWM"))
print(status, most, file=sys.stderr)
"""


@pytest.mark.parametrize("act", ["facts", "facts --quick", "check --quick"])
@pytest.mark.long
def test_no_bomb_takes_memory(bombs, act):
    """All of them in one process, below a limit: a sentence each, and 300 MB at most."""
    files = sorted(map(str, bombs.iterdir()))
    brief = ["--brief", "vessary-ferries/deck-pass"] if "check" in act else []
    done = subprocess.run(
        [sys.executable, "-c", RUN, *act.split(), *brief, "--json", *files],
        capture_output=True, text=True, timeout=120, check=True,
    )  # fmt: skip
    status, most = done.stderr.split()[-2:]
    assert status == "2" and int(most) < 300_000 and "Traceback" not in done.stderr
    assert done.stdout.count('"error": "') == len(files)


@pytest.mark.parametrize("name", BOMBS)
def test_a_bomb_is_named(bombs, name):
    facts = read_facts(bombs / f"{name}.bin")
    assert facts.error and facts.error.startswith(f"{name}.bin ") and facts.decodes is False


@pytest.mark.parametrize("ending", ["png", "gif", "bmp", "tiff", "webp", "avif"])
def test_what_a_sound_file_claims_is_what_it_has(ending):
    for size in ((1, 1), (37, 21), (640, 5)):
        held = BytesIO()
        Image.fromarray(scene(*size)).save(held, ending)
        claim = walk.declared(held.getvalue(), sniff(held.getvalue()[:64]))
        assert claim is not None and (claim.width, claim.height, claim.frames) == (*size, 1)


@pytest.mark.parametrize("ending, frames", [("gif", 4), ("webp", 3), ("png", 5), ("tiff", 3)])
def test_frames_are_counted_without_a_decoder(ending, frames):
    pictures = [Image.fromarray(scene(40, 30, n)) for n in range(frames)]
    held = BytesIO()
    pictures[0].save(held, ending, save_all=True, append_images=pictures[1:])
    claim = walk.declared(held.getvalue(), ending)
    assert claim is not None and claim.frames == frames
    assert facts_of_bytes(held.getvalue()).frames == frames


@given(st.binary(max_size=400), st.sampled_from(["png", "gif", "bmp", "tiff", "webp", "avif"]))
def test_no_bytes_hurt_the_walk(data, format_):
    heads = {"png": png(3, 3)[:33], "gif": far_gif()[:20], "bmp": tall_bmp()[:54],
             "tiff": wide_tiff()[:20], "webp": vast_webp()[:40], "avif": b"\0\0\0\x18ftypavif"}  # fmt: skip
    for whole in (data, heads[format_] + data):
        try:
            claim = walk.declared(whole, format_)
        except walk.Impossible as error:
            assert str(error)
        else:
            assert claim is None or (claim.width >= 0 and claim.frames >= 1)


def test_exif_behind_the_pixels_of_a_png_is_read_without_decoding_them():
    exif = Image.Exif()
    exif[0x0112] = 6
    held = BytesIO()
    Image.fromarray(scene(20, 10)).save(held, "PNG")
    plain = held.getvalue()
    whole = plain[:-12] + chunk(b"eXIf", exif.tobytes()[6:]) + plain[-12:]
    assert facts_of_bytes(whole).orientation == 6 and facts_of_bytes(whole).size == (10, 20)


# --- reading what comes from outside ---------------------------------------------------------------


def test_only_ordinary_files_are_read_and_nothing_is_waited_for(tmp_path: Path):
    os.mkfifo(tmp_path / "pipe")
    for place in (tmp_path / "pipe", tmp_path, Path("/dev/zero"), Path("/dev/null")):
        with pytest.raises(NotOrdinary, match="no ordinary file"):
            read_whole(place, 100)
    held = tmp_path / "held"
    held.write_bytes(bytes(100))
    assert read_whole(held, 100) == bytes(100)
    with pytest.raises(TooMuch, match="more than 99 bytes"):
        read_whole(held, 99)
    (tmp_path / "empty").write_bytes(b"")
    assert read_whole(tmp_path / "empty", 0) == b""
    with pytest.raises(FileNotFoundError):
        read_whole(tmp_path / "none", 1)


def test_a_file_that_grows_while_it_is_read_is_read_whole(tmp_path: Path):
    path = tmp_path / "grows"
    path.write_bytes(bytes(10))
    stop = threading.Event()

    def grow() -> None:
        with open(path, "ab") as stream:
            while not stop.is_set():
                stream.write(bytes(10))
                stream.flush()

    other = threading.Thread(target=grow)
    other.start()
    try:
        for _ in range(50):
            assert len(read_whole(path, 1 << 40)) >= 10
    finally:
        stop.set()
        other.join()


def test_a_photo_asks_for_no_more_memory_than_it_has(tmp_path: Path):
    path = tmp_path / "small.png"
    Image.fromarray(scene(30, 20)).save(path)
    code = (
        "import resource, sys\n"
        "from aptandum.core.photo.decode import full_facts\n"
        "resource.setrlimit(resource.RLIMIT_DATA, (500_000_000, 500_000_000))\n"
        "print(full_facts(sys.argv[1]).decodes)"
    )
    done = subprocess.run(
        [sys.executable, "-c", code, path], capture_output=True, text=True, check=True
    )
    assert done.stdout.strip() == "True"


@pytest.mark.parametrize("allowed", ["", "megapixels=9999999"])
def test_a_picture_that_says_it_is_larger_than_any_is_refused_whatever_is_allowed(allowed):
    side = 2_000_000_000
    facts = replace(facts_of_bytes(png(8, 8), "far.png"), width=side, height=side)
    bounds.use(allowed)
    try:
        for ask in (apart.open_pixels, apart.second):
            with pytest.raises(PhotoError, match="more than any picture can be opened with"):
                ask(png(side, side), facts)
    finally:
        bounds.use("")


def test_memory_that_no_machine_has_is_refused_as_such():
    with pytest.raises(OSError, match="memory"):
        sealed(1 << 70, "pixels")
