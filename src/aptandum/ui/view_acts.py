"""What is done from the menus on the bench, among the rulebooks and at the desk, and how things are shown."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QDesktopServices
from PyQt6.QtWidgets import QFileDialog

from aptandum.core import mistakes
from aptandum.ui import preferences
from aptandum.ui.bench.tools import Brush, Dropper
from aptandum.ui.bench.views import FITTED
from aptandum.ui.defence import log_for_clipboard
from aptandum.ui.file_acts import FileWindow
from aptandum.ui.strings import t
from aptandum.ui.window import PAGES

if TYPE_CHECKING:
    from aptandum.ui.board.page import BoardPage
    from aptandum.ui.desk.page import DeskPage
    from aptandum.ui.guide import GuideDialog
    from aptandum.ui.guided_look import GuidedLook, Step
    from aptandum.ui.rulebooks.page import RulebooksPage


class ViewWindow(FileWindow):
    """The window, as far as things are looked at and gone to."""

    _guide: GuideDialog | None = None
    _look: GuidedLook | None = None
    _looked_at: Path | None = None

    # -- finishes ------------------------------------------------------------------------------

    def open_finish(self, name: str) -> None:
        """Open the Finish station at one of its finishes."""
        if self.session.bench is None:
            return
        self.go("bench")
        self.bench.open_finish(name)

    def toggle_mask(self) -> None:
        """Hatch what lies behind the subject, or no longer."""
        if self.session.bench is not None:
            self.bench.show_view(FITTED)
            self.session.pixels.show_mask(not self.session.pixels.shows_mask)

    def brush(self, adds: bool) -> None:
        """Take the brush that adds to the subject, or the one that takes away."""
        if self.session.bench is not None:
            self.open_finish("backdrop")
            self.session.pixels.show_mask(True)
            self.session.requests.tool.emit(Brush(adds))

    def pick_keyline(self) -> None:
        """The next click on the sheet gives the keyline its colour, and a width if it has none."""

        def done(colour: str, _at: tuple[float, float]) -> None:
            bench = self.session.bench
            changes: dict[str, object] = {"finish.keyline.colour": colour}
            if bench is not None and not bench.fitting.settings.finish.keyline.width:
                changes["finish.keyline.width"] = 2
            self.session.model.set(changes, t("Colour of the keyline"))

        if self.session.bench is not None:
            self.open_finish("keyline")
            self.session.requests.tool.emit(Dropper(t("Click for: keyline colour"), done))

    def pick_clear(self) -> None:
        """Have the next click on the picture say which colour becomes clear."""
        if self.session.bench is not None:
            self.open_finish("clear")
            self.bench.pick_clear()

    # -- the screen ----------------------------------------------------------------------------

    def ask_screen(self) -> None:
        """Ask for the screen's profile."""
        path, _ = QFileDialog.getOpenFileName(
            self, t("The screen's profile"), "", t("Colour profiles (*.icc *.icm)")
        )
        if path:
            self.use_screen(path)

    def use_screen(self, path: str | None) -> None:
        """Show pictures in a screen's own profile from now on; ``None``: as sRGB."""
        try:
            found = preferences.read_profile(path) if path is not None else None
        except preferences.ProfileError as error:
            self.session.tell(str(error))
            return
        preferences.use_screen_profile(path)
        self.session.drafts.use_screen(found[1] if found is not None else None)
        name = found[0] if found is not None else "sRGB"
        self.session.tell(t("Pictures are shown for {screen}.", screen=name), "note")

    def show_changes(self) -> None:
        """What changed between the edition on the bench and the one on the shelf."""
        bench = self.session.bench
        self.go("rulebooks")
        if bench is not None:
            self.rulebooks.show_brief(f"{bench.book.body.id}/{bench.brief.id}")
        self.rulebooks.show_view("changes")

    def show_words(self) -> None:
        """The rules that are being read, beside their words."""
        self.go("rulebooks")
        self.rulebooks.show_view("words")
        self.rulebooks.words.begin()

    def use_words(self, name: str) -> None:
        """Rules in words are a brief now: with a photo it is laid on the bench, else one is asked for."""
        bench = self.session.bench
        photos = self.session.docket.photos
        if photos:
            photo = bench.fitting.photo if bench is not None else photos[-1].id
            self.session.model.start_fitting(photo, name)
            self.go("bench")
        else:
            self.show_start()
            self.start.worded(name)

    def in_rulebooks(self, act: Callable[[RulebooksPage], object]) -> None:
        """Do something among the rulebooks."""
        self.go("rulebooks")
        act(self.rulebooks)

    def find_command(self) -> None:
        """Find a command by a part of its name."""
        from aptandum.ui import finder

        finder.Finder(self.all_actions, self, self.needing.why_not).exec()

    def show_help(self) -> None:
        """Show every command with its key."""
        from aptandum.ui.help import HelpDialog

        HelpDialog(self.all_actions, self).exec()

    def show_guide(self) -> None:
        """Show the guide, at what is in view; work goes on beside it."""
        from aptandum.ui import guide

        place = PAGES[self.pages.currentIndex()]
        if place == "bench" and self.bench_stack.currentWidget() is self.start:
            place = "start"
        name = guide.IN_VIEW[place]
        if self._guide is None:
            self._guide = guide.GuideDialog(name, self)
        self._guide.open_at(name)
        self._guide.show()
        self._guide.raise_()
        self._guide.activateWindow()

    def look_round(self) -> None:
        """Go through the places with the demo, a step at a time; it can be left at each."""
        from aptandum.ui.guided_look import GuidedLook

        self.leave_look()
        if not self.open_demo():  # what is open was not left, or the demo could not be copied
            return
        self._looked_at = self.session.store.path
        self._look = GuidedLook(self._look_at)
        self._look.left.connect(self.leave_look)
        column = self.pages.parentWidget().layout()  # type: ignore[union-attr]
        column.addWidget(self._look)  # type: ignore[union-attr]
        self._look.go(0)

    def _look_at(self, step: Step) -> None:
        bench = self.session.bench
        if bench is None or self.session.store.path != self._looked_at:
            self.leave_look()  # something else was opened meanwhile: nothing is done to that
            return
        self.go(step.page)
        if step.station:
            self.bench.open_station(step.station)
        if step.makes and bench.proof is None:
            self.session.making.conform()

    def leave_look(self) -> None:
        """Go on without being led."""
        if self._look is not None:
            self._look.hide()
            self._look.deleteLater()
            self._look = None

    def open_log_folder(self) -> None:
        """Show the folder of the log in the system's own file manager."""
        folder = mistakes.log_folder()
        folder.mkdir(parents=True, exist_ok=True)
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(folder)))

    def copy_log(self) -> None:
        """Copy the end of the log, to be sent to whoever looks into it."""
        self.session.tell(log_for_clipboard(), "note")

    def on_board(self, act: Callable[[BoardPage], object]) -> None:
        """Do something on the board; from elsewhere, go there first."""
        if self.at_board():
            act(self.board)
        else:
            self.go("board")

    def on_desk(self, view: str, act: Callable[[DeskPage], object], begins: bool = False) -> None:
        """Do something at the desk, in one of its views; from elsewhere, go there first.

        Args:
            begins: it is done from elsewhere as well, once the view is shown.
        """
        here = self.is_built("desk") and self.pages.currentWidget() is self.desk
        if here and self.desk.names[view].isChecked():
            act(self.desk)
            return
        self.go("desk")
        self.desk.show_view(view)
        if begins:
            act(self.desk)
