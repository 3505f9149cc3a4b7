from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import SettingError, Settings, names
from aptandum.core.judge.findings import judge
from aptandum.core.photo.facts import Facts
from samples import brief_of, clause, examples

PASS = brief_of(
    clause("size", exactly="630 x 840")
    + clause("file_bytes", at_least="60 KB", at_most="250 KB")
    + clause("format", exactly="jpeg")
    + clause("colour_space", exactly="srgb")
    + clause("enlargement", at_most=1)
)
OPEN = brief_of(clause("longest_side", at_most=1600))


def facts(width: int, height: int, **more: object) -> Facts:
    base = dict(
        file="x.jpg",
        format="jpeg",
        width=width,
        height=height,
        oriented_width=width,
        oriented_height=height,
        bits=8,
        mode="rgb",
        alpha=False,
        colour_space="srgb",
        orientation=1,
        bytes=1000,
        frames=1,
    )
    return Facts(**{**base, **more})  # type: ignore[arg-type]


def test_a_fresh_fitting_keeps_the_most_about_the_middle():
    frame = resolve(facts(4000, 6000), PASS, Settings()).frame
    assert frame.output == (630, 840) and frame.fixed
    assert (frame.window.left, frame.window.top) == pytest.approx((0, 333.333), abs=0.01)
    assert frame.kept == pytest.approx(4000 * 5333.33 / 24e6, rel=1e-4)


@given(
    st.integers(40, 7000),
    st.integers(40, 7000),
    st.floats(0, 1),
    st.floats(0, 1),
    st.floats(0.05, 1),
    st.floats(0.05, 1),
    st.sampled_from([PASS, OPEN]),
)
@settings(max_examples=examples(300), deadline=None)
def test_one_scale_and_a_window_inside(pw, ph, x, y, w, h, brief):
    wanted = (x * pw * (1 - w), y * ph * (1 - h), max(1.0, w * pw), max(1.0, h * ph))
    made = Settings().having({"frame.window": tuple(round(v, 4) for v in wanted)})
    frame = resolve(facts(pw, ph), brief, made).frame
    window, (ow, oh) = frame.window, frame.output
    assert window.left >= -1e-6 and window.top >= -1e-6
    assert window.right <= pw + 1e-6 and window.bottom <= ph + 1e-6
    # the same scale across and up, to within half an output pixel over the whole side
    assert abs(window.width * frame.scale - ow) < 0.5
    assert abs(window.height * frame.scale - oh) < 0.5
    assert min(ow, oh) >= 1
    if brief is OPEN:
        assert max(ow, oh) <= 1600 and frame.scale <= 1 + 1e-6


def test_exactly_one_means_the_photos_own_pixels():
    brief = brief_of(clause("enlargement", exactly=1) + clause("size", exactly="300 x 200"))
    made = Settings().having({"frame.window": "10.4, 20.6, 300, 200"})
    frame = resolve(facts(900, 700), brief, made).frame
    assert frame.exact and frame.scale == 1
    assert (frame.window.left, frame.window.top) == (10, 21)


def test_settings_by_name():
    made = Settings().having({"frame.output": "200 x 100", "file.quality": "80"})
    assert made.frame.output == (200, 100) and made.file.quality == 80
    assert made.having({"file.quality": None}).file.quality is None
    assert "frame.window" in names()
    for name, value, says in (
        ("frame.windw", "1", "There is no setting “frame.windw”. Is frame.window meant?"),
        ("file.zzz", "1", "of file there are file.format, file.quality"),
        ("nope", "1", "named as frame.output, after source, frame, colour, finish or file"),
        ("file.quality", "101", "cannot be “101”; expected a number of at most 100"),
        ("file.quality", "7.5", "expected a whole number"),
        ("file.progressive", "maybe", "expected true or false"),
        ("file.ppi", "-3", "expected a number above 0"),
        ("file.name", "a/b", "expected a name without slashes"),
        ("file.metadata.caption", "Low tide", "expected keep, drop, or = and the words"),
        ("finish.keyline.colour", "red", "expected a colour such as #1F5A7A"),
        ("frame.angle", "a bit", "expected a number"),
        ("frame.window", "1, 2, 3", "four numbers"),
        ("frame.window", "0, 0, 0, 5", "at least half a pixel"),
        ("frame.output", "99999 x 3", "65 500"),
        ("file.format", "sketch", "expected one of jpeg, png, tiff"),
    ):
        with pytest.raises(SettingError, match=says):
            Settings().having({name: value})


def test_formats_and_colour_follow_the_brief():
    line = resolve(facts(3000, 3000, format="png", alpha=True), PASS, Settings())
    assert (line.file.format, line.colour.target) == ("jpeg", "srgb")
    assert line.finish.ground == "#FFFFFF"
    assert (line.file.at_least, line.file.at_most) == (61_440, 250_000)
    clear = brief_of(clause("transparency", exactly="present"))
    line = resolve(facts(300, 300, format="png", alpha=True), clear, Settings())
    assert line.file.format == "png" and line.finish.ground is None
    grey = brief_of(clause("channels", exactly="grey"))
    assert resolve(facts(300, 300), grey, Settings()).colour.target == "grey"
    wide = brief_of(clause("bits", exactly=16) + clause("colour_space", exactly="prophoto"))
    line = resolve(facts(300, 300), wide, Settings())
    assert (line.colour.bits, line.file.format, line.colour.target) == (16, "png", "prophoto")


def test_what_cannot_be_written_is_said():
    line = resolve(facts(300, 300), brief_of(clause("colour_space", exactly="cmyk")), Settings())
    assert "CMYK" in line.notes[0] and "cannot be written yet" in line.notes[0]


def test_a_recommendation_is_followed_where_it_needs_no_enlargement():
    brief = brief_of(
        clause("width", at_least=100) + clause("width", exactly=800, strength="should")
    )
    assert resolve(facts(1000, 500), brief, Settings()).frame.output == (800, 400)
    assert resolve(facts(400, 200), brief, Settings()).frame.output == (400, 200)


def test_the_live_reading_never_says_ready():
    line = resolve(facts(4000, 6000), PASS, Settings())
    findings = judge(live_reading(facts(4000, 6000), line, 100_000), PASS)
    assert findings.meets_musts and not findings.ready
    assert findings.of("file_bytes").estimate


def test_ppi_as_asked():
    brief: Brief = brief_of(clause("ppi", between=(250, 350)))
    assert resolve(facts(10, 10), brief, Settings()).file.ppi == 300
    assert resolve(facts(10, 10, ppi_x=72.0, ppi_y=72.0), brief, Settings()).file.ppi == 250
    assert resolve(facts(10, 10), None, Settings()).file.ppi is None
