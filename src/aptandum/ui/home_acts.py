"""The window at home on its desktop: dark or light, larger texts, full screen, what is kept until the next time, and
what is told when something long has ended."""

from __future__ import annotations

import os
import sys
import time
from typing import TYPE_CHECKING

from PyQt6.QtCore import QEvent, QProcess, Qt
from PyQt6.QtGui import QCloseEvent, QGuiApplication
from PyQt6.QtWidgets import QApplication, QDialog

from aptandum.ui import desktop, preferences, theme
from aptandum.ui.jobs import Command
from aptandum.ui.jobs.command import State
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.view_acts import ViewWindow

if TYPE_CHECKING:
    from aptandum.ui.settings_dialog import SettingsDialog

LONG_SECONDS = 10.0
"""What has taken longer is told when it ends, where another window is looked at."""
_STEP = 5
"""Hundredths by which texts become larger or smaller at a time."""


def palette_of(look: str, clear: bool) -> theme.Palette:
    """The palette for what was chosen: ``light``, ``dim``, or ``system``: as the desktop says now."""
    dim = look == "dim" or (look == "system" and desktop.is_dark())
    if clear:
        return theme.DIM_CLEAR if dim else theme.LIGHT_CLEAR
    return theme.DIM if dim else theme.LIGHT


def chosen_palette() -> theme.Palette:
    """The palette by what is kept and what the desktop says now."""
    contrast = preferences.kept("contrast", "system")
    clear = contrast == "more" or (contrast == "system" and desktop.wants_contrast())
    return palette_of(preferences.kept("look", "system"), clear)


class HomeWindow(ViewWindow):
    """The window, as far as it minds the desktop and what a person has set."""

    def __init__(self, session: Session | None = None) -> None:
        super().__init__(session)
        self.notices = desktop.Notices(self)
        self.session.jobs.ended.connect(self._ended)
        hints = QGuiApplication.styleHints()
        if hints is not None:
            hints.colorSchemeChanged.connect(self.follow_desktop)

    def changeEvent(self, event: QEvent | None) -> None:
        super().changeEvent(event)
        # Nobody says when more contrast is asked of the desktop: it is looked at whenever a person comes back.
        if event is not None and event.type() == QEvent.Type.ActivationChange:
            if self.isActiveWindow() and self.isVisible():
                self.follow_desktop()

    # -- looks ----------------------------------------------------------------------------------

    def follow_desktop(self, _what: object = None) -> None:
        """Take on what is set, or what the desktop says where that was left to it."""
        wanted = chosen_palette()
        if wanted is not theme.palette():
            theme.use(wanted)
            self.restyle()

    def toggle_dim(self) -> None:
        """Change between daylight and a dim room; kept for the next time."""
        dims = theme.palette() in (theme.DIM, theme.DIM_CLEAR)
        preferences.keep(look="light" if dims else "dim")
        self.follow_desktop()

    def step_text(self, steps: int) -> None:
        """Make texts larger or smaller by steps of five hundredths; 0: as large as usual."""
        now = round(theme.scale() * 100)
        self.set_text(now + steps * _STEP if steps else 0)

    def set_text(self, percent: int) -> None:
        """Make texts so many hundredths as large as usual; 0: as the desktop says."""
        asked = percent / 100 if percent else desktop.text_scale()
        changed = theme.use_scale(asked)
        preferences.keep(text=round(theme.scale() * 100) if percent else 0)
        if changed:
            self.restyle()
        self.session.tell(
            t("Texts are {n} % as large as usual.", n=round(theme.scale() * 100)), "note"
        )

    def toggle_menu_bar(self) -> None:
        """Hide the bar of menus, or show it; Alt+M opens the menus either way."""
        bar = self.menuBar()
        assert bar is not None
        shown = not bar.isVisible()
        bar.setVisible(shown)
        preferences.keep(menu_bar=shown)
        if not shown:
            self.session.tell(
                t("The menu bar is hidden. F9 shows it again; Alt+M opens the menus."), "note"
            )

    def toggle_full_screen(self) -> None:
        """Fill the screen, or no longer."""
        self.setWindowState(self.windowState() ^ Qt.WindowState.WindowFullScreen)

    def ask_settings(self) -> None:
        """Ask for what is set on this machine, and take it on."""
        dialog = self.settings_dialog()
        if dialog.exec() == QDialog.DialogCode.Accepted:
            dialog.keep()
            self.take_settings()

    def settings_dialog(self) -> SettingsDialog:
        """What can be set on this machine."""
        from aptandum.ui import settings_dialog

        dialog = settings_dialog.SettingsDialog(self)
        dialog.bounds_asked.connect(self.ask_bounds)
        dialog.screen_asked.connect(self.ask_screen)
        dialog.ruler_asked.connect(self.ask_ruler)
        return dialog

    def take_settings(self) -> None:
        """Take on what is kept."""
        bar = self.menuBar()
        assert bar is not None
        bar.setVisible(preferences.kept("menu_bar", True))
        percent = preferences.kept("text", 0)
        larger = theme.use_scale(percent / 100 if percent else desktop.text_scale())
        wanted = chosen_palette()
        if larger or wanted is not theme.palette():
            theme.use(wanted)
            self.restyle()

    # -- other windows --------------------------------------------------------------------------

    def new_window(self) -> None:
        """Open another window, with a docket of its own."""
        QProcess.startDetached(sys.executable, ["-m", "aptandum"], os.getcwd())

    def _ended(self, command: Command[object]) -> None:
        """A command has ended: where it took long and another window is looked at, that is told."""
        long = command.began and time.monotonic() - command.began >= LONG_SECONDS
        if long and command.state is not State.CANCELLED:
            self.notices.tell(command.words.rstrip(" …."), command.outcome or t("It has ended."))

    def closeEvent(self, event: QCloseEvent | None) -> None:
        super().closeEvent(event)
        if event is not None and event.isAccepted():
            self.keep_place()


def dress() -> None:
    """Take on what a person has set, before there is a window."""
    desktop.usual_text.append(desktop.text_pixels())
    percent = preferences.kept("text", 0)
    theme.use_scale(percent / 100 if percent else desktop.text_scale())
    theme.use(chosen_palette())
    QApplication.setPalette(theme.qt_palette())
