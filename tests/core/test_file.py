from __future__ import annotations

import io
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
import simplejpeg
from hypothesis import given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.file import budget, free_name
from aptandum.core.file.encode import JpegEncoder, JpegOptions, encode_png, png_chunks
from aptandum.core.file.make import make
from aptandum.core.file.write import WriteError, write
from aptandum.core.fitting import filenames
from aptandum.core.fitting.plan import FileStation
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.photo.apart import credit_of
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.metadata_groups import Credit, chosen
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from aptandum.core.rulebook.shelf import read_shelf
from samples import DEMO, brief_of, clause, examples, scene

DECK = read_shelf().find("vessary-ferries/deck-pass")[1]


def picture(width: int = 320, height: int = 240, seed: int = 1, grain: float = 6) -> Picture:
    return Picture(scene(width, height, seed, grain), shipped("srgb"), False)


def station(**more: object) -> FileStation:
    base = dict(
        format="jpeg",
        quality=None,
        subsampling=None,
        progressive=None,
        at_least=None,
        at_most=None,
        ppi=None,
    )
    return FileStation(**{**base, **more})  # type: ignore[arg-type]


def test_the_demo_portrait_meets_the_deck_pass_and_one_quality_more_does_not():
    photo = open_photo(DEMO / "ines_marrow_0417.jpg")
    proof = conform(photo, DECK)
    data = proof.made.data
    assert proof.ready
    # an independent look at the bytes
    with Image.open(io.BytesIO(data)) as image:
        assert image.size == (630, 840) and image.format == "JPEG"
        assert image.info["icc_profile"] == shipped("srgb")
        assert image.info["dpi"] == (457, 457)
        exif = image.getexif()
        assert exif[0x8298].endswith("Vessary") and not exif.get_ifd(0x8825)
        image.load()
    assert simplejpeg.decode_jpeg(data).shape == (840, 630, 3)
    assert 61_440 <= len(data) <= 250_000
    line = proof.line
    options = proof.made.options
    encoder = JpegEncoder(
        render(photo, line), line.file.ppi, chosen(credit_of(photo.read()), line.file.metadata)
    )
    assert encoder(options) == data
    more = JpegOptions(options.quality + 1, options.subsampling, options.progressive)
    assert len(encoder(more)) > 250_000
    # shown figures and written figures are the same
    figures = proof.figures()
    assert figures["frame"]["output"] == (630, 840)
    assert figures["file"]["bytes"] == len(data)
    assert figures["file"]["quality"] == options.quality


@pytest.mark.parametrize("seed", [1, 2, 3])
@pytest.mark.parametrize("at_most", [9_000, 20_000, 45_000, 90_000])
def test_the_quality_found_is_the_highest(seed: int, at_most: int):
    made = make(picture(seed=seed, grain=4.0 * seed), station(at_most=at_most))
    assert len(made.data) <= at_most and not made.trouble
    if made.options.quality == 100:
        return
    encoder = JpegEncoder(picture(seed=seed, grain=4.0 * seed), None, Credit())
    above = JpegOptions(
        made.options.quality + 1, made.options.subsampling, made.options.progressive
    )
    assert len(encoder(above)) > at_most


@given(
    st.floats(5, 13),
    st.floats(0.6, 1.5),
    st.integers(500, 3_000_000),
    st.integers(1, 60),
    st.booleans(),
)
@settings(max_examples=examples(300), deadline=None)
def test_the_search_finds_the_same_as_trying_all(level, steepness, at_most, lowest, step_back):
    """Against every curve of a JPEG's kind, also one with a step back at quality 50."""

    def size(q: int) -> int:
        # Seen on real files: quality 50 a little below 49, by less than a step of quality.
        back = 0.995 if step_back and q >= 50 else 1
        return int(np.exp(level + steepness * budget._curve(q)) * back) + 600

    sizes = {q: size(q) for q in range(1, 101)}
    found = budget.highest_quality(lambda q: bytes(sizes[q]), at_most, 10_000, lowest)
    fitting = [q for q in range(lowest, 101) if sizes[q] <= at_most]
    assert found.quality == (max(fitting) if fitting else None)
    assert len(found.data) == sizes[found.quality or lowest]
    assert found.encodes <= 14


def test_few_encodes_on_real_pictures():
    counts = []
    for seed in range(1, 7):
        for at_most in (15_000, 30_000, 60_000):
            pic = picture(400, 300, seed, 2.0 + 2 * seed)
            encoder = JpegEncoder(pic, None, Credit())
            budget.highest_quality(lambda q, e=encoder: e(JpegOptions(q)), at_most, 120_000)
            counts.append(encoder.encodes)
    assert np.mean(counts) <= 5


def test_a_limit_that_cannot_be_met_is_told_with_what_can():
    made = make(picture(600, 400, 2, 20), station(at_most=4_000))
    assert len(made.data) > 4_000 and made.options.quality == 1
    shown = made.trouble.replace("\u00a0", " ")
    assert f"has {len(made.data):,} bytes".replace(",", " ") in shown
    assert "fewer pixels" in shown
    low = make(picture(40, 30), station(at_least=900_000))
    assert low.options.quality == 100 and "nothing is padded" in low.trouble
    png = make(picture(), station(format="png", at_most=1000))
    assert "JPEG, or fewer pixels" in png.trouble


def test_tight_limits_give_up_chroma_before_quality_falls_far():
    easy = make(picture(600, 400, 2, 10), station(at_most=200_000))
    tight = make(picture(600, 400, 2, 10), station(at_most=10_000))
    assert easy.options.subsampling == "4:4:4" and not easy.options.progressive
    assert tight.options.progressive and tight.options.subsampling == "4:2:0"


@pytest.mark.parametrize("ppi", [None, 72.0, 300.0, 457.0])
@pytest.mark.parametrize("format_", ["jpeg", "png"])
def test_ppi_is_written_as_asked_or_not_at_all(format_: str, ppi: float | None):
    made = make(picture(), station(format=format_, ppi=ppi))
    with Image.open(io.BytesIO(made.data)) as image:
        density = image.info.get("dpi") if format_ == "png" else image.info.get("jfif_density")
        if ppi is None:
            assert density is None or image.info.get("jfif_unit") == 0
        else:
            assert density[0] == pytest.approx(ppi, abs=0.02)


def test_png_is_lossless_with_profile_and_credit():
    pic = picture()
    made = make(pic, station(format="png", ppi=300.0), Credit("Quill Harrow", "© Quill Harrow"))
    with Image.open(io.BytesIO(made.data)) as image:
        assert np.array_equal(np.asarray(image), pic.pixels)
        assert image.info["icc_profile"] == shipped("srgb")
        assert image.getexif()[0x013B] == "Quill Harrow"
    kinds = [kind for kind, _ in png_chunks(made.data)]
    assert kinds.index(b"pHYs") < kinds.index(b"IDAT") and kinds[-1] == b"IEND"


def test_credit_is_found_in_exif_and_xmp_and_the_place_is_dropped(photo, tmp_path: Path):
    path = photo()
    told = credit_of(path.read_bytes())
    assert (told.by, told.rights) == ("Quill Harrow", "Quill Harrow, Vessary") and told.place
    out = conform(open_photo(path), brief_of(clause("format", exactly="jpeg"))).made.data
    assert credit_of(out) == Credit("Quill Harrow", "Quill Harrow, Vessary")
    with Image.open(io.BytesIO(out)) as image:
        assert not image.getexif().get_ifd(0x8825) and "xmp" not in image.info
    packet = (
        b'<x:xmpmeta xmlns:x="adobe:ns:meta/"><rdf:RDF xmlns:rdf="http://www.w3.org/1999/02/22-'
        b'rdf-syntax-ns#"><rdf:Description rdf:about="" xmlns:dc="http://purl.org/dc/elements/1.1/">'
        b"<dc:creator><rdf:Seq><rdf:li>Tobin Oar</rdf:li></rdf:Seq></dc:creator>"
        b"</rdf:Description></rdf:RDF></x:xmpmeta>"
    )
    data = io.BytesIO()
    Image.fromarray(scene(20, 20)).save(data, "JPEG", xmp=packet)
    assert credit_of(data.getvalue()).by == "Tobin Oar"
    data = io.BytesIO()
    Image.fromarray(scene(20, 20)).save(data, "JPEG", xmp=b"<!DOCTYPE a>" + packet)
    assert credit_of(data.getvalue()) == Credit()
    assert credit_of(b"nonsense") == Credit()


def test_names_tell_from_the_original_and_are_never_taken(tmp_path: Path):
    assert filenames.suggested("ines_0417.JPG", "deck-pass", "jpeg") == "ines_0417-deck-pass.jpg"
    assert filenames.suggested("a/b:c?.png", "x", "png") == "a_b_c_-x.png"
    assert filenames.suggested(".jpg", "x", "jpeg").endswith("-x.jpg")
    for n in ("a.jpg", "a-2.jpg"):
        (tmp_path / n).write_bytes(b"")
    assert free_name.free(tmp_path / "a.jpg").name == "a-3.jpg"


def test_writing_never_touches_a_photo_and_numbers_what_is_taken(photo, tmp_path: Path):
    path = photo()
    before = path.read_bytes()
    assert write(b"new", path, [path]).name == "sea_wall-2.jpg"
    assert write(b"newer", path, [path]).name == "sea_wall-3.jpg"
    link = tmp_path / "link.jpg"
    link.symlink_to(path)
    for target in (path, link, tmp_path / "." / path.name):
        with pytest.raises(WriteError, match="never written to"):
            write(b"x", target, [path], replace=True)
    assert path.read_bytes() == before
    other = tmp_path / "out.jpg"
    other.write_bytes(b"old")
    assert write(b"new", other, [path], replace=True) == other and other.read_bytes() == b"new"
    assert not list(tmp_path.glob(".aptandum-*"))


def test_writing_says_why_it_could_not(tmp_path: Path):
    with pytest.raises(WriteError, match="there is no folder"):
        write(b"x", tmp_path / "no" / "a.jpg", [])
    with pytest.raises(WriteError, match="is a folder"):
        write(b"x", tmp_path, [])


def test_a_crash_while_writing_leaves_nothing(tmp_path: Path):
    code = (
        "import os, sys\nfrom aptandum.core.file import write as w\n"
        "os.fsync = lambda fd: os._exit(9)\n"
        f"w.write(b'x' * 100, {str(tmp_path / 'a.jpg')!r}, [])"
    )
    done = subprocess.run([sys.executable, "-c", code], env={**os.environ})
    assert done.returncode == 9 and not (tmp_path / "a.jpg").exists()


@pytest.mark.parametrize(("width", "height"), [(2400, 1600), (700, 900)])
def test_conform_writes_what_it_shows(photo, width: int, height: int):
    brief = brief_of(
        clause("longest_side", at_most=800)
        + clause("file_bytes", at_most="90 KB")
        + clause("format", one_of=["jpeg", "png"])
        + clause("colour_space", exactly="srgb")
    )
    one = open_photo(photo(width, height, space="display-p3", orientation=8))
    proof = conform(one, brief, Settings())
    with Image.open(io.BytesIO(proof.made.data)) as image:
        assert image.size == resolve(one.facts, brief, Settings()).frame.output
    assert proof.ready and proof.findings.of("file_bytes").verdict == "meets"


@pytest.mark.parametrize(
    "chosen_name, made",
    [
        ("{brief}-{photo}", "notice-low tide.jpg"),
        ("{body}_{width}x{height}", "pier-office_640x480.jpg"),
        ("plate {n:3}", "plate 001.jpg"),
        ("a/b:c*?", "a_b_c__.jpg"),
        ("-rf", "rf.jpg"),
        ("  .hidden. ", "hidden.jpg"),
        ("NUL", "NUL_.jpg"),
        ("é" * 300, "é" * 115 + ".jpg"),
    ],
)
def test_a_chosen_name_takes_fields_and_is_safe_everywhere(chosen_name, made):
    brief = brief_of(clause("format", one_of=["jpeg"]))
    assert filenames.file_name("low tide.JPG", brief, "jpeg", chosen_name, (640, 480)) == made


@pytest.mark.parametrize("bad", ["{photographer}", "half {brief", "{}", " . ", "x}{n}"])
def test_a_name_with_wrong_braces_is_refused_and_says_which_there_are(bad):
    with pytest.raises(SettingError, match="name"):
        Settings().having({"file.name": bad})


def test_a_counted_name_gets_its_first_free_number_and_never_a_taken_one(tmp_path: Path):
    for n in (1, 2, 4):
        (tmp_path / f"plate-00{n}.jpg").write_bytes(b"taken")
    path = write(b"mine", tmp_path / "plate-001.jpg", (), counted="plate-{n:3}.jpg")
    assert path.name == "plate-003.jpg" and path.read_bytes() == b"mine"
    path = write(b"next", tmp_path / "plate-001.jpg", (), counted="plate-{n:3}.jpg")
    assert path.name == "plate-005.jpg"
    # another name was typed: it is taken as it is
    path = write(b"own", tmp_path / "gull.jpg", (), counted="plate-{n:3}.jpg")
    assert path.name == "gull.jpg"


def test_a_png_a_little_over_its_limit_is_packed_tighter_before_its_colours_are_cut():
    picture = Picture(scene(400, 300), shipped("srgb"), False)
    quick, tight = (len(encode_png(picture, None, Credit(), tightest=t)) for t in (False, True))
    assert tight < quick
    station = FileStation("png", None, None, None, None, (quick + tight) // 2, None)
    made = make(picture, station)
    assert made.colours is None and tight == len(made.data) <= station.at_most
    with Image.open(io.BytesIO(made.data)) as read:
        assert (np.asarray(read.convert("RGB")) == picture.pixels).all()
