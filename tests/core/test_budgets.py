"""Byte budgets: sixty combinations of photo, size, format and limits, each proved at its edge."""

from __future__ import annotations

import io
import re
from dataclasses import replace
from functools import cache
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.file import budget, room
from aptandum.core.file import make as make_module
from aptandum.core.file.avif import encode_avif, last_alike
from aptandum.core.file.curve import curve, likeness, worst
from aptandum.core.file.make import make
from aptandum.core.file.palette import in_colours
from aptandum.core.fitting.render import render
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.metadata_groups import Credit
from aptandum.core.photo.picture import Picture
from aptandum.core.photo.profile import shipped
from aptandum.core.sizes.region import allowed
from samples import brief_of, clause, jpeg, scene

SHAPES = {
    "fog": dict(seed=2, grain=0.6),
    "quay": dict(seed=1, grain=5.0),
    "gravel": dict(seed=3, grain=16.0),
}
SIZES = {"badge": (180, 180), "card": (300, 400), "header": (720, 180)}
# bytes for each pixel: an upper limit, and where there is one a lower
LIMITS = {
    "jpeg": ((0.09, None), (0.3, None), (0.6, 0.1), (1.5, 0.5)),
    "webp": ((0.12, None), (0.4, None)),
    "avif": ((0.25, None),),
    "png": ((0.9, None),),
    "gif": ((0.6, None),),
}
CASES = [
    (photo, size, format_, limits)
    for photo in SHAPES
    for size in SIZES
    for format_, every in LIMITS.items()
    for limits in every
    if not (size == "header" and format_ in ("avif", "gif") and photo != "quay")
]
JPEGS = [case for case in CASES if case[2] == "jpeg"]


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    return tmp_path_factory.mktemp("budgets")


@cache
def photo_at(folder, name):
    path = folder / f"{name}.jpg"
    path.write_bytes(jpeg(scene(1200, 900, **SHAPES[name]), quality=97))
    return path


@cache
def proof_of(folder, photo, size, format_, limits):
    wide, high = SIZES[size]
    most, least = (None if k is None else round(k * wide * high) for k in limits)
    bytes_ = {"at_most": f"{most} bytes"} | ({"at_least": f"{least} bytes"} if least else {})
    brief = brief_of(
        clause("size", exactly=f"{wide} x {high}")
        + clause("format", one_of=[format_])
        + clause("file_bytes", **bytes_)
    )
    return conform(open_photo(photo_at(folder, photo)), brief), most, least


def bare(text):
    """A sentence without spaces, so that grouped figures can be looked for."""
    return "".join(text.split())


def test_there_are_sixty_and_more():
    assert len(CASES) >= 60 and len(JPEGS) == 36


@pytest.mark.parametrize("photo, size, format_, limits", CASES)
@pytest.mark.long
def test_the_file_is_inside_and_one_step_better_is_not(folder, photo, size, format_, limits):
    proof, most, least = proof_of(folder, photo, size, format_, limits)
    made, line = proof.made, proof.line
    n = len(made.data)
    inside = n <= most and n >= (least or 0)
    assert inside == (not made.trouble) == proof.ready
    picture = render(open_photo(photo_at(folder, photo)), line)
    if n > most:  # the truth: the figure named is that of the smallest file there is
        assert str(n) in bare(made.trouble)
        if made.options is not None:
            assert made.options.quality == 1
        else:
            assert made.colours == 2
    elif made.options is not None and made.options.quality < 100:
        o = made.options
        better = replace(
            line.file, quality=o.quality + 1, subsampling=o.subsampling, progressive=o.progressive
        )
        assert len(make(picture, better).data) > most
        if n < (least or 0):
            assert made.trouble
    elif made.colours is not None:
        steps = [256, 192, 154, 128, 96, 64, 48, 32, 24, 16, 12, 8, 6, 4, 3, 2]
        at = steps.index(made.colours)
        if at:
            better = make(picture, replace(line.file, colours=steps[at - 1]))
            assert len(better.data) > most
        elif format_ == "png":  # all colours, as they are, would not fit
            assert len(make(picture, replace(line.file, at_most=None)).data) > most
        assert f"{made.colours} colours" in made.statement or not made.statement
    elif n < (least or 0):
        assert made.options is None or made.options.quality == 100


def test_a_jpeg_limit_takes_four_encodes_on_average(folder):
    encodes = [proof_of(folder, *case)[0].made.encodes for case in JPEGS]
    plain = [
        n
        for n, case in zip(encodes, JPEGS, strict=True)
        if not proof_of(folder, *case)[0].made.trouble
    ]
    assert np.mean(plain) <= 4, encodes


# -- another size --------------------------------------------------------------------------


def made_of(folder, photo, text, **settings):
    brief = brief_of(text)
    proof = conform(open_photo(photo_at(folder, photo)), brief, Settings().having(settings))
    return proof, brief


def at_quality(folder, photo, brief, size, quality):
    opened = open_photo(photo_at(folder, photo))
    settings = Settings().having({"frame.output": size, "file.quality": quality})
    line = resolve(opened.facts, brief, settings)
    return len(make(render(opened, line), replace(line.file, at_most=None)).data)


@pytest.mark.parametrize("photo, floor", [("quay", 80), ("quay", 90), ("gravel", 40)])
@pytest.mark.long
def test_where_the_pixels_are_open_the_largest_size_that_keeps_the_floor_is_taken(
    folder, photo, floor
):
    text = clause("longest_side", at_most="1100 px") + clause("file_bytes", at_most="60000 bytes")
    proof, brief = made_of(folder, photo, text, **{"file.floor": floor})
    assert proof.ready and proof.made.options.quality >= floor
    wide, high = proof.resized
    assert max(wide, high) < 1100 and "largest allowed size" in proof.made.statement
    assert at_quality(folder, photo, brief, (wide, high), floor) <= 60_000
    above = allowed(brief).target(proof.line.frame.shape, max(wide, high) + 1).size
    assert above != (wide, high)
    assert at_quality(folder, photo, brief, above, floor) > 60_000


@pytest.mark.parametrize("form", ["webp", "gif"])
def test_where_every_try_is_dear_two_sizes_a_hundredth_apart_are_told(folder, form):
    """One that fits and one that does not, both named, and both true."""
    text = clause("longest_side", at_most="900 px") + clause("format", exactly=form)
    limit = 30_000 if form == "webp" else 90_000
    proof, brief = made_of(folder, "gravel", text + clause("file_bytes", at_most=f"{limit} bytes"))
    assert proof.ready and len(proof.made.data) <= limit
    said = proof.made.statement.replace("\xa0", " ").replace("\u202f", " ")
    more = re.search(r"; ([\d ]+) × ([\d ]+) px no longer does", said)
    good = max(proof.resized)
    size = tuple(int(part.replace(" ", "")) for part in more.groups()) if more else None
    if size is None:  # they happened to be neighbours
        assert "largest allowed size" in said
        size = allowed(brief).target(proof.line.frame.shape, good + 1).size
    full = (
        form == "gif" and len(proof.made.data) >= 0.98 * limit
    )  # a palette's bytes go up and down
    assert good < max(size) <= (1.1 if full else 1.03) * good
    opened = open_photo(photo_at(folder, "gravel"))
    key = {"file.quality": 60} if form == "webp" else {"file.colours": 154}
    for at, fits in ((proof.resized, True), (size, False)):
        line = resolve(opened.facts, brief, Settings().having({"frame.output": at, **key}))
        found = len(make(render(opened, line), replace(line.file, at_most=None)).data)
        assert (found <= limit) == fits


@pytest.mark.parametrize("photo, form, limit", [("quay", "webp", 5000), ("quay", "avif", 8000)])
def test_bytes_that_are_foretold_spare_files_and_none_is_taken_for_made(
    folder, monkeypatch, photo, form, limit
):
    """A quick file tells where to look; what is said of the answer is true of files made in earnest."""
    text = clause("longest_side", at_most="900 px") + clause("format", exactly=form)
    text += clause("file_bytes", at_most=f"{limit} bytes")
    name, made = f"encode_{form}", []
    encode = getattr(make_module, name)
    monkeypatch.setattr(make_module, name, lambda *given: made.append(encode(*given)) or made[-1])
    proof, _brief = made_of(folder, photo, text)
    assert proof.ready and max(proof.resized) < 900 and proof.made.data in made
    with_it = len(made)
    made.clear()
    monkeypatch.setattr(room, "foretold", lambda *_: None)
    without, _brief = made_of(folder, photo, text)
    assert with_it < len(made)
    assert abs(max(proof.resized) - max(without.resized)) <= 0.03 * max(without.resized)


def test_a_quality_that_a_rule_caps_is_no_reason_for_another_size(folder):
    """It was made a pixel smaller, and said to be the largest at quality 60, which no rule let it have."""
    text = clause("longest_side", at_most="1100 px") + clause("quality", at_most=50)
    proof, _brief = made_of(folder, "quay", text + clause("file_bytes", at_most="900 kB"))
    assert proof.ready and proof.made.options.quality <= 50
    assert proof.resized is None and max(proof.line.frame.output) == 1100
    assert "largest allowed" not in proof.made.statement


@pytest.mark.parametrize("form", ["gif", "png"])
def test_another_size_keeps_to_the_colours_that_a_rule_allows(folder, form):
    """A palette that must not have more than 64 is not held to the 154 that are the least otherwise."""
    text = clause("longest_side", at_most="900 px") + clause("format", exactly=form)
    text += clause("colours", at_most=64) + clause("file_bytes", at_most="50000 bytes")
    proof, _brief = made_of(folder, "gravel", text)
    assert proof.ready and proof.made.colours <= 64 and len(proof.made.data) <= 50_000
    assert proof.resized is not None and "154" not in proof.made.statement
    with Image.open(io.BytesIO(proof.made.data)) as opened:
        assert len(opened.convert("RGB").getcolors(256)) <= 64


def test_only_sizes_that_are_allowed_are_taken(folder):
    text = clause("size", one_of=["1000x750", "600x450", "320x240"]) + clause(
        "file_bytes", at_most="20000 bytes"
    )
    proof, brief = made_of(folder, "gravel", text)
    assert proof.resized == (320, 240) and proof.ready
    assert at_quality(folder, "gravel", brief, (600, 450), 60) > 20_000


def test_a_size_set_by_hand_is_kept_and_so_is_one_that_may_not_be_scaled(folder):
    text = clause("longest_side", at_most="1100 px") + clause("file_bytes", at_most="60000 bytes")
    proof, _ = made_of(folder, "quay", text, **{"frame.output": "1100x825"})
    assert proof.resized is None and proof.line.frame.output == (1100, 825)
    proof, _ = made_of(folder, "quay", text, **{"frame.fill": "pixels"})
    assert proof.resized is None


@pytest.mark.long
def test_below_a_minimum_quality_rises_then_the_size_then_the_truth_is_told(folder):
    low = clause("size", exactly="420x560") + clause("file_bytes", at_least="150000 bytes")
    proof, _ = made_of(folder, "quay", low)
    assert proof.ready and proof.made.options.quality > 93  # quality was enough
    more = clause("width", at_least="300 px", at_most="3000 px") + clause(
        "file_bytes", at_least="1200000 bytes"
    )
    proof, brief = made_of(folder, "quay", more)
    assert proof.ready and proof.resized and proof.made.options.quality == 100
    below = allowed(brief).target(proof.line.frame.shape, max(proof.resized) - 1).size
    assert at_quality(folder, "quay", brief, below, 100) < 1_200_000
    never = clause("size", one_of=["420x560", "840x1120"]) + clause(
        "file_bytes", at_least="9000000 bytes"
    )
    proof, brief = made_of(folder, "quay", never)
    assert not proof.ready and "840×1120px" in bare(proof.made.trouble)
    assert proof.made.data.endswith(b"\xff\xd9")  # nothing is padded
    said = at_quality(folder, "quay", brief, (840, 1120), 100)
    assert str(said) in bare(proof.made.trouble)


def test_enlarging_that_is_forbidden_is_not_the_way_to_a_minimum(folder):
    text = clause("enlargement", at_most=1) + clause("file_bytes", at_least="9000000 bytes")
    proof, _ = made_of(folder, "quay", text)
    assert proof.line.frame.output == (1200, 900) and not proof.ready


def test_limits_of_ones_own_only_tighten_the_briefs(folder):
    text = clause("size", exactly="420x560") + clause(
        "file_bytes", at_least="20000 bytes", at_most="90000 bytes"
    )
    proof, _ = made_of(folder, "quay", text, **{"file.at_most": "40 kB", "file.at_least": "1 kB"})
    assert (proof.line.file.at_least, proof.line.file.at_most) == (20_000, 40_000)
    assert 20_000 <= len(proof.made.data) <= 40_000
    proof, _ = made_of(folder, "quay", text, **{"file.at_most": "5 MB"})
    assert proof.line.file.at_most == 90_000


# -- the curve -----------------------------------------------------------------------------


def station(**more):
    brief = brief_of(clause("format", one_of=[more.pop("format", "jpeg")]))
    from aptandum.core.photo.header import facts_of_bytes

    line = resolve(facts_of_bytes(jpeg(scene(60, 60)), "x.jpg"), brief, Settings())
    return replace(line.file, **more)


def plain_ssim(a, b):
    """The formula, pixel by pixel, with a window made here; borders mirrored as OpenCV does."""
    r = np.arange(-5, 6)
    g = np.exp(-(r**2) / (2 * 1.5**2))
    window = np.outer(g, g) / g.sum() ** 2
    a, b = (np.pad(v.astype(float), 5, mode="reflect") for v in (a, b))
    c1, c2 = (0.01 * 255) ** 2, (0.03 * 255) ** 2
    found = []
    for y in range(a.shape[0] - 10):
        for x in range(a.shape[1] - 10):
            p, q = a[y : y + 11, x : x + 11], b[y : y + 11, x : x + 11]
            mp, mq = (window * p).sum(), (window * q).sum()
            vp = (window * p * p).sum() - mp * mp
            vq = (window * q * q).sum() - mq * mq
            both = (window * p * q).sum() - mp * mq
            found.append(
                (2 * mp * mq + c1) * (2 * both + c2) / ((mp**2 + mq**2 + c1) * (vp + vq + c2))
            )
    return float(np.mean(found))


def test_likeness_is_the_published_formula():
    rng = np.random.default_rng(4)
    one = scene(40, 32, seed=5)[..., :1]
    other = np.clip(one.astype(int) + rng.integers(-30, 31, one.shape), 0, 255).astype(np.uint8)
    assert likeness(one, one) == pytest.approx(1)
    assert likeness(one, other) == pytest.approx(plain_ssim(one[..., 0], other[..., 0]), abs=2e-4)


@pytest.mark.parametrize("format_", ["jpeg", "webp"])
def test_every_point_of_the_curve_is_a_file_that_could_be_written(format_):
    picture = Picture(scene(300, 200), shipped("srgb"), False)
    file = station(format=format_)
    file = replace(file, format=format_)
    found = curve(picture, file)
    assert not found.estimated and [p.at for p in found.points] == sorted(
        p.at for p in found.points
    )
    for point in found.points[::4]:
        assert point.size == len(make(picture, replace(file, quality=point.at)).data)
    likes = [p.likeness for p in found.points]
    assert likes == sorted(likes) and likes[-1] > 0.98


@pytest.mark.long
def test_a_curve_reckoned_from_bands_is_within_a_few_per_cent():
    picture = Picture(scene(2400, 1600, grain=4), shipped("srgb"), False)
    file = station()
    made = make(picture, replace(file, quality=80))
    found = curve(picture, file, made)
    assert found.estimated
    for point in found.points:
        if point.at in (30, 60, 80, 93):
            real = len(make(picture, replace(file, quality=point.at)).data)
            assert point.size == pytest.approx(real, rel=0.04)


def test_a_palette_has_its_curve_by_colours():
    picture = Picture(scene(200, 160), shipped("srgb"), False)
    found = curve(picture, replace(station(), format="gif"))
    assert found.of == "colours" and found.points[-1].at == 256
    assert found.points[0].size < found.points[-1].size


def test_the_worst_place_is_where_the_difference_lies():
    before = scene(640, 384, grain=1)
    after = before.copy()
    after[300:330, 500:540] //= 3
    x, y = worst(before, after)
    assert abs(x * 640 - 520) <= 40 and abs(y * 384 - 315) <= 40


def test_search_tells_when_nothing_fits():
    found = budget.highest_quality(lambda q: bytes(100 + q), 50, 100)
    assert found.quality is None and len(found.data) == 101


@pytest.mark.parametrize("fits", [(), (50,), (51,), (49,), (50, 51), (49, 51), (49, 50, 51)])
@pytest.mark.parametrize("estimated", [False, True])
@pytest.mark.parametrize("lowest", [1, 49])
def test_where_a_better_quality_is_smaller_than_the_one_below_it_is_found(fits, estimated, lowest):
    """Of 49 to 51 each may come out a little smaller than the one below: the best that fits is
    taken, whichever of them do."""
    sizes = {q: 1000 + 10 * q for q in range(1, 49)}  # all of these fit
    sizes |= {q: 1499 if q in fits else 1510 + q for q in (49, 50, 51)}
    sizes |= {q: 2000 + 30 * q for q in range(52, 101)}
    estimate = (lambda q: sizes[q]) if estimated else None
    found = budget.highest_quality(lambda q: bytes(sizes[q]), 1500, 6000, lowest, estimate=estimate)
    best = max(fits, default=48 if lowest == 1 else None)
    assert found.quality == best and len(found.data) == sizes[best or lowest]
    assert all(found.tried[q] > 1500 for q in found.tried if q > (best or 0))


@given(
    steps=st.lists(st.integers(1, 4), min_size=30, max_size=60),
    at_most=st.integers(900, 9000),
    begins=st.sampled_from(["guess", "estimate", "fits", "fits and estimate"]),
    wrong=st.floats(0.6, 1.6),
)
def test_where_several_qualities_share_a_file_none_is_made_twice(steps, at_most, begins, wrong):
    """AVIF has 64 steps for its hundred qualities: what is found is the highest of the best step that fits."""
    step_of = [i for i, many in enumerate(steps) for _ in range(many)][:100]
    step_of += [len(steps)] * (100 - len(step_of))
    sizes = {q: round(800 * 1.08 ** step_of[q - 1]) for q in range(1, 101)}
    last = {q: max(p for p in sizes if step_of[p - 1] == step_of[q - 1]) for q in sizes}
    asked: list[int] = []

    def encode(quality):
        asked.append(step_of[quality - 1])
        return bytes(sizes[quality])

    best = max((q for q in sizes if sizes[q] <= at_most), default=None)
    found = budget.highest_quality(
        encode, at_most, 6000,
        estimate=(lambda q: sizes[q] * wrong) if "estimate" in begins else None,
        fits=(1, bytes(sizes[1])) if "fits" in begins and best is not None else None,
        last_alike=lambda q: last[q],
    )  # fmt: skip
    assert found.quality == best and len(found.data) == sizes[best or 1]
    assert len(set(asked)) == len(asked)


def test_the_qualities_of_an_avif_that_share_a_file_are_known():
    def of(quality):
        return encode_avif(Picture(scene(48, 32), shipped("srgb"), False), None, Credit(), quality)

    for quality in (1, 33, 60, 80, 95, 99):
        last = last_alike(quality)
        assert of(quality) == of(last) and of(last) != of(last + 1)
    assert last_alike(100) == 100


def test_a_tiff_under_a_limit_takes_few_files(folder, monkeypatch):
    """Sizes of a shape lie some pixels apart: above one that fits the next is tried, and not the middle."""
    made_at: list[tuple[int, int]] = []
    encode = make_module.encode_tiff
    monkeypatch.setattr(
        make_module, "encode_tiff", lambda p, *a: made_at.append(p.size) or encode(p, *a)
    )
    text = clause("format", exactly="tiff") + clause("aspect", exactly="3:2")
    text += clause("longest_side", at_most=600)
    opened = open_photo(photo_at(folder, "quay"))
    whole = conform(opened, brief_of(text)).made.data
    made_at.clear()
    limit = len(whole) * 2 // 5
    made = conform(opened, brief_of(text + clause("file_bytes", at_most=f"{limit} bytes"))).made
    assert len(made.data) <= limit and len(made_at) == len(set(made_at)) <= 7


def whole_at(folder, photo, brief, size):
    """The bytes of a photo at a size, in a file that gives up nothing."""
    opened = open_photo(photo_at(folder, photo))
    line = resolve(opened.facts, brief, Settings().having({"frame.output": size}))
    return len(make(render(opened, line), replace(line.file, at_most=None)).data)


@pytest.mark.parametrize("form, more", [("bmp", ""), ("png", clause("channels", exactly="grey"))])
def test_the_largest_size_without_loss_is_found_and_the_next_has_no_room(folder, form, more):
    """A PNG of greys was made as small as one with a palette had to be, which is the larger of the two."""
    limit = 300_000
    text = clause("longest_side", at_most="1100 px") + clause("format", exactly=form) + more
    proof, brief = made_of(folder, "quay", text + clause("file_bytes", at_most=f"{limit} bytes"))
    assert proof.ready and proof.made.colours is None and proof.resized is not None
    assert len(proof.made.data) <= limit
    longer = allowed(brief).target(proof.line.frame.shape, round(1.03 * max(proof.resized))).size
    assert max(longer) > max(proof.resized)
    assert whole_at(folder, "quay", brief, longer) > limit


def test_what_is_wholly_clear_stays_so_among_few_colours():
    """A small hole in a large picture has too few pixels for a colour of its own to be chosen for it."""
    pixels = np.dstack([scene(700, 500, grain=9.0), np.full((500, 700), 255, np.uint8)])
    pixels[:, :300, 3] = np.linspace(1, 254, 300).astype(np.uint8)
    pixels[240:246, 500:506, 3] = 0
    picture = Picture(pixels, shipped("srgb"), True)
    few = np.asarray(in_colours(picture, 64).convert("RGBA"))
    assert (few[..., 3] == 0).tolist() == (pixels[..., 3] == 0).tolist()


@pytest.mark.parametrize("more", ["", clause("chroma", exactly="4:4:4")])
def test_limits_between_which_no_step_of_quality_comes_are_met_another_way(folder, more):
    """Of a photo that has been a JPEG before one step of quality may be a third more bytes; both files missed."""
    path = folder / "twice.jpg"
    path.write_bytes(jpeg(scene(800, 600, seed=4, grain=9.0), quality=88, subsampling=0))
    opened = open_photo(path)
    text = clause("longest_side", at_most="800 px") + clause("format", exactly="jpeg") + more
    line = resolve(opened.facts, brief_of(text), Settings().having({"file.quality": 80}))
    picture = render(opened, line)
    sizes = [
        len(make(picture, replace(line.file, quality=q, subsampling="4:4:4")).data)
        for q in range(60, 95)
    ]
    low, high = max(pairwise(sizes), key=lambda pair: pair[1] / pair[0])
    assert high > 1.15 * low  # there is such a step
    least, most = round(low * 1.04), round(high * 0.97)
    proof = conform(
        opened, brief_of(text + clause("file_bytes", between=[f"{least} bytes", f"{most} bytes"]))
    )
    assert proof.ready and least <= len(proof.made.data) <= most
    if more:
        assert 0.9 * 800 < max(proof.resized) < 800 and "no quality" in proof.made.statement
        assert proof.made.options.subsampling == "4:4:4"
    else:  # every pixel is kept
        assert proof.resized is None and proof.made.options.subsampling == "4:2:0"
