"""The window: header with the four pages, messages, and the actions with their keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PyQt6.QtCore import QUrl
from PyQt6.QtGui import (
    QAction,
    QDesktopServices,
    QKeySequence,
)
from PyQt6.QtWidgets import (
    QApplication,
    QFileDialog,
    QMenu,
)

from aptandum.core import mistakes
from aptandum.core.fitting.finish import FINISHES
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT
from aptandum.ui import preferences
from aptandum.ui.bench.bench import PLACE
from aptandum.ui.bench.cards.finish import FinishCard
from aptandum.ui.bench.cards.finishes import ClearPart
from aptandum.ui.bench.sheet import FITTED, SIDES, SUPPLIED
from aptandum.ui.bench.stations import KEYS, STATIONS, title
from aptandum.ui.bench.tools import Brush, Dropper
from aptandum.ui.defence import log_for_clipboard
from aptandum.ui.file_acts import FileWindow
from aptandum.ui.finder import Finder
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.window import PAGES, page_name


class Shell(FileWindow):
    """The main window."""

    # -- laying out ---------------------------------------------------------------------------

    def __init__(self, session: Session | None = None) -> None:
        super().__init__(session)
        self.all_actions: list[QAction] = []
        self._make_actions()
        s = self.session
        s.store.changed.connect(self._changed)
        s.store.filed.connect(self._changed)
        s.model.opened.connect(self._opened)
        s.said.connect(self.message.say)
        s.making.doubted.connect(self.ask_damaged)
        self.bench.write_asked.connect(self.ask_write)
        self.bench.linked.write_asked.connect(self.ask_write_linked)
        self.bench.in_place.ruler_asked.connect(self.ask_ruler)
        s.requests.copy.connect(self.copy_file)
        self.board.photos_asked.connect(self.ask_photo)
        self.board.folder_asked.connect(self.ask_folder)
        self.board.bench_asked.connect(self.open_fitting)
        self.board.carry_asked.connect(self.ask_carry)
        s.requests.folder.connect(self.open_folder)
        s.requests.report.connect(self.ask_report)
        s.requests.hand_over.connect(self.hand_over)
        self.board.hand_asked.connect(self.handing.prepare)
        self.desk.handed.hand_asked.connect(self.hand_all)
        self.desk.handed.report_asked.connect(self.ask_docket_report)
        self.desk.bench_asked.connect(self.open_fitting)
        self.handing.prepared.connect(self.ask_send)
        self.start.photo_asked.connect(self.ask_photo)
        self.start.docket_asked.connect(self.ask_docket)
        self.start.demo_asked.connect(self.open_demo)
        self.start.recent_asked.connect(self.open_recent)
        self.start.source_asked.connect(self.ask_source)
        self.start.words.full_asked.connect(self.show_words)
        self.rulebooks.words.source_asked.connect(self.ask_source)
        self.rulebooks.words.used.connect(self.use_words)
        self.start.rulebook_asked.connect(self.rulebooks.ask_read)
        self.start.chosen.connect(lambda _name: self._begin())
        s.dockets.may_show = self.may_show
        s.library.changed.connect(self.start.fill)
        s.library.changed.connect(self.bench.refresh)
        self.bench.ledger.edition_asked.connect(self.show_changes)
        s.library.changed.connect(self._tell_editions)
        self.rulebooks.photo_opened.connect(s.model.start_fitting)
        self.rulebooks.fitting_opened.connect(s.model.lay)
        self.start.show_state()
        self.go("bench")
        self._changed()

    # -- actions --------------------------------------------------------------------------------

    def _action(
        self, menu: QMenu, text: str, key: str, act: Callable[[], object], plain: bool = False
    ) -> QAction:
        """``plain`` keys are single letters: they rest while a text is being typed."""
        made = QAction(text, self)
        if key:
            made.setShortcut(QKeySequence(key))
        made.triggered.connect(lambda _on=False: act())
        made.setProperty("plain", plain)
        self.addAction(made)
        menu.addAction(made)
        self.all_actions.append(made)
        return made

    def _make_actions(self) -> None:
        """Every action with its key and its place in the menu."""
        self._docket_menu()
        self._board_menu()
        self._change_menu()
        self._fitting_menu()
        self._finish_menu()
        self._rulebook_menu()
        self._desk_menu()
        self._view_menu()
        self._places_menu()
        self._help_menu()
        opener = QAction(self)
        opener.setShortcut(QKeySequence("Alt+M"))
        opener.triggered.connect(self.open_menu)
        self.addAction(opener)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._rest_letters)

    def _docket_menu(self) -> None:
        file = self._menu(t("Docket"))
        self._action(file, t("Open photos…"), "Ctrl+O", self.ask_photo)
        self._action(file, t("Choose a brief…"), "Ctrl+B", self.show_start)
        self._action(file, t("Find a photo…"), "Ctrl+Shift+P", self.ask_missing)
        self._action(file, t("Open docket…"), "Ctrl+Shift+O", self.ask_docket)
        self._action(file, t("Save docket"), "Ctrl+S", self.save)
        self._action(file, t("Open the demo docket"), "", self.open_demo)
        self._action(file, t("New docket"), "Ctrl+N", self.new_docket)
        self._action(file, t("Quit"), "Ctrl+Q", self.close)

    def _board_menu(self) -> None:
        o = self.board
        board = self._menu(t("Board"))
        self._action(board, t("Add a folder…"), "Ctrl+Shift+D", self.ask_folder)
        self._action(
            board, t("Add a folder without those inside it…"), "Ctrl+Alt+D", self.ask_folder_alone
        )
        self._action(board, t("Add the photos on the clipboard"), "Ctrl+V", self.paste)
        for text, key, act in (
            (t("Add a brief across…"), "Ctrl+Alt+B", o.ask_brief),
            (t("Start the chosen fittings"), "Ctrl+Alt+S", o.start_chosen),
            (t("Copy this fitting to the chosen"), "Ctrl+Alt+C", o.copy_chosen),
            (t("Clear the chosen fittings"), "Ctrl+Alt+X", o.clear_chosen),
            (t("Carry this frame to others…"), "Ctrl+Alt+F", o.carry_chosen),
            (t("Choose every fitting"), "Ctrl+Alt+A", o.grid.choose_all),
            (t("Sort by most missed, or as they came"), "Ctrl+Alt+W", o.sort.click),
            (t("Conform all or the chosen…"), "Ctrl+Alt+Return", o.ask_conform),
            (t("Hand over the chosen…"), "Ctrl+Alt+U", o.hand_chosen),
        ):
            self._action(board, text, key, partial(self.on_board, act))

    def _change_menu(self) -> None:
        edit = self._menu(t("Change"))
        self.undo = self._action(edit, t("Undo"), "Ctrl+Z", self.session.store.undo)
        self.redo = self._action(edit, t("Redo"), "Ctrl+Shift+Z", self.session.store.redo)

    def _fitting_menu(self) -> None:
        b = self.bench
        fit = self._menu(t("Fitting"))
        self._action(fit, t("Conform to brief"), "Ctrl+Return", self.conform)
        self._action(fit, t("Write file…"), "Ctrl+Shift+W", self.ask_write)
        self._action(fit, t("Answer: it is so"), "Ctrl+Shift+J", partial(self.answer, True))
        self._action(fit, t("Answer: it is not so"), "Ctrl+Shift+K", partial(self.answer, False))
        self._action(fit, t("Copy file"), "Ctrl+Shift+C", self.copy_file)
        self._action(fit, t("Open its folder"), "Ctrl+Shift+L", self.open_folder)
        self._action(fit, t("Conformity report…"), "Ctrl+Shift+T", self.ask_report)
        self._action(fit, t("Report on the whole docket…"), "Ctrl+Shift+G", self.ask_docket_report)
        self._action(fit, t("Next fitting"), "Ctrl+PgDown", lambda: self.next_fitting(1))
        self._action(fit, t("Fitting before"), "Ctrl+PgUp", lambda: self.next_fitting(-1))
        self._action(fit, t("Carry the frame…"), "Ctrl+Shift+F", self.ask_carry)
        all_briefs = t("Fit to all briefs of this body")
        self._action(fit, all_briefs, "Ctrl+Shift+B", self.session.linking.fit_all)
        self._action(fit, t("Frame it by itself"), "", self.session.linking.part)
        for text, key, code in (
            (t("Turn the photo to the right"), "T", RIGHT),
            (t("Turn the photo to the left"), "Shift+T", LEFT),
            (t("Mirror the photo"), "Y", MIRROR),
        ):
            self._action(fit, text, key, partial(self.session.marking.turn_photo, code), plain=True)
        self._action(fit, t("Level the eyes"), "L", self.session.marking.level_eyes, plain=True)
        self._action(fit, t("The other way up"), "U", self.session.marking.other_way_up, plain=True)
        self._action(
            fit, t("Frame from marks"), "M", self.session.marking.frame_from_marks, plain=True
        )
        for name in STATIONS:
            self._action(
                fit,
                t("Station {name}", name=title(name)),
                KEYS[name],
                partial(b.open_station, name),
                plain=True,
            )

    def _finish_menu(self) -> None:
        finishes = self._menu(t("Finish"))
        for i, finish in enumerate(FINISHES):
            self._action(
                finishes,
                t("Open {name}", name=finish.title.lower()),
                f"Alt+{i + 1}",
                partial(self.open_finish, finish.name),
            )
        for text, key, act in (
            (t("Hatch what is behind the subject"), "H", self.toggle_mask),
            (t("Brush in, to the subject"), "J", partial(self.brush, True)),
            (t("Brush out, to the backdrop"), "Shift+J", partial(self.brush, False)),
            (t("Keyline colour from the picture"), "K", self.pick_keyline),
            (t("Clear by a colour of the picture"), "E", self.pick_clear),
        ):
            self._action(finishes, text, key, act, plain=True)
        self._action(
            finishes, t("Mask as found"), "Ctrl+Shift+M", self.session.marking.clear_strokes
        )

    def _rulebook_menu(self) -> None:
        r = self.rulebooks
        rules = self._menu(t("Rulebook"))
        for text, key, act in (
            (t("Read a rulebook…"), "Ctrl+Shift+R", r.ask_read),
            (t("New rulebook"), "Ctrl+Shift+N", r.new),
            (t("Change this rulebook"), "Ctrl+E", r.change),
            (t("Save rulebook…"), "Ctrl+Shift+E", r.save),
            (t("Add a clause"), "Ctrl+Shift+A", r.add_clause),
            (t("Clauses and sizes"), "Ctrl+Shift+1", lambda: r.show_view("read")),
            (t("Rules in words"), "Ctrl+Shift+4", lambda: r.show_view("words")),
            (t("What changed"), "Ctrl+Shift+2", lambda: r.show_view("changes")),
            (t("Compare two rulebook files…"), "Ctrl+Shift+3", r.ask_compare),
        ):
            self._action(rules, text, key, partial(self._in_rulebooks, act))

    def _desk_menu(self) -> None:
        k = self.desk
        desk = self._menu(t("Desk"))
        self._action(desk, t("Hand over this file…"), "Ctrl+Alt+H", self.hand_over)
        self._action(desk, t("Hand over every fitting…"), "Ctrl+Shift+H", self.hand_all)
        for text, key, part, act in (
            (t("Ask for another look"), "Ctrl+Alt+K", "handed", k.handed.ask_again),
            (t("Retire the chosen"), "Ctrl+Alt+R", "handed", k.handed.retire),
            (t("Try now"), "Ctrl+Alt+J", "handed", self.handing.try_now),
            (t("Take them into this docket"), "Ctrl+Alt+T", "handed", self.handing.take_orphans),
            (t("Copy the receipt"), "Ctrl+Alt+Y", "handed", k.handed.slip.copy_receipt),
            (t("How the desks behave…"), "Ctrl+Alt+G", "handed", k.handed.open_moods),
            (t("Audit a folder…"), "Ctrl+Alt+O", "audit", k.audit.ask_folder),
            (t("Audit a listing…"), "Ctrl+Alt+I", "audit", k.audit.ask_listing),
            (t("Check again"), "Ctrl+Alt+E", "audit", k.audit.start),
            (
                t("Look at another picture in its place…"),
                "Ctrl+Alt+P",
                "audit",
                k.audit.ask_replace,
            ),
            (t("Make one that meets, on the bench"), "Ctrl+Alt+N", "audit", k.audit.to_bench),
            (t("Export the list…"), "Ctrl+Alt+V", "audit", k.audit.ask_export),
        ):
            self._action(desk, text, key, partial(self.on_desk, part, act))

    def _view_menu(self) -> None:
        b = self.bench
        view = self._menu(t("View"))
        for text, key, act in (
            (t("As supplied"), "A", lambda: b.show_view(SUPPLIED)),
            (t("Fitted"), "D", lambda: b.show_view(FITTED)),
            (t("Side by side"), "V", lambda: b.show_view(SIDES)),
            (t("Dots"), "O", b.show_dots),
            (t("In place"), "Q", lambda: b.show_view(PLACE)),
            (t("Next place"), "Shift+Q", b.next_place),
            (t("Before and after encoding"), "Z", b.show_loss),
            (t("Colours outside the space"), "X", b.toggle_outside),
            (t("Two to one"), "2", lambda: b.sheet.times(2.0)),
            (t("Print size"), "I", b.sheet.print_size),
            (t("Whole photo"), "W", b.whole),
            (t("Whole frame"), "R", b.sheet.fit_frame),
            (t("One to one"), "1", b.sheet.one_to_one),
            (t("Next surround tone"), "G", b.next_tone),
        ):
            self._action(view, text, key, act, plain=True)
        self._action(view, t("Dim room"), "Ctrl+D", self.toggle_dim)
        self._action(view, t("The screen's profile…"), "Ctrl+Shift+Y", self.ask_screen)
        self._action(view, t("Size on this screen…"), "Ctrl+Shift+I", self.ask_ruler)
        self._action(view, t("Show as sRGB"), "Ctrl+Shift+U", lambda: self.use_screen(None))
        self._action(view, t("Bounds for one photo…"), "Ctrl+Shift+X", self.ask_bounds)

    def _places_menu(self) -> None:
        pages = self._menu(t("Places"))
        for i, name in enumerate(PAGES):
            self._action(pages, page_name(name), f"Ctrl+{i + 1}", partial(self.go, name))
        self._action(pages, t("Find a command"), "Ctrl+K", self.find_command)

    def _help_menu(self) -> None:
        help_ = self._menu(t("Help"))
        self._action(help_, t("Keys and measures"), "F1", self.show_help)
        self._action(help_, t("Open the log’s folder"), "Ctrl+Shift+F1", self.open_log_folder)
        self._action(help_, t("Copy the end of the log"), "Ctrl+F1", self.copy_log)

    def _menu(self, name: str) -> QMenu:
        made = QMenu(name, self.menu)
        self.menu.addMenu(made)
        return made

    # -- finishes ------------------------------------------------------------------------------

    def open_finish(self, name: str) -> None:
        """Open the Finish station at one of its finishes."""
        if self.session.bench is None:
            return
        self.go("bench")
        self.bench.open_station("finish")
        card = self.bench.cards["finish"]
        if isinstance(card, FinishCard):
            card.open(name)

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
        card = self.bench.cards["finish"]
        if self.session.bench is not None and isinstance(card, FinishCard):
            self.open_finish("clear")
            part = card.parts["clear"]
            if isinstance(part, ClearPart):
                part.colour.drop()

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

    def _in_rulebooks(self, act: Callable[[], object]) -> None:
        self.go("rulebooks")
        act()

    def find_command(self) -> None:
        """Find a command by a part of its name."""
        Finder(self.all_actions, self).exec()

    def show_help(self) -> None:
        """Show every command with its key."""
        from aptandum.ui.help import HelpDialog

        HelpDialog(self.all_actions, self).exec()

    def open_log_folder(self) -> None:
        """Show the folder of the log in the system's own file manager."""
        folder = mistakes.log_folder()
        folder.mkdir(parents=True, exist_ok=True)
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(folder)))

    def copy_log(self) -> None:
        """Copy the end of the log, to be sent to whoever looks into it."""
        self.session.tell(log_for_clipboard(), "note")

    # -- the disk ------------------------------------------------------------------------------

    # -- places ------------------------------------------------------------------------------

    # -- photos and dockets ---------------------------------------------------------------------

    def on_board(self, act: Callable[[], object]) -> None:
        """Do something on the board; from elsewhere, go there first."""
        if self.pages.currentWidget() is self.board:
            act()
        else:
            self.go("board")

    def on_desk(self, view: str, act: Callable[[], object]) -> None:
        """Do something at the desk, in one of its views; from elsewhere, go there first."""
        here = self.pages.currentWidget() is self.desk
        if here and self.desk.names[view].isChecked():
            act()
            return
        self.go("desk")
        self.desk.show_view(view)
        if act in (self.desk.audit.ask_folder, self.desk.audit.ask_listing):
            act()

    # -- one frame for many -------------------------------------------------------------------

    # -- writing ------------------------------------------------------------------------------

    # -- drops ------------------------------------------------------------------------------
