"""The first screen's door for rules in words: typed, pasted, dropped, and used."""

from __future__ import annotations

import io
import itertools
import re
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QEvent, QMimeData, QPoint, QPointF, QRect, QRectF, Qt, QTimer
from PyQt6.QtGui import QDragEnterEvent, QDropEvent, QFontMetricsF
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QLabel,
    QLineEdit,
    QListWidget,
    QPlainTextEdit,
    QPushButton,
)

from aptandum.core.rulebook.shelf import own_folder
from aptandum.core.rulebook.toml import parse_rulebook, read_rulebook
from aptandum.ui import theme
from aptandum.ui.rulebooks.chart import Chart
from driving import drop, lay_out, wait
from samples import PATIENCE, scene

CTRL = Qt.KeyboardModifier.ControlModifier
LINE = "413 x 531 px, jpeg, at most 200 kB"


def plain(text: str) -> str:
    return re.sub(r"[\u00a0\u202f]", " ", text)


def understood(door) -> list[str]:
    return [plain(row.said.words.text()) for row in door.rows.rows.values()]


def press(qtbot, door, words: str) -> None:
    """Press one of the answers to what is doubtful."""
    every = [b for b in door.findChildren(QPushButton) if plain(b.text()) == words]
    qtbot.mouseClick(every[0], Qt.MouseButton.LeftButton)


def until_read(qtbot, door, n: int) -> None:
    qtbot.waitUntil(lambda: door.reading is not None and len(door.rows.rows) == n, timeout=PATIENCE)


def test_one_line_is_a_brief_while_it_is_typed(qtbot, shell, tmp_path: Path):
    door = shell.start.words
    door.field.setFocus()
    QTest.keyClicks(door.field, LINE)
    until_read(qtbot, door, 3)
    assert set(understood(door)) == {
        "Size, exactly 413 × 531 px",
        "Bytes, at most 200 kB",
        "Format, JPEG",
    }
    assert door.state.text() == "3 rules are understood."
    Image.fromarray(scene(900, 1200)).save(tmp_path / "pier.jpg")
    drop(shell, tmp_path / "pier.jpg")
    assert shell.session.bench is None
    QTest.keyClick(door.field, Qt.Key.Key_Return, CTRL)
    wait(qtbot, shell)
    bench = shell.session.bench
    assert bench is not None and bench.line.frame.output == (413, 531)
    assert bench.line.file.at_most == 200_000 and shell.bench_stack.currentWidget() is shell.bench
    # it is the docket's own, and on no shelf; undo takes it back
    (text,) = shell.session.docket.rulebooks.values()
    assert len(parse_rulebook(text).briefs[0].clauses) == 3
    ids = [book.body.id for book in shell.session.library.shelf.rulebooks]
    assert not set(ids) & set(shell.session.docket.rulebooks)


def test_a_slip_says_what_was_understood_so_far(qtbot, shell):
    door = shell.start.words
    QTest.keyClicks(door.field, "413 x")
    until_read(qtbot, door, 0)
    assert door.state.text() == "No rule is understood so far." and not door.use.isEnabled()
    QTest.keyClicks(door.field, " 531 px, jpgg, files of 200 kB")
    until_read(qtbot, door, 2)
    said = understood(door)
    assert said[0] == "Bytes, at most 200 kB: is that meant?" and "413 × 531" in said[1]
    assert "1 of 2" in door.state.text()


def test_a_length_without_a_printed_size_is_a_question(qtbot, shell):
    door = shell.start.words
    door.field.setPlainText("Head between 32 and 36 mm. 600 x 800 px.")
    until_read(qtbot, door, 2)
    assert "Head height, 32 mm to 36 mm: for that the printed size" in understood(door)[0]
    qtbot.mouseClick(door.use, Qt.MouseButton.LeftButton)
    (text,) = shell.session.docket.rulebooks.values()
    assert [c.measure for c in parse_rulebook(text).briefs[0].clauses] == [None, "size"]


def test_what_is_doubtful_is_answered_by_one_press_and_never_taken_unasked(qtbot, shell):
    door = shell.start.words
    door.field.setPlainText("JPEG. Files of 60 kB. The picture has 600 pixels.")
    until_read(qtbot, door, 3)
    assert "2 of 3" in door.state.text()
    press(qtbot, door, "at least 60 kB")
    press(qtbot, door, "Width")
    assert understood(door)[:2] == ["Bytes, at least 61.4 kB", "Width, exactly 600 px"]
    press(qtbot, door, "Ask again")
    assert "1 of 3" in door.state.text()
    door.take()
    clauses = parse_rulebook(next(iter(shell.session.docket.rulebooks.values()))).briefs[0].clauses
    # what nobody has answered is asked, and no rule
    assert {c.measure for c in clauses} == {None, "width", "format"}
    assert next(c.ask for c in clauses if c.ask) == "Files of 60 kB."


@pytest.mark.parametrize("how", ["text", "file"])
def test_a_dropped_text_or_page_is_read(qtbot, shell, tmp_path, how):
    if how == "file":
        (tmp_path / "page.html").write_text(f"<html><ul><li>{LINE}</ul></html>")
        drop(shell, tmp_path / "page.html")
    else:
        data = QMimeData()
        data.setText(LINE)
        none = Qt.KeyboardModifier.NoModifier
        dragged = Qt.DropAction.CopyAction, data, Qt.MouseButton.LeftButton, none
        event = QDropEvent(QPointF(400, 400), *dragged)
        QApplication.sendEvent(shell, QDragEnterEvent(QPoint(400, 400), *dragged))
        QApplication.sendEvent(shell, event)
    until_read(qtbot, shell.start.words, 3)


def test_the_shelf_is_searched_as_one_types(qtbot, shell):
    start = shell.start
    QTest.keyClicks(start.search, "harbour seal")
    shown = [
        start.briefs.item(i).text().split("\n")[0].strip()
        for i in range(start.briefs.count())
        if not start.briefs.item(i).isHidden()
    ]
    assert shown == ["Vessary Harbour Registry", "Portrait for the seal book"]


RULES = """Pictures for the ferry card
- 413 x 531 pixels
- JPEG
- at most 200 kB
- sRGB
- 300 dpi
- no border
- no location data
- do not enlarge the picture
"""


def key(window, keys: Qt.Key, modifiers: Qt.KeyboardModifier = CTRL) -> None:
    """One chord, to whatever has the keys."""
    QTest.keyClick(QApplication.focusWidget() or window, keys, modifiers)


def test_from_the_clipboard_to_the_proof_by_keyboard_alone(qtbot, shell, tmp_path):
    """Eight rules on the clipboard and a photo on disk: five acts to the bench, six to the proof."""
    Image.fromarray(scene(900, 1200)).save(tmp_path / "pier.jpg")
    QApplication.clipboard().setText(RULES)
    key(shell, Qt.Key.Key_V)  # 1
    until_read(qtbot, shell.start.words, 8)

    def answer() -> None:
        dialog = QApplication.activeModalWidget()
        if dialog is None or not isinstance(QApplication.focusWidget(), QLineEdit):
            return  # it is not there yet
        asked.stop()
        QTest.keyClicks(QApplication.focusWidget(), str(tmp_path / "pier.jpg"))  # 3
        QTest.keyClick(QApplication.focusWidget(), Qt.Key.Key_Return)  # 4

    asked = QTimer()
    asked.timeout.connect(answer)
    asked.start(10)
    key(shell, Qt.Key.Key_O)  # 2
    assert len(shell.session.docket.photos) == 1 and shell.session.bench is None
    with qtbot.waitActive(shell):  # as a window manager does when a dialog has gone
        shell.activateWindow()
    key(shell, Qt.Key.Key_Return)  # 5
    wait(qtbot, shell)
    assert shell.session.bench.line.frame.output == (413, 531)
    key(shell, Qt.Key.Key_Return)  # 6
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    made = Image.open(io.BytesIO(shell.session.bench.proof.made.data))
    assert made.size == (413, 531) and made.format == "JPEG"
    assert len(shell.session.bench.proof.made.data) <= 200_000


def test_a_table_on_the_clipboard_is_read_as_one(qtbot, shell):
    data = QMimeData()
    data.setHtml("<table><tr><th>Width</th><td>at least 630 px</td></tr></table>")
    QApplication.clipboard().setMimeData(data)
    key(shell, Qt.Key.Key_V)
    until_read(qtbot, shell.start.words, 1)
    assert understood(shell.start.words) == ["Width, at least 630 px"]


def marked(door, reading_of: str) -> str:
    """How a phrase of the field is marked: its ground, or that it is struck through."""
    for one in door.field.extraSelections():
        if one.cursor.selectedText() == reading_of:
            return (
                "struck" if one.format.fontStrikeOut() else one.format.background().color().name()
            )
    return ""


def test_each_phrase_is_marked_by_what_it_became(qtbot, shell):
    door = shell.start.words
    door.field.setPlainText("𝄞 Since 1987. JPEG, 413 x 531 px. Files of 300 KB. No glasses.")
    until_read(qtbot, door, 4)
    sure, doubtful = (theme.colour(name).name() for name in ("meets_band", "advises_band"))
    assert marked(door, "413 x 531 px") == marked(door, "JPEG") == sure
    assert marked(door, "300 KB") == doubtful and marked(door, "1987") == "struck"
    assert door.asides.text() == "Numbers that are no rule: 1987"
    press(qtbot, door, "at most 300 kB")
    assert marked(door, "300 KB") == sure
    # the pointer on a rule lights its sentence, the cursor in the words lights the rule
    row = next(r for r in door.rows.rows.values() if r.draft.fields.get("measure") == "size")
    QApplication.sendEvent(row, QEvent(QEvent.Type.Enter))
    assert marked(door, "JPEG, 413 x 531 px.") == theme.colour("blue_soft").name()
    QApplication.sendEvent(row, QEvent(QEvent.Type.Leave))
    assert not marked(door, "JPEG, 413 x 531 px.")
    door.field.setFocus()
    cursor = door.field.textCursor()
    cursor.setPosition(door.field.document().toPlainText().index("413") + 2)
    door.field.setTextCursor(cursor)
    assert theme.colour("blue_soft").name() in row.said.words.styleSheet()


def test_rules_in_words_are_kept_on_the_shelf_only_when_that_is_wanted(qtbot, shell):
    door = shell.start.words
    QTest.keyClicks(door.field, LINE)
    until_read(qtbot, door, 3)
    QTest.keyClicks(door.body, "Vessary Ferry")
    assert not (own_folder() / "vessary-ferry.toml").exists()
    for name in ("vessary-ferry", "vessary-ferry-2"):
        qtbot.mouseClick(door.keep, Qt.MouseButton.LeftButton)
        assert read_rulebook(own_folder() / f"{name}.toml").body.name == "Vessary Ferry"
        assert name in [book.body.id for book in shell.session.library.shelf.rulebooks]
    own_folder().joinpath("vessary-ferry-2.toml").unlink()
    own_folder().joinpath("vessary-ferry.toml").unlink()


@pytest.mark.parametrize("size", [(900, 600), (1280, 800)])
def test_nothing_of_the_first_screen_lies_over_anything_else(qtbot, shell, size):
    shell.resize(*size)
    QTest.keyClicks(
        shell.start.words.field,
        "35x45mm 600dpi jpg under 500kb, head 70-80% of height, light grey background",
    )
    qtbot.waitUntil(lambda: shell.start.sizes.isVisible(), timeout=PATIENCE)
    lay_out()
    parts = [
        one
        for kind in (QLabel, QAbstractButton, QPlainTextEdit, QListWidget, Chart)
        for one in shell.start.findChildren(kind)
        if one.isVisible()
        and one.width()
        and one.height()
        and not shell.start.words.area.isAncestorOf(one)
    ]
    boxes = [(one, QRect(one.mapTo(shell.start, QPoint(0, 0)), one.size())) for one in parts]
    assert len(boxes) > 12
    for (one, box), (other, beside) in itertools.combinations(boxes, 2):
        apart = not box.intersects(beside)
        assert apart or one.isAncestorOf(other) or other.isAncestorOf(one), (
            one.accessibleName(),
            other.accessibleName(),
        )
    outside = [
        (one.accessibleName() or getattr(one, "text", str)(), box)
        for one, box in boxes
        if not shell.start.rect().contains(box)
    ]
    assert not outside
    assert shell.start.sizes.chart.isVisible() is (size[1] > 700)


@pytest.mark.parametrize("size", [(900, 600), (1280, 800)])
def test_a_question_in_the_ledger_is_seen_whole(qtbot, shell, tmp_path, size):
    shell.resize(*size)
    QTest.keyClicks(
        shell.start.words.field,
        "600 x 800 px, light grey background without any pattern and no glasses, JPEG",
    )
    qtbot.waitUntil(shell.start.words.use.isEnabled, timeout=PATIENCE)
    qtbot.mouseClick(shell.start.words.use, Qt.MouseButton.LeftButton)
    path = tmp_path / "plain.jpg"
    Image.fromarray(scene(900, 1200, 1)).save(path)
    drop(shell, path)
    wait(qtbot, shell)
    (row,) = [one for one in shell.bench.ledger.rows.values() if one.finding.clause.ask]
    state = QFontMetricsF(theme.tight(12)).horizontalAdvance("not confirmed")
    room = QRectF(0, 0, row.width() - 48 - state, 1000)
    flags = int(Qt.TextFlag.TextWordWrap)
    needed = QFontMetricsF(theme.medium()).boundingRect(room, flags, row.finding.title).height()
    assert needed + 4 <= row.height() <= needed + 24
