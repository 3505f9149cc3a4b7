"""Three portraits that nothing was tuned to, each from open to proof and to a sheet of prints in at most six acts.

They are of seeds apart from those that anything was measured or chosen by, with light from below, a shadow across the face,
a room behind and a tilted head.
"""

from __future__ import annotations

from pathlib import Path

import pypdfium2
import pytest
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtWidgets import QApplication

from aptandum.ui.prints_dialog import PrintsDialog
from driving import drop, wait
from samples import PATIENCE

UNSEEN = sorted((Path(__file__).parents[1] / "portraits/unseen").glob("*.jpg"))
LEFT = Qt.MouseButton.LeftButton
ASKED_OF_A_PERSON = {"expression", "glare"}


class Acts:
    """What a person does, counted."""

    def __init__(self, qtbot, shell) -> None:
        self.qtbot, self.shell, self.done = qtbot, shell, []

    def __call__(self, words: str, act) -> None:
        act()
        self.done.append(words)
        if len(self.done) > 1:  # before a brief is chosen there is nothing to wait for
            wait(self.qtbot, self.shell)


@pytest.mark.long
@pytest.mark.parametrize("path", UNSEEN, ids=lambda path: path.stem)
def test_from_open_to_proof_and_sheet(qtbot, shell, tmp_path, monkeypatch, path):
    photo = tmp_path / path.name
    photo.write_bytes(path.read_bytes())
    act = Acts(qtbot, shell)
    act("drop the photo", lambda: drop(shell, photo))
    act("choose the brief", lambda: shell.start.choose("vessary-ferries/deck-pass"))
    act("conform", lambda: qtbot.mouseClick(shell.bench.act, LEFT))
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    proof = shell.session.bench.proof
    left = {f.clause.id for f in proof.findings.findings if f.verdict not in ("meets", "advises")}
    assert proof.ready and left <= ASKED_OF_A_PERSON, left
    target = tmp_path / "sheet.pdf"
    monkeypatch.setattr("aptandum.ui.file_acts.where_to_save", lambda *a, **k: target)

    def accept() -> None:
        dialog = QApplication.activeModalWidget()
        if not isinstance(dialog, PrintsDialog):
            QTimer.singleShot(50, accept)
            return
        act.done.append("write the sheet, and where")
        qtbot.mouseClick(dialog.act, LEFT)

    QTimer.singleShot(0, accept)
    act("ask for a sheet of prints", shell.ask_prints)
    qtbot.waitUntil(target.exists, timeout=PATIENCE)
    assert any(o.type == 3 for o in pypdfium2.PdfDocument(target)[0].get_objects())
    assert len(act.done) <= 6, act.done
