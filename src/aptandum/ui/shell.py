"""The window: header with the four places, messages, and the actions with their keys."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from importlib import resources
from pathlib import Path

from PyQt6.QtCore import QPoint, QRectF, Qt, QTimer, QUrl
from PyQt6.QtGui import (
    QAction,
    QCloseEvent,
    QDesktopServices,
    QDragEnterEvent,
    QDropEvent,
    QKeySequence,
    QPainter,
    QPaintEvent,
)
from PyQt6.QtWidgets import (
    QAbstractButton,
    QApplication,
    QButtonGroup,
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QMenu,
    QMessageBox,
    QPlainTextEdit,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from aptandum.core import mistakes
from aptandum.core.brief.model import turn_of
from aptandum.core.docket.moved import same
from aptandum.core.figures import grouped
from aptandum.core.file.names import free
from aptandum.core.fitting.finish import FINISHES
from aptandum.core.judge.placing import bands
from aptandum.core.photo.turning import LEFT, MIRROR, RIGHT
from aptandum.ui import preferences, theme
from aptandum.ui.asking import where_to_save
from aptandum.ui.bench.bench import PLACE, BenchPlace
from aptandum.ui.bench.cards.finish import FinishCard
from aptandum.ui.bench.cards.finishes import ClearPart
from aptandum.ui.bench.cards.handed import mime_of
from aptandum.ui.bench.cards.proof import ProofCard
from aptandum.ui.bench.sheet import FITTED, SIDES, SUPPLIED
from aptandum.ui.bench.stations import KEYS, STATIONS, title
from aptandum.ui.bench.tools import Brush, Dropper
from aptandum.ui.board.place import BoardPlace
from aptandum.ui.carry_dialog import CarryDialog
from aptandum.ui.defence import log_for_clipboard
from aptandum.ui.desk.handing import Handing, Prepared
from aptandum.ui.desk.place import DeskPlace
from aptandum.ui.desk.sending import SendDialog
from aptandum.ui.finder import Finder
from aptandum.ui.rulebooks.place import RulebooksPlace
from aptandum.ui.ruler import RulerDialog
from aptandum.ui.session import Session
from aptandum.ui.start_screen import StartScreen
from aptandum.ui.strings import t
from aptandum.ui.widgets import MessageStrip, label
from aptandum.ui.write_dialog import WriteDialog

_MANY = 4
"""Photos dropped at once, from which on they go to the board."""

_DISK_MS = 3000
"""How often it is seen whether the docket's file has been changed by somebody else."""

PLACES = ("board", "bench", "rulebooks", "desk")


def demo_path() -> Path:
    return Path(str(resources.files("aptandum.data").joinpath("demo/vessary.docket")))


class PlaceTab(QAbstractButton):
    """A place's name in the header; the open one is underlined."""

    def __init__(self, text: str, key: str) -> None:
        super().__init__()
        self.setText(text)
        self.setCheckable(True)
        self.setAutoExclusive(True)
        self.setAccessibleName(text)
        self.setToolTip(f"{text} ({key})")
        self.news = ""
        self.setFixedSize(self.fontMetrics().horizontalAdvance(text) + 52, 43)
        self.setCursor(Qt.CursorShape.PointingHandCursor)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        font = theme.text(14, bold=True) if self.isChecked() else theme.medium(14)
        painter.setFont(font)
        painter.setPen(theme.colour("blue" if self.isChecked() else "ink2"))
        painter.drawText(self.rect(), Qt.AlignmentFlag.AlignCenter, self.text())
        width = painter.fontMetrics().horizontalAdvance(self.text())
        if self.isChecked():
            bar = QRectF((self.width() - width) / 2, self.height() - 3, width, 3)
            painter.fillRect(bar, theme.colour("blue"))
        if self.news:
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(theme.colour("asks"))
            painter.drawEllipse(QRectF((self.width() + width) / 2 + 4, 13, 6, 6))
            painter.setPen(theme.colour("blue"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        if self.hasFocus():
            painter.drawRoundedRect(self.rect().adjusted(6, 8, -7, -8), 3, 3)

    def tell_news(self, news: str) -> None:
        """A dot beside the name, and what it means in the tool tip."""
        if news != self.news:
            self.news = news
            self.setAccessibleDescription(news)
            plain = self.toolTip().split("\n")[0]
            self.setToolTip(f"{plain}\n{news}" if news else plain)
            self.update()


class Shell(QMainWindow):
    """The main window."""

    def __init__(self, session: Session | None = None) -> None:
        super().__init__()
        self.session = session or Session(parent=self)
        self.setWindowTitle("Aptandum")
        self.setMinimumSize(900, 600)
        self.resize(1280, 800)
        self.setAcceptDrops(True)
        self.message = MessageStrip()
        self.bench = BenchPlace(self.session)
        self.start = StartScreen(self.session)
        self.bench_stack = QStackedWidget()
        self.bench_stack.addWidget(self.start)
        self.bench_stack.addWidget(self.bench)
        self.rulebooks = RulebooksPlace(self.session)
        self.board = BoardPlace(self.session)
        self.handing = Handing(self.session)
        self.desk = DeskPlace(self.session, self.handing)
        self.places = QStackedWidget()
        self._lay_out()
        self.all_actions: list[QAction] = []
        self._make_actions()
        s = self.session
        s.store.changed.connect(self._changed)
        s.store.filed.connect(self._changed)
        s.model.opened.connect(self._opened)
        s.said.connect(self.message.say)
        self.bench.write_asked.connect(self.ask_write)
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
        self.start.chosen.connect(lambda _name: self._begin())
        s.library.changed.connect(self.start.fill)
        s.library.changed.connect(self.bench.refresh)
        self.bench.ledger.edition_asked.connect(self.show_changes)
        s.library.changed.connect(self._tell_editions)
        self.rulebooks.photo_opened.connect(s.model.start_fitting)
        self.rulebooks.fitting_opened.connect(s.model.lay)
        self.start.show_state()
        self.go("bench")
        self._changed()

    # -- laying out ---------------------------------------------------------------------------

    def _lay_out(self) -> None:
        built = {"board": self.board, "bench": self.bench_stack, "rulebooks": self.rulebooks,
                 "desk": self.desk}  # fmt: skip
        for name in PLACES:
            self.places.addWidget(built[name])
        self.header = QWidget()
        self.header.setProperty("role", "panel")
        self.header.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.header.setFixedHeight(44)
        self.docket_name = QToolButton()
        self.docket_name.setAccessibleName(t("Menu"))
        self.docket_name.setToolTip(t("Menu (Alt+M)"))
        self.docket_name.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.docket_name.setLayoutDirection(Qt.LayoutDirection.RightToLeft)
        self.docket_name.clicked.connect(self.open_menu)
        self.contents = label("", "second")
        self.saved = label("", "second")
        self.tabs: dict[str, PlaceTab] = {}
        group = QButtonGroup(self)
        row = QHBoxLayout(self.header)
        row.setContentsMargins(10, 0, 16, 0)
        left, right = QHBoxLayout(), QHBoxLayout()
        left.addWidget(self.docket_name)
        left.addWidget(self.contents)
        left.addStretch(1)
        row.addLayout(left, 1)
        for i, name in enumerate(PLACES):
            tab = PlaceTab(_place_name(name), f"Ctrl+{i + 1}")
            tab.clicked.connect(lambda _on, name=name: self.go(name))
            group.addButton(tab)
            self.tabs[name] = tab
            row.addWidget(tab)
        right.addStretch(1)
        right.addWidget(self.saved)
        row.addLayout(right, 1)
        line = QWidget()
        line.setFixedHeight(1)
        self.header_line = line
        whole = QWidget()
        column = QVBoxLayout(whole)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self.header)
        column.addWidget(line)
        column.addWidget(self.message)
        column.addWidget(self.places, 1)
        self.setCentralWidget(whole)
        self._restyle()

    def _restyle(self) -> None:
        QApplication.setPalette(theme.qt_palette())
        self.setStyleSheet(theme.style_sheet())
        self.header_line.setStyleSheet(f"background: {theme.palette().hairline}")
        self.docket_name.setStyleSheet(
            "QToolButton { border: 2px solid transparent; border-radius: 4px; background: transparent;"
            " font-size: 15px; font-weight: 600; padding: 3px 4px; }"
            f"QToolButton:hover, QToolButton:focus {{ border-color: {theme.palette().blue}; }}"
        )
        self.docket_name.setIcon(theme.icon("chevron-down", "ink2"))
        self.bench.restyle()

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
        self.menu = QMenu(self)
        b = self.bench
        file = self._menu(t("Docket"))
        self._action(file, t("Open photos…"), "Ctrl+O", self.ask_photo)
        self._action(file, t("Choose a brief…"), "Ctrl+B", self.show_start)
        self._action(file, t("Find a photo…"), "Ctrl+Shift+P", self.ask_missing)
        self._action(file, t("Open docket…"), "Ctrl+Shift+O", self.ask_docket)
        self._action(file, t("Save docket"), "Ctrl+S", self.save)
        self._action(file, t("Open the demo docket"), "", self.open_demo)
        self._action(file, t("New docket"), "Ctrl+N", self.new_docket)
        self._action(file, t("Quit"), "Ctrl+Q", self.close)
        o = self.board
        board = self._menu(t("Board"))
        self._action(board, t("Add a folder…"), "Ctrl+Shift+D", self.ask_folder)
        self._action(board, t("Add a folder without those inside it…"), "Ctrl+Alt+D",
                     self.ask_folder_alone)  # fmt: skip
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
        edit = self._menu(t("Change"))
        self.undo = self._action(edit, t("Undo"), "Ctrl+Z", self.session.store.undo)
        self.redo = self._action(edit, t("Redo"), "Ctrl+Shift+Z", self.session.store.redo)
        fit = self._menu(t("Fitting"))
        self._action(fit, t("Conform to brief"), "Ctrl+Return", self.session.making.conform)
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
                fit, t("Station {name}", name=title(name)), KEYS[name],
                partial(b.open_station, name), plain=True,
            )  # fmt: skip
        finishes = self._menu(t("Finish"))
        for i, finish in enumerate(FINISHES):
            self._action(
                finishes, t("Open {name}", name=t(finish.title).lower()), f"Alt+{i + 1}",
                partial(self.open_finish, finish.name),
            )  # fmt: skip
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
        r = self.rulebooks
        rules = self._menu(t("Rulebook"))
        for text, key, act in (
            (t("Read a rulebook…"), "Ctrl+Shift+R", r.ask_read),
            (t("New rulebook"), "Ctrl+Shift+N", r.new),
            (t("Change this rulebook"), "Ctrl+E", r.change),
            (t("Save rulebook…"), "Ctrl+Shift+E", r.save),
            (t("Add a clause"), "Ctrl+Shift+A", r.form.add_clause),
            (t("Clauses and sizes"), "Ctrl+Shift+1", lambda: r.show_view("read")),
            (t("What changed"), "Ctrl+Shift+2", lambda: r.show_view("changes")),
            (t("Compare two rulebook files…"), "Ctrl+Shift+3", r.ask_compare),
        ):
            self._action(rules, text, key, partial(self._in_rulebooks, act))
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
        places = self._menu(t("Places"))
        for i, name in enumerate(PLACES):
            self._action(places, _place_name(name), f"Ctrl+{i + 1}", partial(self.go, name))
        self._action(places, t("Find a command"), "Ctrl+K", self.find_command)
        help_ = self._menu(t("Help"))
        self._action(help_, t("Keys and measures"), "F1", self.show_help)
        self._action(help_, t("Open the log’s folder"), "Ctrl+Shift+F1", self.open_log_folder)
        self._action(help_, t("Copy the end of the log"), "Ctrl+F1", self.copy_log)
        opener = QAction(self)
        opener.setShortcut(QKeySequence("Alt+M"))
        opener.triggered.connect(self.open_menu)
        self.addAction(opener)
        app = QApplication.instance()
        if isinstance(app, QApplication):
            app.focusChanged.connect(self._rest_letters)

    def _menu(self, name: str) -> QMenu:
        made = QMenu(name, self.menu)
        self.menu.addMenu(made)
        return made

    def _rest_letters(self, *_focus: object) -> None:
        """Single-letter keys belong to a field while it is typed in."""
        # A list of choices is typed in as well: its first letters choose.
        typing = isinstance(QApplication.focusWidget(), (QLineEdit, QComboBox, QPlainTextEdit))
        on_bench = self.places.currentWidget() is self.bench_stack
        for action in self.all_actions:
            if action.property("plain"):
                action.setEnabled(on_bench and not typing)

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
        if self.session.bench is not None:
            self.bench.show_view(FITTED)
            self.session.pixels.show_mask(not self.session.pixels.shows_mask)

    def brush(self, adds: bool) -> None:
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
        card = self.bench.cards["finish"]
        if self.session.bench is not None and isinstance(card, FinishCard):
            self.open_finish("clear")
            part = card.parts["clear"]
            if isinstance(part, ClearPart):
                part.colour.drop()

    # -- the screen ----------------------------------------------------------------------------

    def ask_screen(self) -> None:
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

    def _in_rulebooks(self, act: Callable[[], object]) -> None:
        self.go("rulebooks")
        act()

    def open_menu(self) -> None:
        self.menu.popup(self.docket_name.mapToGlobal(QPoint(0, self.docket_name.height() + 2)))

    def find_command(self) -> None:
        Finder(self.all_actions, self).exec()

    def show_help(self) -> None:
        from aptandum.ui.help import HelpDialog

        HelpDialog(self.all_actions, self).exec()

    def open_log_folder(self) -> None:
        """Show the folder of the log in the system's own file manager."""
        folder = mistakes.log_folder()
        folder.mkdir(parents=True, exist_ok=True)
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(folder)))

    def copy_log(self) -> None:
        self.session.tell(log_for_clipboard(), "note")

    def toggle_dim(self) -> None:
        theme.use(theme.DIM if theme.palette() is theme.LIGHT else theme.LIGHT)
        self._restyle()
        self.start.fill()
        self.bench.refresh()
        self.rulebooks.restyle()
        self.desk.restyle()
        self.message.restyle()
        for part in self.findChildren(QWidget):
            part.update()

    # -- the disk ------------------------------------------------------------------------------

    def watch_disk(self) -> None:
        """See from time to time whether somebody else has changed the docket's file."""
        watch = QTimer(self)
        watch.setInterval(_DISK_MS)
        watch.timeout.connect(self.session.dockets.watch)
        watch.start()
        self.handing.look_for_orphans()

    # -- places ------------------------------------------------------------------------------

    def go(self, name: str) -> None:
        self.tabs[name].setChecked(True)
        self.places.setCurrentIndex(PLACES.index(name))
        if name == "bench":
            self._show_bench()
        elif name == "rulebooks":
            self.rulebooks.settle_focus()
        elif name == "board":
            self.board.shown()
        elif name == "desk":
            self.desk.shown()
        self._rest_letters()

    def _show_bench(self) -> None:
        on = self.session.bench is not None
        self.bench_stack.setCurrentWidget(self.bench if on else self.start)

    def show_start(self) -> None:
        self.go("bench")
        self.start.briefs.clearSelection()
        self.start.brief = ""
        self.start.show_state()
        self.bench_stack.setCurrentWidget(self.start)

    def _opened(self) -> None:
        self.go("bench")

    def _changed(self, _change: object = None) -> None:
        docket = self.session.docket
        self.docket_name.setText(docket.title or t("Untitled docket"))
        photos, briefs = len(docket.photos), len({f.brief for f in docket.fittings})
        ph = t("1 photo") if photos == 1 else t("{n} photos", n=grouped(photos))
        br = t("1 brief") if briefs == 1 else t("{n} briefs", n=briefs)
        self.contents.setText(f"{ph} · {br}" if photos else "")
        if self.session.store.saved is not None and self.session.store.saved == docket:
            when = self.session.store.saved_at
            self.saved.setText(t("Saved {time}", time=f"{when:%H:%M}") if when else "")
        else:
            self.saved.setText(t("Not saved") if photos else "")
        history = self.session.store.history
        self.undo.setEnabled(bool(history.undo_label))
        self.redo.setEnabled(bool(history.redo_label))
        self.undo.setText(
            t("Undo: {what}", what=history.undo_label) if history.undo_label else t("Undo")
        )
        self.redo.setText(
            t("Redo: {what}", what=history.redo_label) if history.redo_label else t("Redo")
        )
        self.start.show_state()
        self._tell_editions()

    def _tell_editions(self) -> None:
        names = [
            t("{body} edition {n}", body=o.new.body.name, n=o.new.body.edition or "–")
            for o in self.session.library.offers()
        ]
        news = t("On the shelf, and not in this docket: {all}.", all=", ".join(names))
        self.tabs["rulebooks"].tell_news(news if names else "")

    # -- photos and dockets ---------------------------------------------------------------------

    def take_photos(self, paths: Sequence[str]) -> None:
        """Take photos into the docket; one that cannot be used is said, and the next goes on."""
        taken = self.session.photos.take(paths)
        if taken.troubles:
            self.session.tell("\n".join(taken.troubles))
        elif taken.ids:
            self.message.hide()
        self.start.show_state()
        if taken.ids:
            self._begin(taken.ids[-1])

    def _begin(self, photo_id: str | None = None) -> None:
        """Start the fitting once both photo and brief are known."""
        photos = self.session.docket.photos
        showing_start = self.bench_stack.currentWidget() is self.start
        brief = self.start.brief
        if not brief and not showing_start and self.session.bench is not None:
            brief = self.session.bench.fitting.brief
        if photos and brief:
            self.session.model.start_fitting(photo_id or photos[-1].id, brief)

    def ask_photo(self) -> None:
        pattern = "*.jpg *.jpeg *.png *.tif *.tiff *.webp *.avif *.gif *.bmp"
        found, _ = QFileDialog.getOpenFileNames(
            self, t("Open photos"), "", f"{t('Photos')} ({pattern});;{t('All files')} (*)"
        )
        if found:
            self.take_photos(found)

    def ask_folder(self) -> None:
        """Take in the photos of a folder and of those inside it."""
        folder = QFileDialog.getExistingDirectory(self, t("Add the photos of a folder"))
        if folder:
            self.take_many([folder])

    def ask_folder_alone(self) -> None:
        """Take in the photos of a folder, and leave those inside it."""
        folder = QFileDialog.getExistingDirectory(self, t("Add the photos of a folder alone"))
        if folder:
            self.take_many([folder], deep=False)

    def take_many(self, paths: Sequence[str], deep: bool = True) -> None:
        """Take in many photos at once; they stand on the board."""
        self.go("board")
        self.session.many.take_in(list(paths), deep)

    def paste(self) -> None:
        """Take in the photos that are on the clipboard, as files."""
        clipboard = QApplication.clipboard()
        data = clipboard.mimeData() if clipboard is not None else None
        urls = data.urls() if data is not None else []
        paths = [url.toLocalFile() for url in urls if url.isLocalFile()]
        if paths:
            self.take_many(paths)
        else:
            self.session.tell(t("There are no files on the clipboard."), "note")

    def open_fitting(self, fitting_id: str) -> None:
        """From the board to the bench."""
        if self.session.model.lay(fitting_id):
            self.go("bench")

    def on_board(self, act: Callable[[], object]) -> None:
        """Do something on the board; from elsewhere, go there first."""
        if self.places.currentWidget() is self.board:
            act()
        else:
            self.go("board")

    def on_desk(self, view: str, act: Callable[[], object]) -> None:
        """Do something at the desk, in one of its views; from elsewhere, go there first."""
        here = self.places.currentWidget() is self.desk
        if here and self.desk.names[view].isChecked():
            act()
            return
        self.go("desk")
        self.desk.show_view(view)
        if act in (self.desk.audit.ask_folder, self.desk.audit.ask_listing):
            act()

    def hand_over(self) -> None:
        """Hand over the file of the fitting on the bench; it is proved first."""
        if self.session.bench is not None:
            self.handing.prepare([self.session.bench.fitting.id])
        else:
            self.session.tell(t("There is no fitting on the bench to hand over."), "note")

    def hand_all(self) -> None:
        """Hand over every fitting of the docket; each is proved first."""
        ids = [fitting.id for fitting in self.session.docket.fittings]
        if ids:
            self.handing.prepare(ids)
        else:
            self.session.tell(t("There is no fitting to hand over yet."), "note")

    def send_dialog(self, files: Sequence[Prepared]) -> SendDialog:
        return SendDialog(files, self)

    def ask_send(self, files: Sequence[Prepared]) -> None:
        """Say what goes to whom, and send it when that is pressed."""
        dialog = self.send_dialog(files)
        if dialog.exec() == QDialog.DialogCode.Accepted:
            self.handing.send(dialog.chosen())
            self.go("desk")
            self.desk.show_view("handed")

    def ask_missing(self) -> None:
        """Where a photo lies that is not where it was; another picture is asked about first."""
        entry = self.session.photos.missing()
        if entry is None:
            self.session.tell(t("Every photo of this docket is where it should be."), "note")
            return
        name = Path(entry.path).name
        found, _ = QFileDialog.getOpenFileName(self, t("Where is {file}?", file=name))
        if found and (same(entry, found) or self.may_take_another(name, found)):
            self._found(entry.id, found)

    def _found(self, photo_id: str, path: str) -> None:
        """A photo lies elsewhere now; where nothing is on the bench, one of its fittings is laid
        there."""
        self.session.photos.found(photo_id, path)
        fittings = [f for f in self.session.docket.fittings if f.photo == photo_id]
        if self.session.bench is None and fittings:
            self.session.model.lay(fittings[0].id)

    def may_take_another(self, name: str, found: str) -> bool:
        box = QMessageBox(self)
        box.setText(
            t("{new} is not the same picture as {old}. Its frames and marks may not fit.",
              new=Path(found).name, old=name)
        )  # fmt: skip
        take = box.addButton(t("Take it"), QMessageBox.ButtonRole.AcceptRole)
        box.addButton(t("Leave it"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return box.clickedButton() is take

    def ask_docket(self) -> None:
        found, _ = QFileDialog.getOpenFileName(self, t("Open docket"), "", "Docket (*.docket)")
        if found and self.may_leave():
            self.session.dockets.load(Path(found))

    def open_recent(self, path: str) -> None:
        if self.may_leave():
            self.session.dockets.load(Path(path))

    def open_demo(self) -> None:
        if self.may_leave() and self.session.dockets.load(demo_path(), keep_path=False):
            self.bench.open_station("frame")

    def new_docket(self) -> None:
        if self.may_leave():
            self.session.dockets.new()

    def save(self) -> None:
        """Save the docket; where another program has changed its file meanwhile, ask first."""
        path = self.session.store.path
        if path is None:
            path = where_to_save(self, t("Save docket"), "", {t("Docket"): ".docket"})
            if path is None:
                return
        if self.session.dockets.changed_on_disk():
            self.settle_conflict()
        else:
            self.session.dockets.save(path)

    def settle_conflict(self) -> None:
        """The docket's file holds another's changes: a person says whose stand."""
        path, dockets = self.session.store.path, self.session.dockets
        if path is None:
            return
        box = QMessageBox(self)
        box.setText(
            t("{file} has been changed on the disk since it was opened here: by another window or "
              "program.", file=path.name)
        )  # fmt: skip
        box.setInformativeText(
            t("Keep mine: what is there is written over. Take theirs: this window shows what is "
              "there, and yours can be had back by Undo. Save beside: both are kept, as two "
              "files.")
        )  # fmt: skip
        mine = box.addButton(t("Keep mine"), QMessageBox.ButtonRole.DestructiveRole)
        theirs = box.addButton(t("Take theirs"), QMessageBox.ButtonRole.ActionRole)
        beside = box.addButton(t("Save beside"), QMessageBox.ButtonRole.AcceptRole)
        box.addButton(t("Cancel"), QMessageBox.ButtonRole.RejectRole)
        box.setDefaultButton(beside)
        box.exec()
        pressed = box.clickedButton()
        if pressed is mine:
            dockets.save(path, over_changes=True)
        elif pressed is theirs:
            dockets.take_theirs()
        elif pressed is beside:
            dockets.save_beside()

    def may_leave(self) -> bool:
        """Ask before unsaved changes would be lost."""
        docket = self.session.docket
        if self.session.store.is_saved or not self.isVisible():
            return True
        box = QMessageBox(self)
        box.setText(t("“{name}” has changes that are not saved.", name=docket.title))
        save = box.addButton(t("Save docket"), QMessageBox.ButtonRole.AcceptRole)
        leave = box.addButton(t("Leave without saving"), QMessageBox.ButtonRole.DestructiveRole)
        box.addButton(t("Stay"), QMessageBox.ButtonRole.RejectRole)
        box.exec()
        if box.clickedButton() is save:
            self.save()
            return self.session.docket == self.session.store.saved
        return box.clickedButton() is leave

    def next_fitting(self, way: int) -> None:
        bench, fittings = self.session.bench, self.session.docket.fittings
        if bench is None or len(fittings) < 2:
            return
        at = [f.id for f in fittings].index(bench.fitting.id)
        self.session.model.lay(fittings[(at + way) % len(fittings)].id)

    # -- one frame for many -------------------------------------------------------------------

    def carry_dialog(self) -> CarryDialog | None:
        bench = self.session.bench
        if bench is None:
            return None
        here = bench.fitting.photo
        others = [entry for entry in self.session.docket.photos if entry.id != here]
        if not others:
            self.session.tell(t("There is no other photo in this docket yet."), "note")
            return None
        frame = bench.line.frame
        marks = bool(bands(bench.brief, turn_of(*frame.output)))
        return CarryDialog(others, bench.brief.title, marks, self)

    def ask_carry(self) -> None:
        dialog = self.carry_dialog()
        if dialog is not None and dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.marking.carry(dialog.chosen, dialog.way)

    def ruler_dialog(self) -> RulerDialog:
        screen = self.screen()
        ratio = self.devicePixelRatioF()
        said = screen.physicalDotsPerInch() * ratio if screen is not None else 96.0 * ratio
        return RulerDialog(ratio, preferences.screen_ppi() or said, self)

    def ask_ruler(self) -> None:
        """Lay a ruler on the screen; every true size follows it."""
        if self.ruler_dialog().exec() == QDialog.DialogCode.Accepted:
            self.bench.in_place.update()
            scene = self.bench.in_place.scene
            if scene is not None:
                scene.update()

    # -- writing ------------------------------------------------------------------------------

    def write_dialog(self) -> WriteDialog | None:
        bench = self.session.bench
        if bench is None:
            return None
        proof = bench.proof
        name = proof.suggested if proof else bench.line.file.name
        if proof is None:
            ready = t("The file is made and read back first.")
        else:
            summary = proof.findings.summary()
            ready = (
                t("Ready.") if summary == t("all met") else t("This file: {what}.", what=summary)
            )
        supplied = [entry.path for entry in self.session.docket.photos]
        folder, counted = Path(bench.photo.path).parent, bench.line.file.counted
        name = free(folder / name, counted).name if counted else name
        return WriteDialog(folder, name, supplied, ready, counted, self)

    def ask_write(self) -> None:
        dialog = self.write_dialog()
        if dialog is not None and dialog.exec() == QDialog.DialogCode.Accepted:
            self.session.making.write(dialog.target(), dialog.replace.isChecked())

    def answer(self, met: bool) -> None:
        """Answer the question that is asked at the Proof station; elsewhere, go there first."""
        card = self.bench.cards["proof"]
        if self.session.bench is None or not isinstance(card, ProofCard):
            return
        if self.bench.open_name != "proof":
            self.bench.open_station("proof")
        elif not card.asks.isHidden():
            card.asks.answer(met)

    def copy_file(self) -> None:
        """Put the proved file on the clipboard, as a file."""
        data = mime_of(self.session)
        clipboard = QApplication.clipboard()
        if data is None or clipboard is None:
            self.session.tell(t("There is no proved file yet: conform first."), "note")
            return
        name = Path(data.urls()[0].toLocalFile()).name
        clipboard.setMimeData(data)
        self.session.tell(t("On the clipboard: {file}", file=name), "done")

    def open_folder(self) -> None:
        """Show the folder that the file was written to in the system's own file manager."""
        bench = self.session.bench
        if bench is None or bench.written is None:
            self.session.tell(t("The file is not written to a folder yet."), "note")
            return
        QDesktopServices.openUrl(QUrl.fromLocalFile(str(bench.written.parent)))

    def ask_report(self) -> None:
        """Ask where the conformity report goes, and write it."""
        bench = self.session.bench
        if bench is None or bench.proof is None:
            self.session.tell(t("There is no proved file to report on yet: conform first."), "note")
            return
        folder = bench.written.parent if bench.written else Path(bench.photo.path).parent
        target = self._report_target(folder, Path(bench.proof.suggested).stem)
        if target is not None:
            self.session.reports.write_report(target)

    def ask_docket_report(self) -> None:
        """Ask where the report on every fitting goes, prove them all, and write it."""
        docket = self.session.docket
        if not docket.fittings:
            self.session.tell(t("There is nothing to report on yet."), "note")
            return
        here = self.session.store.path
        folder = here.parent if here is not None else Path(docket.photos[0].path).parent
        target = self._report_target(folder, docket.title or t("Untitled docket"))
        if target is not None:
            self.session.reports.write_docket_report(target)

    def _report_target(self, folder: Path, stem: str) -> Path | None:
        """Where a report goes, as a person says; its ending says what it is."""
        first = free(folder / f"{stem}-{t('report')}.html")
        kinds = {t("Web page, one file"): ".html", "PDF": ".pdf"}
        return where_to_save(self, t("Conformity report"), str(first), kinds)

    # -- drops ------------------------------------------------------------------------------

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        assert event is not None
        data = event.mimeData()
        if data is not None and data.hasUrls():
            event.acceptProposedAction()
            self.start.field.over = True
            self.start.field.update()

    def dragLeaveEvent(self, event: object) -> None:
        self.start.field.over = False
        self.start.field.update()

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        self.dragLeaveEvent(event)
        data = event.mimeData()
        paths = [url.toLocalFile() for url in data.urls() if url.isLocalFile()] if data else []
        if not paths:
            return
        event.acceptProposedAction()
        dockets = [path for path in paths if path.endswith(".docket")]
        if dockets and self.may_leave():
            self.session.dockets.load(Path(dockets[0]))
        books = [path for path in paths if path.endswith(".toml")]
        for path in books:
            if self.rulebooks.read(path):
                self.go("rulebooks")
        photos = [path for path in paths if path not in dockets and path not in books]
        many = len(photos) > _MANY or any(Path(path).is_dir() for path in photos)
        if photos and (many or self.places.currentWidget() is self.board):
            self.take_many(photos)
        elif photos:
            self.take_photos(photos)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        assert event is not None
        if not self.rulebooks.may_close() or not self.may_leave():
            event.ignore()
            return
        self.board.stop()
        self.handing.stop()
        self.session.stop()
        if self.session.autosave.keeper is not None:
            self.session.autosave.keeper.forget()
        event.accept()


def _place_name(name: str) -> str:
    return {
        "board": t("Board"),
        "bench": t("Bench"),
        "rulebooks": t("Rulebooks"),
        "desk": t("Desk"),
    }[name]
