"""One portrait to the three briefs of a body, driven: framed once, seen together, written at once."""

from __future__ import annotations

from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog
from test_main_path import drag

from aptandum.core.brief.binding import HEAD_HEIGHT, HEADROOM
from aptandum.core.fitting.following import followed
from aptandum.core.fitting.plan import Window
from aptandum.core.judge.placing import value_of
from aptandum.core.photo.marks import Marks
from aptandum.core.rulebook.toml import read_rulebook
from driving import drop, wait
from samples import DEMO, PATIENCE, brief_of, clause

LEFT = Qt.MouseButton.LeftButton

HEAD = clause("head_height", between=["50 %", "75 %"]) + clause("headroom", between=["4 %", "20 %"])
BOOK = "".join(
    f'[[brief]]\nid = "{name}"\ntitle = "{title}"\n{clause("size", exactly=size)}{rules}'
    for name, title, size, rules in (
        ("pass", "Harbour pass", "300 x 400", HEAD),
        ("badge", "Round badge", "256 x 256", HEAD),
        ("poster", "Hall poster", "400 x 300", clause("format", exactly="png")),
        ("extra", "Left out", "50 x 50", ""),
    )
).replace('title = "Left out"\n', 'title = "Left out"\noptional = true\n')


@pytest.fixture
def portrait(qtbot, shell, tmp_path: Path) -> Path:
    book = tmp_path / "harbour.toml"
    book.write_text(f'format = 1\n[body]\nid = "harbour"\nname = "Harbour Office"\n{BOOK}')
    shell.session.library.put_on_shelf(read_rulebook(book))
    path = tmp_path / "ines_marrow_0417.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    assert shell.session.model.start_fitting(shell.session.docket.photos[0].id, "harbour/pass")
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: shell.session.model.people() is not None)
    return path


def windows(shell) -> dict[str, Window]:
    return {one.brief.id: one.line.frame.window for one in shell.session.linking.together()}


@pytest.mark.long
def test_framed_once_seen_together_and_written_by_one_act(
    qtbot, shell, portrait, tmp_path, monkeypatch
):
    strip = shell.bench.linked
    assert strip.isHidden()
    shell.bench.open_station("frame")
    qtbot.mouseClick(shell.bench.cards["frame"].from_marks, LEFT)
    QTest.keyClick(
        shell, Qt.Key.Key_B, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
    )
    wait(qtbot, shell)
    shown = [tile for tile in strip.tiles if tile.isVisible()]
    assert [tile.one.brief.id for tile in shown] == ["pass", "badge", "poster"]
    assert {tile.verdict for tile in shown} == {"meets"}
    # a drag of one is seen in the others, in the same step
    before = windows(shell)
    middle = shell.bench.sheet.frame_rect().center()
    drag(shell.bench.sheet, middle, middle + QPoint(12, 9))
    after = windows(shell)
    lead = after["pass"].left - before["pass"].left, after["pass"].top - before["pass"].top
    assert max(map(abs, lead)) > 5
    for name in ("badge", "poster"):
        moved = after[name].left - before[name].left, after[name].top - before[name].top
        assert moved != (0, 0), name
        assert moved[0] * lead[0] >= 0 and moved[1] * lead[1] >= 0, name
    shell.session.store.undo()
    assert windows(shell) == before
    shell.session.store.redo()
    # a press on one lays it on the bench, and its drag leads the others
    qtbot.mouseClick(shown[1], LEFT)
    assert shell.session.bench.brief.id == "badge"
    wait(qtbot, shell)
    # three files by one act
    out = tmp_path / "out"
    out.mkdir()
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda *a, **k: str(out))
    qtbot.mouseClick(strip.write, LEFT)
    qtbot.waitUntil(lambda: len(list(out.iterdir())) == 3, timeout=PATIENCE)
    qtbot.waitUntil(lambda: not shell.session.jobs.commands, timeout=PATIENCE)
    sizes = {Image.open(path).size for path in out.iterdir()}
    assert sizes == {(300, 400), (256, 256), (400, 300)}
    # framed by itself again, the others stay as they are
    qtbot.mouseClick(strip.alone, LEFT)
    assert not shell.session.bench.fitting.linked and strip.isHidden()


def test_a_frame_follows_by_each_brief_s_own_rules():
    marks = Marks((300, 200), (300, 500), (250, 330), (350, 330))
    frame = Window(100, 100, 400, 533)
    wide = brief_of(clause("size", exactly="400 x 300"))
    made = followed(frame, wide, (800, 900), marks)
    assert made is not None and made.width / made.height == pytest.approx(4 / 3)
    assert made.left <= frame.left + 1e-6 and made.right >= frame.right - 1e-6
    tight = brief_of(
        clause("size", exactly="300 x 400") + clause("head_height", between=["60 %", "70 %"])
        + clause("headroom", between=["8 %", "12 %"])
    )  # fmt: skip
    made = followed(frame, tight, (800, 900), marks)
    box = (made.left, made.top, made.width, made.height)
    assert 0.6 - 1e-6 <= value_of(HEAD_HEIGHT, box, marks) <= 0.7 + 1e-6
    assert 0.08 - 1e-6 <= value_of(HEADROOM, box, marks) <= 0.12 + 1e-6
