"""What a file tells beside its pixels: kept, dropped or set by groups, and read back by others."""

import cv2
import numpy as np
import pytest
import pyvips
from PIL import ExifTags, Image
from PIL.TiffImagePlugin import IFDRational

from aptandum.core.conform import conform
from aptandum.core.file.make import make
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.reading import of_supplied
from aptandum.core.photo.apart import credit_of
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.metadata_groups import GROUPS, HOLDING, chosen, lines
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from samples import brief_of, clause, scene

PLACE = {"none_of": ["present"]}


def brief_for(format_="jpeg", place=PLACE):
    return brief_of(clause("format", one_of=[format_]) + clause("location", **place))


@pytest.fixture
def told_photo(tmp_path):
    """A photo that tells all six groups, with letters beyond ASCII."""
    path = tmp_path / "pier.jpg"
    exif = Image.Exif()
    exif[0x013B] = "Åse Quill".encode()
    exif[0x8298] = "© Åse Quill, Vessary".encode()
    exif[0x010E] = "The pier at first light"
    exif[0x010F], exif[0x0110] = "Halyard", "Halyard F2"
    exif.get_ifd(0x8769)[0x9003] = "2026:10:04 06:51:09"
    exif.get_ifd(0x8769)[0x829D] = IFDRational(28, 10)
    place = exif.get_ifd(0x8825)
    place[1], place[2] = "N", (IFDRational(51), IFDRational(30), IFDRational(36))
    place[3], place[4] = "W", (IFDRational(9), IFDRational(15), IFDRational(0))
    Image.fromarray(scene(320, 240)).save(path, exif=exif)
    return path


def made_with(path, wishes, format_="jpeg"):
    settings = Settings().having({f"file.metadata.{k}": v for k, v in wishes.items()})
    return conform(open_photo(path), brief_for(format_), settings)


def tags_of(data, tmp_path):
    """EXIF as Pillow tells it from the file on disk, by the standard's names."""
    path = tmp_path / "out"
    path.write_bytes(data)
    with Image.open(path) as image:
        exif = image.getexif()
        return dict(exif), dict(exif.get_ifd(ExifTags.IFD.Exif)), dict(exif.get_ifd(0x8825))


def test_left_alone_all_is_kept_but_the_camera_and_the_place(told_photo, tmp_path):
    plain, shot, place = tags_of(made_with(told_photo, {}).made.data, tmp_path)
    assert plain[0x013B].encode("latin-1").decode() == "Åse Quill"
    assert plain[0x8298].encode("latin-1").decode() == "© Åse Quill, Vessary"
    assert plain[0x010E] == "The pier at first light" and plain[0x0132] == "2026:10:04 06:51:09"
    assert not {0x010F, 0x0110} & set(plain)
    assert set(shot) == {0x9003} and not place


@pytest.mark.parametrize("format_", HOLDING)
def test_every_group_can_be_kept_in_every_format_that_holds_it(told_photo, tmp_path, format_):
    proof = made_with(told_photo, dict.fromkeys((g.name for g in GROUPS), "keep"), format_)
    plain, shot, place = tags_of(proof.made.data, tmp_path)
    assert plain[0x010E] == "The pier at first light" and plain[0x0110] == "Halyard F2"
    assert shot[0x9003] == "2026:10:04 06:51:09" and float(shot[0x829D]) == 2.8
    assert tuple(float(v) for v in place[2]) == (51.0, 30.0, 36.0) and place[3].strip("\0") == "W"
    told = credit_of(proof.made.data)
    assert (told.by, told.caption) == ("Åse Quill", "The pier at first light")
    assert ("Where shot", "51.51° N, 9.25° W") in lines(told, format_)
    # another library reads the picture, whatever stands beside it
    if format_ != "avif":
        assert cv2.imdecode(np.frombuffer(proof.made.data, "u1"), -1) is not None
    assert pyvips.Image.new_from_buffer(proof.made.data, "").avg() > 0
    finding = proof.findings.of("location")
    assert finding.verdict == "misses" and finding.mend.changes == {"file.metadata.location": None}


@pytest.mark.parametrize("format_", ("gif", "bmp"))
def test_formats_without_metadata_say_that_nothing_is_told(told_photo, format_):
    proof = made_with(told_photo, {"location": "keep"}, format_)
    assert lines(credit_of(told_photo.read_bytes()), format_) == ()
    assert proof.findings.of("location").verdict == "meets"


def test_a_text_can_be_set_and_a_group_dropped(told_photo, tmp_path):
    wishes = {
        "credit": "=Tobin Öar",
        "copyright": "drop",
        "caption": "=Low tide",
        "date": "=2026-11-02 17:40",
    }
    proof = made_with(told_photo, wishes)
    told = credit_of(proof.made.data)
    assert (told.by, told.rights, told.caption) == ("Tobin Öar", "", "Low tide")
    assert tags_of(proof.made.data, tmp_path)[1][0x9003] == "2026:11:02 17:40:00"


def test_what_will_be_written_is_told_before_and_is_what_was_written(told_photo):
    photo = open_photo(told_photo)
    settings = Settings().having({"file.metadata.date": "keep", "file.metadata.camera": "keep"})
    line = resolve(photo.facts, brief_for(), settings)
    said = lines(chosen(credit_of(photo.read()), line.file.metadata), line.file.format)
    assert dict(said) == {
        "Credit": "Åse Quill",
        "Copyright": "© Åse Quill, Vessary",
        "Caption": "The pier at first light",
        "Date": "2026-10-04 06:51:09",
        "Camera": "Halyard F2",
    }
    proof = conform(photo, brief_for(), settings)
    assert lines(credit_of(proof.made.data), "jpeg") == said


def test_a_body_that_asks_for_the_place_gets_it(told_photo):
    brief = brief_for(place={"one_of": ["present"]})
    photo = open_photo(told_photo)
    assert judge(of_supplied(photo), brief).of("location").verdict == "meets"
    assert conform(photo, brief).findings.of("location").verdict == "meets"


@pytest.mark.parametrize(
    "key, value",
    [
        ("date", "yesterday"),
        ("date", "=2026-13-40"),
        ("camera", "=Halyard"),
        ("location", "=here"),
        ("credit", "Ines"),
    ],
)
def test_what_cannot_be_set_is_refused_with_a_sentence(key, value):
    with pytest.raises(SettingError, match=f"file.metadata.{key} cannot be"):
        Settings().having({f"file.metadata.{key}": value})


def test_no_density_is_told_twice(told_photo, tmp_path):
    """Pixels per inch stand once in a JPEG, so that no two values can disagree."""
    photo = open_photo(told_photo)
    settings = Settings().having({"file.ppi": 300, "file.metadata.camera": "keep"})
    line = resolve(photo.facts, brief_for(), settings)
    made = make(Picture(scene(64, 48), shipped("srgb"), False), line.file, credit_of(photo.read()))
    plain, _shot, _place = tags_of(made.data, tmp_path)
    with Image.open(tmp_path / "out") as image:
        assert image.info["dpi"] == (300, 300)
    assert not {0x011A, 0x011B, 0x0112} & set(plain)
