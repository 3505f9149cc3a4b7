"""The window: its header, its four pages, and the strip of messages."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, TypeVar

from PyQt6.QtCore import QByteArray, QPoint, Qt, QTimer
from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import (
    QApplication,
    QButtonGroup,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QMainWindow,
    QMenu,
    QPlainTextEdit,
    QStackedWidget,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from aptandum.ui import preferences, theme
from aptandum.ui.header import PageTab
from aptandum.ui.menus import Needing, with_letters
from aptandum.ui.session import Session
from aptandum.ui.start_screen import StartScreen
from aptandum.ui.strings import commas, joined, t, t_n
from aptandum.ui.widgets import MessageStrip, label

if TYPE_CHECKING:
    from aptandum.ui.bench.bench import BenchPage
    from aptandum.ui.board.page import BoardPage
    from aptandum.ui.desk.hand_overs import HandOvers
    from aptandum.ui.desk.page import DeskPage
    from aptandum.ui.rulebooks.page import RulebooksPage

Page = TypeVar("Page", bound=QWidget)
PAGES = ("board", "bench", "rulebooks", "desk")
SMALLEST = (840, 520)
"""The least width and height of the window, in pixels."""
ERRANDS_MS = 150
"""How long after the window is made the book of hand-overs is looked into: once it is up."""
TITLE_BAR = 40
"""Room for what the desktop puts round a window."""


def page_name(name: str) -> str:
    """A page's name in words."""
    return {
        "board": t("Board"),
        "bench": t("Bench"),
        "rulebooks": t("Rulebooks"),
        "desk": t("Desk"),
    }[name]


class Window(QMainWindow):
    """The main window without its actions."""

    def __init__(self, session: Session | None = None) -> None:
        super().__init__()
        # Before there are widgets: each that is there already is looked through again.
        if QApplication.palette() != theme.qt_palette():
            QApplication.setPalette(theme.qt_palette())
        self.setStyleSheet(theme.style_sheet())
        self.session = session or Session(parent=self)
        self.setMinimumSize(*SMALLEST)
        self._place()
        self.setAcceptDrops(True)
        self.message = MessageStrip()
        self.start = StartScreen(self.session)
        self.bench_stack = QStackedWidget()
        self.bench_stack.addWidget(self.start)
        self.errands_soon = QTimer(self)
        self.errands_soon.setSingleShot(True)
        self.errands_soon.timeout.connect(lambda: self.handing)
        self.errands_soon.start(ERRANDS_MS)
        self.pages = QStackedWidget()
        self.menu = QMenu(self)
        self.all_actions: list[QAction] = []
        self.plain_actions: list[QAction] = []  # their keys are single letters
        self.undo, self.redo = QAction(self), QAction(self)
        self.needing = Needing(self, lambda why: self.session.tell(why, "note"))
        self._lay_out()

    def _lay_out(self) -> None:
        for name in PAGES:  # each page is built when it is first needed
            self.pages.addWidget(self.bench_stack if name == "bench" else QWidget())
        self.header = QWidget()
        self.header.setProperty("role", "panel")
        self.header.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.header.setFixedHeight(theme.px(44))
        self.docket_name = QToolButton()
        self.docket_name.setAccessibleName(t("Menu"))
        self.docket_name.setToolTip(t("Menu (Alt+M)"))
        self.docket_name.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        # the arrow stands behind the name
        behind = (Qt.LayoutDirection.RightToLeft, Qt.LayoutDirection.LeftToRight)
        self.docket_name.setLayoutDirection(behind[self.isRightToLeft()])
        self.docket_name.clicked.connect(self.open_menu)
        self.contents = label("", "second")
        self.saved = label("", "second")
        self.tabs: dict[str, PageTab] = {}
        group = QButtonGroup(self)
        row = QHBoxLayout(self.header)
        row.setContentsMargins(10, 0, 16, 0)
        left, right = QHBoxLayout(), QHBoxLayout()
        left.addWidget(self.docket_name)
        left.addWidget(self.contents)
        left.addStretch(1)
        row.addLayout(left, 1)
        for i, name in enumerate(PAGES):
            tab = PageTab(page_name(name), f"Ctrl+{i + 1}")
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
        column.addWidget(self.pages, 1)
        self.setCentralWidget(whole)
        self._restyle()

    @cached_property
    def bench(self) -> BenchPage:
        """The page of the bench, built when a photo first lies on it; until then the first screen stands there."""
        from aptandum.ui.bench import bench

        page = bench.BenchPage(self.session)
        self.bench_stack.addWidget(page)
        page.restyle()
        self._wire("bench", page)
        page.catch_up()
        return page

    @cached_property
    def board(self) -> BoardPage:
        """The page of the board, built when it is first needed."""
        from aptandum.ui.board import page

        return self._built("board", page.BoardPage(self.session))

    @cached_property
    def handing(self) -> HandOvers:
        """What is handed over; what was under way goes on."""
        from aptandum.ui.desk import hand_overs

        made = hand_overs.HandOvers(self.session)
        self._wire_handing(made)
        made.catch_up()
        return made

    def _wire_handing(self, handing: HandOvers) -> None:
        """Connect what is handed over."""

    @cached_property
    def rulebooks(self) -> RulebooksPage:
        """The page of rulebooks, built when it is first needed."""
        from aptandum.ui.rulebooks import page

        return self._built("rulebooks", page.RulebooksPage(self.session))

    @cached_property
    def desk(self) -> DeskPage:
        """The page of the desk, built when it is first needed."""
        from aptandum.ui.desk import page

        return self._built("desk", page.DeskPage(self.session, self.handing))

    def _built(self, name: str, page: Page) -> Page:
        """Put a page in its place, and have it heard by whoever it concerns."""
        at = PAGES.index(name)
        was, here = self.pages.widget(at), self.pages.currentIndex() == at
        self.pages.insertWidget(at, page)
        if was is not None:
            self.pages.removeWidget(was)
            was.deleteLater()
        if here:
            self.pages.setCurrentIndex(at)
        self._wire(name, page)
        return page

    def _wire(self, name: str, page: QWidget) -> None:
        """Connect a page that has just been built."""

    def is_built(self, name: str) -> bool:
        """Whether a page is there already."""
        return name in self.__dict__

    def at_board(self) -> bool:
        """Whether the board is what is shown."""
        return self.pages.currentIndex() == PAGES.index("board")

    # -- size and place -------------------------------------------------------------------------

    def _place(self) -> None:
        """Where the window was, and as large; the first time, as large as is good and the screen allows."""
        self.resize(1280, 800)
        held = preferences.kept("window", "")
        if held and self.restoreGeometry(QByteArray.fromBase64(held.encode())):
            return
        screen = self.screen()
        if screen is not None:
            room = screen.availableGeometry()
            wide, high = min(1280, room.width()), min(800, room.height() - TITLE_BAR)
            self.resize(max(wide, SMALLEST[0]), max(high, SMALLEST[1]))

    def keep_place(self) -> None:
        """Keep size and place for the next time."""
        held = self.saveGeometry().toBase64().data().decode()
        preferences.keep(window=held)

    def _restyle(self) -> None:
        if QApplication.palette() != theme.qt_palette():  # every widget there is hears of it
            QApplication.setPalette(theme.qt_palette())
        if self.styleSheet() != theme.style_sheet():
            self.setStyleSheet(theme.style_sheet())
        self.header_line.setStyleSheet(f"background: {theme.palette().hairline}")
        self.docket_name.setStyleSheet(
            "QToolButton { border: 2px solid transparent; border-radius: 4px; background: transparent;"
            f" font-size: {theme.px(15)}px; font-weight: 600; padding: 3px 4px; }}"
            f"QToolButton:hover, QToolButton:focus {{ border-color: {theme.palette().blue}; }}"
        )
        self.docket_name.setIcon(theme.icon("chevron-down", "ink2"))
        if self.is_built("bench"):
            self.bench.restyle()

    def open_menu(self) -> None:
        """Open the docket's menu below its name."""
        self.menu.popup(self.docket_name.mapToGlobal(QPoint(0, self.docket_name.height() + 2)))

    def restyle(self) -> None:
        """Take on the palette and the size of texts that are in use now."""
        QApplication.setFont(theme.text(13))
        self.header.setFixedHeight(theme.px(44))
        for tab in self.tabs.values():
            tab.fit()
        self._restyle()
        self.start.fill()
        if self.is_built("bench"):
            self.bench.refresh()
        for name in ("rulebooks", "desk"):
            if self.is_built(name):
                getattr(self, name).restyle()
        self.message.restyle()
        for part in self.findChildren(QWidget):
            part.update()

    def go(self, name: str) -> None:
        """Go to one of the pages."""
        self.tabs[name].setChecked(True)
        if name != "bench" and not self.is_built(name):
            getattr(self, name)
        self.pages.setCurrentIndex(PAGES.index(name))
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
        """Go to the bench as it is with no photo."""
        self.go("bench")
        self.start.briefs.clearSelection()
        self.start.brief = ""
        self.start.show_state()
        self.bench_stack.setCurrentWidget(self.start)

    def _opened(self) -> None:
        self.go("bench")

    def _changed(self, _change: object = None) -> None:
        docket = self.session.docket
        name = docket.title or t("Untitled docket")
        self.docket_name.setText(name)
        self.setWindowTitle(f"{name}[*]")
        self.setWindowModified(not self.session.store.is_saved)
        photos, briefs = len(docket.photos), len({f.brief for f in docket.fittings})
        ph = t_n("{n} photo", "{n} photos", photos)
        br = t_n("{n} brief", "{n} briefs", briefs)
        self.contents.setText(joined([ph, br]) if photos else "")
        if self.session.store.saved is not None and self.session.store.saved == docket:
            when = self.session.store.saved_at
            self.saved.setText(t("Saved {time}", time=f"{when:%H:%M}") if when else "")
        else:
            self.saved.setText(t("Not saved") if photos else "")
        history = self.session.store.history
        undo, redo = history.undo_label, history.redo_label
        texts = (
            t("Undo: {what}", what=undo) if undo else t("Undo"),
            t("Redo: {what}", what=redo) if redo else t("Redo"),
        )
        for action, text in zip((self.undo, self.redo), with_letters(texts), strict=True):
            action.setText(text)
        if self.start.isVisible():
            self.start.show_state()
        self._tell_editions()

    def _tell_editions(self) -> None:
        names = [
            t("{body} edition {n}", body=o.new.body.name, n=o.new.body.edition or "–")
            for o in self.session.library.offers()
        ]
        news = t("On the shelf, and not in this docket: {all}.", all=commas(names))
        self.tabs["rulebooks"].tell_news(news if names else "")

    def _rest_letters(self, *_focus: object) -> None:
        """Single-letter keys belong to a field while it is typed in."""
        # A list of choices is typed in as well: its first letters choose.
        typing = isinstance(QApplication.focusWidget(), (QLineEdit, QComboBox, QPlainTextEdit))
        on_bench = self.pages.currentWidget() is self.bench_stack
        for action in self.plain_actions:
            able = not self.needing.why_not(action)
            action.setEnabled(on_bench and not typing and able)
