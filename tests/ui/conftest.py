"""The real window, driven with real clicks, keys and drops."""

from __future__ import annotations

import ctypes
import gc
from collections.abc import Iterator

import pytest
from PyQt6.QtCore import QEvent
from PyQt6.QtWidgets import QApplication
from pytestqt.qtbot import QtBot

from aptandum.ui import theme
from aptandum.ui.app import application
from aptandum.ui.session import Session
from aptandum.ui.shell import Shell
from driving import lay_out

_LIBC = ctypes.CDLL(None)


def hold_still() -> None:
    """What is there before a window stays to the end: looking through it for what may go, after
    each window, would take a tenth of a second each time. An opened docket lets go of it."""
    if not gc.get_freeze_count():
        gc.collect()
        gc.freeze()


@pytest.fixture(autouse=True)
def _nobody_presses_what_has_no_place(monkeypatch) -> None:
    """A click falls on what is laid out: a button that appeared a moment ago is nought pixels high until then."""
    press = QtBot.mouseClick

    def click(widget, *args, **more) -> None:
        if widget.isVisible() and not (widget.width() and widget.height()):
            lay_out()
            assert widget.width() and widget.height(), f"{widget} has no place"
        press(widget, *args, **more)

    monkeypatch.setattr(QtBot, "mouseClick", staticmethod(click))


@pytest.fixture
def shell(qtbot) -> Iterator[Shell]:
    application()
    hold_still()
    theme.use(theme.LIGHT)
    window = Shell(Session())
    window.session.dockets.may_show = lambda folders: True  # nobody is there to be asked
    window.resize(1280, 800)
    with qtbot.waitExposed(window):
        window.show()
    with qtbot.waitActive(window):  # keys go to it alone, and there is no window manager
        window.activateWindow()
    yield window
    window.session.stop()
    window.session.store.saved = window.session.docket
    window.rulebooks.form.begin(None)  # nothing unsaved to ask about
    window.close()
    window.deleteLater()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    del window
    gc.collect()  # a window's pictures are many megabytes, and few objects
    if hasattr(_LIBC, "malloc_trim"):
        _LIBC.malloc_trim(0)  # and what they lay in goes back to the system
