"""Help: every key, and every measure explained."""

from __future__ import annotations

from html import escape

from PyQt6.QtGui import QAction
from PyQt6.QtWidgets import QDialog, QTextBrowser, QVBoxLayout, QWidget

from aptandum.core.judge.measure import GROUPS, Measure
from aptandum.core.judge.measures import REGISTRY
from aptandum.ui.menus import plain
from aptandum.ui.strings import t

SHEET_KEYS = (
    (t("Arrow keys"), t("Move the frame by one output pixel; with Shift by ten")),
    (t("+ and -"), t("Resize the frame about its middle")),
    (t("Space, held"), t("See the photo as supplied")),
    (t("Wheel"), t("Zoom about the pointer")),
    (t("Drag outside the frame"), t("Move the sheet")),
    (t("Up and Down in the list of rules"), t("Go from clause to clause")),
)


def _titled(measure: Measure) -> str:
    return t("{title}: {name}", title=measure.title, name=measure.name)


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
        keys = [
            (a.shortcut().toString(), plain(a.text()))
            for a in actions
            if not a.shortcut().isEmpty()
        ]
        keys += list(SHEET_KEYS)
        rows = "".join(
            f"<tr><td><b>{escape(key)}</b>&nbsp;&nbsp;</td><td>{escape(what)}</td></tr>"
            for key, what in keys
        )
        parts = [f"<h2>{t('Keys')}</h2><table>{rows}</table>\n<h2>{t('Measures')}</h2>"]
        for group, heading in GROUPS.items():
            measures = [m for m in REGISTRY.values() if m.group == group]
            if measures:
                parts.append(f"<h3>{escape(heading)}</h3>")
            for measure in measures:
                parts.append(f"<p><b>{escape(_titled(measure))}</b><br>{escape(measure.help)}</p>")
        return "".join(parts)
