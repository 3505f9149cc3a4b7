"""Help: every key, and every measure explained."""

from __future__ import annotations

from html import escape

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from aptandum.core.judge.measure import GROUPS
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui.strings import t

SHEET_KEYS = (
    ("Arrow keys", "Move the frame by one output pixel; with Shift by ten"),
    ("+ and -", "Resize the frame about its middle"),
    ("Space, held", "See the photo as supplied"),
    ("Wheel", "Zoom about the pointer"),
    ("Drag outside the frame", "Move the sheet"),
    ("Up and Down in the ledger", "Go from clause to clause"),
)


class HelpDialog(QDialog):
    """Keys and measures on one page."""

    def __init__(self, actions: list[QAction], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Keys and measures"))
        self.resize(620, 600)
        page = QTextBrowser()
        page.setHtml(self._page(actions))
        layout = QVBoxLayout(self)
        layout.addWidget(page)

    def _page(self, actions: list[QAction]) -> str:
        keys = [(a.shortcut().toString(), a.text()) for a in actions if not a.shortcut().isEmpty()]
        keys += [(t(key), t(what)) for key, what in SHEET_KEYS]
        rows = "".join(
            f"<tr><td><b>{escape(key)}</b>&nbsp;&nbsp;</td><td>{escape(what)}</td></tr>"
            for key, what in keys
        )
        parts = [f"<h2>{t('Keys')}</h2><table>{rows}</table><h2>{t('Measures')}</h2>"]
        for group, heading in GROUPS.items():
            measures = [m for m in REGISTRY.values() if m.group == group]
            if measures:
                parts.append(f"<h3>{escape(t(heading))}</h3>")
            for measure in measures:
                parts.append(
                    f"<p><b>{escape(measure.title)}</b> <code>{measure.name}</code><br>"
                    f"{escape(measure.help)}</p>"
                )
        return "".join(parts)
