"""The Frame card, driven: how the frame is filled, what it is padded with, and its numbers."""

from __future__ import annotations

import io
import re
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QColorDialog

from driving import drop, wait
from samples import PATIENCE, jpeg, scene

LEFT = Qt.MouseButton.LeftButton
ITEM, PASS = "quayside-exchange/item-picture", "vessary-ferries/deck-pass"


@pytest.fixture
def card(qtbot, shell, tmp_path: Path):
    """A wide photo for the item picture, with the Frame card open."""
    path = tmp_path / "quay.jpg"
    path.write_bytes(jpeg(scene(2600, 1500, 4), quality=90))
    drop(shell, path)
    assert shell.session.model.start_fitting(shell.session.docket.photos[0].id, ITEM)
    shell.bench.open_station("frame")
    wait(qtbot, shell)
    return shell.bench.cards["frame"]


def words(part) -> str:
    return re.sub(r"\s", " ", part.figure.text())


def choose(box, text: str) -> None:
    box.setFocus()
    box.setCurrentIndex(next(i for i in range(box.count()) if text in box.itemText(i)))
    box.activated.emit(box.currentIndex())


def type_into(qtbot, field, text: str) -> None:
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)
    qtbot.keyClick(field, Qt.Key.Key_Return)


def corner_of(shell) -> tuple[int, ...]:
    """The upper left pixel of the file as it is made now, by another library."""
    with Image.open(io.BytesIO(shell.session.bench.draft.data)) as file:
        return file.convert("RGBA").getpixel((3, 3))


@pytest.mark.long
def test_a_photo_is_padded_to_shape_with_what_is_chosen(qtbot, shell, card, monkeypatch):
    frame = shell.session.bench.line.frame
    assert frame.fill == "cut" and card.ground.isHidden()
    qtbot.mouseClick(card.fills["pad"], LEFT)
    wait(qtbot, shell)
    frame = shell.session.bench.line.frame
    assert frame.fill == "pad" and frame.kept == pytest.approx(1)
    assert "the whole photo" in words(card.scale)
    # as much above as below, to the pixel
    assert card.sides.name.text() == "Padded"
    across, down = (
        re.findall(r"(\d+) left, (\d+) right (\d+) top, (\d+)", words(card.sides))[0][:2],
        re.findall(r"(\d+) top, (\d+) bottom", words(card.sides))[0],
    )
    assert across == ("0", "0") and abs(int(down[0]) - int(down[1])) <= 1 and int(down[0]) > 100
    for said, colour in (("white", (255, 255, 255)), ("black", (0, 0, 0))):
        choose(card.ground, said)
        wait(qtbot, shell)
        assert max(abs(a - b) for a, b in zip(corner_of(shell), colour, strict=False)) <= 4
    # a colour of one's own; a dialog that is left changes nothing
    monkeypatch.setattr(QColorDialog, "getColor", lambda *a: QColor("#1f5a7a"))
    choose(card.ground, "another colour")
    wait(qtbot, shell)
    assert shell.session.bench.fitting.settings.frame.ground == "#1F5A7A"
    assert card.ground.currentText() == "#1F5A7A"
    assert np.abs(np.subtract(corner_of(shell)[:3], (0x1F, 0x5A, 0x7A))).max() <= 6
    monkeypatch.setattr(QColorDialog, "getColor", lambda *a: QColor())
    choose(card.ground, "#1F5A7A")
    assert shell.session.bench.fitting.settings.frame.ground == "#1F5A7A"
    # and back: one step each
    qtbot.mouseClick(card.fills["cut"], LEFT)
    wait(qtbot, shell)
    assert shell.session.bench.line.frame.fill == "cut" and card.ground.isHidden()
    for _ in range(4):
        shell.session.store.undo()
    wait(qtbot, shell)
    assert shell.session.bench.fitting.settings.frame.ground == "edge"


@pytest.mark.long
def test_pixels_are_kept_as_they_are(qtbot, shell, card):
    qtbot.mouseClick(card.fills["pixels"], LEFT)
    wait(qtbot, shell)
    frame = shell.session.bench.line.frame
    assert frame.exact and frame.scale == 1
    assert "1 ×, the photo's own pixels" in words(card.scale)
    assert frame.output == (round(frame.window.width), round(frame.window.height))


@pytest.mark.long
def test_numbers_are_typed_and_held_inside_the_photo(qtbot, shell, card):
    def window():
        return shell.session.bench.line.frame.window

    type_into(qtbot, card.fields["left"], "100")
    assert window().left == pytest.approx(100)
    type_into(qtbot, card.fields["left"], "99999")
    assert window().right == pytest.approx(2600, abs=0.01)
    type_into(qtbot, card.fields["top"], "-50")
    assert window().top == pytest.approx(0, abs=0.01)
    wide = window().width / 2
    type_into(qtbot, card.fields["width"], f"{wide:.0f}")
    assert window().width == pytest.approx(round(wide), abs=1)
    assert window().left >= 0 and window().right <= 2600.01
    qtbot.mouseClick(card.middle, LEFT)
    assert window().centre == pytest.approx((1300, 750), abs=0.6)
    qtbot.mouseClick(card.whole, LEFT)
    assert shell.session.bench.fitting.settings.frame.window is None
    assert window().height == pytest.approx(1500, abs=1)
    # what is no number changes nothing and is marked
    before = window()
    type_into(qtbot, card.fields["top"], "a bit")
    assert window() == before
    wait(qtbot, shell)


@pytest.mark.long
def test_a_body_that_permits_no_padding_is_not_offered_it(qtbot, shell, card):
    shell.session.model.start_fitting(shell.session.docket.photos[0].id, PASS)
    wait(qtbot, shell)
    shell.bench.open_station("frame")
    assert not card.fills["pad"].isEnabled()
    assert "does not permit padding" in card.fills["pad"].toolTip()
    assert "no other allowed" in words(card.shape)
    # nobody is in the picture: the marks can be set by hand, and taken back
    qtbot.waitUntil(lambda: not card.by_hand.isHidden(), timeout=PATIENCE)
    assert "No face was found" in words(card.marks)
    qtbot.mouseClick(card.by_hand, LEFT)
    assert "set by hand" in words(card.marks) and not card.as_found.isHidden()
    QTest.keyClick(shell.bench.sheet, Qt.Key.Key_M)
    wait(qtbot, shell)
    assert shell.session.bench.live.of("head_height").verdict in ("meets", "advises", "misses")
    qtbot.mouseClick(card.as_found, LEFT)
    assert "No face was found" in words(card.marks)
    wait(qtbot, shell)


# -- four ways, each with its cost, and the size of the file ---------------------------------


@pytest.mark.long
def test_what_each_way_would_cost_is_seen_before_it_is_chosen(qtbot, shell, card):
    costs = {name: re.sub(r"\s", " ", one.text()) for name, one in card.costs.items()}
    assert costs["whole"] == "not possible" and not card.fills["whole"].isEnabled()
    assert "cut away" in costs["cut"] and "added" in costs["pad"]
    share = float(re.match(r"([\d.]+) % cut away", costs["cut"]).group(1))
    assert share == pytest.approx(100 * (1 - shell.session.bench.line.frame.kept), abs=0.06)
    qtbot.mouseClick(card.fills["pad"], LEFT)
    assert shell.session.bench.line.frame.kept == pytest.approx(1)


@pytest.fixture
def open_card(qtbot, shell, tmp_path: Path):
    """A photo for a brief that leaves its shape open."""
    path = tmp_path / "quay.jpg"
    path.write_bytes(jpeg(scene(2400, 1600, 4), quality=90))
    drop(shell, path)
    name = "orrin-moor/night-round"
    assert shell.session.model.start_fitting(shell.session.docket.photos[0].id, name)
    shell.bench.open_station("frame")
    wait(qtbot, shell)
    return shell.bench.cards["frame"]


@pytest.mark.long
def test_what_may_stay_whole_stays_whole(qtbot, shell, open_card):
    frame = shell.session.bench.line.frame
    assert frame.fill == "whole" and frame.output == (1600, 1067) and frame.kept == 1
    assert open_card.fills["whole"].isChecked()
    assert open_card.costs["cut"].text() == open_card.costs["pad"].text() == "not needed"
    assert words(open_card.shape) == "3:2 open"


@pytest.mark.long
def test_the_size_of_the_file_is_typed_or_pressed(qtbot, shell, open_card):
    type_into(qtbot, open_card.across, "2 * 600")
    assert shell.session.bench.line.frame.output == (1200, 800)
    assert shell.session.bench.line.frame.kept == 1  # the file's size, and not a cut of the photo
    wait(qtbot, shell)
    with Image.open(io.BytesIO(shell.session.bench.draft.data)) as file:
        assert file.size == (1200, 800)
    type_into(qtbot, open_card.up, "600")
    assert shell.session.bench.line.frame.output == (900, 600)
    qtbot.mouseClick(open_card.presses["largest"], LEFT)
    assert shell.session.bench.line.frame.output == (1600, 1067)
    assert not open_card.presses["largest"].isEnabled()
    qtbot.mouseClick(open_card.unsized, LEFT)
    assert shell.session.bench.fitting.settings.frame.output is None
    type_into(qtbot, open_card.across, "5000")
    said = re.sub(r"\s", " ", open_card.no_size.text())
    assert "No allowed size is 5 000 px across" in said and "The nearest is 1 600" in said
    assert shell.session.bench.fitting.settings.frame.output is None


@pytest.mark.long
def test_a_photo_that_meets_says_so_before_anything_is_pressed(qtbot, shell, tmp_path):
    path = tmp_path / "quay.jpg"
    path.write_bytes(jpeg(scene(1500, 1000, 4), quality=90))
    drop(shell, path)
    name = "orrin-moor/night-round"
    assert shell.session.model.start_fitting(shell.session.docket.photos[0].id, name)
    wait(qtbot, shell)
    shell.bench.open_station("proof")
    card = shell.bench.cards["proof"]
    assert card.verdict.text == "It meets as it is"
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    assert proof.line.way in ("supplied", "around")
    # Only the profile that the brief asks for is put in; the scan's data are the same.
    supplied = path.read_bytes()
    scan = supplied[supplied.rindex(b"\xff\xda") :]
    assert proof.made.data.endswith(scan)
