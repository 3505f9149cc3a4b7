"""A portrait from open to proof and to a sheet of prints, in the real window."""

from __future__ import annotations

import pypdfium2
import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from driving import drop, wait
from samples import DEMO, PATIENCE

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def portrait(qtbot, shell, tmp_path):
    path = tmp_path / "ines.jpg"
    path.write_bytes((DEMO / "ines_marrow_0417.jpg").read_bytes())
    drop(shell, path)
    shell.start.choose("harbour-registry/masters-licence")
    wait(qtbot, shell)
    qtbot.mouseClick(shell.bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    return shell


def typed(field, text: str) -> None:
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)


@pytest.mark.long
def test_a_sheet_is_asked_for_shown_and_written(qtbot, portrait, tmp_path, monkeypatch):
    """Open, choose the brief, conform, ask for prints, write: five acts."""
    dialog = portrait.prints_dialog()
    qtbot.addWidget(dialog)
    dialog.show()
    assert len(dialog.sheet.prints) == 6 and "6 prints" in dialog.says.text()
    assert "35" in dialog.rows[0][1].text()  # as wide as the file itself says
    typed(dialog.rows[0][0], "4")
    typed(dialog.rows[1][0], "1")
    typed(dialog.rows[1][1], "50 mm")
    assert dialog.sheet is None or len(dialog.sheet.prints) == 5
    dialog.paper.setCurrentText("A5")
    assert len(dialog.sheet.prints) == 5 and not dialog.trouble.isVisible()
    white = [dialog.view.grab().toImage().pixelColor(QPoint(*at)).name() for at in ((2, 2),)]
    assert white != ["#ffffff"]  # the paper lies on grey
    monkeypatch.setattr(
        QFileDialog, "getSaveFileName", lambda *a, **k: (str(tmp_path / "sheet.pdf"), "PDF (*.pdf)")
    )
    portrait.write_prints(dialog, tmp_path / "sheet.pdf")
    qtbot.waitUntil(lambda: (tmp_path / "sheet.pdf").exists(), timeout=PATIENCE)
    page = pypdfium2.PdfDocument(tmp_path / "sheet.pdf")[0]
    found = sorted(
        round((b := o.get_bounds())[2] - b[0]) for o in page.get_objects() if o.type == 3
    )
    assert len(found) == 5
    qtbot.waitUntil(
        lambda: "Sheet of prints written" in portrait.message.text.text(), timeout=PATIENCE
    )
    # the docket remembers it, which is no step to be undone, and the report names it
    (sheet,) = portrait.session.bench.fitting.printed
    assert (sheet.file, sheet.paper) == ("sheet.pdf", "A5")
    assert sorted(n for n, _wide, _high in sheet.prints) == [1, 4]
    portrait.session.reports.write_report(tmp_path / "report.html")
    qtbot.waitUntil((tmp_path / "report.html").exists, timeout=PATIENCE)
    told = (tmp_path / "report.html").read_text()
    assert "Sheets of prints" in told and "on A5: sheet.pdf" in told
    assert "earlier file" not in told


@pytest.mark.long
def test_what_cannot_be_printed_is_said_and_nothing_is_lost(qtbot, portrait):
    dialog = portrait.prints_dialog()
    qtbot.addWidget(dialog)
    dialog.show()
    typed(dialog.rows[0][0], "40")
    assert dialog.sheet is None and not dialog.act.isEnabled()
    assert "Only 6 of the prints have room on 10 x 15 cm." in dialog.trouble.text()
    typed(dialog.rows[0][0], "6")
    assert dialog.act.isEnabled()
    typed(dialog.rows[0][1], "35 bananas")
    assert not dialog.act.isEnabled() and dialog.trouble.text()
    dialog.paper.setCurrentText("foolscap")
    assert "There is no paper" in dialog.trouble.text()


@pytest.mark.long
def test_without_a_finished_file_it_says_what_to_do(qtbot, shell, tmp_path):
    path = tmp_path / "ines.jpg"
    path.write_bytes((DEMO / "ines_marrow_0417.jpg").read_bytes())
    drop(shell, path)
    shell.start.choose("harbour-registry/masters-licence")
    wait(qtbot, shell)
    assert shell.prints_dialog() is None
    assert "conform first" in shell.message.text.text()
