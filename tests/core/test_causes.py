"""Every act names its cause: the clauses that ask for it, a hand, or the wish that stands."""

from __future__ import annotations

from dataclasses import replace

import cv2
import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from aptandum.core.conform import conform
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from samples import brief_of, clause, examples, scene
from untouched import exif_of, file_of


@pytest.fixture(scope="module")
def photos(tmp_path_factory):
    folder = tmp_path_factory.mktemp("causes")
    made = {}
    for name, format_, size, told in (
        ("wide", "jpeg", (240, 160), True),
        ("tall", "png", (130, 200), False),
        ("large", "tiff", (400, 300), True),
    ):
        path = folder / f"{name}.{format_}"
        path.write_bytes(file_of(format_, exif_of(told, told) if told else None, size))
        made[name] = open_photo(path)
    return made


CLAUSES = [
    clause("size", exactly="60 x 80"),
    clause("width", at_most=120),
    clause("height", at_most=90),
    clause("longest_side", at_least=300),
    clause("aspect", exactly="1:1"),
    clause("orientation", exactly="upright"),
    clause("megapixels", at_most=0.02),
    clause("format", exactly="jpeg"),
    clause("format", exactly="png"),
    clause("colour_space", exactly="adobe-rgb"),
    clause("channels", exactly="grey"),
    clause("file_bytes", at_most="2500 bytes"),
    clause("ppi", exactly=300),
    clause("profile", exactly="embedded"),
    clause("location", exactly="none"),
    clause("print_width", exactly="10 mm"),
]
RULES = st.lists(
    st.sampled_from(CLAUSES),
    min_size=1,
    max_size=4,
    unique_by=lambda text: text.split('measure = "')[1].split('"')[0],
)


@settings(max_examples=examples(80), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(RULES, st.sampled_from(["wide", "tall", "large"]))
@pytest.mark.long
def test_without_its_cause_an_act_goes_or_has_another(photos, rules, name):
    photo = photos[name]
    brief = brief_of("".join(rules))
    proof = conform(photo, brief)
    for act in proof.record:
        assert act.cause is not None and act.cause.says
        if not act.cause.clauses:
            continue
        rest = tuple(c for c in brief.clauses if c.id not in act.cause.clauses)
        again = conform(photo, replace(brief, clauses=rest))
        same = [one for one in again.record if one.does == act.does]
        assert all(one.cause.clauses != act.cause.clauses for one in same), act
        # What a clause is blamed for is not put down to a hand that set nothing.
        assert "by hand" not in act.cause.says


@pytest.mark.parametrize(
    "rules, act, said, clauses",
    [
        (CLAUSES[0], "Cut to", "Size asks exactly 60 × 80 px", {"size"}),
        (CLAUSES[2], "Scaled by", "Height asks at most 90 px", {"height"}),
        (CLAUSES[8], "Encoded anew", "Format asks PNG", {"format"}),
        (CLAUSES[14], "Place of the shot left out", "Place of the shot asks", {"location"}),
        (CLAUSES[12], "Pixels per inch set to 300", "Pixels per inch asks", {"ppi"}),
        (CLAUSES[9], "Colours converted", "Colour space asks Adobe RGB", {"colour_space"}),
        (CLAUSES[11], "Encoded anew", "Bytes asks at most", {"file_bytes"}),
    ],
)
def test_a_clause_is_named(photos, rules, act, said, clauses):
    proof = conform(photos["wide"], brief_of(rules))
    found = next(one for one in proof.record if one.does.startswith(act))
    assert said in found.says.replace("\u00a0", " ")
    assert set(found.cause.clauses) == clauses
    told = proof.figures()["acts"]
    assert {"word", "does", "cause", "clauses"} == set(told[0])


def test_a_hand_is_named_and_comes_before_all(photos):
    brief = brief_of(clause("size", exactly="60 x 80"))
    made = Settings().having({"frame.window": "10, 10, 60, 80", "file.quality": 80})
    proof = conform(photos["wide"], brief, made)
    by = {act.does.split()[0]: act.cause.says for act in proof.record}
    assert by["Cut"] == "set by hand" and by["Encoded"] == "set by hand"


def test_the_wish_that_stands_is_named(photos):
    proof = conform(photos["wide"], brief_of(clause("width", at_least=10)))
    assert [act.cause.clauses for act in proof.record] == [(), ()]
    assert all("always left out" in act.says for act in proof.record)
    assert proof.summary.startswith("picture untouched · ")


def test_the_line_in_short(photos):
    brief = brief_of(clause("height", at_most=80) + clause("format", exactly="jpeg"))
    short = conform(photos["wide"], brief).summary
    assert short.startswith("kept whole · 0.5\u00a0× · quality 93 · ")
    square = brief_of(clause("size", exactly="320 x 320"))
    assert "cut away · enlarged 2\u00a0×" in conform(photos["wide"], square).summary


def causes_of(path, rules: str) -> dict[str, set[str]]:
    """By the first word of what was done, the clauses that it is put down to."""
    proof = conform(open_photo(path), brief_of(rules))
    return {one.does.split()[0]: set(one.cause.clauses) for one in proof.record}


def test_what_is_cut_and_what_is_scaled_have_causes_of_their_own(tmp_path):
    path = tmp_path / "photo.png"
    cv2.imwrite(str(path), scene(300, 200, 4))
    found = causes_of(path, clause("aspect", exactly="1:1") + clause("width", one_of=[48, 64]))
    assert found["Cut"] == {"aspect"} and found["Scaled"] == {"aspect", "width"}
    print_ = clause("size", exactly="10 x 10 mm") + clause("ppi", exactly="127")
    found = causes_of(path, print_)
    assert found["Scaled"] == {"print_size", "ppi"}
    assert "Scaled" not in causes_of(path, clause("aspect", exactly="1:1"))


def test_colours_and_bits_have_causes_of_their_own(tmp_path):
    path = tmp_path / "deep.png"
    cv2.imwrite(str(path), scene(60, 40, 4).astype(np.uint16) * 257)
    found = causes_of(path, clause("colour_space", exactly="adobe-rgb") + clause("bits", exactly=8))
    assert found["Colours"] == {"colour_space"} and found["Reduced"] == {"bits"}
