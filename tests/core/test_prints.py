"""Sheets of prints, read back by other programs: true millimetres, nothing over anything else."""

from __future__ import annotations

import io
import re

import cv2
import numpy as np
import pypdfium2
import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st
from PIL import Image

from aptandum.core.prints.draw import NoPrint, Pictured, drawn, pictured
from aptandum.core.prints.layout import NoRoom, Wish, cut_marks, lay_out
from aptandum.core.prints.paper import PAPERS, NoPaper, paper_of

INCH = 25.4


def tile(path, size=(630, 810), colour=(60, 90, 140), ppi=457.2):
    """A picture without white, whose corner tells which way up it is."""
    pixels = np.zeros((size[1], size[0], 3), np.uint8)
    pixels[:] = colour
    pixels[: size[1] // 4, : size[0] // 4] = (200, 40, 30)
    Image.fromarray(pixels).save(path, dpi=(ppi, ppi))
    return str(path)


def sides(low: float, high: float):
    return st.floats(low, high).map(lambda v: round(v, 1))


@given(
    st.sampled_from(PAPERS),
    st.lists(st.tuples(sides(10, 80), sides(10, 80), st.integers(1, 6)), min_size=1, max_size=3),
    sides(0, 12),
    sides(0, 8),
    st.booleans(),
)
def test_prints_keep_clear_of_one_another_and_of_the_margin(paper, wishes, margin, gap, check):
    asked = [Wish(n, wide, high, count) for n, (wide, high, count) in enumerate(wishes)]
    try:
        sheet = lay_out(paper, asked, margin, gap, check)
    except NoRoom as why:
        assert paper.name in str(why)
        assume(False)
    assert {sheet.paper.wide, sheet.paper.high} == {paper.wide, paper.high}
    for n, wish in enumerate(asked):
        mine = [one for one in sheet.prints if one.picture == n]
        assert len(mine) == wish.count
        for one in mine:
            held = (one.high, one.wide) if one.turned else (one.wide, one.high)
            assert held == pytest.approx((wish.wide, wish.high))
    boxes = [(p.left, p.top, p.left + p.wide, p.top + p.high) for p in sheet.prints]
    if sheet.check is not None:
        x, y, wide, high = sheet.check
        boxes.append((x, y, x + wide, y + high))
    for n, (x0, y0, x1, y1) in enumerate(boxes):
        assert min(x0, y0) >= margin - 1e-6
        assert x1 <= sheet.paper.wide - margin + 1e-6 and y1 <= sheet.paper.high - margin + 1e-6
        for a0, b0, a1, b1 in boxes[n + 1 :]:
            assert max(a0 - x1, x0 - a1, b0 - y1, y0 - b1) >= gap - 1e-6
    for x0, y0, x1, y1 in cut_marks(sheet):
        assert min(x0, x1) >= 0 and max(x0, x1) <= sheet.paper.wide + 1e-6
        assert min(y0, y1) >= 0 and max(y0, y1) <= sheet.paper.high + 1e-6
        for a0, b0, a1, b1 in boxes[: len(sheet.prints)]:
            outside = max(a0 - max(x0, x1), min(x0, x1) - a1, b0 - max(y0, y1), min(y0, y1) - b1)
            assert outside > -1e-6, "a mark lies on a print"


@example(paper_of("13 x 18 cm"), 60.0, 15.0)  # row by row the fullest is fewer than all one way
@given(st.sampled_from(PAPERS), sides(15, 70), sides(15, 70))
def test_as_many_as_have_room_are_no_fewer_than_a_plain_grid(paper, wide, high):
    margin, gap = 4.0, 3.0
    grids = []
    for pw, ph in ((paper.wide, paper.high), (paper.high, paper.wide)):
        across = int((pw - 2 * margin + gap + 1e-6) // (wide + gap))
        grids.append(across * int((ph - 2 * margin + gap + 1e-6) // (high + gap)))
    assume(max(grids) > 0)
    assert len(lay_out(paper, [Wish(0, wide, high, 0)], margin, gap).prints) >= max(grids)


def found_boxes(image: Image.Image, ppi: float) -> list[tuple[float, float]]:
    """Widths and heights in millimetres of what is large and not white."""
    dark = np.asarray(image.convert("RGB")).min(2) < 230
    solid = cv2.morphologyEx(dark.astype(np.uint8), cv2.MORPH_OPEN, np.ones((9, 9), np.uint8))
    return sorted((round(w / ppi * INCH, 3), round(h / ppi * INCH, 3)) for w, h in pieces(solid))


def pieces(array: np.ndarray) -> list[tuple[int, int]]:
    """Width and height of each piece that hangs together."""
    stats = cv2.connectedComponentsWithStats(array.astype(np.uint8))[2][1:]
    return [(int(s[cv2.CC_STAT_WIDTH]), int(s[cv2.CC_STAT_HEIGHT])) for s in stats]


@pytest.mark.parametrize("kind", ["jpeg", "tiff"])
@pytest.mark.long
def test_a_mixed_sheet_has_true_millimetres(tmp_path, kind):
    one, two = tile(tmp_path / "a.png"), tile(tmp_path / "b.png", (900, 900), (30, 120, 60))
    pictures = [pictured(one), pictured(two)]
    wishes = [Wish(0, 35, 45, 4), Wish(1, 50, 50, 1)]
    sheet = lay_out(paper_of("A5"), wishes)
    data = drawn(sheet, pictures, kind, 600)
    with Image.open(io.BytesIO(data)) as image:
        assert image.info["dpi"][0] == pytest.approx(600, abs=0.01)
        assert image.size == (round(sheet.paper.wide / INCH * 600), round(sheet.paper.high / INCH * 600))  # fmt: skip
        boxes = found_boxes(image, 600)
    assert len(boxes) == 5
    for wide, high in boxes:
        wanted = min(((35, 45), (45, 35), (50, 50)), key=lambda w: abs(w[0] - wide) + abs(w[1] - high))  # fmt: skip
        assert abs(wide - wanted[0]) <= 0.1 and abs(high - wanted[1]) <= 0.1


def test_at_its_own_ppi_a_print_has_the_files_own_pixels(tmp_path):
    rng = np.random.default_rng(3)
    path = tmp_path / "noise.png"
    Image.fromarray(rng.integers(0, 220, (450, 350, 3), np.uint8)).save(path, dpi=(254, 254))
    picture = pictured(str(path))
    assert picture.own == pytest.approx((35, 45), abs=0.01)
    sheet = lay_out(paper_of("10 x 15 cm"), [Wish(0, 35, 45, 2)])
    with Image.open(io.BytesIO(drawn(sheet, [picture], "tiff"))) as image:
        page = np.asarray(image)
    own = np.asarray(Image.open(path))
    for one in sheet.prints:
        x, y = round(one.left * 10), round(one.top * 10)
        shown = np.rot90(own) if one.turned else own
        assert (page[y : y + shown.shape[0], x : x + shown.shape[1]] == shown).all()


def test_a_pdf_keeps_the_pixels_and_has_its_boxes_right(tmp_path):
    picture = pictured(tile(tmp_path / "a.png"))
    sheet = lay_out(paper_of("A6"), [Wish(0, 35, 45, 2)])
    page = pypdfium2.PdfDocument(drawn(sheet, [picture], "pdf"))[0]
    size = [side / 72 * INCH for side in page.get_size()]
    assert size == pytest.approx([sheet.paper.wide, sheet.paper.high], abs=0.01)
    found = [o for o in page.get_objects() if o.type == 3]
    assert len(found) == 2
    for item, one in zip(found, sheet.prints, strict=True):
        left, low, right, top = (v / 72 * INCH for v in item.get_bounds())
        assert (right - left, top - low) == pytest.approx((one.wide, one.high), abs=0.01)
        assert left == pytest.approx(one.left, abs=0.01)
        assert sheet.paper.high - top == pytest.approx(one.top, abs=0.01)
        assert sorted(item.get_px_size()) == [630, 810]


def test_the_line_and_the_square_are_as_long_as_they_say(tmp_path):
    picture = pictured(tile(tmp_path / "a.png"))
    sheet = lay_out(paper_of("A6"), [Wish(0, 35, 45, 2)])
    assert sheet.check is not None
    with Image.open(io.BytesIO(drawn(sheet, [picture], "tiff", 600))) as image:
        k = 600 / INCH
        x, y, wide, high = (round(v * k) for v in sheet.check)
        part = np.asarray(image.convert("L"))[y - 4 : y + high + 4, x - 4 : x + wide + 8] < 128
    boxes = sorted(pieces(part))
    assert len(boxes) == 2
    assert boxes[0] == pytest.approx((10 * k, 10 * k), abs=0.2 * k)
    assert boxes[1][0] == pytest.approx(50 * k, abs=0.2 * k)


def test_what_has_no_room_or_too_few_pixels_is_said(tmp_path):
    picture = pictured(tile(tmp_path / "a.png"), enlarge=1.0)
    with pytest.raises(NoRoom, match=r"Only 6 of the prints have room on 10 x 15 cm"):
        lay_out(paper_of("10 x 15 cm"), [Wish(0, 35, 45, 40)])
    with pytest.raises(NoRoom, match=r"200.mm × 300.mm has no room on A6"):
        lay_out(paper_of("A6"), [Wish(0, 200, 300, 1)])
    sheet = lay_out(paper_of("A4"), [Wish(0, 70, 90, 1)])
    with pytest.raises(
        NoPrint, match=re.compile(r"a\.png has 630 px across and would be enlarged 1\.31")
    ):
        drawn(sheet, [picture], "jpeg", 300)
    free = Pictured(picture.path, picture.size, picture.ppi)
    assert drawn(sheet, [free], "jpeg", 300)[:2] == b"\xff\xd8"


@pytest.mark.parametrize(
    ("text", "size"),
    [("a4", (210, 297)), ("10x15cm", (100, 150)), ("9 x 13 cm", (90, 130)), ("4 × 6 in", (101.6, 152.4)),
     ("89 mm x 12.7 cm", (89, 127))],
)  # fmt: skip
def test_papers_by_name_and_by_their_sides(text, size):
    paper = paper_of(text)
    assert (paper.wide, paper.high) == pytest.approx(size)


@pytest.mark.parametrize("text", ["", "foolscap", "0 x 0 mm", "9 x 13", "1 x 1 mm", "9 x 13 km"])
def test_no_paper_is_said(text):
    with pytest.raises(NoPaper, match="There is no paper"):
        paper_of(text)
