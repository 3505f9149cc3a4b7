"""Colours of a kind that is not converted are never said to have been converted."""

from __future__ import annotations

import io
import struct
import zlib

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.photo.decode import open_photo
from samples import brief_of, clause, scene

CICP_PQ, CICP_P3 = bytes([9, 16, 0, 1]), bytes([12, 13, 0, 1])
SRGB_POINTS = 31270, 32900, 64000, 33000, 30000, 60000, 15000, 6000
WIDE_POINTS = 31270, 32900, 64000, 33000, 21000, 71000, 15000, 6000


def chunk(kind: bytes, body: bytes) -> bytes:
    return struct.pack(">I", len(body)) + kind + body + struct.pack(">I", zlib.crc32(kind + body))


def png(path, *chunks: bytes) -> np.ndarray:
    pixels = scene(90, 60, 3)
    out = io.BytesIO()
    Image.fromarray(pixels).save(out, "PNG")
    raw = out.getvalue()
    path.write_bytes(raw[:33] + b"".join(chunks) + raw[33:])
    return pixels


@pytest.mark.parametrize(
    "chunks",
    [
        (chunk(b"cICP", CICP_PQ),),
        (chunk(b"sRGB", b"\0"), chunk(b"cICP", CICP_PQ)),
        (chunk(b"gAMA", struct.pack(">I", 100_000)),),
        (chunk(b"gAMA", struct.pack(">I", 45_455)), chunk(b"cHRM", struct.pack(">8I", *WIDE_POINTS))),
    ],
)  # fmt: skip
def test_numbers_that_are_taken_as_they_are_are_said_to_be(tmp_path, chunks):
    path = tmp_path / "photo.png"
    pixels = png(path, *chunks)
    photo = open_photo(path)
    assert photo.facts.colour_space == "other"
    proof = conform(photo, brief_of(clause("format", exactly="tiff")))
    assert any("they are taken as sRGB" in note for note in proof.figures()["notes"])
    assert not any("converted" in act.says for act in proof.record)
    with Image.open(io.BytesIO(proof.made.data)) as opened:
        assert (np.asarray(opened) == pixels).all()


@pytest.mark.parametrize(
    ("chunks", "space"),
    [
        ((), "untagged"),
        ((chunk(b"sRGB", b"\0"),), "srgb"),
        ((chunk(b"sRGB", b"\0"), chunk(b"cICP", CICP_P3)), "display-p3"),
        ((chunk(b"gAMA", struct.pack(">I", 45_455)), chunk(b"cHRM", struct.pack(">8I", *SRGB_POINTS))), "untagged"),
    ],
)  # fmt: skip
def test_what_is_known_is_told_without_a_note(tmp_path, chunks, space):
    path = tmp_path / "photo.png"
    png(path, *chunks)
    photo = open_photo(path)
    assert photo.facts.colour_space == space
    notes = conform(photo, brief_of(clause("format", exactly="tiff"))).figures()["notes"]
    assert not any("taken as" in note for note in notes)
