"""The last line of defence: what nobody foresaw is written down and told, and the window stays.

Qt ends a program in which an exception leaves a slot. Here such an exception is a mistake of ours:
the crash record is written, the log gets the traceback, the person a sentence, and work goes on.
"""

from __future__ import annotations

import logging
import sys
import threading
import traceback
from types import TracebackType
from typing import Any

from PyQt6.QtCore import QMessageLogContext, QtMsgType, qInstallMessageHandler
from PyQt6.QtGui import QGuiApplication

from aptandum.core import mistakes
from aptandum.ui.session import Session
from aptandum.ui.strings import t

_LEVELS = {
    QtMsgType.QtDebugMsg: logging.DEBUG,
    QtMsgType.QtInfoMsg: logging.INFO,
    QtMsgType.QtWarningMsg: logging.WARNING,
    QtMsgType.QtCriticalMsg: logging.ERROR,
    QtMsgType.QtFatalMsg: logging.CRITICAL,
}
_QT = logging.getLogger("aptandum.qt")

_MOST_ALIKE = 3
"""How often the same mistake is told; a picture that cannot be painted would say so at each frame."""


class Defence:
    """Catches what leaves a slot, a thread or a finaliser, for one session.

    Attributes:
        met: how often each mistake was met, by its place.
    """

    def __init__(self, session: Session) -> None:
        self._session = session
        self.met: dict[str, int] = {}
        self._before: list[Any] = []

    def put_up(self) -> None:
        """Stand in for Python's own hooks from now on."""
        self._before = [sys.excepthook, threading.excepthook, sys.unraisablehook]
        sys.excepthook = self.raised
        threading.excepthook = self._in_thread
        sys.unraisablehook = self._unraisable
        qInstallMessageHandler(_qt_said)

    def take_down(self) -> None:
        """Put back what caught mistakes before."""
        if self._before:
            sys.excepthook, threading.excepthook, sys.unraisablehook = self._before
            self._before = []
            qInstallMessageHandler(None)

    def raised(
        self, kind: type[BaseException], error: BaseException, where: TracebackType | None
    ) -> None:
        """An exception has left a slot, in the interface's thread."""
        if isinstance(error, (KeyboardInterrupt, SystemExit)):
            sys.__excepthook__(kind, error, where)
            return
        place = _place(error)
        self.met[place] = self.met.get(place, 0) + 1
        if self.met[place] > _MOST_ALIKE:
            return
        try:
            self._session.autosave.keep()
            self._session.tell(
                mistakes.sentence(error) if mistakes.is_mistake(error) else _said(error)
            )
        except Exception as second:  # nothing is left but the log
            mistakes.note(second, "while a mistake was told")

    def _in_thread(self, given: threading.ExceptHookArgs) -> None:
        error = given.exc_value
        if error is not None and not isinstance(error, SystemExit):
            self._session.jobs.post(lambda: self.raised(type(error), error, error.__traceback__))

    def _unraisable(self, given: Any) -> None:
        if given.exc_value is not None:
            mistakes.note(given.exc_value, f"in {given.object!r}")


def _said(error: BaseException) -> str:
    """A sentence that nobody caught where it belongs: told, and logged to be mended."""
    mistakes.note(error, "an error that was not caught where it was raised")
    return str(error)


def _place(error: BaseException) -> str:
    frames = traceback.extract_tb(error.__traceback__)
    last = frames[-1] if frames else None
    return f"{type(error).__name__} {last.filename}:{last.lineno}" if last else type(error).__name__


def _qt_said(kind: QtMsgType, context: QMessageLogContext, message: str | None) -> None:
    _QT.log(_LEVELS.get(kind, logging.WARNING), "%s", message)


def log_for_clipboard() -> str:
    """The end of the log, put on the clipboard; a sentence that says so."""
    text, clipboard = mistakes.log_end(), QGuiApplication.clipboard()
    if not text or clipboard is None:
        return t("The log is empty: nothing has gone wrong.")
    clipboard.setText(text)
    return t("The end of the log is on the clipboard.")
