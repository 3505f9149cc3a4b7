"""The light of the whole picture: by one number each, in linear light, recorded, and only where the body allows it."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.lighting import before, gains, skin_of
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.marks import Marks
from samples import brief_of, clause, jpeg, scene

ANY = clause("longest_side", at_most=4000)
DEEP = clause("format", exactly="png") + clause("bits", exactly=16)


def _light(code):
    x = np.asarray(code, float) / 255
    return np.where(x <= 0.04045, x / 12.92, ((x + 0.055) / 1.055) ** 2.4)


def _code(light):
    y = np.clip(light, 0, 1)
    return 255 * np.where(y <= 0.0031308, 12.92 * y, 1.055 * y ** (1 / 2.4) - 0.055)


def made(photo: Path, brief, **settings: str) -> tuple[np.ndarray, object]:
    proof = conform(open_photo(photo), brief, Settings().having(settings))
    with Image.open(io.BytesIO(proof.made.data)) as opened:
        return np.asarray(opened), proof


@pytest.fixture
def plain(tmp_path: Path) -> Path:
    path = tmp_path / "plain.png"
    Image.fromarray(scene(120, 90)).save(path)
    return path


@pytest.mark.parametrize(("stops", "warmth"), [("0.7", "0"), ("-1.2", "0"), ("0", "0.8"), ("0.4", "-0.6")])  # fmt: skip
def test_each_channel_has_its_light_multiplied(plain, stops, warmth):
    brief = brief_of(ANY + clause("format", exactly="png"))
    seen, proof = made(plain, brief, **{"colour.exposure": stops, "colour.warmth": warmth})
    with Image.open(plain) as opened:
        before = np.asarray(opened)
    wanted = _code(_light(before) * gains(float(stops), float(warmth)))
    assert np.abs(seen - wanted).max() <= 0.51
    assert "light" in {act.word for act in proof.acts}


def test_no_step_is_left_out_by_it(tmp_path):
    """Made from 16 bit, every second step of the 8 that are written is still there."""
    path = tmp_path / "ramp.png"
    ramp = np.repeat(np.linspace(2000, 30000, 4096)[None], 8, 0).astype(np.uint16)
    Image.fromarray(ramp).save(path)
    brief = brief_of(ANY + clause("format", exactly="png") + clause("bits", exactly=8))
    seen, _proof = made(path, brief, **{"colour.exposure": "1"})
    steps = np.unique(seen)
    assert len(steps) == int(steps.max()) - int(steps.min()) + 1


def test_nothing_is_changed_where_nothing_is_set(tmp_path):
    path = tmp_path / "sea.jpg"
    path.write_bytes(jpeg(scene(200, 150)))
    _seen, proof = made(path, brief_of(ANY))
    assert proof.made.data == path.read_bytes()
    _seen, lighter = made(path, brief_of(ANY), **{"colour.exposure": "0.5"})
    assert lighter.made.data != path.read_bytes()


def test_a_body_that_allows_no_such_thing_is_missed_and_it_is_taken_back(plain):
    brief = brief_of(ANY, 'allows = ["turn", "cut", "scale", "convert"]')
    _seen, proof = made(plain, brief, **{"colour.exposure": "0.5"})
    finding = proof.findings.of("alterations")
    assert finding.verdict == "misses" and "lighter" in finding.says
    assert finding.mend is not None and dict(finding.mend.changes or {}) == {
        "colour.exposure": None,
        "colour.warmth": None,
    }
    allowed = brief_of(ANY, 'allows = ["light", "scale", "convert"]')
    _seen, proof = made(plain, allowed, **{"colour.exposure": "0.5"})
    assert proof.findings.of("alterations").verdict == "meets"


def test_it_is_said_how_much_and_by_whom(plain):
    _seen, proof = made(plain, brief_of(ANY), **{"colour.exposure": "-0.3", "colour.warmth": "0.2"})
    said = [act.says for act in proof.acts if act.word == "light"]
    assert said[0] == "The whole picture made darker by 0.3 stops: set by hand."
    assert "warmer" in said[1] and "0.2" in said[1]


def test_grey_has_no_warmth(tmp_path):
    path = tmp_path / "grey.png"
    Image.fromarray(scene(60, 40)[..., 0]).save(path)
    brief = brief_of(ANY + clause("format", exactly="png") + clause("channels", exactly="grey"))
    seen, proof = made(path, brief, **{"colour.exposure": "0.5", "colour.warmth": "1"})
    with Image.open(path) as opened:
        wanted = _code(_light(np.asarray(opened)) * 2**0.5)
    assert np.abs(seen - wanted).max() <= 0.51
    assert len([act for act in proof.acts if act.word == "light"]) == 1


@given(st.floats(-3, 3), st.floats(-3, 3))
def test_warmth_leaves_a_grey_as_light_as_it_was(exposure, warmth):
    red, green, blue = gains(exposure, warmth)
    assert 0.2126 * red + 0.7152 * green + 0.0722 * blue == pytest.approx(2**exposure)
    assert red / blue == pytest.approx(2**warmth)


def test_the_skin_is_told_as_it_was_and_as_it_is():
    picture = np.full((200, 160, 3), (180, 140, 120), np.uint8)
    lighter = np.rint(_code(_light(picture) * gains(0.4, 0.3))).astype(np.uint8)
    marks = Marks((80, 20), (80, 160), (50, 80), (110, 80))
    was, now = skin_of(picture, marks), skin_of(lighter, marks)
    assert now[0] > was[0] + 5 and before(now, 0.4, 0.3) == pytest.approx(was, abs=0.4)
    assert skin_of(picture, Marks((5, 0), (5, 40), (0, 20), (10, 20))) is None
