"""Colour, backdrop and finishes in the real window, with real clicks, drags and keys."""

from __future__ import annotations

import io
from pathlib import Path

import numpy as np
import pytest
from PIL import Image, ImageDraw
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QWheelEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from aptandum.core.docket.store import load
from aptandum.core.fitting.finish.keyline import QUIET
from aptandum.core.judge.polygons import inside
from aptandum.core.photo.profile import shipped
from aptandum.ui.bench.tools import Boxer, Brush
from aptandum.ui.bench.views import DOTS, FITTED
from driving import choose, drop, on_sheet, stroke, wait
from lettering import Word
from samples import DEMO, PATIENCE, clause, scene

LEFT = Qt.MouseButton.LeftButton


def begin(qtbot, shell, tmp_path: Path, name: str, brief: str):
    """A photo of the demo, or a made one, against a brief, settled on the bench."""
    path = tmp_path / name
    if (DEMO / name).exists():
        path.write_bytes((DEMO / name).read_bytes())
    else:
        Image.fromarray(scene(900, 700, 2)).save(path, compress_level=1)
    drop(shell, path)
    shell.start.choose(brief)
    wait(qtbot, shell)
    return shell.bench


def made(shell) -> np.ndarray:
    """The file of the draft, read by Pillow alone."""
    data = shell.session.bench.draft.data
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGBA")).astype(int)


# --- keyline --------------------------------------------------------------------------------


@pytest.mark.long
def test_a_keyline_takes_its_colour_from_the_picture(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "lantern_quay_dusk.jpg", "orrin-moor/night-round")
    before = made(shell)
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_K)
    assert bench.open_name == "finish" and bench.sheet.tool is not None
    at = on_sheet(bench.sheet, 0.3, 0.2)
    QTest.mouseMove(bench.sheet, at)
    bench.sheet.grab()  # the dropper is painted with its colour
    QTest.mouseClick(bench.sheet, LEFT, pos=at)
    assert bench.sheet.tool is None
    line = shell.session.bench.fitting.settings.finish.keyline
    assert line.width == 2 and line.colour is not None
    # an independent look at the file, at the place that was clicked
    box = bench.sheet.to_sheet(shell.session.bench.line.frame.window)
    high, wide = before.shape[:2]
    x = int((at.x() - box.left()) / box.width() * wide)
    y = int((at.y() - box.top()) / box.height() * high)
    there = before[y - 2 : y + 3, x - 2 : x + 3, :3].reshape(-1, 3)
    picked = np.array([int(line.colour[i : i + 2], 16) for i in (1, 3, 5)])
    assert np.abs(there - picked).max(axis=1).min() <= 6
    wait(qtbot, shell)
    assert bench.ledger.rows["keyline_width"].finding.value == 2
    after = made(shell)
    assert np.abs(after[0, 100:-100, :3] - picked).mean() < 6
    assert np.abs(after[20:-20, 20:-20] - before[20:-20, 20:-20]).mean() < 1.5
    # one step back takes the line off
    shell.session.store.undo()
    assert shell.session.bench.fitting.settings.finish.keyline.width == 0


@pytest.mark.long
def test_strength_and_suggestions_move_the_loudness(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "lantern_quay_dusk.jpg", "orrin-moor/night-round")
    shell.open_finish("keyline")
    part = bench.cards["finish"].parts["keyline"]
    wait(qtbot, shell)
    shown = [chip for chip in part.chips if chip.isVisible()]
    assert len(shown) >= 3
    qtbot.mouseClick(shown[0], LEFT)
    assert shell.session.bench.fitting.settings.finish.keyline.colour == shown[0].colour
    assert shell.session.bench.fitting.settings.finish.keyline.width == 2
    wait(qtbot, shell)
    calm = part.loudness.value
    field = part.rows[1].field
    field.selectAll()
    QTest.keyClicks(field, "#FFFFFF")
    QTest.keyClick(field, Qt.Key.Key_Return)
    wait(qtbot, shell)
    loud = part.loudness.value
    assert loud > calm + 10
    slide = part.rows[2].slide
    slide.setFocus()
    for _ in range(7):
        QTest.keyClick(slide, Qt.Key.Key_PageDown)
    assert shell.session.bench.fitting.settings.finish.keyline.strength == 30
    wait(qtbot, shell)
    assert part.loudness.value < loud - 5
    # it is measured on the screen that the brief names, whatever the sheet's tone
    assert "where it will be seen" in part.on.text()
    there = part.loudness.value
    bench.set_tone(0)
    wait(qtbot, shell)
    assert part.loudness.value == there
    slide.setFocus()
    for _ in range(7):
        QTest.keyClick(slide, Qt.Key.Key_PageUp)
    wait(qtbot, shell)
    assert part.loudness.value > QUIET[1] and part.quieten.isVisible()
    qtbot.mouseClick(part.quieten, LEFT)
    wait(qtbot, shell)
    assert QUIET[0] <= part.loudness.value <= QUIET[1] and part.quieten.isHidden()
    field.selectAll()
    QTest.keyClicks(field, "teal-ish")
    QTest.keyClick(field, Qt.Key.Key_Return)
    assert "no colour" in shell.message.text.text()


# --- backdrop -------------------------------------------------------------------------------


@pytest.mark.long
def test_the_mask_is_corrected_with_the_brush(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "tobin_oar_0212.jpg", "keepers-hall/plaque")
    session, sheet = shell.session, bench.sheet
    sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_J)
    assert isinstance(sheet.tool, Brush) and session.pixels.shows_mask
    qtbot.waitUntil(
        lambda: session.pixels.mask() is not None if _found(session) else False, timeout=PATIENCE
    )
    wait(qtbot, shell)
    window = session.bench.line.frame.window
    there = (window.left, window.top, window.width, window.height)
    first = session.pixels.mask().window(there, (200, 250))
    start, end = on_sheet(sheet, 0.1, 0.12), on_sheet(sheet, 0.25, 0.12)
    assert first[30, 35] < 0.1  # backdrop
    stroke(sheet, start, end)
    second = session.pixels.mask().window(there, (200, 250))
    assert second[30, 35] > 0.95 and (second >= first - 1e-6).all()
    # Shift turns the brush round: the middle of his chest is taken out
    stroke(
        sheet,
        on_sheet(sheet, 0.45, 0.9),
        on_sheet(sheet, 0.55, 0.9),
        Qt.KeyboardModifier.ShiftModifier,
    )
    third = session.pixels.mask().window(there, (200, 250))
    assert first[225, 100] > 0.95 and third[225, 100] < 0.05
    assert len(session.bench.hand.strokes) == 2
    # the wheel makes the brush larger
    radius = sheet.tool.radius
    wheel = QWheelEvent(
        QPointF(100, 100),
        QPointF(100, 100),
        QPoint(),
        QPoint(0, 240),
        Qt.MouseButton.NoButton,
        Qt.KeyboardModifier.NoModifier,
        Qt.ScrollPhase.NoScrollPhase,
        False,
    )
    QApplication.sendEvent(sheet, wheel)
    assert sheet.tool.radius > radius * 1.2
    # what was brushed in is left alone when the backdrop is filled
    part = bench.cards["finish"].parts["backdrop"]
    fill = part.rows[-1].field
    fill.setFocus()
    QTest.keyClicks(fill, "00FF00")
    QTest.keyClick(fill, Qt.Key.Key_Return)
    wait(qtbot, shell)
    pixels = made(shell)
    assert (np.abs(pixels[120, 140, :3] - (0, 255, 0)).max() > 40) and (
        np.abs(pixels[200, 120, :3] - (0, 255, 0)).max() < 40
    )
    assert np.abs(pixels[900, 400, :3] - (0, 255, 0)).max() < 40  # taken out: filled too
    # each stroke is one step back, and the docket keeps them with the photo
    target = tmp_path / "work.docket"
    assert session.dockets.save(target)
    assert len(load(target).photos[0].marks.strokes) == 2
    session.store.undo()
    session.store.undo()
    assert len(session.bench.hand.strokes) == 1
    QTest.keyClick(sheet, Qt.Key.Key_Escape)
    assert sheet.tool is None
    qtbot.mouseClick(part.as_found, LEFT)
    assert session.bench.hand.strokes == ()


def _found(session) -> bool:
    return any(not isinstance(mask, str) for mask in session.photos.masks.values())


@pytest.mark.long
def test_a_body_that_forbids_it_says_so_before_and_after(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "tobin_oar_0212.jpg", "keepers-hall/plaque")
    shell.open_finish("backdrop")
    part = bench.cards["finish"].parts["backdrop"]
    row = bench.ledger.rows["alterations"]
    assert row.finding.verdict == "meets"
    assert part.forbidden.isVisible() and "Using it will be a miss" in part.forbidden.text()
    even = part.rows[2].slide
    even.setFocus()
    QTest.keyClick(even, Qt.Key.Key_PageUp)  # at the very first step
    assert shell.session.bench.fitting.settings.finish.backdrop.even == 10
    assert bench.ledger.rows["alterations"].finding.verdict == "misses"
    assert "Alterations is missed" in part.forbidden.text()
    wait(qtbot, shell)
    # the record names it, and says that it is not permitted
    bench.open_station("proof")
    said = " ".join(
        w.text() for w in bench.cards["proof"].record.findChildren(type(part.forbidden))
    )
    assert "evened out by 10 %" in said and "Not permitted" in said
    # written as it is, the file is not ready; conforming takes it back
    shell.session.making.prove()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    assert not shell.session.bench.proof.ready
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(
        lambda: shell.session.bench.proof is not None and shell.session.bench.proof.ready,
        timeout=PATIENCE,
    )
    assert shell.session.bench.fitting.settings.finish.backdrop.even == 0
    # what the brief permits has no such word
    shell.open_finish("border")
    assert not bench.cards["finish"].parts["border"].forbidden.isVisible()


@pytest.mark.long
def test_a_lit_clause_on_the_backdrop_is_drawn_as_a_heat_map(qtbot, shell, tmp_path):
    from aptandum.core.rulebook.toml import parse_rulebook

    text = shell.session.library.shelf.find("keepers-hall/plaque")[0].text
    more = '  [[brief.clause]]\n  measure = "backdrop_plainness"\n  at_most = 5\n\n  [brief.border]'
    book = parse_rulebook(text.replace("  [brief.border]", more, 1))
    shell.session.library.put_on_shelf(book)
    bench = begin(qtbot, shell, tmp_path, "quill_harrow_0119.jpg", "keepers-hall/plaque")
    qtbot.waitUntil(
        lambda: bench.ledger.rows["backdrop_plainness"].finding.verdict == "misses",
        timeout=PATIENCE,
    )
    bench.open_station("finish")
    wait(qtbot, shell)
    plain = bench.sheet.grab().toImage()
    bench.ledger.select("backdrop_plainness")
    bench._clause("backdrop_plainness")
    assert bench.cards["finish"].opened == "backdrop"
    wait(qtbot, shell)
    hot = bench.sheet.grab().toImage()
    behind, face = on_sheet(bench.sheet, 0.9, 0.2), on_sheet(bench.sheet, 0.45, 0.45)
    assert plain.pixelColor(behind) != hot.pixelColor(behind)
    assert plain.pixelColor(face) == hot.pixelColor(face)


# --- panels, clear, caption -----------------------------------------------------------------


@pytest.mark.long
def test_a_photo_for_a_panel_adds_no_fitting_and_all_are_filled_at_once(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "blue_jug_03.jpg", "windhover-kites/two-sail-kite")
    shell.open_finish("panels")
    part = bench.cards["finish"].parts["panels"]
    part.choose("right sail")
    lying = shell.session.bench.fitting.id
    drop(shell, DEMO / "lantern_quay_dusk.jpg")
    assert len(shell.session.docket.fittings) == 1 and shell.session.bench.fitting.id == lying
    assert len(shell.session.docket.photos) == 2
    fills = {f.panel: f for f in shell.session.bench.fitting.settings.finish.panels.fills}
    assert fills["right sail"].source.endswith("lantern_quay_dusk.jpg") and "left sail" not in fills
    qtbot.mouseClick(part.all, LEFT)
    fills = {f.panel: f for f in shell.session.bench.fitting.settings.finish.panels.fills}
    assert set(fills) == {"left sail", "right sail", "keel"}
    assert len({f.source for f in fills.values()}) == 1
    shell.session.store.undo()
    assert len(shell.session.bench.fitting.settings.finish.panels.fills) == 1
    shell.session.store.redo()
    wait(qtbot, shell)
    assert bench.ledger.rows["kept_empty"].finding.verdict == "meets"
    alpha = made(shell)[..., 3]
    assert alpha[10, 10] == 0 and alpha[500, 372] == 255
    shell.open_finish("caption")
    drop(shell, DEMO / "night_moor_stack.jpg")  # elsewhere a photo is a fitting, as ever
    assert len(shell.session.docket.fittings) == 2


@pytest.mark.long
def test_three_panels_are_filled_and_the_gaps_stay_empty(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "blue_jug_03.jpg", "windhover-kites/two-sail-kite")
    drop(shell, DEMO / "lantern_quay_dusk.jpg")
    fitting = next(f for f in shell.session.docket.fittings if f.brief.endswith("two-sail-kite"))
    shell.session.model.lay(fitting.id)
    wait(qtbot, shell)
    shell.open_finish("panels")
    part = bench.cards["finish"].parts["panels"]
    part.panels.setCurrentIndex(0)
    part.choose("left sail")
    choose(part.kind, "texture")
    choose(part.source, "planks")
    part.choose("right sail")
    choose(part.kind, "photo")
    quay = next(p.path for p in shell.session.docket.photos if "lantern" in p.path)
    choose(part.source, quay)
    part.numbers[2].setFocus()
    part.numbers[2].selectAll()
    QTest.keyClicks(part.numbers[2], "1200")
    QTest.keyClick(part.numbers[2], Qt.Key.Key_Return)
    part.choose("keel")
    choose(part.kind, "colour")
    qtbot.mouseClick(part.pick, LEFT)
    wait(qtbot, shell)
    at = on_sheet(bench.sheet, 0.85, 0.1)  # on the quay's sky
    QTest.mouseClick(bench.sheet, LEFT, pos=at)
    fills = {f.panel: f for f in shell.session.bench.fitting.settings.finish.panels.fills}
    assert fills["left sail"].source == "planks" and fills["right sail"].source == quay
    assert fills["right sail"].window[2] == 1200
    assert fills["keel"].kind == "colour" and fills["keel"].colour != "#FFFFFF"
    wait(qtbot, shell)
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    assert proof.ready, [f.says for f in proof.findings.findings]
    pixels = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA")).astype(int)
    assert pixels.shape == (628, 744, 4)
    assert pixels[10, 10, 3] == 0 and pixels[150, 372, 3] == 0
    assert pixels[100, 200, 3] == pixels[100, 550, 3] == pixels[500, 372, 3] == 255
    assert pixels[60:200, 100:300, :3].std() > 8  # planks
    # the docket keeps the quay by its path beside the docket
    target = tmp_path / "kite.docket"
    shell.session.dockets.save(target)
    text = target.read_text()
    assert str(tmp_path) not in text.replace(str(DEMO), "")
    assert load(target).fittings[0].settings == shell.session.bench.fitting.settings


def test_a_colour_is_made_clear_by_a_click(qtbot, shell, tmp_path):
    path = tmp_path / "mark.png"
    pixels = np.full((400, 400, 3), 245, np.uint8)
    y, x = np.mgrid[0:400, 0:400]
    pixels[(x - 200) ** 2 + (y - 200) ** 2 < 120**2] = (160, 30, 40)
    Image.fromarray(pixels).save(path, compress_level=1)
    drop(shell, path)
    shell.start.choose("lantern-channel/corner-badge")
    wait(qtbot, shell)
    bench = shell.bench
    assert bench.ledger.rows["transparency"].finding.verdict == "misses"
    # the Finish station opens at what is missed, and says what would mend it
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_N)
    card = bench.cards["finish"]
    assert card.opened == "clear" and card.parts["clear"].isVisible()
    assert "behind the subject transparent" in bench.ledger.rows["transparency"].finding.mend.words
    QTest.keyClick(shell, Qt.Key.Key_E)
    QTest.mouseClick(bench.sheet, LEFT, pos=on_sheet(bench.sheet, 0.05, 0.05))
    wish = shell.session.bench.fitting.settings.finish.clear
    assert wish.by == "colour" and wish.at is not None and wish.colour is None
    wait(qtbot, shell)
    assert bench.ledger.rows["transparency"].finding.verdict == "meets"
    alpha = made(shell)[..., 3]
    n = alpha.shape[0]
    assert alpha[3, 3] == 0 and alpha[n // 2, n // 2] == 255
    bench.sheet.grab()


@pytest.mark.long
def test_a_badge_from_a_white_square_whose_letters_insides_become_clear(qtbot, shell, tmp_path):
    """Two letters on white, as a mark is usually sent: the ground goes, the insides are asked about, and go."""
    image = Image.new("RGB", (512, 512), "#FFFFFF")
    pen = ImageDraw.Draw(image)
    for x in (30, 270):
        pen.ellipse((x, 130, x + 210, 380), fill="#1D2630")
        pen.ellipse((x + 60, 200, x + 150, 310), fill="#FFFFFF")
    image.save(tmp_path / "mark.png")
    drop(shell, tmp_path / "mark.png")
    shell.start.choose("lantern-channel/corner-badge")
    wait(qtbot, shell)
    bench = shell.bench
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_E)
    QTest.mouseClick(bench.sheet, LEFT, pos=on_sheet(bench.sheet, 0.02, 0.02))
    wait(qtbot, shell)
    part = bench.cards["finish"].parts["clear"]
    assert "2 areas" in part.islands.text() and part.other.isVisible()
    assert made(shell)[255, 135, 3] == 255  # one side of the badge is 512 px

    qtbot.mouseClick(part.other, LEFT)
    wait(qtbot, shell)
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    alpha = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("RGBA"))[..., 3] / 255
    side = alpha.shape[0]
    k = side / 512
    ink = 2 * np.pi * (105 * 125 - 45 * 55) * k * k
    assert alpha.sum() == pytest.approx(ink, rel=0.02)
    for x, y, there in ((0.01, 0.01, 0), (135, 255, 0), (375, 255, 0), (50, 255, 1), (250, 255, 0)):
        at = (x * side, y * side) if x < 1 else (x * k, y * k)
        assert alpha[int(at[1]), int(at[0])] == there
    assert proof.findings.of("transparency").verdict == "meets"
    assert any("2 areas of that colour inside" in act.does for act in proof.record)


@pytest.mark.long
def test_a_caption_is_typed_and_its_legibility_told(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "pier.png", "pocketvane/bezel-panel")
    assert bench.ledger.rows["legible_at"].finding.verdict == "idle"
    shell.open_finish("caption")
    part = bench.cards["finish"].parts["caption"]
    part.text.setFocus()
    QTest.keyClicks(part.text, "Gulls, Knots")  # letters that are keys elsewhere
    assert shell.session.bench.fitting.settings.finish.caption.text == "Gulls, Knots"
    assert bench.sheet.tool is None and bench.open_name == "finish"
    choose(next(r for r in part.rows if r.key.endswith("behind")).choice, "plate")
    wait(qtbot, shell)
    row = bench.ledger.rows["legible_at"]
    assert row.finding.verdict == "meets" and "reads from" in part.reads.text()
    assert bench.ledger.rows["alterations"].finding.verdict == "meets"
    shell.session.store.undo()
    shell.session.store.undo()
    assert shell.session.bench.fitting.settings.finish.caption.text == ""


@pytest.mark.long
def test_a_caption_is_dragged_fitted_and_stood_in_a_panel(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "pier.png", "windhover-kites/two-sail-kite")
    shell.open_finish("caption")
    part = bench.cards["finish"].parts["caption"]
    part.text.setFocus()
    QTest.keyClicks(part.text, "GULLS")
    wait(qtbot, shell)
    template = shell.session.bench.line.finish.given.template
    panel = template.panels[0]
    assert not part.panels.isHidden()
    choose(part.panels, panel.name)
    choose(next(r for r in part.rows if r.key.endswith("anchor")).choice, "middle")
    wait(qtbot, shell)
    qtbot.mouseClick(part.fit, LEFT)
    wait(qtbot, shell)
    wish = shell.session.bench.fitting.settings.finish.caption
    assert wish.panel == panel.name and wish.size > 32
    (words,) = shell.session.bench.look.lettering
    assert not words.cut and bench.ledger.rows["kept_empty"].finding.verdict == "meets"
    held = inside(panel.outline, template.size)
    left, top, wide, high = words.box
    assert not (words.share * ~held[top : top + high, left : left + wide]).sum() > 1
    start = on_sheet(
        bench.sheet, (left + wide / 2) / template.size[0], (top + high / 2) / template.size[1]
    )
    before = shell.session.store.history.undo_label
    stroke(bench.sheet, start, start + QPoint(0, 24))
    moved = shell.session.bench.fitting.settings.finish.caption
    assert moved.down > 5 and abs(moved.right) < 1 and moved.size == wish.size
    shell.session.store.undo()  # the whole drag is one step
    assert shell.session.bench.fitting.settings.finish.caption == wish
    assert shell.session.store.history.undo_label == before
    choose(part.numbers, 2)  # one more caption, with settings of its own
    assert part.text.toPlainText() == "" and not part.numbers.isHidden()
    QTest.keyClicks(part.text, "KNOTS")
    wait(qtbot, shell)
    every = shell.session.bench.fitting.settings.finish.caption.each()
    assert [one.text for one in every] == ["GULLS", "KNOTS"] and every[0] == wish.each()[0]
    left, top, wide, high = shell.session.bench.look.lettering[0].box
    at = on_sheet(
        bench.sheet, (left + wide / 2) / template.size[0], (top + high / 2) / template.size[1]
    )
    QTest.mouseClick(
        bench.sheet, LEFT, pos=at
    )  # the one that is taken hold of is the one that is set
    assert part.number == 1 and part.text.toPlainText() == "GULLS"
    choose(part.numbers, 2)
    qtbot.mouseClick(part.take_out, LEFT)
    assert len(shell.session.bench.fitting.settings.finish.caption.each()) == 1


@pytest.mark.long
def test_words_that_the_photo_has_are_marked_and_judged(qtbot, shell, tmp_path):
    pixels = scene(900, 900, 3, 3.0)
    word = Word("HULL", 90, 16, (120, 500))
    word.draw(pixels, (250, 250, 250))
    Image.fromarray(pixels).save(tmp_path / "hull.png", compress_level=1)
    drop(shell, tmp_path / "hull.png")
    shell.start.choose("lantern-channel/corner-badge")
    wait(qtbot, shell)
    bench = shell.bench
    row = bench.ledger.rows["legible_at"]
    assert row.finding.verdict == "idle" and "marked" in row.finding.says
    shell.open_finish("caption")
    part = bench.cards["finish"].parts["caption"]
    assert part.no_boxes.isHidden()
    wait(qtbot, shell)
    QApplication.processEvents()
    qtbot.mouseClick(part.draw_box, LEFT)
    assert isinstance(bench.sheet.tool, Boxer)
    left, top, across, down = word.box
    ends = [(left - 10, top - 10), (left + across + 10, top + down + 10)]
    stroke(bench.sheet, *(on_sheet(bench.sheet, x / 900, y / 900) for x, y in ends))
    (box,) = shell.session.bench.fitting.settings.source.words
    assert box == pytest.approx((110, 490, across + 20, down + 20), abs=3)
    assert bench.sheet.tool is None
    wait(qtbot, shell)
    finding = bench.ledger.rows["legible_at"].finding
    assert (
        finding.verdict in ("meets", "advises") and "box 1" in finding.says
    ) or finding.value < 56
    shell.session.store.undo()
    assert shell.session.bench.fitting.settings.source.words == ()
    qtbot.mouseClick(part.find_words, LEFT)
    qtbot.waitUntil(lambda: len(shell.session.lettering.boxes) == 1, timeout=PATIENCE)
    found = shell.session.lettering.boxes[0]
    assert found[0] < left < left + across < found[0] + found[2]
    qtbot.mouseClick(part.draw_box, LEFT)
    at = on_sheet(bench.sheet, (left + 30) / 900, (top + 30) / 900)
    QTest.mouseClick(bench.sheet, LEFT, pos=at)  # a click takes out the box under it
    assert shell.session.lettering.boxes == ()
    shell.session.store.undo()
    wait(qtbot, shell)
    qtbot.mouseClick(part.no_boxes, LEFT)
    assert shell.session.lettering.boxes == ()


@pytest.mark.long
def test_the_border_is_laid_over_and_the_photo_framed_to_its_opening(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "tobin_oar_0212.jpg", "keepers-hall/plaque")
    shell.open_finish("border")
    part = bench.cards["finish"].parts["border"]
    assert "682 × 882" in part.told.text().replace("\u00a0", " ")
    before = shell.session.bench.line.frame.window
    qtbot.mouseClick(part.reframe, LEFT)
    window = shell.session.bench.line.frame.window
    assert window.width > before.width
    assert bench.ledger.rows["alterations"].finding.verdict == "meets"
    own = tmp_path / "thin.png"
    pixels = np.zeros((50, 40, 4), np.uint8)
    pixels[[0, -1]] = pixels[:, [0, -1]] = (200, 0, 0, 255)
    Image.fromarray(pixels).save(own, compress_level=1)
    part.take_file(str(own))
    assert "not laid on" in part.told.text() and part.scaled.isVisible()
    wait(qtbot, shell)
    assert (made(shell)[2, 100:200, 0] < 195).any()
    qtbot.mouseClick(part.scaled.tick, LEFT, pos=QPoint(8, part.scaled.tick.height() // 2))
    wait(qtbot, shell)
    assert (made(shell)[2, 100:700, 0] > 190).all()


# --- colour ---------------------------------------------------------------------------------


@pytest.mark.long
def test_dots_are_seen_beside_their_grey(qtbot, shell, tmp_path):
    bench = begin(qtbot, shell, tmp_path, "pier.png", "pocketvane/bezel-panel")
    assert bench.views[DOTS].isVisible()
    bench.open_station("colour")
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_O)
    assert bench.sheet.mode == DOTS
    wait(qtbot, shell)
    seen = bench.sheet.grab().toImage()
    tones = {seen.pixelColor(x, y).name() for x in range(30, 300) for y in range(46, 170, 5)}
    assert len(tones) > 40  # the grey
    card = bench.cards["colour"]
    invert = card.invert.tick
    first = made(shell)[..., 0]
    qtbot.mouseClick(invert, LEFT, pos=QPoint(8, invert.height() // 2))
    wait(qtbot, shell)
    assert (made(shell)[..., 0] == 255 - first).all()
    choose(card.dots.choice, "fixed")
    assert card.threshold.isVisible()
    choose(card.dots.choice, "found")
    wait(qtbot, shell)
    assert "Found at" in card.found.text()
    # another brief has no dots, and the view goes back by itself
    shell.session.model.start_fitting(shell.session.docket.photos[0].id, "orrin-moor/night-round")
    wait(qtbot, shell)
    assert bench.sheet.mode != DOTS and not bench.views[DOTS].isVisible()


def test_colours_outside_the_target_are_shown_and_counted(qtbot, shell, tmp_path):
    path = tmp_path / "leaf.jpg"
    pixels = np.full((1000, 1400, 3), 120, np.uint8)
    pixels[:, :350] = (0, 255, 0)
    Image.fromarray(pixels).save(path, quality=98, subsampling=0, icc_profile=shipped("display-p3"))
    drop(shell, path)
    shell.start.choose("orrin-moor/night-round")
    wait(qtbot, shell)
    bench = shell.bench
    bench.open_station("colour")
    card = bench.cards["colour"]
    qtbot.waitUntil(lambda: "%" in card.outside.figure.text(), timeout=PATIENCE)
    assert 24 < float(card.outside.figure.text().split()[0].replace("\u00a0", "")) < 26
    bench.show_view(FITTED)
    wait(qtbot, shell)
    before = bench.sheet.grab().toImage()
    qtbot.mouseClick(card.shows, LEFT, pos=QPoint(8, card.shows.height() // 2))
    after = bench.sheet.grab().toImage()
    inside, outside = on_sheet(bench.sheet, 0.7, 0.5), on_sheet(bench.sheet, 0.1, 0.5)
    assert before.pixelColor(inside) == after.pixelColor(inside)
    assert before.pixelColor(outside) != after.pixelColor(outside)
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_X)
    assert not card.shows.isChecked()


def test_pictures_are_shown_in_the_screen_s_own_profile(qtbot, shell, tmp_path):
    """What the sheet is given is converted for the screen, and the file stays as it was."""
    path = tmp_path / "red.png"
    Image.fromarray(np.full((600, 800, 3), (220, 40, 30), np.uint8)).save(
        path, icc_profile=shipped("srgb")
    )
    drop(shell, path)
    shell.start.choose("keepers-hall/programme-tile")
    wait(qtbot, shell)
    data = shell.session.bench.draft.data
    assert np.abs(shell.session.bench.preview[300, 400].astype(int) - (220, 40, 30)).max() <= 1
    icc = tmp_path / "panel.icc"
    icc.write_bytes(shipped("display-p3"))
    shell.use_screen(str(icc))
    qtbot.waitUntil(lambda: shell.session.bench.preview is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    # sRGB (220, 40, 30) in Display P3, by the published matrices
    wanted = np.array((202, 60, 46))
    for shown in (shell.session.bench.preview[300, 400], shell.session.bench.fitted[300, 400]):
        assert np.abs(shown[:3].astype(int) - wanted).max() <= 3
    assert shell.session.bench.draft.data == data
    (tmp_path / "no.icc").write_text("no profile")
    shell.use_screen(str(tmp_path / "no.icc"))
    assert "no.icc" in shell.message.text.text()
    grey = tmp_path / "grey.icc"
    grey.write_bytes(shipped("grey"))
    shell.use_screen(str(grey))
    assert "not for RGB" in shell.message.text.text()
    from aptandum.ui.preferences import screen_profile

    assert screen_profile() is not None
    shell.use_screen(None)
    assert screen_profile() is None
    wait(qtbot, shell)


@pytest.mark.parametrize("size", [(1280, 800), (900, 600)])
def test_every_part_of_the_card_fits_its_width(qtbot, shell, tmp_path, size):
    bench = begin(qtbot, shell, tmp_path, "tobin_oar_0212.jpg", "windhover-kites/two-sail-kite")
    shell.resize(*size)
    card = bench.cards["finish"]
    for name in card.parts:
        shell.open_finish(name)
        QApplication.processEvents()
        assert card.parts[name].width() <= card.width() - 24, name
        assert card.parts[name].minimumSizeHint().width() <= card.width() - 24, name


@pytest.mark.long
def test_every_format_is_chosen_on_the_file_card_and_seen_as_it_is_written(qtbot, shell, tmp_path):
    """What the sheet is given is read from the bytes, so that a palette is seen as a palette."""
    rules = tmp_path / "pier.toml"
    rules.write_text(
        'format = 1\n[body]\nid = "pier"\nname = "Pier"\n[[brief]]\nid = "tile"\ntitle = "Tile"\n'
        + clause("size", exactly="320 x 240")
    )
    shell.session.library.add_rulebook(str(rules))
    bench = begin(qtbot, shell, tmp_path, "pier.png", "pier/tile")
    bench.open_station("file")
    card = bench.cards["file"]
    for name, magic in (
        ("tiff", b"II*\0"),
        ("webp", b"RIFF"),
        ("avif", b"\0\0\0"),
        ("bmp", b"BM"),
        ("gif", b"GIF8"),
        ("png", b"\x89PNG"),
    ):
        choose(card.format, name)
        wait(qtbot, shell)
        assert shell.session.bench.draft.data.startswith(magic), name
        assert card.compression.isVisible() == (name == "tiff")
        assert card.lossless.isVisible() == (name in ("webp", "avif"))
        assert card.colours.isVisible() == (name in ("png", "gif"))
    field = card.colours.field
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, "5")
    QTest.keyClick(field, Qt.Key.Key_Return)
    wait(qtbot, shell)
    assert "5 colours" in card.trouble.text()
    shown = shell.session.bench.fitted.reshape(-1, shell.session.bench.fitted.shape[2])
    assert len(np.unique(shown, axis=0)) <= 5
    field.setFocus()
    field.selectAll()
    QTest.keyClick(field, Qt.Key.Key_Backspace)
    QTest.keyClick(field, Qt.Key.Key_Return)


@pytest.mark.long
def test_the_light_of_the_whole_picture_is_changed_by_one_number(qtbot, shell, tmp_path):
    """By the slide of the card: the picture is lighter, the skin told before and after, one step back undoes it."""
    path = tmp_path / "ines_marrow_0417.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose("vessary-ferries/deck-pass")
    wait(qtbot, shell)
    bench, session = shell.bench, shell.session
    bench.open_station("colour")
    card = bench.cards["colour"]
    assert not card.skin.isVisible()
    before = session.bench.fitted.mean()
    slide = card.lit[0].slide
    slide.setFocus()
    for _ in range(5):
        QTest.keyClick(slide, Qt.Key.Key_Right)
    assert session.bench.fitting.settings.colour.exposure == pytest.approx(0.5)
    qtbot.waitUntil(lambda: session.bench.fitted.mean() > before + 10, timeout=PATIENCE)
    wait(qtbot, shell)
    qtbot.waitUntil(card.skin.isVisible, timeout=PATIENCE)
    was, now = (int(n) for n in card.skin.figure.text().split(" → "))
    assert now > was + 4
    assert "made lighter" in bench.ledger.rows["alterations"].finding.says
    session.store.undo()
    assert session.bench.fitting.settings.colour.exposure == 0
