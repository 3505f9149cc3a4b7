"""What the desktop says of itself: dark or light, more contrast, less movement, larger texts; and what it is told."""

from __future__ import annotations

import contextlib
from typing import Any, cast

from PyQt6.QtCore import QMetaType, QObject, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QApplication, QWidget

from aptandum.ui import preferences
from aptandum.ui.strings import t

_LARGEST_USUAL = 14.7
"""Pixels of the largest text that desktops have as their usual one; a larger one was asked for."""
_CALL_MS = 1500
"""How long an answer of the desktop's is waited for; it is asked once, at the start."""
_FREEDESKTOP = "org.freedesktop.appearance"


def is_dark() -> bool:
    """Whether the desktop is in its dark style."""
    hints = QGuiApplication.styleHints()
    return hints is not None and bool(hints.colorScheme() == Qt.ColorScheme.Dark)


usual_text: list[float] = []
"""The size of the desktop's own text in pixels, as it was before ours was set."""


def text_scale() -> float:
    """How many times larger texts the desktop asks for, by the size of its own text."""
    return max(1.0, usual_text[-1] / _LARGEST_USUAL) if usual_text else 1.0


def text_pixels() -> float:
    """The size of the desktop's own text, in pixels; to be asked before another font is set."""
    font = QApplication.font()
    if font.pixelSize() > 0:
        return float(font.pixelSize())
    screen = QGuiApplication.primaryScreen()
    dots = screen.logicalDotsPerInchY() if screen is not None else 96.0
    return font.pointSizeF() * dots / 72


def wants_contrast() -> bool:
    """Whether more contrast was asked of the desktop."""
    hints = QGuiApplication.styleHints()
    access = hints.accessibility() if hints is not None else None
    high = Qt.ContrastPreference.HighContrast
    return access is not None and bool(access.contrastPreference() == high)


def wants_stillness() -> bool:
    """Whether less movement was asked of the desktop (the setting of the portal, where there is one)."""
    return bool(_setting(_FREEDESKTOP, "reduced-motion") == 1)


def is_still() -> bool:
    """Whether nothing may move by itself: as set, or as the desktop says."""
    chosen = preferences.kept("motion", "system")
    return chosen == "none" or (chosen == "system" and wants_stillness())


def _setting(space: str, key: str) -> Any:
    bus = _bus()
    if bus is None:
        return None
    from PyQt6.QtDBus import QDBus, QDBusMessage

    call = QDBusMessage.createMethodCall(
        "org.freedesktop.portal.Desktop",
        "/org/freedesktop/portal/desktop",
        "org.freedesktop.portal.Settings",
        "ReadOne",
    )
    call.setArguments([space, key])
    answer = bus.call(call, QDBus.CallMode.Block, _CALL_MS)
    values = answer.arguments()
    is_reply = answer.type() == QDBusMessage.MessageType.ReplyMessage
    return values[0] if is_reply and values else None


def _bus() -> Any:
    """The connection to the desktop's services; ``None`` where there is none."""
    if QGuiApplication.platformName() in ("offscreen", "minimal"):
        return None
    with contextlib.suppress(ImportError):
        from PyQt6.QtDBus import QDBusConnection

        bus = QDBusConnection.sessionBus()
        return bus if bus.isConnected() else None
    return None


class Notices(QObject):
    """Tells that something long has ended, where its window is not what is looked at.

    Attributes:
        told: what was told so far, newest last.
    """

    def __init__(self, window: QWidget) -> None:
        super().__init__(window)
        self._window = window
        self.told: list[tuple[str, str]] = []

    def tell(self, title: str, text: str) -> None:
        """Tell it, unless the window is in front of a person anyway."""
        if self._window.isActiveWindow():
            return
        self.told.append((title, text))
        QApplication.alert(self._window)
        bus = _bus()
        if bus is None:
            return
        from PyQt6.QtDBus import QDBusArgument, QDBusMessage

        call = QDBusMessage.createMethodCall(
            "org.freedesktop.Notifications",
            "/org/freedesktop/Notifications",
            "org.freedesktop.Notifications",
            "Notify",
        )
        replaces, acts = QDBusArgument(), QDBusArgument()
        replaces.add(0, cast(Any, QMetaType.Type.UInt).value)
        acts.add([], cast(Any, QMetaType.Type.QStringList).value)
        call.setArguments([t("Aptandum"), replaces, "aptandum", title, text, acts, {}, -1])
        bus.asyncCall(call)
