"""The body's examples beside one's own portrait, in the real window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest

from aptandum.ui.bench.views import EXAMPLES
from driving import LEFT, drop, wait
from samples import DEMO, PATIENCE


@pytest.mark.long
def test_examples_stand_beside_the_picture_and_the_near_one_first(qtbot, shell, tmp_path):
    path = tmp_path / "mirelle_dace_0031.jpg"
    path.write_bytes((DEMO / path.name).read_bytes())
    drop(shell, path)
    shell.start.choose("vessary-ferries/deck-pass")
    wait(qtbot, shell)
    bench = shell.bench
    assert bench.views[EXAMPLES].isVisible()
    bench.sheet.setFocus()
    QTest.keyClick(shell, Qt.Key.Key_E, Qt.KeyboardModifier.ShiftModifier)
    view = bench.examples
    qtbot.waitUntil(lambda: len(view.placed) == 8, timeout=PATIENCE)
    assert bench.mode == EXAMPLES and bench.seen.currentWidget() is view
    qtbot.waitUntil(lambda: shell.session.model.people() is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    assert view.near is not None and view.near.example.shows == "head tilted"
    assert view.order()[0] is view.near and view.said().startswith("not so: head tilted")
    # the eyes lie on one line: of one's own picture as in every example
    cells = view.cells(8)
    assert len(cells) == 9 and all(box.right() <= view.width() for box in cells)
    assert not any(a.intersects(b) for n, a in enumerate(cells) for b in cells[n + 1 :])
    image = view.grab().toImage()
    assert image.pixelColor(cells[0].center().toPoint()) != image.pixelColor(2, 2)
    # made straight, nothing is missed that an example shows
    qtbot.mouseClick(bench.act, LEFT)
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    wait(qtbot, shell)
    bench.show_view(EXAMPLES)
    assert view.near is None
    # a brief without examples has no such view
    photo = shell.session.docket.photos[0].id
    assert shell.session.model.start_fitting(photo, "quayside-exchange/item-picture")
    wait(qtbot, shell)
    assert not bench.views[EXAMPLES].isVisible() and bench.mode != EXAMPLES
