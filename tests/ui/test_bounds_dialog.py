"""Limits for one photo, set by a person in the window."""

from __future__ import annotations

from pathlib import Path

import pytest
from PyQt6.QtCore import Qt

from aptandum.core import bounds
from aptandum.ui import preferences
from aptandum.ui.bounds_dialog import BoundsDialog
from driving import drop, wait
from samples import jpeg, scene


@pytest.fixture
def as_usual(monkeypatch: pytest.MonkeyPatch):
    monkeypatch.setenv("APTANDUM_LIMITS", "")
    yield
    bounds.use("")


def typed(qtbot, field, text: str) -> None:
    field.setFocus()
    field.selectAll()
    qtbot.keyClicks(field, text)


@pytest.mark.long
def test_a_bound_is_typed_kept_and_held_at_once(qtbot, shell, tmp_path: Path, as_usual):
    path = tmp_path / "large.jpg"
    path.write_bytes(jpeg(scene(1500, 1200)))
    dialog = BoundsDialog(shell)
    qtbot.addWidget(dialog)
    dialog.show()
    typed(qtbot, dialog.fields[0], "1")
    typed(qtbot, dialog.fields[1], "2,5")
    qtbot.keyClick(dialog.fields[1], Qt.Key.Key_Return)
    assert dialog.result() == dialog.DialogCode.Accepted
    assert preferences.kept_bounds() == "megapixels=1,seconds=2.5"
    assert bounds.current() == bounds.Bounds(1, 2.5)
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, path)
    said = shell.message.text.text()
    assert "large.jpg is not opened" in said and "“Limits for one photo”" in said
    assert not shell.session.docket.photos

    again = BoundsDialog(shell)
    qtbot.addWidget(again)
    again.show()
    assert again.fields[0].text() == "1"
    again.as_usual()
    again.act.click()
    assert preferences.kept_bounds() == "" and bounds.current() == bounds.Bounds()
    drop(shell, path)
    wait(qtbot, shell)
    assert len(shell.session.docket.photos) == 1


def test_bounds_that_cannot_be_read_are_as_usual(as_usual, monkeypatch: pytest.MonkeyPatch):
    for held in ("megapixels=0", "hours=3", 7, None, ["x"]):
        monkeypatch.setattr(preferences, "_read", lambda held=held: {"bounds": held})
        assert preferences.kept_bounds() == ""
