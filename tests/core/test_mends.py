"""A mend that is offered mends: each was applied and judged on a file's own bytes."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.docket.audit import check_file
from aptandum.core.fitting.detection import framed_by_marks
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.marks_off import OFF
from aptandum.core.mending import Fitted, offered, solved
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.marks import People
from aptandum.core.photo.people import Face
from aptandum.core.sizes.conflicts import changes, possible
from aptandum.core.sizes.said import change_said
from samples import brief_of, clause, examples, scene

RANK = {"misses": 2, "advises": 1}


@pytest.fixture(scope="module")
def photos(tmp_path_factory):
    folder = tmp_path_factory.mktemp("mends")
    made = []
    for n, (wide, high, format_) in enumerate(
        [
            (640, 420, "jpeg"),
            (300, 460, "png"),
            (500, 500, "webp"),
            (420, 300, "tiff"),
            (360, 240, "gif"),
        ]
    ):
        path = folder / f"pier_{n}.{format_}"
        Image.fromarray(scene(wide, high, n + 1)).save(path)
        made.append(open_photo(path))
    return made


def one(measure: str, key: str, values: list[object]):
    return st.sampled_from(values).map(lambda value: clause(measure, **{key: value}))


SIDE = [50, 120, 240, 333, 480, 700, 900]
RULES = st.lists(
    st.one_of(
        one("size", "exactly", ["200 x 200", "640 x 480", "333 x 700", "800 x 600"]),
        one("width", "at_most", SIDE),
        one("height", "at_least", SIDE),
        one("longest_side", "at_most", SIDE),
        one("aspect", "exactly", ["1:1", "3:2", "4:5", "16:9"]),
        one("megapixels", "at_most", [0.05, 0.1, 0.3]),
        one("enlargement", "at_most", [1, 1.2, 2]),
        one("format", "exactly", ["jpeg", "png", "gif", "webp", "bmp", "tiff"]),
        one("file_bytes", "at_most", ["4 kB", "20 kB", "90 kB"]),
        one("file_bytes", "at_least", ["20 kB", "150 kB"]),
        one("colour_space", "exactly", ["srgb", "adobe-rgb", "display-p3"]),
        one("profile", "exactly", ["embedded"]),
        one("bits", "exactly", [8, 16]),
        one("channels", "exactly", ["colour", "grey", "mono"]),
        one("transparency", "exactly", ["present", "none"]),
        one("ppi", "exactly", [72, 300]),
        one("print_width", "exactly", ["35 mm", "84 mm", "184 mm"]),
        one("progressive", "exactly", ["progressive", "baseline"]),
        one("name_pattern", "exactly", ["[a-z]{3}[0-9]{4}", "x.*", "[A-Za-z]+"]),
        one("name_length", "at_most", [3, 9]),
        one("keyline_width", "exactly", [0, 2, 3]),
        one("backdrop_lightness", "at_least", [60, 90]),
        one("backdrop_plainness", "at_most", [1, 4]),
        one("subject_fill", "at_least", ["40 %", "80 %"]),
        one("orientation", "exactly", ["upright", "landscape"]),
    ),
    min_size=1,
    max_size=4,
    unique_by=lambda text: text.split('measure = "')[1].split('"')[0],
)
WISHES = st.lists(
    st.sampled_from(
        [
            ("frame.window", "10, 10, 200, 150"),
            ("frame.output", "300 x 200"),
            ("frame.fill", "pad"),
            ("frame.fill", "pixels"),
            ("frame.fill", "cut"),
            ("frame.angle", "3"),
            ("file.quality", "40"),
            ("file.format", "gif"),
            ("file.format", "bmp"),
            ("colour.space", "adobe-rgb"),
            ("colour.bits", "16"),
            ("file.at_most", "9 kB"),
            ("file.name", "Pier"),
            ("finish.keyline.width", "4"),
            ("file.ppi", "150"),
        ]
    ),
    max_size=2,
    unique_by=lambda pair: pair[0],
)


@settings(max_examples=examples(40), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(RULES, WISHES, st.integers(0, 4), st.integers(0, 15))
@pytest.mark.long
def test_every_mend_offered_does_what_it_says(photos, rules, wishes, which, advised):
    """``--thorough`` tries many more; each mend is applied, its file made, and the bytes judged."""
    text = [
        rule + ('strength = "should"\n' if advised >> n & 1 else "") for n, rule in enumerate(rules)
    ]
    brief = brief_of("".join(text))
    made = Settings().having(dict(wishes))
    photo = photos[which]
    proof = conform(photo, brief, made, may_resize=False)
    was = {f.clause.id: RANK.get(f.verdict, 0) for f in proof.findings.findings}
    for finding in proof.findings.findings:
        if finding.mend is None or not finding.mend.changes:
            continue
        other = conform(photo, brief, made.having(finding.mend.changes), may_resize=False)
        now = other.findings.of(finding.clause.id)
        mine = RANK[finding.verdict]
        assert now.verdict == "meets" or "as near as" in finding.mend.words, finding
        for f in other.findings.findings:
            rank = RANK.get(f.verdict, 0)
            if f.clause.id != finding.clause.id and rank >= mine:
                assert rank <= was[f.clause.id], (finding, f)


def test_a_recommended_size_is_named_and_can_be_pressed(photos):
    brief = brief_of(
        clause("longest_side", at_most=2000)
        + clause("size", exactly="800 x 800")
        + 'strength = "should"\n'
    )
    proof = conform(photos[0], brief)
    finding = proof.findings.of("size")
    assert finding.verdict == "advises"
    assert "800\u00a0×\u00a0800" in finding.mend.words and "enlarged" in finding.mend.words
    again = conform(photos[0], brief, Settings().having(finding.mend.changes))
    assert again.findings.of("size").verdict == "meets"
    said = " ".join(conform(photos[0], brief, Settings().having({"file.quality": 90})).line.notes)
    assert "is recommended" in said and "too few pixels" in said


@settings(max_examples=examples(150))
@given(st.integers(50, 900), st.integers(50, 900), st.integers(200, 3000))
def test_the_enlargement_that_is_named_is_enough(wide, high, least):
    brief = brief_of(clause("longest_side", at_least=least) + clause("enlargement", at_most=1))
    for change in changes(brief, (wide, high)):
        if change.kind != "enlarge":
            continue
        figure = change_said(change, (wide, high)).split("\u00a0×")[0].split()[-1]
        loose = brief_of(
            clause("longest_side", at_least=least) + clause("enlargement", at_most=float(figure))
        )
        assert possible(loose, (wide, high))


# -- heads, tilt and zones together --------------------------------------------------------------


def wall(tmp_path, wide=600, high=900):
    path = tmp_path / "wall.png"
    Image.fromarray(np.full((high, wide, 3), 200, np.uint8)).save(path, compress_level=1)
    return open_photo(path)


def face_at(cx=300.0, crown=250.0, height=300.0, tilt=0.0) -> Face:
    """A head with its eyes on a line that leans by ``tilt`` degrees."""
    half = height * 0.17
    eyes = crown + height * 0.45
    rise = half * np.tan(np.radians(tilt))
    return Face(
        (cx, crown), (cx, crown + height), ((cx - half, eyes - rise), (cx + half, eyes + rise)),
        0.0, 0.9, (cx - height / 3, crown, cx + height / 3, crown + height),
    )  # fmt: skip


def judged(photo, brief, made, people):
    line = resolve(photo.facts, brief, made)
    reading = live_reading(photo.facts, line, see_people=lambda: people)
    return offered(judge(reading, brief), Fitted(photo.facts, brief, made, people))


HEAD = (
    clause("aspect", exactly="3:4")
    + clause("head_height", between=["60 %", "70 %"])
    + clause("headroom", between=["8 %", "14 %"])
    + clause("head_tilt", between=["-4°", "4°"])
)


def test_a_head_is_straightened_no_further_than_is_asked(tmp_path):
    """To the limit, and beyond it by as much as eyes that were found may be off."""
    photo, people = wall(tmp_path), People((face_at(tilt=7.5),))
    brief = brief_of(HEAD)
    made = framed_by_marks(photo, brief, Settings(), people)
    finding = judged(photo, brief, made, people).of("head_tilt")
    assert finding.verdict == "misses" and finding.mend is not None
    angle = float(finding.mend.changes["frame.angle"])
    assert 3.5 + OFF["tilt"][1] <= abs(angle) < 3.7 + OFF["tilt"][1]
    after = judged(photo, brief, made.having(finding.mend.changes), people)
    assert {f.verdict for f in after.findings} == {"meets"}


def test_a_tilt_that_is_too_near_to_its_limit_to_be_told_is_mended_as_well(tmp_path):
    photo = wall(tmp_path)
    brief = brief_of(HEAD)
    for tilt in (3.0, 5.0):  # the eyes may be off by 3 degrees
        people = People((face_at(tilt=tilt),))
        made = framed_by_marks(photo, brief, Settings(), people)
        finding = judged(photo, brief, made, people).of("head_tilt")
        assert finding.verdict == "unknown" and "cannot be told" in finding.says
        assert finding.mend is not None
        after = judged(photo, brief, made.having(finding.mend.changes), people)
        assert {f.verdict for f in after.findings} == {"meets"}


def test_why_eyes_are_found_less_exactly_is_said_where_something_lies_before_them(tmp_path):
    photo, brief = wall(tmp_path), brief_of(HEAD)
    said = {}
    for bare in (True, False):
        people = People((replace(face_at(tilt=3.4), bare_eyes=bare),))
        made = framed_by_marks(photo, brief, Settings(), people)
        finding = judged(photo, brief, made, people).of("head_tilt")
        assert finding.verdict == "unknown"
        said[bare] = finding.says
    assert "glasses perhaps" in said[False] and "glasses" not in said[True]


def test_one_press_solves_angle_and_frame_together(tmp_path):
    photo, people = wall(tmp_path), People((face_at(tilt=8.0, crown=120),))
    brief = brief_of(HEAD)
    made = solved(Fitted(photo.facts, brief, Settings(), people))
    after = judged(photo, brief, made, people)
    assert {f.verdict for f in after.findings} == {"meets"}
    assert 3.9 < abs(made.frame.angle) < 8.1 + OFF["tilt"][1]


ZONE = """[[brief.seen]]
as = "handset"
zones = [{ name = "clock", left = "0 %", top = "0 %", width = "100 %", height = "26 %" }]
"""


def test_a_frame_of_another_size_clears_what_no_shift_does(tmp_path):
    """The head's middle frame has the clock on it; a larger one, still inside every band, has not."""
    photo, people = wall(tmp_path), People((face_at(),))
    brief = brief_of(
        clause("aspect", exactly="3:4")
        + clause("head_height", between=["40 %", "70 %"])
        + clause("headroom", between=["8 %", "34 %"])
        + clause("zones_clear", exactly="clear"),
        "",
    )
    brief = brief_of(
        clause("aspect", exactly="3:4")
        + clause("head_height", between=["40 %", "70 %"])
        + clause("headroom", between=["8 %", "34 %"])
        + clause("zones_clear", exactly="clear")
        + ZONE
    )
    made = framed_by_marks(photo, brief, Settings(), people)
    after = judged(photo, brief, made, people)
    assert {f.verdict for f in after.findings} == {"meets"}


def test_zones_without_a_clause_on_the_head_are_cleared_without_being_asked(tmp_path):
    photo, people = wall(tmp_path, 900, 600), People((face_at(450, 60, 200),))
    brief = brief_of(
        clause("aspect", exactly="9:16") + clause("zones_clear", exactly="clear") + ZONE
    )
    plain = judged(photo, brief, Settings(), people).of("zones_clear")
    assert plain.verdict == "misses"
    made = framed_by_marks(photo, brief, Settings(), people)
    found = judged(photo, brief, made, people).of("zones_clear")
    if found.verdict == "misses":  # no frame of this photo does it, and the words say what would
        assert found.mend is not None and "Pad the frame" in found.mend.words
    low = People((face_at(450, 260, 200),))
    made = framed_by_marks(photo, brief, Settings(), low)
    assert judged(photo, brief, made, low).of("zones_clear").verdict == "meets"


@settings(max_examples=examples(40), suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    st.integers(150, 700),
    st.integers(40, 500),
    st.integers(90, 320),
    st.floats(-14, 14),
    st.sampled_from(["3:4", "1:1", "9:16"]),
)
def test_what_the_marks_and_zones_ask_is_offered_only_where_it_helps(
    tmp_path, cx, crown, height, tilt, aspect
):
    photo, people = wall(tmp_path, 800, 900), People((face_at(cx, crown, height, tilt),))
    brief = brief_of(
        HEAD.replace('"3:4"', f'"{aspect}"') + clause("zones_clear", exactly="clear") + ZONE
    )
    made = framed_by_marks(photo, brief, Settings(), people)
    found = judged(photo, brief, made, people)
    was = {f.clause.id: RANK.get(f.verdict, 0) for f in found.findings}
    for finding in found.findings:
        if finding.mend is None or not finding.mend.changes:
            continue
        after = judged(photo, brief, made.having(finding.mend.changes), people)
        now = after.of(finding.clause.id)
        assert now.verdict == "meets" or "as near as" in finding.mend.words
        assert all(
            RANK.get(f.verdict, 0) <= was[f.clause.id]
            for f in after.findings
            if f.clause.id != finding.clause.id
        )
    best = judged(photo, brief, solved(Fitted(photo.facts, brief, made, people)), people)
    assert best.counts()["misses"] <= found.counts()["misses"]


# -- words ---------------------------------------------------------------------------------------


def test_a_caption_that_does_not_part_from_its_ground_is_told_so(photos, tmp_path):
    path = tmp_path / "white.png"
    Image.fromarray(np.full((300, 600, 3), 250, np.uint8)).save(path)
    brief = brief_of(clause("legible_at", at_least="300 px"))
    made = Settings().having({"finish.caption.text": "PLAY", "finish.caption.colour": "#FFFFFF"})
    finding = conform(open_photo(path), brief, made).findings.of("legible_at")
    assert finding.verdict == "misses" and "times as large" not in finding.mend.words
    assert finding.mend.words == "Letters in black"
    mended = conform(open_photo(path), brief, made.having(finding.mend.changes))
    assert mended.findings.of("legible_at").verdict == "meets"


def test_checking_a_file_offers_what_a_fitting_would_do(photos):
    brief = brief_of(clause("size", exactly="200 x 200") + clause("colour_space", exactly="srgb"))
    found = check_file(photos[1].path, brief).findings
    assert found.of("size").mend.words.startswith("Cut to 1:1")
    assert found.of("colour_space").mend.words.startswith("Take it as sRGB")
    assert Fraction(1) == resolve(photos[1].facts, brief, Settings()).frame.shape


def test_padding_clears_what_no_frame_inside_the_photo_does(tmp_path):
    """A head that reaches nearly to the photo's upper edge, under a clock: only room above helps."""
    photo, people = wall(tmp_path, 400, 800), People((face_at(200, 30, 400),))
    brief = brief_of(
        clause("aspect", exactly="1:2") + clause("zones_clear", exactly="clear") + ZONE
    )
    made = framed_by_marks(photo, brief, Settings(), people)
    finding = judged(photo, brief, made, people).of("zones_clear")
    assert finding.verdict == "misses" and "Pad the frame" in finding.mend.words
    after = judged(photo, brief, made.having(finding.mend.changes), people)
    assert after.of("zones_clear").verdict == "meets"
    forbidden = brief_of(
        clause("aspect", exactly="1:2") + clause("zones_clear", exactly="clear") + ZONE,
        'allows = ["cut", "scale"]',
    )
    said = judged(photo, forbidden, Settings(), people).of("zones_clear").mend.words
    assert said == "No frame of this photo clears it"


@pytest.mark.long
def test_a_photo_that_goes_out_as_it_is_and_could_be_better_is_told_so(photos):
    """Its own picture meets every rule; what is only advised is looked at in its pixels as well."""
    brief = brief_of(
        clause("subject_fill", at_least="80 %")
        + 'strength = "should"\n'
        + clause("height", at_least=900)
        + 'strength = "should"\n'
    )
    for photo in photos:
        proof = conform(photo, brief)
        assert not proof.findings.counts()["misses"]
        assert proof.findings.of("height").verdict == "advises"


def test_a_batch_makes_the_same_file_without_trying_mends(tmp_path):
    """Where nobody reads what would mend a miss no file is made for it, and what is made and judged is the same."""
    photo, people = wall(tmp_path), People((face_at(tilt=8.0),))
    brief = brief_of(
        clause("size", exactly="120 x 160")
        + clause("head_tilt", between=["-1°", "1°"])
        + clause("quality", at_least=80)
    )
    told = conform(photo, brief, people=people)
    plain = conform(photo, brief, people=people, mends=False)
    assert any(finding.mend for finding in told.findings.findings)
    assert not any(finding.mend for finding in plain.findings.findings)
    assert plain.made.data == told.made.data
    assert [f.verdict for f in plain.findings.findings] == [
        f.verdict for f in told.findings.findings
    ]
