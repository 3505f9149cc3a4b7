"""Every kind of file that people bring, held against what another program reads in it."""

from __future__ import annotations

import struct
from pathlib import Path
from typing import Any

import pytest

import corpus
import read_elsewhere as elsewhere
from aptandum.core.photo.decode import full_facts
from aptandum.core.photo.facts import Facts

SOUND = corpus.sound()
REFUSED = corpus.refused()
UNTOLD = {"profile.bmp", "wide.jxl"}
"""Profiles that the other program does not tell."""
MOVING = {"moving.png", "moving.gif", "moving.webp", "moving.avif"}


@pytest.fixture(scope="module")
def folder(tmp_path_factory) -> Path:
    made = tmp_path_factory.mktemp("corpus")
    for name, data in SOUND.items():
        (made / name).write_bytes(data)
    for name, (_kind, data) in REFUSED.items():
        (made / name).write_bytes(data)
    return made


def test_there_are_a_hundred_and_fifty():
    assert len(SOUND) + len(REFUSED) >= 150


@pytest.mark.parametrize("name", REFUSED)
def test_each_that_is_not_read_gets_the_right_sentence(folder: Path, name: str):
    kind, _data = REFUSED[name]
    facts = full_facts(folder / name)
    others = {"cut short", "damaged", "support", "at most 400"} - {kind}
    assert facts.error is not None and kind in facts.error, facts.error
    assert not any(word in facts.error for word in others), facts.error
    assert name in facts.error
    if kind != "support" and name != "cut.tif":  # its directory has gone with its end
        assert facts.width and facts.height, "what its header says is kept"


def _size(tags: dict[str, Any], name: str) -> tuple[int, int]:
    if name == "outside.gif":
        return struct.unpack_from("<HH", SOUND[name], 6)
    # Of JPEG XL the other program knows little, and of HEIC it tells the size before it is cropped.
    if "ImageWidth" not in tags or name.endswith(".heic"):
        return corpus.WIDE, corpus.HIGH
    return tags["ImageWidth"], tags["ImageHeight"]


def _bits(tags: dict[str, Any], facts: Facts) -> int | None:
    """Bits as the other program tells them, where it does."""
    if facts.format == "gif" or facts.format == "webp":
        return facts.bits
    if facts.format == "bmp":
        deep = int(tags["BitDepth"])
        return 8 if deep > 8 else deep
    told = tags.get("BitDepth") or tags.get("BitsPerSample") or tags.get("ImagePixelDepth")
    if told is None:
        return facts.bits
    return int(str(told).split()[0])


def _ppi(told: dict[str, Any], tags: dict[str, Any], facts: Facts) -> float | None:
    if facts.format == "png":
        unit = tags.get("PixelUnits")
        return tags["PixelsPerUnitX"] * 0.0254 if unit in (1, "meters") else None
    if facts.format == "bmp":
        return (tags.get("PixelsPerMeterX") or 0) * 0.0254 or None
    if facts.format == "jpeg" and told.get("JFIF:ResolutionUnit") in (1, 2):
        return told["JFIF:XResolution"] * (2.54 if told["JFIF:ResolutionUnit"] == 2 else 1)
    place = "IFD0:"
    unit, x = told.get(place + "ResolutionUnit"), told.get(place + "XResolution")
    if unit not in (2, 3) or not x or facts.format in ("heic", "avif", "jxl"):
        return facts.ppi_x
    return x * (2.54 if unit == 3 else 1)


@pytest.mark.skipif(not elsewhere.THERE, reason="exiftool, a package of Debian, is not here")
@pytest.mark.long
def test_every_fact_is_what_another_program_reads(folder: Path):
    names = list(SOUND)
    told = elsewhere.by_exiftool([folder / name for name in names])
    wrong: list[object] = []
    for name, one in zip(names, told, strict=True):
        facts = full_facts(folder / name)
        tags = {key.split(":", 1)[1]: value for key, value in one.items() if ":" in key}
        wide, high = _size(tags, name)
        checks = {
            "error": (facts.error, None),
            "decodes": (facts.decodes, True),
            "size": (
                (facts.width, facts.height),
                (wide, high),
            ),
            "bits": (facts.bits, _bits(tags, facts)),
            "location": (
                facts.location,
                any(tag.startswith("GPSLat") for tag in tags) or name == "told.jxl",
            ),
            "profile": (
                facts.icc is not None,
                "ProfileDescription" in tags or name in UNTOLD,
            ),
            "frames": ((facts.frames or 1) > 1, name in MOVING or name == "pages.tif"),
            "pictures": (facts.pictures, 2 if name == "several.jpg" else 1),
            "gain map": (facts.gain_map, name == "gain.jpg"),
        }
        if facts.format in ("jpeg", "png", "tiff", "webp"):
            checks["orientation"] = (facts.orientation, tags.get("Orientation", 1))
        ours, theirs = facts.ppi_x, _ppi(one, tags, facts)
        checks["ppi"] = (round(ours or 0, 1), round(theirs or 0, 1))
        for what, (have, want) in checks.items():
            if have != want:
                wrong.append((name, what, have, want))
    assert not wrong, wrong
