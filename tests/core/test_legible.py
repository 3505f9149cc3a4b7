"""Whether words can be read: letters of known height, stroke, contrast, ground and opacity, cut or covered."""

from __future__ import annotations

import io
import math

import numpy as np
import pytest
from PIL import Image

from aptandum.core.brief.model import Brief
from aptandum.core.conform import conform
from aptandum.core.fitting.settings import SettingError, Settings
from aptandum.core.judge.findings import Finding, judge
from aptandum.core.judge.reading import Additions, of_finished
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.picture import Lettering
from lettering import Word, luminance, mixed, part_of_contrast
from samples import THOROUGH, brief_of, clause

WIDE, HIGH = 640, 480
CORNER = '[[brief.seen]]\nas = "corner"\nat = "56 px"\nopacity = "{opacity} %"\n'
TINT = '[[brief.seen]]\nas = "tint"\ncolours = ["{colour}"]\nopacity = "{opacity} %"\n'
ZONE = (
    '[[brief.seen]]\nas = "handset"\nzones = [{ name = "clock", left = "0 %", top = "0 %", '
    'width = "100 %", height = "20 %" }]\n'
)


def brief_seen(at: int, seen: str = "") -> Brief:
    return brief_of(
        clause("legible_at", at_least=f"{at} px") + clause("format", exactly="png") + seen
    )


def judged(pixels: np.ndarray, box: tuple[int, int, int, int], brief: Brief) -> Finding:
    """The finding on words of a photo in a box of it."""
    data = io.BytesIO()
    Image.fromarray(pixels).save(data, "PNG")
    words = Lettering(box, None, "box 1", own=False)
    reading = of_finished(data.getvalue(), "a.png", 1.0, laid=Additions(lettering=(words,)))
    return judge(reading, brief).findings[0]


def grown(word: Word, by: int) -> tuple[int, int, int, int]:
    """The word's box with some room about it, inside the picture."""
    left, top, across, down = word.box
    x0, y0 = max(0, left - by), max(0, top - by)
    return x0, y0, min(WIDE, left + across + by) - x0, min(HIGH, top + down + by) - y0


def cases() -> list[tuple[int, str]]:
    kinds = ("own", "tint", "pale", "small", "thin", "cut", "covered", "own", "tint", "own")
    return [(n, kinds[n % len(kinds)]) for n in range(120)]


@pytest.mark.parametrize(("seed", "kind"), cases())
@pytest.mark.long
def test_the_verdict_and_its_cause_are_those_of_the_formula(seed, kind):
    rng = np.random.default_rng(seed)
    height = int(rng.integers(12, 90))
    stroke = int(rng.integers(2, max(3, height // 5)))
    if kind == "thin":
        height, stroke = int(rng.integers(60, 110)), 2
    text = "".join(rng.choice(list("EFHLUCO"), 4))
    at = int(rng.integers(20, 60)), int(rng.integers(120, 330))
    if kind == "cut":
        at = int(rng.integers(-height // 2, -3)), at[1]
    if kind == "covered":
        at = at[0], int(rng.integers(4, 60))
    word = Word(text, height, stroke, at)
    ink, ground = (tuple(int(v) for v in rng.integers(0, 256, 3)) for _ in range(2))
    if kind in ("cut", "covered", "small", "thin"):
        ink, ground = (250, 250, 250), (20, 24, 30)
    if kind == "pale":
        ground = tuple(int(np.clip(v + rng.integers(-25, 26), 0, 255)) for v in ink)
    seen_at = int(rng.integers(40, WIDE))
    seen, inks, grounds = "", ink, ground
    if kind == "tint":
        colour, share = tuple(int(v) for v in rng.integers(0, 256, 3)), float(rng.integers(10, 71))
        seen = TINT.format(colour="#{:02X}{:02X}{:02X}".format(*colour), opacity=share)
        inks, grounds = mixed(colour, ink, share / 100), mixed(colour, ground, share / 100)
    if kind == "covered":
        seen = ZONE
    pixels = np.empty((HIGH, WIDE, 3), np.uint8)
    pixels[:] = ground
    word.draw(pixels, ink)
    if abs(luminance(ink) - luminance(ground)) < 0.004:
        return  # letters that are not there: nothing to be right about

    finding = judged(pixels, grown(word, 6), brief_seen(seen_at, seen))
    k = seen_at / WIDE
    part = part_of_contrast(luminance(inks), luminance(grounds))
    margins = {"small": height * k / 4, "thin": stroke * k / part, "pale": 1 / part}
    if kind in ("cut", "covered"):
        assert finding.verdict == "misses"
        assert (
            "is cut by the left edge" if kind == "cut" else "is covered by “clock”"
        ) in finding.says
        return
    if all(margin >= 1.1 for margin in (margins["small"], margins["thin"], margins["pale"])):
        assert finding.verdict == "meets", finding.says
    elif any(margin <= 1 / 1.1 for margin in margins.values()):
        assert finding.verdict == "misses", (margins, finding.says)
        words = {"pale": "too pale", "small": "too small", "thin": "too thin"}
        first = next(name for name in ("pale", "small", "thin") if margins[name] < 1 / 1.1)
        unclear = any(1 / 1.1 < margins[name] < 1.1 for name in ("pale", "small", "thin"))
        assert unclear or words[first] in finding.says, (margins, finding.says)


def test_a_badge_half_opaque_is_judged_on_every_film():
    pixels = np.full((HIGH, WIDE, 3), 30, np.uint8)
    word = Word("HELLO", 120, 24, (60, 120))
    word.draw(pixels, (255, 255, 255))
    met = judged(pixels, grown(word, 8), brief_seen(56, CORNER.format(opacity=95)))
    assert met.verdict == "meets", met.says
    faint = judged(pixels, grown(word, 8), brief_seen(56, CORNER.format(opacity=20)))
    assert faint.verdict == "misses" and "too pale on" in faint.says and "film" in faint.says
    assert faint.measured == "at no size"


def test_carved_letters_are_told_by_what_is_clear():
    pixels = np.zeros((HIGH, WIDE, 4), np.uint8)
    word = Word("HULL", 100, 16, (60, 120))
    word.draw(pixels, (128, 128, 128, 255))
    finding = judged(pixels, grown(word, 8), brief_seen(200))
    assert finding.verdict == "meets", finding.says  # a middle grey parts from white and from black
    word.draw(pixels, (250, 250, 250, 255))
    finding = judged(pixels, grown(word, 8), brief_seen(200))
    assert finding.verdict == "misses" and "too pale on white" in finding.says


def test_nothing_in_a_box_is_no_word_that_reads():
    pixels = np.full((HIGH, WIDE, 3), 90, np.uint8)
    finding = judged(pixels, (50, 50, 200, 80), brief_seen(200))
    assert (
        finding.verdict == "misses" and "no letters part from what is behind them" in finding.says
    )


def test_boxes_are_settings_and_follow_the_frame(tmp_path):
    pixels = np.full((600, 900, 3), 200, np.uint8)
    word = Word("HULL", 60, 10, (500, 300))
    word.draw(pixels, (10, 10, 10))
    path = tmp_path / "harbour_sign.png"
    Image.fromarray(pixels).save(path)
    left, top, across, down = word.box
    box = f"{left - 6}, {top - 6}, {across + 12}, {down + 12}"
    brief = brief_of(
        clause("legible_at", at_least="90 px") + clause("size", exactly="300 x 200")
        + clause("format", exactly="png")
    )  # fmt: skip
    made = Settings().having({"source.words": box})
    found = conform(open_photo(path), brief, made).findings.of("legible_at")
    assert found.verdict == "meets" and 55 < found.value < 72  # 4 of 60 px of 900
    cut = made.having({"frame.window": f"0, 0, {left + across // 2}, {(left + across // 2) / 1.5}"})
    lost = conform(open_photo(path), brief, cut).findings.of("legible_at")
    assert lost.verdict == "misses" and "is cut by the right edge" in lost.says
    assert conform(open_photo(path), brief).findings.of("legible_at").verdict == "idle"
    with pytest.raises(SettingError, match="four numbers"):
        Settings().having({"source.words": "1, 2, 3"})


def random_caption(rng: np.random.Generator) -> dict[str, str]:
    grey = int(rng.integers(0, 256))
    return {
        "finish.caption.text": str(rng.choice(["PLAY", "Night round", "open\\ndaily", "I", "SEA WALL 12"])),
        "finish.caption.size": f"{float(rng.uniform(6, 160)):.1f}",
        "finish.caption.colour": f"#{grey:02X}{grey:02X}{int(rng.integers(0, 256)):02X}",
        "finish.caption.anchor": str(rng.choice(["top left", "middle", "bottom right", "bottom"])),
        "finish.caption.font": str(rng.choice(["sans", "sans bold", "condensed", "mono"])),
        "finish.caption.behind": str(rng.choice(["nothing", "nothing", "plate", "outline"])),
        "finish.caption.behind_strength": str(int(rng.integers(0, 60))),
    }  # fmt: skip


@pytest.mark.parametrize("seed", range(300 if THOROUGH else 24))
@pytest.mark.long
def test_every_mend_that_is_offered_meets(tmp_path, seed):
    rng = np.random.default_rng(1000 + seed)
    pixels = np.empty((240, 320, 3), np.uint8)
    pixels[:] = rng.integers(0, 256, 3)
    if seed % 3 == 0:
        pixels[:, 160:] = rng.integers(0, 256, 3)
    path = tmp_path / "tile.png"
    Image.fromarray(pixels).save(path)
    seen = (
        "",
        CORNER.format(opacity=int(rng.integers(40, 101))),
        TINT.format(colour="#7A2E3B", opacity=int(rng.integers(10, 61))),
        ZONE,
    )[seed % 4]
    brief = brief_seen(int(rng.integers(60, 320)), seen)
    settings = Settings().having(random_caption(rng))
    finding = conform(open_photo(path), brief, settings).findings.of("legible_at")
    if finding.verdict == "meets":
        assert finding.mend is None
        return
    assert finding.verdict == "misses" and finding.says
    if finding.mend is not None and finding.mend.changes:
        mended = conform(open_photo(path), brief, settings.having(finding.mend.changes))
        after = mended.findings.of("legible_at")
        assert after.verdict == "meets" or "as near as it comes" in finding.mend.words, (
            settings.finish.caption, finding.mend, after.says)  # fmt: skip


def test_what_no_picture_reads_at_is_told_in_numbers_too(tmp_path):
    path = tmp_path / "tile.png"
    Image.new("RGB", (320, 240), "#EEEEEE").save(path)
    settings = Settings().having({"finish.caption.text": "PLAY", "finish.caption.size": "60"})
    finding = conform(open_photo(path), brief_seen(200), settings).findings.of("legible_at")
    assert finding.verdict == "misses" and math.isinf(finding.value)
    assert finding.mend is not None and "black" in finding.mend.words
