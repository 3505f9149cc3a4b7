"""The window: header with the four pages, messages, and the actions with their keys."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import TYPE_CHECKING, cast

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QApplication, QMenu, QWidget

from aptandum.core.docket.recovery import recent
from aptandum.core.fitting.finish import FINISHES
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT
from aptandum.ui import menus, preferences, theme
from aptandum.ui.bench.stations import KEYS, STATIONS, title
from aptandum.ui.bench.views import FITTED, PLACE, SIDES, SUPPLIED
from aptandum.ui.home_acts import HomeWindow
from aptandum.ui.reasons import reasons
from aptandum.ui.session import Session
from aptandum.ui.strings import t
from aptandum.ui.window import PAGES, page_name

if TYPE_CHECKING:
    from aptandum.core.docket.batch import Outcome
    from aptandum.ui.bench.bench import BenchPage
    from aptandum.ui.board.page import BoardPage
    from aptandum.ui.desk.hand_overs import HandOvers
    from aptandum.ui.desk.page import DeskPage
    from aptandum.ui.rulebooks.page import RulebooksPage


class Shell(HomeWindow):
    """The main window."""

    # -- laying out ---------------------------------------------------------------------------

    def __init__(self, session: Session | None = None) -> None:
        super().__init__(session)
        self.by_key: dict[str, QAction] = {}
        self._make_actions()
        s = self.session
        s.store.changed.connect(self._changed)
        s.store.filed.connect(self._changed)
        s.model.opened.connect(self._opened)
        s.said.connect(self.message.say)
        s.requests.doubted.connect(self.ask_damaged)
        s.requests.outcome.connect(self._outcome)
        s.requests.copy.connect(self.copy_file)
        s.requests.folder.connect(self.open_folder)
        s.requests.report.connect(self.ask_report)
        s.requests.hand_over.connect(self.hand_over)
        self.start.photo_asked.connect(self.ask_photo)
        self.start.blank_asked.connect(self.ask_blank)
        self.start.docket_asked.connect(self.ask_docket)
        self.start.demo_asked.connect(self.open_demo)
        self.start.guide_asked.connect(self.show_guide)
        self.start.offer.taken.connect(self.look_round)
        self.start.recent_asked.connect(self.open_recent)
        self.start.source_asked.connect(self.ask_source)
        self.start.words.full_asked.connect(self.show_words)
        self.start.rulebook_asked.connect(lambda: self.rulebooks.ask_read())
        self.start.chosen.connect(lambda _name: self._begin())
        s.dockets.may_show = self.may_show
        s.library.changed.connect(self.start.fill)
        s.library.changed.connect(self._tell_editions)
        self.start.show_state()
        self.go("bench")
        self._changed()

    def _wire(self, name: str, page: QWidget) -> None:
        if name == "bench":
            bench = cast("BenchPage", page)
            bench.write_asked.connect(self.ask_write)
            bench.linked.write_asked.connect(self.ask_write_linked)
            bench.in_place.ruler_asked.connect(self.ask_ruler)
            bench.ledger.edition_asked.connect(self.show_changes)
            self.session.library.changed.connect(bench.refresh)
            self._offer(bench.sheet, menus.SHEET)
        elif name == "board":
            board = cast("BoardPage", page)
            board.photos_asked.connect(self.ask_photo)
            board.blank_asked.connect(self.ask_blank)
            board.folder_asked.connect(self.ask_folder)
            board.bench_asked.connect(self.open_fitting)
            board.carry_asked.connect(self.ask_carry)
            board.hand_asked.connect(self.handing.prepare)
            self._offer(board.grid, menus.BOARD)
        elif name == "desk":
            desk = cast("DeskPage", page)
            desk.handed.hand_asked.connect(self.hand_all)
            desk.handed.report_asked.connect(self.ask_docket_report)
            desk.bench_asked.connect(self.open_fitting)
            self._offer(desk.handed.list, menus.HANDED)
            self._offer(desk.audit.list, menus.AUDITED)
        else:
            rules = cast("RulebooksPage", page)
            rules.words.source_asked.connect(self.ask_source)
            rules.words.used.connect(self.use_words)
            rules.photo_opened.connect(self.session.model.start_fitting)
            rules.fitting_opened.connect(self.session.model.lay)
            self._offer(rules.shelf, menus.SHELF)

    def _wire_handing(self, handing: HandOvers) -> None:
        handing.prepared.connect(self.ask_send)

    def _outcome(self, outcome: Outcome) -> None:
        """What a batch has made is held by the board, also where it was not gone to yet."""
        if not self.is_built("board"):
            self.board.take_outcome(outcome)

    # -- actions --------------------------------------------------------------------------------

    def _action(
        self,
        menu: QMenu,
        text: str,
        key: str | tuple[str, ...],
        act: Callable[[], object],
        plain: bool = False,
        needs: str = "",
        icon: str = "",
    ) -> QAction:
        """Add an entry to a menu.

        Args:
            key: one, or several that do the same; empty: none.
            plain: a key that is a single letter: it rests while a text is being typed.
            needs: what has to be there (:meth:`reasons`); empty: it can always be done.
        """
        made = QAction(text, self)
        keys = (key,) if isinstance(key, str) else key
        made.setShortcuts([QKeySequence(one) for one in keys if one])
        made.triggered.connect(lambda _on=False: act())
        made.setProperty("plain", plain)
        if icon:
            made.setProperty("drawing", icon)
            made.setIcon(theme.icon(icon, "ink2"))
        if needs:
            self.needing.add(made, needs)
        self.addAction(made)
        menu.addAction(made)
        self.all_actions.append(made)
        if plain:
            self.plain_actions.append(made)
        self.by_key[keys[0]] = made
        return made

    def _menu(self, name: str) -> QMenu:
        made = menus.menu(name, self)
        made.aboutToShow.connect(self.look_again)
        self.menu.addMenu(made)
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
        tops = self.menu.actions()
        menus.letter(tops)
        bar = self.menuBar()
        assert bar is not None
        bar.addActions(tops)
        bar.setVisible(preferences.kept("menu_bar", True))
        for top in tops:
            inner = top.menu()
            if inner is not None:
                menus.letter(inner.actions())
        opener = QAction(self)
        opener.setShortcut(QKeySequence("Alt+M"))
        opener.triggered.connect(self.open_menu)
        self.addAction(opener)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._rest_letters)
        self.session.model.changed.connect(self.look_again)
        self.session.model.opened.connect(self.look_again)

    def _offer(self, part: QWidget, keys: tuple[str, ...]) -> None:
        menus.offer(part, keys, self.by_key, self.look_again)

    def look_again(self) -> None:
        """Grey what cannot be done now."""
        self.needing.look(reasons(self.session))
        self._rest_letters()

    def _changed(self, change: object = None) -> None:
        super()._changed(change)
        self.look_again()

    def restyle(self) -> None:
        """Take on the palette and the size of texts that are in use now, drawings of the menus too."""
        super().restyle()
        for action in self.all_actions:
            drawing = action.property("drawing")
            if drawing:
                action.setIcon(theme.icon(drawing, "ink2"))

    def _docket_menu(self) -> None:
        file = self._menu(t("Docket"))
        add = partial(self._action, file)
        add(t("Open photos…"), "Ctrl+O", self.ask_photo, icon="image-plus")
        add(t("Start with a blank sheet…"), "Ctrl+L", self.ask_blank)
        add(t("Choose a brief…"), "Ctrl+B", self.show_start)
        add(t("Find a photo…"), "Ctrl+Shift+P", self.ask_missing, needs="photos", icon="search")
        add(t("Watch a folder…"), "Ctrl+J, W", self.watch_folder)
        file.addSeparator()
        add(t("New docket"), "Ctrl+N", self.new_docket)
        add(t("New window"), "Ctrl+M", self.new_window)
        add(t("Open docket…"), "Ctrl+Shift+O", self.ask_docket, icon="folder-open")
        self.recent = menus.menu(t("Recent dockets"), self)
        self.recent.aboutToShow.connect(self.fill_recent)
        file.addMenu(self.recent)
        add(t("Open a copy of the demo docket"), "", self.open_demo)
        file.addSeparator()
        add(t("Save docket"), "Ctrl+S", self.save, icon="download")
        add(t("Save docket as…"), "Ctrl+Shift+S", self.save_as)
        add(t("Close docket"), "Ctrl+W", self.close_docket, needs="docket")
        file.addSeparator()
        add(t("Settings…"), "Ctrl+,", self.ask_settings, icon="settings")
        add(t("Quit"), "Ctrl+Q", self.close)

    def fill_recent(self) -> None:
        """List the dockets that were open last."""
        self.recent.clear()
        for path in recent():
            made = self.recent.addAction(path.stem)
            assert made is not None
            made.setToolTip(str(path))
            made.triggered.connect(lambda _on=False, path=path: self.open_recent(str(path)))
        if self.recent.isEmpty():
            none = self.recent.addAction(t("No docket was open before"))
            assert none is not None
            none.setEnabled(False)
        menus.letter(self.recent.actions())

    def _board_menu(self) -> None:
        board = self._menu(t("Board"))
        self._action(board, t("Add a folder…"), "Ctrl+Shift+D", self.ask_folder)
        self._action(
            board, t("Add a folder without those inside it…"), "Ctrl+G, D", self.ask_folder_alone
        )
        self._action(board, t("Add what is on the clipboard"), "Ctrl+V", self.paste)
        for text, key, act, needs in (
            (t("Add a brief across…"), "B", lambda o: o.ask_brief(), "photos"),
            ("", "", None, ""),
            (t("Select all"), "A", lambda o: o.grid.choose_all(), "fittings"),
            (t("Start selected fittings"), "S", lambda o: o.start_chosen(), "photos"),
            (
                t("Copy this fitting to the selected cells"),
                "C",
                lambda o: o.copy_chosen(),
                "fittings",
            ),
            (t("Copy this frame to…"), "F", lambda o: o.carry_chosen(), "fittings"),
            (t("Remove selected fittings"), "X", lambda o: o.clear_chosen(), "fittings"),
            ("", "", None, ""),
            (t("Sort by most missed, or as they came"), "W", lambda o: o.sort.click(), "photos"),
            (t("Conform selected (else: all)…"), "Return", lambda o: o.ask_conform(), "fittings"),
            (t("Hand over selected…"), "U", lambda o: o.hand_chosen(), "hand_all"),
        ):
            if act is None:
                board.addSeparator()
            else:
                self._action(
                    board, text, f"Ctrl+G, {key}", partial(self.on_board, act), needs=needs
                )

    def _change_menu(self) -> None:
        edit = self._menu(t("Edit"))
        store = self.session.store
        self.undo = self._action(edit, t("Undo"), "Ctrl+Z", store.undo, needs="undo", icon="undo-2")
        self.redo = self._action(
            edit, t("Redo"), ("Ctrl+Shift+Z", "Ctrl+Y"), store.redo, needs="redo", icon="redo-2"
        )

    def _fitting_menu(self) -> None:
        fit = self._menu(t("Fitting"))
        add = partial(self._action, fit)
        add(t("Conform to brief"), "Ctrl+Return", self.conform, icon="file-check")
        add(t("Write file…"), "Ctrl+Shift+W", self.ask_write, needs="bench", icon="file-output")
        add(t("Open the file in another program"), "Ctrl+I", self.open_elsewhere, needs="written")
        add(t("Open its folder"), "Ctrl+Shift+L", self.open_folder, needs="written")
        add(t("Copy file"), "Ctrl+Shift+C", self.copy_file, needs="proof")
        add(t("Sheet of prints…"), "Ctrl+P", self.ask_prints, needs="proof")
        add(t("Conformity report…"), "Ctrl+Shift+T", self.ask_report, needs="report")
        add(
            t("Report on the whole docket…"),
            "Ctrl+Shift+G",
            self.ask_docket_report,
            needs="report_all",
        )
        fit.addSeparator()
        add(t("Answer: it is so"), "Ctrl+Shift+J", partial(self.answer, True), needs="bench")
        add(t("Answer: it is not so"), "Ctrl+Shift+K", partial(self.answer, False), needs="bench")
        fit.addSeparator()
        add(t("Next fitting"), "Ctrl+PgDown", lambda: self.next_fitting(1), needs="next")
        add(t("Previous fitting"), "Ctrl+PgUp", lambda: self.next_fitting(-1), needs="next")
        add(t("Copy the frame to…"), "Ctrl+Shift+F", self.ask_carry, needs="others")
        all_briefs = t("Fit to all briefs of this body")
        s = self.session  # its parts are made when they are asked for
        add(all_briefs, "Ctrl+Shift+B", lambda: s.linking.fit_all(), needs="bench")
        add(t("Frame it by itself"), "", lambda: s.linking.part(), needs="bench")
        fit.addSeparator()
        for text, key, code, icon in (
            (t("Turn the photo to the right"), "T", RIGHT, "rotate-cw"),
            (t("Turn the photo to the left"), "Shift+T", LEFT, "rotate-ccw"),
            (t("Mirror the photo"), "Y", MIRROR, ""),
        ):
            turn = partial(lambda code: s.marking.turn_photo(code), code)
            add(text, key, turn, plain=True, needs="bench", icon=icon)
        add(t("Level the eyes"), "L", lambda: s.marking.level_eyes(), plain=True, needs="bench")
        add(
            t("Turn the frame upright or landscape"),
            "U",
            lambda: s.marking.other_way_up(),
            plain=True,
            needs="bench",
        )
        add(
            t("Frame from marks"),
            "M",
            lambda: s.marking.frame_from_marks(),
            plain=True,
            needs="bench",
        )
        fit.addSeparator()
        for name in STATIONS:
            station = t("Station {name}", name=title(name))
            opened = partial(self._open_station, name)
            add(station, KEYS[name], opened, plain=True, needs="bench")

    def _open_station(self, name: str) -> None:
        self.bench.open_station(name)

    def _on_bench(self, act: Callable[[BenchPage], object]) -> None:
        act(self.bench)

    def _finish_menu(self) -> None:
        finishes = self._menu(t("Finish"))
        for i, finish in enumerate(FINISHES):
            self._action(
                finishes,
                t("Open {name}", name=finish.title.lower()),
                f"Alt+{i + 1}",
                partial(self.open_finish, finish.name),
                needs="bench",
            )
        finishes.addSeparator()
        for text, key, act in (
            (t("Show the backdrop as hatching"), "H", self.toggle_mask),
            (t("Add to the subject"), "J", partial(self.brush, True)),
            (t("Remove from the subject"), "Shift+J", partial(self.brush, False)),
            (t("Keyline colour from the picture"), "K", self.pick_keyline),
            (t("Make a colour of the picture transparent"), "E", self.pick_clear),
        ):
            self._action(finishes, text, key, act, plain=True, needs="bench")
        self._action(
            finishes,
            t("Reset the mask"),
            "Ctrl+Shift+M",
            lambda: self.session.marking.clear_strokes(),
            needs="bench",
        )

    def _rulebook_menu(self) -> None:
        rules = self._menu(t("Rulebook"))
        for text, key, act in (
            (t("Open a rulebook…"), "Ctrl+Shift+R", lambda r: r.ask_read()),
            (t("New rulebook"), "Ctrl+Shift+N", lambda r: r.new()),
            (t("Change this rulebook"), "Ctrl+E", lambda r: r.change()),
            (t("Save rulebook…"), "Ctrl+Shift+E", lambda r: r.save()),
            (t("Add a clause"), "Ctrl+Shift+A", lambda r: r.add_clause()),
            ("", "", None),
            (t("Clauses and sizes"), "Ctrl+Shift+1", lambda r: r.show_view("read")),
            (t("Rules in words"), "Ctrl+Shift+4", lambda r: r.show_view("words")),
            (t("What changed"), "Ctrl+Shift+2", lambda r: r.show_view("changes")),
            (t("Compare two rulebook files…"), "Ctrl+Shift+3", lambda r: r.ask_compare()),
        ):
            if act is None:
                rules.addSeparator()
            else:
                self._action(rules, text, key, partial(self.in_rulebooks, act))

    def _desk_menu(self) -> None:
        desk = self._menu(t("Desk"))
        self._action(desk, t("Hand over this file…"), "Ctrl+J, H", self.hand_over, needs="hand")
        self._action(
            desk, t("Hand over every fitting…"), "Ctrl+Shift+H", self.hand_all, needs="hand_all"
        )
        desk.addSeparator()
        for text, key, view, act, needs in (
            (t("Ask for a new review"), "K", "handed", lambda d: d.handed.ask_again(), "handed"),
            (t("Retire selected"), "R", "handed", lambda d: d.handed.retire(), "handed"),
            (
                t("Copy the receipt"),
                "Y",
                "handed",
                lambda d: d.handed.slip.copy_receipt(),
                "handed",
            ),
            (t("Try now"), "J", "handed", lambda _d: self.handing.try_now(), ""),
            (
                t("Take them into this docket"),
                "T",
                "handed",
                lambda _d: self.handing.take_orphans(),
                "",
            ),
            (t("Simulated desks…"), "G", "handed", lambda d: d.handed.open_moods(), ""),
            ("", "", "", None, ""),
            (t("Audit a folder…"), "O", "audit", lambda d: d.audit.ask_folder(), "begins"),
            (t("Audit a listing…"), "I", "audit", lambda d: d.audit.ask_listing(), "begins"),
            (t("Check again"), "E", "audit", lambda d: d.audit.start(), ""),
            (t("Check a replacement…"), "P", "audit", lambda d: d.audit.ask_replace(), ""),
            (t("Replace from a folder…"), "B", "audit", lambda d: d.audit.ask_replace_many(), ""),
            (t("Fix on the bench"), "N", "audit", lambda d: d.audit.to_bench(), ""),
            (t("Export the list…"), "V", "audit", lambda d: d.audit.ask_export(), ""),
        ):
            if act is None:
                desk.addSeparator()
                continue
            begins = needs == "begins"
            done = partial(self.on_desk, view, act, begins)
            self._action(desk, text, f"Ctrl+J, {key}", done, needs="" if begins else needs)

    def _view_menu(self) -> None:
        view = self._menu(t("View"))
        for text, key, act in (
            (t("As supplied"), "A", lambda b: b.show_view(SUPPLIED)),
            (t("Fitted"), "D", lambda b: b.show_view(FITTED)),
            (t("Side by side"), "V", lambda b: b.show_view(SIDES)),
            (t("Dots"), "O", lambda b: b.show_dots()),
            (t("In place"), "Q", lambda b: b.show_view(PLACE)),
            (t("Next place"), "Shift+Q", lambda b: b.next_place()),
            (t("The body’s examples"), "Shift+E", lambda b: b.show_examples()),
            (t("Before and after encoding"), "Z", lambda b: b.show_loss()),
            (t("Colours outside the space"), "X", lambda b: b.toggle_outside()),
            ("", "", None),
            (t("Two to one"), "2", lambda b: b.sheet.times(2.0)),
            (t("Print size"), "I", lambda b: b.sheet.print_size()),
            (t("Whole photo"), "W", lambda b: b.whole()),
            (t("Whole frame"), "R", lambda b: b.sheet.fit_frame()),
            (t("One to one"), "1", lambda b: b.sheet.one_to_one()),
            (t("Next surround tone"), "G", lambda b: b.next_tone()),
        ):
            if act is None:
                view.addSeparator()
            else:
                self._action(
                    view, text, key, partial(self._on_bench, act), plain=True, needs="bench"
                )
        view.addSeparator()
        add = partial(self._action, view)
        add(t("Dim room"), "Ctrl+D", self.toggle_dim, icon="sun")
        add(t("Larger texts"), ("Ctrl++", "Ctrl+="), partial(self.step_text, 1))
        add(t("Smaller texts"), "Ctrl+-", partial(self.step_text, -1))
        add(t("Texts as large as usual"), "Ctrl+0", partial(self.step_text, 0))
        add(t("Menu bar"), "F9", self.toggle_menu_bar)
        add(t("Full screen"), "F11", self.toggle_full_screen, icon="maximize")
        view.addSeparator()
        add(t("The screen's profile…"), "Ctrl+Shift+Y", self.ask_screen)
        add(t("Size on this screen…"), "Ctrl+Shift+I", self.ask_ruler)
        add(t("Show as sRGB"), "Ctrl+Shift+U", lambda: self.use_screen(None))
        add(t("Limits for one photo…"), "Ctrl+Shift+X", self.ask_bounds)

    def _places_menu(self) -> None:
        pages = self._menu(t("Places"))
        for i, name in enumerate(PAGES):
            self._action(pages, page_name(name), f"Ctrl+{i + 1}", partial(self.go, name))
        pages.addSeparator()
        self._action(pages, t("Find a command"), "Ctrl+K", self.find_command, icon="search")

    def _help_menu(self) -> None:
        help_ = self._menu(t("Help"))
        self._action(help_, t("Guide"), "F1", self.show_guide, icon="circle-help")
        self._action(help_, t("Keys and measures"), "Shift+F1", self.show_help)
        self._action(help_, t("Look round with the demo"), "Ctrl+J, F1", self.look_round)
        help_.addSeparator()
        self._action(help_, t("Open the log’s folder"), "Ctrl+Shift+F1", self.open_log_folder)
        self._action(help_, t("Copy the end of the log"), "Ctrl+F1", self.copy_log)
