"""Damage inside a picture's data is seen in every format that shows it, and a sound file is never doubted."""

from __future__ import annotations

import io
import struct
from contextlib import nullcontext
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from aptandum.core import threads
from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import check_pixels, facts_of_bytes, full_facts, open_photo
from aptandum.core.photo.sound import Damaged
from aptandum.core.readers.pool import Readers
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.rulebook.toml import parse_rulebook
from samples import scene

SCENES = [scene(640, 480, seed, grain=grain) for seed, grain in ((1, 8.0), (2, 2.0), (3, 0.5))]
KINDS: dict[str, tuple[str, dict[str, object]]] = {
    "jpeg": ("JPEG", {"quality": 88}),
    "passes": ("JPEG", {"quality": 88, "progressive": True}),
    "fine": ("JPEG", {"quality": 95, "subsampling": 0}),
    "png": ("PNG", {}),
    "lzw": ("TIFF", {"compression": "tiff_lzw"}),
    "deflate": ("TIFF", {"compression": "tiff_adobe_deflate"}),
    "in-tiff": ("TIFF", {"compression": "jpeg"}),
    "webp": ("WEBP", {"quality": 85}),
    "whole": ("WEBP", {"lossless": True}),
}


def written(kind: str, seed: int, **more: object) -> bytes:
    format_, options = KINDS[kind]
    held = io.BytesIO()
    Image.fromarray(SCENES[seed]).save(held, format_, **{**options, **more})
    return held.getvalue()


def check(data: bytes):
    return check_pixels(data, facts_of_bytes(data, "photo"))


def spoilt(data: bytes, how: str, chance: np.random.Generator, other: bytes) -> bytes:
    made, low = bytearray(data), len(data) // 4
    place = int(chance.integers(low, len(data) - 200))
    if how == "flipped":
        for _ in range(12):
            at = int(chance.integers(low, len(data) - 100))
            made[at] ^= 1 << int(chance.integers(8))
    elif how == "cut":
        del made[place:]
    elif how == "zeros":
        made[place : place + 150] = bytes(150)
    elif how == "gap":
        del made[place : place + 120]
    else:
        place = min(place, len(other) - 100)
        made = made[:place] + bytearray(other[place:])
    return bytes(made)


@pytest.mark.long
def test_sixty_damaged_files_are_noticed():
    chance = np.random.default_rng(11)
    missed, count = [], 0
    for n in range(60):
        kind = list(KINDS)[n % len(KINDS)]
        how = ("flipped", "cut", "spliced", "zeros", "gap")[n // len(KINDS) % 5]
        data = spoilt(written(kind, n % 3), how, chance, written(kind, (n + 1) % 3))
        count += 1
        if check(data).error is None:
            missed.append((kind, how))
    assert count == 60 and len(missed) <= 5, missed


def odd(kind: str, data: bytes) -> bytes:
    """A sound file as some writers leave it: with more behind it, or without its very end."""
    if kind in ("jpeg", "fine", "passes"):
        return data[:-2]
    if kind in ("webp", "whole"):
        return data + bytes(7)
    return data + b"appended by a camera" * 20


@pytest.mark.long
def test_sixty_sound_files_are_not_doubted():
    files = [written(kind, seed) for kind in KINDS for seed in range(3)]
    files += [odd(kind, written(kind, seed)) for kind in KINDS for seed in range(3)]
    files += [written("jpeg", 1, quality=q, restart_marker_rows=q % 3) for q in range(40, 100, 10)]
    assert len(files) == 60
    for n, data in enumerate(files):
        seen = check(data)
        assert seen.error is None and seen.decodes is True, (n, seen.error)


def test_pictures_with_hard_edges_on_the_borders_of_blocks_are_not_doubted():
    chance = np.random.default_rng(4)
    for n in range(40):
        picture = np.full((480, 640, 3), chance.integers(0, 256, 3), np.uint8)
        for _ in range(8):
            x, across = sorted(int(v) * 16 for v in chance.integers(0, 41, 2))
            y, down = sorted(int(v) * 16 for v in chance.integers(0, 31, 2))
            picture[y:down, x:across] = chance.integers(0, 256, 3)
        if n % 2:
            grain = chance.normal(0, 5, picture.shape)
            picture = np.clip(picture + grain, 0, 255).astype(np.uint8)
        held = io.BytesIO()
        Image.fromarray(picture).save(held, "JPEG", quality=90)
        assert check(held.getvalue()).error is None, n


def shifted() -> bytes:
    """A JPEG of which all that follows on the middle is brighter, though every code is sound."""
    sound = SCENES[1].astype(int)
    sound[240:256, 320:] += 30
    sound[256:] += 30
    held = io.BytesIO()
    Image.fromarray(np.clip(sound, 0, 255).astype(np.uint8)).save(held, "JPEG", quality=92)
    return held.getvalue()


def test_a_jump_in_the_middle_of_a_row_is_damage():
    assert "damaged" in (check(shifted()).error or "")


def test_twelve_bits_flipped_in_an_uncompressed_picture_cannot_be_known():
    held = io.BytesIO()
    Image.fromarray(SCENES[0]).save(held, "TIFF")
    data = bytearray(held.getvalue())
    for at in range(5000, 5012):
        data[at] ^= 4
    assert check(bytes(data)).error is None


@pytest.fixture
def damaged(tmp_path: Path) -> Path:
    path = tmp_path / "IMG_2041.jpg"
    path.write_bytes(spoilt(written("jpeg", 0), "gap", np.random.default_rng(2), b""))
    return path


def test_no_file_is_made_of_it_before_somebody_says_so(damaged: Path):
    brief = read_shelf().find("vessary-ferries/deck-pass")[1]
    photo = open_photo(damaged)
    with pytest.raises(Damaged, match=r"IMG_2041\.jpg is damaged: .*source\.damaged"):
        conform(photo, brief, Settings())
    accepted = Settings().having({"source.damaged": True})
    proof = conform(photo, brief, accepted)
    assert any("may be damaged" in act.says for act in proof.record)
    assert check(proof.made.data).error is None


SIZES = {"handed on": '"640 x 480"', "smaller": '"160 x 120"', "larger": '"1280 x 960"'}


def asking(size: str, more: str = "") -> Brief:
    text = (
        'format = 1\n[body]\nid = "sound"\nname = "Sound"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        f'[[brief.clause]]\nmeasure = "size"\nexactly = {size}\n{more}'
    )
    return parse_rulebook(text).briefs[0]


@pytest.mark.parametrize("cores", [1, 2])
@pytest.mark.parametrize("size", SIZES.values(), ids=SIZES)
def test_what_a_check_finds_is_found_by_whatever_is_made(tmp_path: Path, size: str, cores: int):
    """A photo is looked at for damage while it is decoded for the file, or beside that, or behind it; the answer is one."""
    chance = np.random.default_rng(5)
    brief = asking(size, '[[brief.clause]]\nmeasure = "file_bytes"\nat_most = "90 kB"\n')
    files = [shifted(), written("jpeg", 1)[:-2], written("passes", 1), written("png", 1)]
    files += [written("webp", 1), written("deflate", 2)]
    kinds = [("jpeg", "flipped"), ("fine", "gap"), ("passes", "cut"), ("jpeg", "spliced"), ("png", "zeros"), ("lzw", "zeros"), ("webp", "zeros")]  # fmt: skip
    files += [spoilt(written(k, 0), how, chance, written(k, 2)) for k, how in kinds]
    asked = refused = 0
    for n, data in enumerate(files):
        (path := tmp_path / f"IMG_{n}.photo").write_bytes(data)
        with threads.on_one_core() if cores == 1 else nullcontext():
            try:
                conform(open_photo(path), brief)
                asked += 1
                assert check(data).error is None, n
            except Damaged as error:
                refused += 1
                told = "is cut short" if "cut short" in error.why else "is damaged"
                assert check(data).decodes is False and f"IMG_{n}.photo {told}" in error.why, n
    assert asked >= 3 and refused >= 4


def test_a_photo_is_decoded_once_for_its_file_and_for_damage(tmp_path: Path, monkeypatch):
    (path := tmp_path / "IMG_1.jpg").write_bytes(written("jpeg", 1))
    asked: list[str] = []
    ask = Readers.ask
    monkeypatch.setattr(Readers, "ask", lambda self, wish: [asked.append(wish.act), ask(self, wish)][1])  # fmt: skip
    proof = conform(open_photo(path), asking('"160 x 120"'))
    assert proof.ready and asked.count("pixels") == 1
    assert asked.count("check") == 1  # of the file that was made
    asked.clear()
    with pytest.raises(Damaged):
        path.write_bytes(shifted())
        conform(open_photo(path), asking('"160 x 120"'))
    assert asked.count("pixels") == 1


def test_its_facts_stay_beside_what_is_wrong(damaged: Path):
    facts = full_facts(damaged)
    assert facts.decodes is False and facts.size == (640, 480) and facts.bits == 8
    assert facts.subsampling == "4:2:0"


def test_a_cut_off_end_is_called_so(tmp_path: Path):
    for kind, ending in (("jpeg", "jpg"), ("png", "png"), ("webp", "webp")):
        path = tmp_path / f"short.{ending}"
        data = written(kind, 1)
        path.write_bytes(data[: len(data) * 2 // 3])
        assert (full_facts(path).error or "").endswith("it is cut short."), kind


def test_a_tiff_whose_bits_run_the_other_way_is_not_doubted():
    held = io.BytesIO()
    Image.fromarray(SCENES[1]).save(held, "TIFF", compression="tiff_lzw", tiffinfo={266: 1})
    data = bytearray(held.getvalue())
    with Image.open(io.BytesIO(held.getvalue())) as image:
        places = list(zip(image.tag_v2[273], image.tag_v2[279], strict=True))
    for start, size in places:
        data[start : start + size] = bytes(
            int(f"{v:08b}"[::-1], 2) for v in data[start : start + size]
        )
    start = struct.unpack_from("<I", data, 4)[0]
    for i in range(struct.unpack_from("<H", data, start)[0]):
        if struct.unpack_from("<H", data, start + 2 + 12 * i)[0] == 266:
            struct.pack_into("<H", data, start + 10 + 12 * i, 2)
    assert check(bytes(data)).error is None


def test_one_in_a_tiff_that_says_more_than_there_is():
    data = bytearray(written("lzw", 1))
    order = "<" if data[:2] == b"II" else ">"
    start = struct.unpack_from(order + "I", data, 4)[0]
    count = struct.unpack_from(order + "H", data, start)[0]
    tags = {struct.unpack_from(order + "H", data, start + 2 + 12 * i)[0] for i in range(count)}
    assert 279 in tags and check(bytes(data)).error is None
