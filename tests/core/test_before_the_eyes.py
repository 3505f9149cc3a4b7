"""Glasses, glare, frames, hair, gaze, shoulders, the colour of the light and traces of compression: told right or not at
all, on portraits whose truth the renderer knows (tools/portrait_truth.py)."""

from __future__ import annotations

import io
import json
from pathlib import Path

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.masking import mask_in
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.beside_question import told
from aptandum.core.judge.findings import judge
from aptandum.core.judge.pixel_statistics import PixelStatistics
from aptandum.core.judge.reading import of_supplied, pixels_of
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.marks import HandMarks, People
from samples import brief_of, clause

FOLDER = Path(__file__).resolve().parent.parent / "portraits" / "before_eyes"
TRUTH = json.loads((FOLDER / "truth.json").read_text())
WORDS = {
    "glasses": ("none", "worn"),
    "glasses_glare": ("none", "seen"),
    "frames_over_eyes": ("none", "seen"),
    "hair_over_eyes": ("none", "seen"),
    "red_eye": ("none", "seen"),
    "gaze": ("ahead", "away"),
}
ASKED = "".join(clause(name, exactly=good) for name, (good, _bad) in WORDS.items())
MORE = clause("face_colour", at_most=6) + clause("face_compression", at_most=9)
SLOPE = clause("shoulders", exactly="seen") + clause("shoulder_tilt", between=["-4°", "4°"])


def found(path: Path, brief, people: People | None = None):
    photo = open_photo(path)
    people = people or people_in(photo)
    box = (0, 0, *photo.facts.size)
    look = PixelStatistics(
        pixels_of(photo.read(), photo.facts),
        lambda size: mask_in(photo, people).window(box, size),
    )
    return judge(of_supplied(photo, lambda: people, lambda: look), brief)


@pytest.mark.parametrize("name", TRUTH)
def test_each_is_told_right_or_not_at_all(name):
    truth, findings = TRUTH[name], found(FOLDER / name, brief_of(ASKED))
    told_ = 0
    for measure, (good, _bad) in WORDS.items():
        finding = findings.of(measure)
        if finding.verdict != "unknown" and truth[measure]:
            assert (finding.verdict == "meets") == (truth[measure] == good), finding.says
            told_ += 1
        elif finding.verdict == "unknown":
            assert finding.says
    assert told_ >= 3


@pytest.mark.parametrize(
    ("name", "measure", "value"),
    [
        ("006.jpg", "glasses", "worn"),
        ("061.jpg", "glasses", "worn"),
        ("022.jpg", "glasses_glare", "seen"),
        ("013.jpg", "frames_over_eyes", "seen"),
        ("041.jpg", "hair_over_eyes", "seen"),
        ("016.jpg", "red_eye", "seen"),
        ("046.jpg", "gaze", "away"),
        ("037.jpg", "glasses", "none"),
        ("037.jpg", "hair_over_eyes", "none"),
        ("037.jpg", "glasses_glare", "none"),
    ],
)
def test_what_is_plain_to_see_is_told(name, measure, value):
    assert found(FOLDER / name, brief_of(ASKED)).of(measure).value == value


@pytest.mark.parametrize("name", TRUTH)
def test_the_shoulders_are_as_level_as_they_are(name):
    findings = found(FOLDER / name, brief_of(SLOPE))
    assert findings.of("shoulders").verdict in ("meets", "unknown")
    slope = findings.of("shoulder_tilt")
    if slope.value is not None:
        assert slope.value == pytest.approx(TRUTH[name]["lean"], abs=2.5)


def test_a_frame_that_cuts_a_shoulder_off_is_told(tmp_path):
    with Image.open(FOLDER / "006.jpg") as opened:
        wide, high = opened.size
        opened.crop((round(wide * 0.22), 0, round(wide * 0.78), high)).save(tmp_path / "narrow.png")
    cut = found(tmp_path / "narrow.png", brief_of(SLOPE))
    assert cut.of("shoulders").verdict == "misses" and "cut off" in cut.of("shoulders").says
    assert cut.of("shoulder_tilt").verdict == "unknown"


@pytest.mark.parametrize("name", TRUTH)
def test_the_colour_of_the_light_is_told_within_what_it_says(name):
    finding = found(FOLDER / name, brief_of(MORE)).of("face_colour")
    tinted = TRUTH[name]["cast"] != "none"
    assert finding.verdict == "unknown" or (finding.verdict == "misses") == tinted, finding.says
    if name in ("058.jpg", "037.jpg"):
        assert finding.verdict == ("misses" if tinted else "meets")


def test_a_warm_light_is_mended_by_one_number_where_the_body_allows_it():
    photo = open_photo(FOLDER / "058.jpg")
    people = people_in(photo)
    asked = clause("face_colour", at_most=5) + clause("format", exactly="jpeg")
    brief = brief_of(asked)
    proof = conform(photo, brief, people=people)
    mend = proof.findings.of("face_colour").mend
    assert mend is not None and mend.changes is not None and "colder" in mend.words
    done = conform(photo, brief, Settings().having(mend.changes), people=people)
    assert done.findings.of("face_colour").value < 5 < proof.findings.of("face_colour").value
    forbidden = brief_of(asked, 'allows = ["turn", "cut", "scale"]')
    assert conform(photo, forbidden, people=people).findings.of("face_colour").mend is None


def test_the_file_is_told_as_the_photo_was():
    photo = open_photo(FOLDER / "006.jpg")
    people = people_in(photo)
    brief = brief_of(ASKED + clause("width", exactly=400))
    proof = conform(photo, brief, people=people)
    assert proof.findings.of("glasses").value == "worn"
    assert proof.findings.of("frames_over_eyes").value == "none"
    assert proof.findings.of("width").value == 400


def test_blocks_of_a_strong_compression_are_told_and_those_of_another_size_are_not(tmp_path):
    values = []
    with Image.open(FOLDER / "037.jpg") as opened:
        whole = opened.convert("RGB").resize((432, 540), Image.Resampling.LANCZOS)
        people = None
        for quality in (None, 92, 75, 50, 25):
            path = tmp_path / ("a.png" if quality is None else f"a{quality}.jpg")
            whole.save(path, **({} if quality is None else {"quality": quality}))
            people = people or people_in(open_photo(path))
            values.append(found(path, brief_of(MORE), people).of("face_compression").value)
    assert values == sorted(values) and values[0] < 0.15 and values[-1] > 0.8


def test_what_is_too_small_is_not_told(tmp_path):
    with Image.open(FOLDER / "006.jpg") as opened:
        opened.resize((110, 138)).save(tmp_path / "small.png")
    people = People(
        people_in(open_photo(FOLDER / "006.jpg")).faces[:0],
        HandMarks(crown=(55, 20), chin=(55, 95), left_eye=(45, 60), right_eye=(66, 60)),
    )
    findings = found(tmp_path / "small.png", brief_of(ASKED + MORE), people)
    for measure in (*WORDS, "face_colour", "face_compression"):
        assert findings.of(measure).verdict == "unknown"


def test_a_question_has_what_is_seen_beside_it():
    for name, words in (
        ("006.jpg", "Glasses are seen."),
        ("037.jpg", "No glasses are seen."),
        ("022.jpg", "There is glare on them."),
        ("013.jpg", "A frame seems to lie across an eye."),
        ("041.jpg", "Hair seems to lie before an eye."),
    ):
        photo = open_photo(FOLDER / name)
        with Image.open(io.BytesIO(photo.read())) as opened:
            picture = np.asarray(opened.convert("RGB"))
        assert words in told(picture, people_in(photo).marks()), name
