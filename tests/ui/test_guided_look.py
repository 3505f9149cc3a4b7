"""The look round: offered once, goes through the places with the demo, left at any step."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QPushButton, QScrollArea

from aptandum.ui.guided_look import GuidedLook, Offer, steps
from aptandum.ui.strings import t
from driving import lay_out


def pressed(widget, words):
    """Press the button that is seen to say so."""
    (found,) = [b for b in widget.findChildren(QPushButton) if b.text() == words and b.isVisible()]
    QTest.mouseClick(found, Qt.MouseButton.LeftButton)


@pytest.fixture(autouse=True)
def first_start(tmp_path, monkeypatch):
    """Nothing is kept from an earlier start."""
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path / "state"))


def test_it_is_offered_at_the_first_start_and_never_again(shell):
    assert shell.start.offer.isVisible()
    assert not Offer().isVisibleTo(None)  # what another start would find
    pressed(shell.start, t("No, thanks"))
    assert not shell.start.offer.isVisible()
    shell.go("board")
    shell.show_start()
    assert not shell.start.offer.isVisible()
    assert not shell.findChildren(GuidedLook)


def test_it_goes_through_the_places_and_makes_the_file(shell, qtbot):
    pressed(shell.start, t("Look round in two minutes"))
    (look,) = shell.findChildren(GuidedLook)
    places = []
    for at, step in enumerate(steps()):
        assert look.at == at and look.words.text() == step.says
        assert shell.pages.currentWidget() is (
            shell.bench_stack if step.page == "bench" else getattr(shell, step.page)
        )
        if step.makes:
            qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=60_000)
        places.append(step.page)
        QTest.mouseClick(look.next, Qt.MouseButton.LeftButton)
    assert dict.fromkeys(places) == dict.fromkeys(["bench", "board", "rulebooks", "desk"])
    assert not look.isVisible()


def test_it_is_left_at_any_step_by_a_key(shell):
    shell.look_round()
    (look,) = shell.findChildren(GuidedLook)
    look.go(3)
    QTest.keyClick(look.next, Qt.Key.Key_Escape)
    assert not look.isVisible()
    assert shell.session.docket.photos  # the demo stays open


def test_nothing_is_done_to_a_docket_that_is_not_left(shell, monkeypatch):
    """Who does not leave what is open is not led through it, and no file is made of it."""
    shell.open_demo()
    monkeypatch.setattr(shell, "may_leave", lambda: False)
    before = shell.session.docket
    shell.look_round()
    assert not shell.findChildren(GuidedLook)
    assert shell.session.docket == before and shell.session.bench.proof is None


def test_it_ends_where_something_else_is_opened(shell):
    shell.look_round()
    (look,) = shell.findChildren(GuidedLook)
    shell.session.dockets.new()
    before = shell.session.docket
    look.go(2)
    assert not look.isVisible()
    assert shell.session.docket == before and not before.photos


def test_nothing_lies_beyond_a_narrow_column(shell):
    """Where a column is not moved sideways, what is in it is as wide as what is seen of it."""
    shell.look_round()
    shell.resize(900, 600)
    for page in ("bench", "rulebooks", "desk", "board"):
        shell.go(page)
        lay_out()
        for area in shell.findChildren(QScrollArea):
            off = area.horizontalScrollBarPolicy() == Qt.ScrollBarPolicy.ScrollBarAlwaysOff
            if off and area.isVisible() and area.widget() is not None:
                assert area.widget().width() <= area.viewport().width(), (page, area.widget())
