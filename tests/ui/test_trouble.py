from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QLineEdit
from test_hostile import BOMBS

from aptandum.core.docket.store import load
from aptandum.core.readers.pool import shared
from aptandum.ui import theme
from aptandum.ui.finder import Finder
from aptandum.ui.help import HelpDialog
from aptandum.ui.shell import PAGES
from aptandum.ui.write_dialog import WriteDialog
from driving import drop, wait
from samples import DEMO, PATIENCE, jpeg, scene


def test_bad_files_are_said_and_the_docket_is_unharmed(qtbot, shell, tmp_path: Path):
    good = tmp_path / "good.jpg"
    good.write_bytes(jpeg(scene(900, 1200)))
    (tmp_path / "letter.jpg").write_text("Dear harbour master")
    (tmp_path / "empty.png").write_bytes(b"")
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, tmp_path / "letter.jpg", good, tmp_path / "empty.png")
    said = shell.message.text.text()
    assert "letter.jpg is not a picture" in said
    assert "empty.png is empty" in said
    assert [Path(p.path).name for p in shell.session.docket.photos] == ["good.jpg"]
    wait(qtbot, shell)
    assert shell.bench_stack.currentWidget() is shell.bench
    shell.message.away.click()
    assert not shell.message.isVisible()


def test_bombs_dropped_on_the_window_are_named_and_take_no_memory(qtbot, shell, tmp_path: Path):
    good = tmp_path / "good.jpg"
    good.write_bytes(jpeg(scene(300, 200)))
    paths = [good]
    for name, data in BOMBS.items():
        paths.append(tmp_path / f"{name}.png")
        paths[-1].write_bytes(data)
    shell.go("board")
    before = most_memory("self")
    # A reader that has read a large picture for a test before this one keeps that mark.
    had = {pid: most_memory(str(pid)) for pid in shared().processes()}
    drop(shell, *paths)
    qtbot.waitUntil(lambda: bool(shell.session.docket.photos), timeout=PATIENCE)
    qtbot.waitUntil(lambda: "more" in shell.message.text.text(), timeout=PATIENCE)
    assert [Path(p.path).name for p in shell.session.docket.photos] == ["good.jpg"]
    assert most_memory("self") < before + 100_000
    for pid in shared().processes():
        assert most_memory(str(pid)) < max(300_000, had.get(pid, 0) + 10_000)


def most_memory(pid: str) -> int:
    """The most memory that a process has had, in kB."""
    said = Path(f"/proc/{pid}/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in said if line.startswith("VmHWM"))


def test_a_folder_dropped_beside_a_photo_is_taken_in_with_it(qtbot, shell, tmp_path: Path):
    folder = tmp_path / "set"
    folder.mkdir()
    alone = tmp_path / "alone.jpg"
    for path in (alone, folder / "a.jpg", folder / "b.jpg"):
        path.write_bytes(jpeg(scene(300, 200, len(path.name))))
    (folder / "letter.jpg").write_text("Dear harbour master")
    drop(shell, alone, folder)
    qtbot.waitUntil(lambda: "letter.jpg" in shell.message.text.text(), timeout=PATIENCE)
    names = [Path(p.path).name for p in shell.session.docket.photos]
    assert names == ["alone.jpg", "a.jpg", "b.jpg"]
    assert shell.pages.currentWidget() is shell.board
    shell.session.store.undo()
    assert not shell.session.docket.photos


def test_a_photo_that_is_cut_short_is_said_on_the_sheet(qtbot, shell, tmp_path: Path):
    path = tmp_path / "cut.jpg"
    data = jpeg(scene(1500, 1000, grain=20))
    path.write_bytes(data[: len(data) // 2])
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, path)
    qtbot.waitUntil(lambda: "cut.jpg" in shell.message.text.text(), timeout=PATIENCE)
    assert "cut short" in shell.message.text.text()
    bench = shell.session.bench
    assert "cut.jpg is cut short" in bench.damage and not bench.trouble
    qtbot.waitUntil(lambda: bench.preview is not None, timeout=PATIENCE)  # what is there of it


def test_the_write_dialog_says_beforehand_and_guards_the_photo(qtbot, tmp_path: Path):
    photo = tmp_path / "sea.jpg"
    photo.write_bytes(b"photo")
    (tmp_path / "sea-x.jpg").write_bytes(b"taken")
    dialog = WriteDialog(tmp_path, "sea-x.jpg", [str(photo)], "Ready.")
    qtbot.addWidget(dialog)
    assert "becomes sea-x-2.jpg" in dialog.says.text()
    dialog.replace.setChecked(True)
    assert "will be replaced" in dialog.says.text()
    dialog.name.setText("sea.jpg")
    assert "never written to" in dialog.says.text() and not dialog.act.isEnabled()
    dialog.replace.setChecked(False)
    assert dialog.act.isEnabled() and "becomes sea-2.jpg" in dialog.says.text()
    dialog.name.setText("a/b")
    assert not dialog.act.isEnabled()
    dialog.name.setText("b.jpg")
    dialog.folder.setText(str(tmp_path / "nowhere"))
    assert "no folder" in dialog.says.text() and not dialog.act.isEnabled()


@pytest.mark.long
def test_a_limit_that_cannot_be_met_is_read_in_the_file_card(qtbot, shell, tmp_path: Path):
    path = tmp_path / "noise.jpg"
    path.write_bytes(jpeg(scene(3000, 2000, grain=60)))
    book = tmp_path / "tight.toml"
    book.write_text(
        'format = 1\n[body]\nid = "tight"\nname = "Tight"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        '[[brief.clause]]\nmeasure = "size"\nexactly = "1200 x 800"\n'
        '[[brief.clause]]\nmeasure = "format"\nexactly = "jpeg"\n'
        '[[brief.clause]]\nmeasure = "file_bytes"\nat_most = "9 KB"\n'
    )
    shell.session.library.add_rulebooks([str(book)])
    shell.start.fill()
    shell.start.choose("tight/b")
    drop(shell, path)
    wait(qtbot, shell)
    shell.bench.open_station("file")
    text = shell.bench.cards["file"].trouble.text().replace("\u00a0", " ")
    made = shell.session.bench.draft
    assert "At most 9 000 bytes are asked" in text
    assert f"{len(made.data):,}".replace(",", " ") in text and "fewer pixels" in text
    shell.session.making.conform()
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    assert shell.bench.cards["proof"].verdict.text == "Not ready"


def test_a_rulebook_with_errors_is_said(shell, tmp_path: Path):
    bad = tmp_path / "bad.toml"
    bad.write_text("format = 3\n")
    shell.session.library.add_rulebooks([str(bad)])
    assert "bad.toml:1" in shell.message.text.text()


@pytest.mark.long
def test_dockets_are_saved_and_opened(qtbot, shell, tmp_path: Path, monkeypatch):
    shell.open_demo()
    wait(qtbot, shell)
    shell.session.model.set({"frame.window": "100, 200, 1890, 2520"}, "x")
    target = tmp_path / "mine"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: (str(target), ""))
    shell.save_as()
    assert "Saved" in shell.saved.text()
    again = load(tmp_path / "mine.docket")
    assert again.fittings[0].settings.frame.window == (100, 200, 1890, 2520)
    shell.new_docket()
    assert shell.session.bench is None and shell.bench_stack.currentWidget() is shell.start
    drop(shell, tmp_path / "mine.docket")
    assert shell.session.bench.line.frame.window.left == 100
    assert load(DEMO / "vessary.docket").title == "Vessary autumn intake"


def test_every_action_has_a_name_and_most_a_key(shell):
    names = [action.text() for action in shell.all_actions]
    assert len(set(names)) == len(names) and all(names)
    keys = [a.shortcut().toString() for a in shell.all_actions if not a.shortcut().isEmpty()]
    assert len(set(keys)) == len(keys) and len(keys) >= len(names) - 2


def test_places_and_finder_and_help(qtbot, shell):
    for i, name in enumerate(PAGES):
        qtbot.keyClick(shell, getattr(Qt.Key, f"Key_{i + 1}"), Qt.KeyboardModifier.ControlModifier)
        assert shell.pages.currentIndex() == PAGES.index(name)
    finder = Finder(shell.all_actions, shell)
    qtbot.addWidget(finder)
    qtbot.keyClicks(finder.line, "dim")
    assert finder.found.count() == 1
    qtbot.keyClick(finder.line, Qt.Key.Key_Return)
    assert theme.palette() is theme.DIM
    help_ = HelpDialog(shell.all_actions, shell)
    qtbot.addWidget(help_)
    assert "head_height" in help_._page(shell.all_actions)


def test_fonts_are_shipped(shell):
    families = theme.load_fonts()
    assert {"IBM Plex Sans", "IBM Plex Mono"} <= set(families)
    assert any("Condensed" in name or "Condd" in name for name in families)


@pytest.mark.long
def test_tab_reaches_the_acts_and_rows_have_names(qtbot, shell):
    shell.open_demo()
    wait(qtbot, shell)
    rows = shell.bench.ledger.rows.values()
    assert all("meets" in r.accessibleName() or ":" in r.accessibleName() for r in rows)
    seen = set()
    shell.docket_name.setFocus()
    for _ in range(80):
        qtbot.keyClick(shell.focusWidget() or shell, Qt.Key.Key_Tab)
        seen.add(shell.focusWidget())
    assert {shell.bench.act, shell.bench.write, shell.bench.sheet} <= seen
    assert any(isinstance(widget, QLineEdit) for widget in seen)


def test_a_message_follows_the_palette_of_the_room(qtbot, shell):
    shell.session.tell("Not there: mole.jpg")
    light = shell.message.styleSheet()
    assert theme.LIGHT.misses in light
    shell.toggle_dim()
    assert theme.DIM.misses in shell.message.styleSheet() and shell.message.isVisible()
    assert shell.message.text.text() == "Not there: mole.jpg"
    shell.toggle_dim()
    assert shell.message.styleSheet() == light
