"""The window on its desktop: its title, its menus, what it keeps, and what comes and goes by the desktop's ways."""

from __future__ import annotations

import os
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtCore import QByteArray, QMimeData, QPoint, QPointF, Qt, QUrl
from PyQt6.QtGui import QDesktopServices, QDragEnterEvent, QDropEvent, QImage
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog

from aptandum import language
from aptandum.core.docket.store import load
from aptandum.ui import desktop, home_acts, menus, preferences, theme
from aptandum.ui.app import open_shell
from aptandum.ui.docket_acts import demo_path, own_demo
from aptandum.ui.finder import Finder
from aptandum.ui.photo_dialog import Preview, photo_dialog
from aptandum.ui.shell import Shell
from driving import drop, settled
from samples import PATIENCE, jpeg, scene

CTRL, SHIFT = Qt.KeyboardModifier.ControlModifier, Qt.KeyboardModifier.ShiftModifier
LEFT = Qt.MouseButton.LeftButton


def key(window, which: Qt.Key, held: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> None:
    window.activateWindow()
    QTest.qWaitForWindowActive(window)
    QTest.keyClick(window, which, held)


def entry(shell: Shell, text: str):
    return next(a for a in shell.all_actions if menus.plain(a.text()) == text)


@pytest.fixture
def photo_file(tmp_path: Path) -> Path:
    path = tmp_path / "mole.jpg"
    path.write_bytes(jpeg(scene(1200, 900)))
    return path


@pytest.fixture
def usual():
    """Palette and size of texts are as they were, whatever a test has set."""
    palette, scale = theme.palette(), theme.scale()
    yield
    theme.use(palette)
    theme.use_scale(scale)


# --- the title and the docket's file ---------------------------------------------------------------


def test_the_title_names_the_docket_and_marks_what_is_not_saved(
    shell, tmp_path, photo_file, monkeypatch
):
    assert shell.windowTitle() == "Untitled docket[*]" and not shell.isWindowModified()
    shell.take_photos([str(photo_file)])
    assert shell.isWindowModified()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "autumn"), ""))
    key(shell, Qt.Key.Key_S, CTRL)
    assert not shell.isWindowModified() and (tmp_path / "autumn.docket").exists()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(tmp_path / "winter"), ""))
    key(shell, Qt.Key.Key_S, CTRL | SHIFT)
    assert (
        load(tmp_path / "winter.docket").photos and shell.session.store.path.name == "winter.docket"
    )
    # closed, it is in the list of those that were open; from there it comes again
    key(shell, Qt.Key.Key_W, CTRL)
    assert not shell.session.docket.photos and shell.bench_stack.currentWidget() is shell.start
    shell.fill_recent()
    assert [menus.plain(a.text()) for a in shell.recent.actions()][:2] == ["winter", "autumn"]
    shell.recent.actions()[0].trigger()
    assert shell.session.store.path == tmp_path / "winter.docket"


@pytest.mark.long
def test_the_demo_is_opened_as_a_copy_and_goes_on_where_it_was_left(shell, qtbot):
    before = {
        path.name: path.read_bytes() for path in demo_path().parent.iterdir() if path.is_file()
    }
    shell.open_demo()
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    path = shell.session.store.path
    assert path == own_demo() and path.parent.name == "Aptandum demo"
    shell.session.model.set({"frame.window": "100, 200, 1890, 2520"}, "x")
    key(shell, Qt.Key.Key_S, CTRL)
    assert load(path).fittings[0].settings.frame.window == (100, 200, 1890, 2520)
    assert own_demo() == path and load(path).fittings[0].settings.frame.window
    after = {
        path.name: path.read_bytes() for path in demo_path().parent.iterdir() if path.is_file()
    }
    assert before == after


# --- menus -----------------------------------------------------------------------------------------


def test_every_menu_has_letters_of_its_own(shell):
    tops = shell.menu.actions()
    assert shell.menuBar().actions() == tops
    for actions in (tops, *(top.menu().actions() for top in tops)):
        texts = [a.text() for a in actions if a.text()]
        letters = [text[text.index("&") + 1].lower() for text in texts if "&" in text]
        assert len(set(letters)) == len(letters) >= min(len(texts), 20)
    assert sum(a.isSeparator() for top in tops for a in top.menu().actions()) >= 10


@pytest.mark.parametrize(
    ("texts", "made"),
    [
        (["Save", "Save as", "Quit"], ["&Save", "Save &as", "&Quit"]),
        (["a", "a", "a"], ["&a", "a", "a"]),
        (["Öffnen", "1:1"], ["&Öffnen", "&1:1"]),
        (["A&B", "Salt & Co"], ["&A&&B", "&Salt && Co"]),
    ],
)
def test_letters_are_found(texts, made):
    assert menus.with_letters(texts) == made
    assert [menus.plain(text) for text in made] == texts


@pytest.mark.long
def test_what_cannot_be_chosen_is_grey_and_says_why(shell, qtbot, photo_file):
    for text, why in (
        ("Write file…", "There is no photo on the bench."),
        ("Copy file", "There is no proved file yet: conform first."),
        ("Close docket", "There is no docket open."),
        ("Undo", "There is nothing to undo."),
    ):
        action = entry(shell, text)
        assert not action.isEnabled() and action.toolTip() == why
    key(shell, Qt.Key.Key_W, CTRL | SHIFT)
    assert shell.message.text.text() == "There is no photo on the bench."
    finder = Finder(shell.all_actions, shell, shell.needing.why_not)
    qtbot.addWidget(finder)
    qtbot.keyClicks(finder.line, "copy file")
    assert "conform first" in finder.found.item(0).text()
    QTest.keyClick(finder.line, Qt.Key.Key_Return)
    assert finder.result() == 0  # it stays: there is nothing to be done
    shell.start.choose("quayside-exchange/item-picture")
    shell.take_photos([str(photo_file)])
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    assert entry(shell, "Write file…").isEnabled() and not entry(shell, "Copy file").isEnabled()
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    qtbot.waitUntil(lambda: entry(shell, "Copy file").isEnabled(), timeout=PATIENCE)
    # letters rest while a text is typed, and where there is nothing that they could do
    turn = entry(shell, "Turn the photo to the right")
    assert turn.isEnabled()
    shell.bench.cards["frame"].across.setFocus()
    assert not turn.isEnabled()
    shell.session.dockets.new()
    assert not turn.isEnabled() and turn.toolTip() == "There is no photo on the bench."


@pytest.mark.long
def test_what_can_be_done_is_offered_where_the_other_button_is_pressed(qtbot, shell):
    shell.open_demo()
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    for page, part, texts in (
        ("bench", lambda: shell.bench.sheet, ("Fitted", "Mirror the photo", "Copy file")),
        ("board", lambda: shell.board.grid, ("Remove selected fittings", "Hand over selected…")),
        ("rulebooks", lambda: shell.rulebooks.shelf, ("Change this rulebook",)),
        ("desk", lambda: shell.desk.audit.list, ("Export the list…",)),
    ):
        shell.go(page)
        part().customContextMenuRequested.emit(QPoint(40, 90))
        offered = QApplication.activePopupWidget()
        assert offered is not None and offered.objectName() == "offered"
        shown = {menus.plain(a.text()): a for a in offered.actions()}
        assert set(texts) <= set(shown)
        if page == "bench":
            assert shown["Copy file"].toolTip() == "There is no proved file yet: conform first."
            assert not shown["Copy file"].isEnabled() and shown["Mirror the photo"].isEnabled()
        offered.close()
    # what is chosen on the board stays chosen
    shell.go("board")
    shell.board.grid.choose_all()
    chosen = set(shell.board.grid.chosen)
    spot = min(chosen)
    grid, at = shell.board.grid, QPoint(232 + 10 + 170 * spot[1], 74 + 20 + 104 * spot[0])
    assert grid.spot_of(at) == spot
    qtbot.mouseClick(grid.viewport(), Qt.MouseButton.RightButton, pos=at)
    assert shell.board.grid.chosen == chosen


def test_redo_has_both_of_its_keys(shell, photo_file):
    shell.take_photos([str(photo_file)])
    key(shell, Qt.Key.Key_Z, CTRL)
    assert not shell.session.docket.photos
    key(shell, Qt.Key.Key_Y, CTRL)
    assert shell.session.docket.photos


def test_no_key_is_one_that_desktops_keep(shell):
    keys = [one.toString() for action in shell.all_actions for one in action.shortcuts()]
    assert not [one for one in keys if "Ctrl+Alt" in one or "Meta" in one]


# --- what is kept ----------------------------------------------------------------------------------


def test_size_and_place_and_looks_are_kept_until_the_next_time(qtbot, shell, usual):
    shell.resize(1010, 640)
    key(shell, Qt.Key.Key_D, CTRL)
    assert theme.palette() is theme.DIM
    key(shell, Qt.Key.Key_F9)
    assert not shell.menuBar().isVisible()
    shell.close()
    theme.use(theme.LIGHT)
    home_acts.dress()
    assert theme.palette() is theme.DIM
    other = Shell()
    qtbot.addWidget(other)
    other.show()
    wide = min(1010, max(840, shell.screen().availableGeometry().width()))  # fitted to the screen
    assert (other.width(), other.height()) == (wide, 640) and not other.menuBar().isVisible()
    key(other, Qt.Key.Key_F9)
    assert other.menuBar().isVisible()
    other.session.stop()


def test_it_is_usable_small(qtbot, shell):
    shell.resize(200, 200)
    assert (shell.width(), shell.height()) == (840, 520)


def test_texts_become_larger_and_smaller(shell, usual):
    shell.start.briefs.clearSelection()
    before = shell.menuBar().sizeHint().height()
    for _ in range(4):
        key(shell, Qt.Key.Key_Plus, CTRL)
    assert theme.scale() == pytest.approx(1.2) and shell.menuBar().sizeHint().height() > before
    assert "font-size: 16px" in shell.styleSheet() and preferences.kept("text", 0) == 120
    for _ in range(40):
        key(shell, Qt.Key.Key_Minus, CTRL)
    assert theme.scale() == theme.SMALLEST
    key(shell, Qt.Key.Key_0, CTRL)
    assert theme.scale() == 1.0 and preferences.kept("text", 9) == 0


def test_the_desktop_is_followed_where_that_is_left_to_it(shell, usual, monkeypatch):
    assert preferences.kept("look", "system") == "system"
    monkeypatch.setattr(desktop, "is_dark", lambda: True)
    shell.follow_desktop()
    assert theme.palette() is theme.DIM
    monkeypatch.setattr(desktop, "wants_contrast", lambda: True)
    shell.follow_desktop()
    assert theme.palette() is theme.DIM_CLEAR
    preferences.keep(look="light", contrast="usual")
    shell.follow_desktop()
    assert theme.palette() is theme.LIGHT
    desktop.usual_text.append(18.4)
    try:
        shell.take_settings()
        assert theme.scale() == pytest.approx(18.4 / 14.7)
    finally:
        desktop.usual_text.pop()


def _light(colour: str) -> float:
    parts = [int(colour[i : i + 2], 16) / 255 for i in (1, 3, 5)]
    lit = [c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4 for c in parts]
    return 0.2126 * lit[0] + 0.7152 * lit[1] + 0.0722 * lit[2]


@pytest.mark.parametrize("palette", [theme.LIGHT_CLEAR, theme.DIM_CLEAR])
def test_more_contrast_is_seven_to_one(palette):
    for token in ("ink", "ink2", "blue", "meets", "misses", "advises", "asks"):
        a, b = sorted((_light(getattr(palette, token)), _light(palette.window)))
        assert (b + 0.05) / (a + 0.05) >= 7, token


def test_settings_are_taken_on_at_once_and_kept(qtbot, shell, usual):
    dialog = shell.settings_dialog()
    qtbot.addWidget(dialog)
    dialog.show()
    dialog.fields["look"].setCurrentIndex(dialog.fields["look"].findData("dim"))
    dialog.text.setCurrentIndex(dialog.text.findData(115))
    dialog.fields["language"].setCurrentIndex(dialog.fields["language"].findText("Español"))
    dialog.menu_bar.setChecked(False)
    dialog.person.setText("Quill Harrow")
    qtbot.mouseClick(dialog.use, LEFT)
    dialog.keep()
    shell.take_settings()
    assert theme.palette() is theme.DIM and theme.scale() == pytest.approx(1.15)
    assert not shell.menuBar().isVisible() and preferences.person() == "Quill Harrow"
    assert language.kept() == "es"  # and is spoken from the next start


def test_nothing_moves_where_that_is_asked(shell):
    preferences.keep(motion="none")
    assert desktop.is_still()
    preferences.keep(motion="usual")
    assert not desktop.is_still()


def test_full_screen_and_back(shell):
    key(shell, Qt.Key.Key_F11)
    assert shell.windowState() & Qt.WindowState.WindowFullScreen
    key(shell, Qt.Key.Key_F11)
    assert not shell.windowState() & Qt.WindowState.WindowFullScreen


# --- what comes and goes ---------------------------------------------------------------------------


def dragged(shell: Shell, data: QMimeData) -> None:
    at, none = QPoint(500, 400), Qt.KeyboardModifier.NoModifier
    action = Qt.DropAction.CopyAction
    QApplication.sendEvent(shell, QDragEnterEvent(at, action, data, LEFT, none))
    QApplication.sendEvent(shell, QDropEvent(QPointF(at), action, data, LEFT, none))


def test_a_picture_on_the_clipboard_is_kept_as_a_file_and_taken(shell):
    image = QImage(640, 480, QImage.Format.Format_RGB32)
    image.fill(0x335577)
    QApplication.clipboard().setImage(image)
    key(shell, Qt.Key.Key_V, CTRL)
    path = Path(shell.session.docket.photos[0].path)
    assert path.parent.name == "Aptandum" and "is kept as" in shell.message.text.text()
    with Image.open(path) as read:
        assert read.size == (640, 480) and read.convert("RGB").getpixel((3, 3)) == (
            0x33,
            0x55,
            0x77,
        )
    QApplication.clipboard().setImage(image)
    key(shell, Qt.Key.Key_V, CTRL)
    assert (
        len({entry.path for entry in shell.session.docket.photos}) == 2
    )  # nothing is written over


def test_a_picture_dragged_from_a_browser_keeps_its_bytes(shell):
    data = QMimeData()
    held = jpeg(scene(800, 600))
    data.setData("image/jpeg", QByteArray(held))
    data.setUrls([QUrl("https://vessary.example/pictures/mole.jpg")])
    dragged(shell, data)
    path = Path(shell.session.docket.photos[0].path)
    assert path.suffix == ".jpg" and path.read_bytes() == held


@pytest.mark.parametrize("way", ["drag", "paste"])
def test_a_link_is_not_followed_and_that_is_said(shell, way):
    data = QMimeData()
    data.setUrls([QUrl("https://vessary.example/pictures/mole.jpg")])
    if way == "drag":
        dragged(shell, data)
    else:
        QApplication.clipboard().setMimeData(data)
        key(shell, Qt.Key.Key_V, CTRL)
    assert "Nothing is fetched" in shell.message.text.text() and not shell.session.docket.photos


def test_the_dialog_for_photos_shows_what_each_one_is(qtbot, shell, photo_file, tmp_path):
    dialog = photo_dialog(shell, "Open photos")
    qtbot.addWidget(dialog)
    preview = dialog.findChild(Preview, "preview")
    dialog.currentChanged.emit(str(photo_file))
    qtbot.waitUntil(
        lambda: "1 200 × 900 px" in preview.words.text().replace("\u00a0", " "), timeout=PATIENCE
    )
    qtbot.waitUntil(lambda: not preview.picture.pixmap().isNull(), timeout=PATIENCE)
    bad = tmp_path / "bad.jpg"
    bad.write_bytes(b"no picture")
    dialog.currentChanged.emit(str(bad))
    qtbot.waitUntil(lambda: "bad.jpg" in preview.words.text(), timeout=PATIENCE)
    assert preview.picture.pixmap().isNull()
    preview.jobs.stop()
    preferences.keep(dialogs="desktop")
    assert photo_dialog(shell, "Open photos").findChild(Preview, "preview") is None


def test_a_finished_file_is_opened_where_it_stands(qtbot, shell, photo_file, tmp_path, monkeypatch):
    opened: list[str] = []
    monkeypatch.setattr(
        QDesktopServices, "openUrl", lambda url: opened.append(url.toLocalFile()) or True
    )
    shell.start.choose("quayside-exchange/item-picture")
    shell.take_photos([str(photo_file)])
    qtbot.waitUntil(settled(shell), timeout=PATIENCE)
    assert not entry(shell, "Open the file in another program").isEnabled()
    shell.session.making.write(tmp_path / "made.jpg", False)
    qtbot.waitUntil(lambda: shell.session.bench.written is not None, timeout=PATIENCE)
    qtbot.waitUntil(
        lambda: entry(shell, "Open the file in another program").isEnabled(), timeout=PATIENCE
    )
    key(shell, Qt.Key.Key_I, CTRL)
    assert opened == [str(shell.session.bench.written)]


def test_dockets_rulebooks_and_photos_of_the_call_are_each_opened_as_what_they_are(
    shell, photo_file, tmp_path
):
    shell.take_files([str(own_demo())])
    assert shell.session.docket.title == "Vessary autumn intake"
    book = tmp_path / "own.rulebook.toml"
    book.write_text(
        'format = 1\n[body]\nid = "mole"\nname = "The Mole"\n[[brief]]\nid = "a"\ntitle = "A"\n'
        '[[brief.clause]]\nmeasure = "width"\nexactly = "600 px"\n'
    )
    shell.take_files([str(book), str(photo_file)])
    assert shell.session.library.shelf.find("mole/a")
    assert shell.session.docket.photos[-1].path == str(photo_file)


def test_photos_that_are_opened_with_a_brief_are_laid_on_the_bench_however_many(qtbot, tmp_path):
    paths = []
    for n in range(6):
        paths.append(str(tmp_path / f"{n}.jpg"))
        Path(paths[-1]).write_bytes(jpeg(scene(320, 240, n)))
    opened = open_shell(paths, "quayside-exchange/item-picture")
    qtbot.addWidget(opened)
    try:
        assert opened.session.bench.fitting.brief == "quayside-exchange/item-picture"
        assert len(opened.session.docket.photos) == 6
        qtbot.waitUntil(settled(opened), timeout=PATIENCE)
    finally:
        opened.handing.stop()
        opened.board.stop()
        opened.session.stop()


# --- long work, and two windows --------------------------------------------------------------------


@pytest.mark.parametrize(("seconds", "told"), [(9.0, 0), (11.0, 1)])
def test_long_work_that_ends_behind_another_window_is_told(
    qtbot, shell, monkeypatch, seconds, told
):
    monkeypatch.setattr(type(shell), "isActiveWindow", lambda _self: False)
    now = [1000.0]
    monkeypatch.setattr(home_acts.time, "monotonic", lambda: now[0])
    ended: list[object] = []

    def work(_progress):
        now[0] += seconds
        return "done"

    shell.session.jobs.command("Conforming …", work, ended.append, lane="long")
    qtbot.waitUntil(lambda: bool(ended), timeout=PATIENCE)
    qtbot.waitUntil(lambda: not shell.session.jobs.busy, timeout=PATIENCE)
    assert len(shell.notices.told) == told
    if told:
        assert shell.notices.told[0][0] == "Conforming"


TELLS = """
import sys
from PyQt6.QtTest import QTest
from aptandum.ui.app import application, open_shell
app = application(); shell = open_shell(); shell.show(); QTest.qWait(200)
type(shell).isActiveWindow = lambda self: False
shell.notices.tell("Conforming", "It has ended."); QTest.qWait(300)
import os; os._exit(0)
"""


@pytest.mark.skipif(
    not (shutil.which("dbus-run-session") and shutil.which("xvfb-run")),
    reason="no bus or no screen",
)
@pytest.mark.long
def test_the_desktop_takes_the_notice_as_its_specification_has_it():
    """A service on a bus of its own, to which nothing else speaks, takes a call only if every kind fits."""
    python, service = sys.executable, Path(__file__).with_name("notice_service.py")
    script = f"""
        exec 3< <("{python}" "{service}" 2>&1); read -r ready <&3; echo "$ready"
        QT_QPA_PLATFORM=xcb xvfb-run -a "{python}" -c "$TELLS"; cat <&3
    """
    done = subprocess.run(
        ["dbus-run-session", "--", "bash", "-c", script], env={**os.environ, "TELLS": TELLS},
        capture_output=True, text=True, check=False,
    )  # fmt: skip
    assert done.stdout.splitlines() == ["READY", "TOLD|Aptandum|aptandum|Conforming|It has ended."]


def test_nothing_is_told_to_whoever_looks_at_the_window(shell, monkeypatch):
    monkeypatch.setattr(type(shell), "isActiveWindow", lambda _self: True)
    shell.notices.tell("Conforming", "It has ended.")
    assert not shell.notices.told


def test_two_windows_on_two_dockets_do_not_touch_each_other(qtbot, shell, photo_file, tmp_path):
    other = Shell()
    qtbot.addWidget(other)
    other.show()
    try:
        shell.take_photos([str(photo_file)])
        drop(other, own_demo())
        qtbot.waitUntil(settled(other), timeout=PATIENCE)
        assert len(shell.session.docket.photos) == 1 and len(other.session.docket.photos) == 8
        key(shell, Qt.Key.Key_Z, CTRL)
        assert not shell.session.docket.photos and len(other.session.docket.photos) == 8
        assert other.windowTitle() == "Vessary autumn intake[*]"
    finally:
        other.handing.stop()
        other.board.stop()
        other.session.stop()


def test_a_page_is_built_when_it_is_first_gone_to(shell):
    assert not shell.is_built("rulebooks") and not shell.is_built("desk")
    shell.go("desk")
    assert shell.is_built("desk") and shell.pages.currentWidget() is shell.desk
    shell.go("rulebooks")
    assert shell.pages.currentWidget() is shell.rulebooks
