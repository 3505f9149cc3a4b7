"""One bit: dot by dot as an independent reading says, and the mean grey kept."""

from __future__ import annotations

import io

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.dots import WAYS, dots, found_threshold, sharpened
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.header import facts_of_bytes
from samples import brief_of, clause, examples, scene

PANEL = (
    clause("size", exactly="296 x 64")
    + clause("channels", exactly="mono")
    + clause("bits", exactly=1)
    + clause("file_bytes", at_most="4 KiB")
)


def bits_of(data: bytes, ending: str) -> np.ndarray:
    """The dots of a file, read from its bytes by hand: 1 is white."""
    if ending == "bmp":
        at = int.from_bytes(data[10:14], "little")
        wide = int.from_bytes(data[18:22], "little")
        high = int.from_bytes(data[22:26], "little")
        assert data[28] == 1  # bits of a pixel
        header = int.from_bytes(data[14:18], "little")
        first, second = data[14 + header : 17 + header], data[18 + header : 21 + header]
        row = (wide + 31) // 32 * 4
        rows = [np.frombuffer(data, np.uint8, row, at + row * y) for y in reversed(range(high))]
        found = np.unpackbits(np.stack(rows), axis=1)[:, :wide]
        assert {first, second} == {b"\0\0\0", b"\xff\xff\xff"}
        return found if second == b"\xff\xff\xff" else 1 - found
    import zlib

    wide, high = int.from_bytes(data[16:20], "big"), int.from_bytes(data[20:24], "big")
    assert data[24] == 1 and data[25] == 0  # one bit, grey
    body, at = b"", 8
    while at < len(data):
        size = int.from_bytes(data[at : at + 4], "big")
        if data[at + 4 : at + 8] == b"IDAT":
            body += data[at + 8 : at + 8 + size]
        at += 12 + size
    row = (wide + 7) // 8 + 1
    flat = np.frombuffer(zlib.decompress(body), np.uint8).reshape(high, row)
    assert (flat[:, 0] == 0).all()  # no filter
    return np.unpackbits(flat[:, 1:], axis=1)[:, :wide]


@pytest.mark.parametrize("way", WAYS)
@pytest.mark.parametrize("ending", ["png", "bmp"])
@pytest.mark.parametrize("invert", [False, True])
def test_the_file_holds_the_dots_that_were_made(tmp_path, way, ending, invert):
    path = tmp_path / "kettle.png"
    Image.fromarray(scene(296, 64, 3)).save(path, compress_level=1)
    brief = brief_of(PANEL + clause("format", exactly=ending))
    made = Settings().having({"colour.dots": way, "colour.invert": str(invert)})
    proof = conform(open_photo(path), brief, made)
    assert proof.ready, [f.says for f in proof.findings.findings]
    facts = facts_of_bytes(proof.made.data, "x")
    assert (facts.format, facts.mode, facts.bits, facts.size) == (ending, "mono", 1, (296, 64))
    # the grey of the same line, read from a file of its own and reduced again
    grey_made = conform(
        open_photo(path),
        brief_of(clause("size", exactly="296 x 64")),
        Settings().having({"colour.space": "grey", "file.format": "png"}),
    )
    grey = np.asarray(Image.open(io.BytesIO(grey_made.made.data)))
    assert grey.ndim == 2
    read = bits_of(proof.made.data, ending).astype(bool) ^ invert
    assert (read == (dots(grey, way) > 0)).all()
    if way == "fixed":  # which is no more than this
        assert (read == (grey >= 127.5)).all()
    # what Pillow reads is the same, dot by dot
    pillow = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("L")) > 127
    assert (pillow ^ invert == read).all()


def test_dots_of_a_known_picture_are_known(tmp_path):
    """A grey that is black and white already comes through every dot unchanged."""
    rng = np.random.default_rng(8)
    known = (rng.integers(0, 2, (64, 296)) * 255).astype(np.uint8)
    path = tmp_path / "known.png"
    Image.fromarray(known).save(path, compress_level=1)
    for way in WAYS:
        for ending in ("png", "bmp"):
            brief = brief_of(PANEL + clause("format", exactly=ending))
            proof = conform(open_photo(path), brief, Settings().having({"colour.dots": way}))
            assert (bits_of(proof.made.data, ending) * 255 == known).all()


@given(
    st.integers(1, 90),
    st.integers(1, 90),
    st.integers(0, 2**32 - 1),
    st.floats(0.05, 4),
    st.sampled_from([np.uint8, np.uint16]),
)
@settings(max_examples=examples(150), deadline=None)
def test_the_found_threshold_keeps_the_mean_grey(wide, high, seed, power, kind):
    rng = np.random.default_rng(seed)
    top = np.iinfo(kind).max
    grey = (rng.random((high, wide)) ** power * top).astype(kind)
    white = dots(grey, "found") > 0
    assert abs(white.mean() - grey.mean() / top) <= 0.5 / grey.size + 1e-6
    share = grey / top
    if white.any() and not white.all():  # no dot that is white was darker than one that is black
        assert share[white].min() >= share[~white].max() - 1e-6
    assert 0 <= found_threshold(grey) <= 100


@pytest.mark.parametrize("way", ["found", "diffused", "ordered"])
@pytest.mark.parametrize("seed", range(6))
def test_the_mean_grey_is_kept_within_one_percent(way, seed):
    for picture in (scene(296, 64, seed), scene(640, 480, seed)):
        grey = picture[..., seed % 3]
        assert abs((dots(grey, way) / 255).mean() - grey.mean() / 255) < 0.01
    flat = np.full((64, 296), 20 + 40 * seed, np.uint8)
    assert abs((dots(flat, way) / 255).mean() - flat.mean() / 255) < 0.01


def test_the_parted_threshold_lies_between_two_humps():
    rng = np.random.default_rng(2)
    grey = np.where(rng.random((60, 80)) < 0.3, 60, 190) + rng.normal(0, 8, (60, 80))
    white = dots(np.clip(grey, 0, 255).astype(np.uint8), "parted") > 0
    assert (white == (grey > 125)).mean() > 0.999


def test_sharpening_raises_an_edge_and_leaves_a_plain_part():
    grey = np.full((40, 40), 100, np.uint8)
    grey[:, 20:] = 150
    raised = sharpened(grey, 100)
    assert raised[20, 19] < 95 and raised[20, 20] > 155
    assert raised[20, 3] == 100 and (sharpened(grey, 0) == grey).all()


def test_a_caption_is_set_on_the_dots_and_stays_solid(tmp_path):
    """Text is placed after the reduction: no dot of it is broken by the pattern."""
    path = tmp_path / "grey.png"
    Image.fromarray(np.full((64, 296, 3), 128, np.uint8)).save(path, compress_level=1)
    made = Settings().having(
        {
            "finish.caption.text": "QUAY 4",
            "finish.caption.size": 30,
            "finish.caption.anchor": "middle",
            "finish.caption.colour": "#FFFFFF",
            "finish.caption.behind": "plate",
        }
    )
    brief = brief_of(
        PANEL + clause("format", exactly="bmp") + clause("legible_at", at_least="296 px")
    )
    proof = conform(open_photo(path), brief, made)
    assert proof.findings.of("legible_at").verdict == "meets"
    (words,) = proof.laid.lettering
    left, top, wide, high = words.box
    read = bits_of(proof.made.data, "bmp")[top : top + high, left : left + wide]
    assert set(np.unique(words.share)) == {0.0, 1.0}
    assert (read == words.share).all()  # letters white, all round them black
    without = made.having({"finish.caption.behind": "nothing", "finish.caption.colour": "#808080"})
    assert conform(open_photo(path), brief, without).findings.of("legible_at").verdict == "misses"


@pytest.mark.parametrize(("grey", "white"), [(0, 0), (30, 0), (120, 0), (140, 255), (255, 255)])
def test_a_picture_of_one_grey_is_black_where_it_is_dark(grey, white):
    """There is nothing to part: a dark picture does not turn white."""
    made = dots(np.full((20, 30), grey, np.uint8), "parted")
    assert (made == white).all()
