"""Marks, the measures of a person, and the frame that they ask for."""

from __future__ import annotations

import json
import re
from fractions import Fraction

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st
from PIL import Image, ImageOps

from aptandum.core.brief.binding import EYE_LINE, HEAD_HEIGHT, HEAD_OFFSET, HEADROOM
from aptandum.core.conform import conform
from aptandum.core.docket.audit import check_file
from aptandum.core.fitting.detection import people_in
from aptandum.core.fitting.live import live_reading, placed
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.judge.measures import STATED
from aptandum.core.judge.placing import Band, frame_from_marks, place, value_of
from aptandum.core.judge.reading import Reading
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.marks import HandMarks, Marks, NoMarks, People
from aptandum.core.photo.people import Face, find_people
from aptandum.core.rulebook.problems import RulebookError
from samples import DEMO, brief_of, clause, examples, scene

INES = DEMO / "ines_marrow_0417.jpg"
TRUTH = json.loads((DEMO / "ines_marrow_0417.json").read_text())
MARKS = Marks((50, 20), (50, 70), (38, 42), (62, 42))


def upright(width: int) -> np.ndarray:
    with Image.open(INES) as picture:
        shown = ImageOps.exif_transpose(picture).convert("RGB")
        return np.asarray(shown.resize((width, width * 3 // 2), Image.Resampling.LANCZOS))


# --- finding -------------------------------------------------------------------------------


@pytest.mark.parametrize(
    ("width", "turns"), [(400, 0), (1067, 0), (4000, 0), (1067, 1), (1067, 2), (1067, 3)]
)
@pytest.mark.long
def test_marks_are_found_at_any_size_and_turn(width, turns):
    picture = np.ascontiguousarray(np.rot90(upright(width), turns))
    faces = find_people(picture)
    assert len(faces) == 1 and faces[0].confidence > 0.9
    k, (wide, high) = width / 4000, (width, width * 3 // 2)

    def turned(x: float, y: float) -> tuple[float, float]:
        return {0: (x, y), 1: (y, wide - x), 2: (wide - x, high - y), 3: (high - y, x)}[turns]

    head = (TRUTH["chin"][1] - TRUTH["hair_top"]) * k
    for found, true in (
        (faces[0].chin, TRUTH["chin"]),
        (faces[0].eyes[0], TRUTH["eyes"][0]),
        (faces[0].eyes[1], TRUTH["eyes"][1]),
    ):
        assert np.hypot(*np.subtract(found, turned(true[0] * k, true[1] * k))) < 0.025 * head
    crown = np.array(faces[0].crown)
    top = np.array(turned(TRUTH["chin"][0] * k, TRUTH["hair_top"] * k))
    axis = np.array(turned(0, 1)) - np.array(turned(0, 0))
    assert abs((crown - top) @ axis) < 0.025 * head
    if not turns:
        (ax, ay), (bx, by) = TRUTH["eyes"]
        true_tilt = np.degrees(np.arctan2(by - ay, bx - ax))
        (cx, cy), (dx, dy) = faces[0].eyes
        assert abs(np.degrees(np.arctan2(dy - cy, dx - cx)) - true_tilt) < 1.5


@pytest.mark.parametrize(
    "name", ["tobin_oar_0212", "mirelle_dace_0031", "osk_fennel_0508", "quill_harrow_0119"]
)
def test_marks_of_the_other_sitters(name):
    """Glasses and dark skin; a tilted head; hair at the top edge; a cluttered wall."""
    truth = json.loads((DEMO / f"{name}.json").read_text())
    with Image.open(DEMO / f"{name}.jpg") as picture:
        (face,) = find_people(np.asarray(picture.convert("RGB")))
    head = truth["chin"][1] - truth["hair_top"]
    assert abs(face.crown[1] - truth["hair_top"]) < 0.025 * head
    assert np.hypot(*np.subtract(face.chin, truth["chin"])) < 0.025 * head
    for found, true in zip(face.eyes, truth["eyes"], strict=True):
        assert np.hypot(*np.subtract(found, true)) < 0.025 * head


def test_nobody_and_two_people():
    assert find_people(scene(500, 400)) == ()
    one = upright(500)
    two = find_people(np.concatenate([one, one[:, ::-1]], axis=1))
    assert len(two) == 2
    with pytest.raises(NoMarks, match="2 faces were found"):
        People(two).marks()
    chosen = People(two, HandMarks(face=1)).marks()
    assert chosen.chin == two[1].chin
    with pytest.raises(NoMarks, match="by hand"):
        People().marks()


def test_what_a_hand_has_set_stands():
    face = Face((50, 20), (50, 70), ((38, 42), (62, 42)), 3.0, 0.9, (30, 25, 70, 72))
    made = People((face,), HandMarks(chin=(51, 75))).marks()
    assert made.chin == (51, 75) and made.crown == (50, 20) and made.hand == ("chin",)
    by_hand = HandMarks(crown=(5, 1), chin=(5, 9), left_eye=(4, 5), right_eye=(6, 5))
    alone = People((), by_hand).marks()
    assert alone.height == 8 and alone.turn is None


# --- measuring -----------------------------------------------------------------------------


def reading(size: tuple[int, int], people: People) -> Reading:
    facts = Facts("x.jpg", "jpeg", *size, *size, 8, "rgb", False, orientation=1)
    return Reading("live", facts, source=size, see_people=lambda: people)


def test_the_measures_of_a_person():
    face = Face((50, 20), (50, 70), ((40, 40), (60, 44)), -4.0, 0.9, (30, 25, 70, 72))
    brief = brief_of(
        clause("head_height", between=["45 %", "55 %"])
        + clause("headroom", at_least="25 %")
        + clause("eye_line", exactly="58 %")
        + clause("head_offset", between=["-3 %", "3 %"])
        + clause("head_tilt", between=[-5, 5])
        + clause("head_turn", at_most=5)
        + clause("people", exactly=1)
    )
    found = judge(reading((80, 100), People((face,))), brief)
    shown = {f.clause.id: (f.verdict, f.measured.replace("\u00a0", " ")) for f in found.findings}
    assert shown == {
        "head_height": ("meets", "50 %"),
        "headroom": ("misses", "20 %"),
        "eye_line": ("unknown", "58 %"),  # no mark that was found is as exact as that
        "head_offset": ("misses", "12.5 % right"),
        "head_tilt": ("misses", "11.3°"),
        "head_turn": ("meets", "-4°"),
        "people": ("meets", "1"),
    }
    by_hand = HandMarks(crown=(50, 20), chin=(50, 70), left_eye=(40, 40), right_eye=(60, 44))
    sure = judge(reading((80, 100), People((face,), by_hand)), brief)
    assert sure.of("eye_line").verdict == "meets"
    assert "9.5 points too far right" in found.of("head_offset").says.replace("\u00a0", " ")
    assert found.of("headroom").mend.changes["frame.window"]
    nobody = judge(reading((80, 100), People()), brief)
    assert {f.verdict for f in nobody.findings[:6]} == {"unknown"}
    assert nobody.of("people").verdict == "misses"


def test_the_frame_moves_what_is_measured_and_the_file_says_the_same(photo):
    brief = brief_of(
        clause("size", exactly="300 x 400")
        + clause("head_height", between=["50 %", "60 %"])
        + clause("head_offset", between=["-2 %", "2 %"])
        + clause("format", exactly="jpeg")
    )
    shot = open_photo(photo(1200, 900))
    head = HandMarks(crown=(700, 250), chin=(700, 550), left_eye=(650, 390), right_eye=(750, 390))
    people = People((), head)
    proof = conform(shot, brief, people=people)
    assert proof.findings.of("head_height").measured == "55\u00a0%"
    assert proof.findings.of("head_offset").verdict == "meets" and proof.ready
    live = judge(live_reading(shot.facts, proof.line, see_people=lambda: people), brief)
    assert live.of("head_height").value == proof.findings.of("head_height").value
    assert proof.line.frame.output == (300, 400)
    left, top, scale, _angle = placed(proof.line)
    chin = people.marks().placed(left, top, scale).chin
    assert 0 < chin[0] < 300 and 0 < chin[1] < 400
    free = resolve(shot.facts, brief, Settings())
    assert free.frame.window != proof.line.frame.window


def test_a_portrait_is_framed_from_its_marks():
    shot = open_photo(INES)
    people = people_in(shot)
    brief = brief_of(
        clause("size", exactly="630 x 840")
        + clause("head_height", between=["62 %", "70 %"])
        + clause("headroom", between=["6 %", "14 %"])
        + clause("head_offset", between=["-3 %", "3 %"])
        + clause("enlargement", at_most=1)
    )
    proof = conform(shot, brief, people=people)
    assert proof.findings.meets_musts
    assert abs(proof.findings.of("head_height").value - 0.66) < 0.012


# --- the frame from marks ------------------------------------------------------------------


def test_an_edge_that_is_in_the_way_is_named_with_what_is_missing():
    """Hair 10 px below the edge, and a tenth of the frame asked above it."""
    marks = Marks((100, 10), (100, 90), (90, 45), (110, 45))
    asked = (Band(HEAD_HEIGHT, 0.5, 0.5), Band(HEADROOM, 0.15, 0.25))
    found = place(asked, marks, (200, 300), 0.75)
    top = {o.edge: o.missing for o in found.obstacles}["top"]
    # 80 px of head are half of 160 px; 15 % of that is 24, of which 10 are there. An exact
    # share is held to a tenth of a hundredth.
    assert found.worst > 1 and abs(top - 14) < 0.5
    assert found.box[1] == pytest.approx(0, abs=1e-3)
    easy = place(asked, Marks((100, 60), (100, 140), (90, 95), (110, 95)), (200, 300), 0.75)
    assert easy.worst <= 1 and not easy.obstacles


def test_what_is_required_comes_before_what_is_recommended():
    """Hair at the edge: the air above it is only recommended, the eye line is not."""
    brief = brief_of(
        clause("head_height", between=["50 %", "60 %"], strength="should")
        + clause("headroom", between=["10 %", "20 %"], strength="should")
        + clause("eye_line", between=["55 %", "60 %"])
    )
    marks = Marks((100, 2), (100, 82), (90, 40), (110, 40))
    found = frame_from_marks(brief, marks, (200, 300), Fraction(3, 4))
    eyes = value_of(EYE_LINE, found.box, marks)
    assert 0.55 - 1e-6 <= eyes <= 0.60 + 1e-6
    assert {clause.id for clause in found.missed} <= {"head_height", "headroom"}
    # all required, they share what is missing
    strict = brief_of(
        clause("headroom", between=["10 %", "20 %"]) + clause("eye_line", between=["55 %", "60 %"])
    )
    shared = frame_from_marks(strict, marks, (200, 150), Fraction(3, 4))
    assert shared.worst > 1


def test_two_edges_in_the_way_are_named_together():
    marks = Marks((30, 10), (30, 90), (20, 45), (40, 45))
    asked = (Band(HEAD_HEIGHT, 0.5, 0.6), Band(HEADROOM, 0.2, 0.3), Band(HEAD_OFFSET, -0.05, 0.05))
    found = place(asked, marks, (200, 300), 0.75)
    room = {o.edge: o.missing for o in found.obstacles}
    assert set(room) == {"left", "top"} and all(m > 5 for m in room.values())
    wide = Marks(
        *(
            (x + room["left"] + 0.1, y + room["top"] + 0.1)
            for x, y in (marks.crown, marks.chin, marks.left_eye, marks.right_eye)
        )
    )
    assert place(asked, wide, (200 + room["left"], 300 + room["top"]), 0.75).worst <= 1 + 1e-6


def test_a_photo_with_too_few_pixels_is_framed_at_its_smallest():
    brief = brief_of(clause("head_height", exactly="60 %") + clause("size", exactly="300 x 400"))
    found = frame_from_marks(brief, MARKS, (100, 100), Fraction(3, 4), least=(300, 400))
    assert found is not None and found.box[3] <= 100 + 1e-6


SHARES = st.tuples(st.integers(5, 80), st.integers(2, 20)).map(
    lambda v: (v[0] / 100, (v[0] + v[1]) / 100)
)
BANDS = st.lists(
    st.one_of(
        SHARES.map(lambda v: Band(HEAD_HEIGHT, v[0], v[1])),
        SHARES.map(lambda v: Band(HEADROOM, v[0] / 2, v[1] / 2)),
        SHARES.map(lambda v: Band(EYE_LINE, v[0], v[1])),
        st.integers(1, 10).map(lambda v: Band(HEAD_OFFSET, -v / 100, v / 100)),
    ),
    min_size=1,
    max_size=4,
    unique_by=lambda band: band.binds,
)


@given(
    BANDS,
    st.integers(40, 90),
    st.integers(40, 90),
    st.sampled_from([0.75, 1.0, 0.8, 1.5]),
    st.floats(0.2, 0.8),
    st.floats(0.05, 0.5),
    st.floats(0.15, 0.45),
    st.integers(8, 30),
)
@settings(max_examples=examples(500), deadline=None)
def test_the_frame_is_the_best_there_is(asked, pw, ph, shape, x, y, long, least):
    """Against every frame on a grid of half photo pixels."""
    head = long * ph
    crown = (x * pw, y * ph)
    eye = crown[1] + head * 0.45
    assume(crown[1] + head < ph and least <= min(ph, pw / shape))
    marks = Marks(crown, (x * pw, crown[1] + head), (x * pw - 3, eye), (x * pw + 3, eye))
    found = place(tuple(asked), marks, (pw, ph), shape, least)
    left, top, width, height = found.box
    assert left > -1e-4 and top > -1e-4 and left + width < pw + 1e-4 and top + height < ph + 1e-4
    assert height >= least - 1e-4 and abs(width / height - shape) < 1e-6
    worst = max(band.off(value_of(band.binds, found.box, marks)) for band in asked)
    assert worst <= max(found.worst, 1) + 1e-3 if found.worst <= 1 else worst <= found.worst + 1e-3
    best = np.inf
    hs = np.arange(least, min(ph, pw / shape) + 1e-9, 0.5)
    for h in hs:
        xs = np.linspace(0, pw - h * shape, max(2, int((pw - h * shape) * 2)))
        ys = np.linspace(0, ph - h, max(2, int((ph - h) * 2)))
        across = [
            _off(b, (marks.eyes[0] - xs) / (h * shape) - 0.5)
            for b in asked
            if b.binds == HEAD_OFFSET
        ]
        up = [
            _off(
                b,
                {HEADROOM: (marks.crown[1] - ys) / h, EYE_LINE: (ys + h - marks.eyes[1]) / h}[
                    b.binds
                ],
            )
            for b in asked
            if b.binds in (HEADROOM, EYE_LINE)
        ]
        fixed = [b.off(marks.height / h) for b in asked if b.binds == HEAD_HEIGHT]
        parts = fixed + [float(np.max(v, 0).min()) for v in (across, up) if v]
        best = min(best, max(parts))
    assert found.worst <= best + 1e-6
    # Obstacles are true ones: with the room that is missing, every clause is met.
    alone = [{o.edge: o.missing} for o in found.obstacles]
    together = {o.edge: o.missing for o in found.obstacles}
    ways = [room for room in alone if _worst_with(room, asked, marks, (pw, ph), shape, least) <= 1]
    if found.obstacles:
        assert found.worst > 1
        assert len(ways) == len(alone) or (
            not ways and _worst_with(together, asked, marks, (pw, ph), shape, least) <= 1
        )


def _worst_with(room, asked, marks, photo, shape, least) -> float:
    """How far off the best frame is once the photo goes on beyond some edges (and a hair more)."""
    more = {
        edge: room[edge] + 1e-4 if edge in room else 0.0
        for edge in ("left", "top", "right", "bottom")
    }
    points = (marks.crown, marks.chin, marks.left_eye, marks.right_eye)
    moved = Marks(*((x + more["left"], y + more["top"]) for x, y in points))
    size = (photo[0] + more["left"] + more["right"], photo[1] + more["top"] + more["bottom"])
    found = place(tuple(asked), moved, size, shape, least)
    return 1.0 if found.worst <= 1 + 1e-6 else found.worst


def _off(band: Band, values: np.ndarray) -> np.ndarray:
    half = max((band.high - band.low) / 2, 0.002)
    return np.abs(values - (band.low + band.high) / 2) / half


def test_where_no_clause_says_how_high_the_eyes_lie_they_are_a_twentieth_above_the_middle():
    marks = Marks((100, 110), (100, 190), (90, 145), (110, 145))
    found = place([Band(HEAD_HEIGHT, 0.38, 0.42)], marks, (400, 600), 0.75)
    left, top, wide, high = found.box
    assert (wide, high) == pytest.approx((150, 200))
    assert left + wide / 2 == pytest.approx(100)
    assert top + high / 2 == pytest.approx(145 + 200 / 20)


def test_nor_are_they_then_higher_than_another_clause_leaves_room_for():
    marks = Marks((100, 110), (100, 190), (90, 145), (110, 145))
    asked = [Band(HEAD_HEIGHT, 0.38, 0.42), Band(EYE_LINE, 0.60, None)]
    found = place(asked, marks, (400, 600), 0.75)
    _left, top, _wide, high = found.box
    assert (top + high - 145) / high == pytest.approx(0.60)


# -- lengths on the printed picture -----------------------------------------------------------


PASS = (
    clause("print_width", exactly="35 mm")
    + clause("print_height", exactly="45 mm")
    + clause("ppi", exactly=600)
    + clause("head_height", between=["32 mm", "36 mm"])
    + clause("headroom", at_least="3 mm")
    + clause("head_offset", between=["-2 mm", "2 mm"])
)


def test_a_head_in_millimetres_is_a_share_of_the_printed_height():
    brief = brief_of(PASS.replace('"-2 mm"', '"-5 %"'))
    limits = {c.measure: c.limit for c in brief.clauses}
    head = limits["head_height"]
    assert head.at_least == pytest.approx(32 / 45) and head.at_most == pytest.approx(36 / 45)
    assert limits["head_offset"].at_most == pytest.approx(2 / 35)
    kind = STATED["head_height"].kind
    said = head.says(kind).replace("\u00a0", " ")
    assert said == "32 mm (71.1 %) to 36 mm (80 %)"


def test_it_frames_and_judges_in_both_units(tmp_path):
    brief = brief_of(PASS)
    path = tmp_path / "wall.png"
    Image.fromarray(np.full((1800, 1400, 3), 200, np.uint8)).save(path, compress_level=1)
    face = Face((700, 400), (700, 1200), ((620, 760), (780, 760)), 0.0, 0.9, (450, 420, 950, 1200))
    proof = conform(open_photo(path), brief, people=People((face,)))
    assert proof.line.frame.output == (827, 1063)
    finding = proof.findings.of("head_height")
    assert finding.verdict == "meets"
    assert re.fullmatch(
        r"3[2-6](\.\d)? mm \(7\d(\.\d)? %\)", finding.measured.replace("\u00a0", " ")
    )
    assert proof.findings.of("headroom").verdict == "meets" and proof.ready


def test_a_length_without_a_printed_side_is_refused_by_line():
    with pytest.raises(RulebookError, match="print_height with exactly"):
        brief_of(clause("head_height", at_least="32 mm"))
    with pytest.raises(RulebookError, match="62 %.*32 mm"):
        brief_of(clause("head_height", at_least="tall"))


@pytest.mark.parametrize("name", ["ines", "mirelle", "osk", "quill"])
def test_a_face_that_is_covered_leaves_the_number_of_people_unknown(tmp_path, name: str):
    with Image.open(next(DEMO.glob(f"{name}*.jpg"))) as picture:
        shown = ImageOps.exif_transpose(picture).convert("RGB")
    shown.thumbnail((900, 900))
    pixels = np.asarray(shown).copy()
    left, top, right, low = map(int, find_people(pixels)[0].box)
    hair = pixels[max(0, top - 10) : top + 5, (left + right) // 2].mean(axis=0)
    y, x = np.mgrid[: pixels.shape[0], : pixels.shape[1]]
    across, down = (right - left) * 0.6, (low - top) * 0.7
    covered = ((x - (left + right) / 2) / across) ** 2 + ((y - (top + low) / 2) / down) ** 2 < 1
    pixels[covered] = hair
    path = tmp_path / "covered.png"
    Image.fromarray(pixels).save(path)
    for limit in (clause("people", exactly=0), clause("people", exactly=1)):
        finding = check_file(str(path), brief_of(limit)).findings.of("people")
        assert finding.verdict == "unknown" and "whose face cannot be seen" in finding.says


@pytest.mark.parametrize("name", ["blue_jug", "lantern_quay", "night_moor"])
def test_where_nobody_is_there_are_none(name: str):
    path = next(DEMO.glob(f"{name}*.jpg"))
    finding = check_file(str(path), brief_of(clause("people", exactly=0))).findings.of("people")
    assert (finding.value, finding.verdict) == (0, "meets")
