"""What every menu shares: letters that open its entries, and entries that say why they cannot be chosen now."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping

from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QAction, QKeySequence, QShortcut
from PyQt6.QtWidgets import QAbstractScrollArea, QMenu, QWidget

Reasons = dict[str, str]
"""What an entry may need, each with the sentence why it cannot be had now; empty: it can."""


def with_letters(texts: Iterable[str]) -> list[str]:
    """Texts of one menu, each with the letter marked (``&``) by which it is chosen: its first letter where that is
    free, else the first of a later word, else any of its letters. A text for which none is left has none."""
    taken: set[str] = set()
    made = []
    for text in texts:
        plain = text
        begins = [
            i for i, c in enumerate(plain) if c.isalnum() and (i == 0 or not plain[i - 1].isalnum())
        ]
        rest = [i for i, c in enumerate(plain) if c.isalnum() and i not in begins]
        at = next((i for i in (*begins, *rest) if plain[i].lower() not in taken), None)
        if at is None:
            made.append(_literal(plain))
            continue
        taken.add(plain[at].lower())
        made.append(f"{_literal(plain[:at])}&{_literal(plain[at:])}")
    return made


def letter(actions: Iterable[QAction]) -> None:
    """Mark the letters of the entries of one menu."""
    every = [action for action in actions if action.text() and not action.isSeparator()]
    for action, text in zip(every, with_letters(a.text() for a in every), strict=True):
        action.setText(text)


def _literal(text: str) -> str:
    """An ampersand that belongs to the text: a docket may be called “Salt & Co”."""
    return text.replace("&", "&&")


def plain(text: str) -> str:
    """A text without its marked letter, and with the ampersands that belong to it."""
    return re.sub("&(.)", r"\1", text)


class Needing:
    """Entries that can be chosen only where there is something that they need.

    One that cannot is greyed, says why beside the pointer, and says it in the window when its key is pressed.
    """

    def __init__(self, window: QWidget, tell: Callable[[str], None]) -> None:
        self._window, self._tell = window, tell
        self._needs: list[tuple[QAction, str, QShortcut | None]] = []
        self._why: dict[QAction, str] = {}

    def add(self, action: QAction, need: str) -> None:
        """From now on an entry needs something, by its name."""
        keys = action.shortcut()
        refusal = None
        if not keys.isEmpty():
            refusal = QShortcut(QKeySequence(keys), self._window)
            refusal.setEnabled(False)
            refusal.activated.connect(lambda: self._tell(self._why[action]))
        self._needs.append((action, need, refusal))
        self._why[action] = ""

    def why_not(self, action: QAction) -> str:
        """Why an entry cannot be chosen now; empty where it can."""
        return self._why.get(action, "")

    def look(self, reasons: Reasons) -> None:
        """Grey what cannot be chosen now, and the other way round."""
        for action, need, refusal in self._needs:
            why = reasons.get(need, "")
            if why == self._why[action]:
                continue
            self._why[action] = why
            action.setToolTip(why or plain(action.text()))
            action.setStatusTip(why)
            if refusal is not None:
                refusal.setEnabled(bool(why) and not action.property("plain"))
            if not action.property("plain"):
                action.setEnabled(not why)


def menu(name: str, parent: QWidget) -> QMenu:
    """A menu that says why its greyed entries are."""
    made = QMenu(name, parent)
    made.setToolTipsVisible(True)
    return made


BOARD = ("Ctrl+G, S", "Ctrl+G, C", "Ctrl+G, F", "Ctrl+G, X", "", "Ctrl+G, Return", "Ctrl+G, U")
SHEET = ("A", "D", "V", "Q", "", "W", "R", "1", "", "T", "Shift+T", "Y", "", "Ctrl+Shift+W", "Ctrl+Shift+C", "Ctrl+I",
         "Ctrl+Shift+L")  # fmt: skip
HANDED = ("Ctrl+J, K", "Ctrl+J, R", "Ctrl+J, Y")
AUDITED = ("Ctrl+J, N", "Ctrl+J, P", "", "Ctrl+J, E", "Ctrl+J, V")
SHELF = (
    "Ctrl+E",
    "Ctrl+Shift+4",
    "Ctrl+Shift+2",
    "",
    "Ctrl+Shift+R",
    "Ctrl+Shift+E",
    "Ctrl+Shift+N",
)
"""What is offered where a person asks what can be done with something, by keys; empty: a line between."""


def offer(
    part: QWidget, keys: Iterable[str], by_key: Mapping[str, QAction], look: Callable[[], object]
) -> None:
    """Offer entries where a part of the window is pressed with the other button, or by the key for it.

    Args:
        look: called before, to grey what cannot be done now.
    """
    every = tuple(keys)

    def asked(at: QPoint) -> None:
        look()
        offered = menu("", part)
        offered.setObjectName("offered")
        for key in every:
            if key:
                offered.addAction(by_key[key])
            else:
                offered.addSeparator()
        offered.aboutToHide.connect(offered.deleteLater)
        inner = part.viewport() if isinstance(part, QAbstractScrollArea) else part
        offered.popup((inner or part).mapToGlobal(at))

    part.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
    part.customContextMenuRequested.connect(asked)
