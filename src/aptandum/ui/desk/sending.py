"""Asks before anything leaves: what goes to whom, and, twice, whether what misses goes as well."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QCheckBox, QDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from aptandum.core.docket.hand_over import state_said
from aptandum.core.words import listed
from aptandum.ui import theme
from aptandum.ui.desk.hand_overs import Prepared
from aptandum.ui.signs import Sign, word
from aptandum.ui.strings import joined, t, t_n
from aptandum.ui.widgets import button, label

_MOST = 60
"""Files that are listed by name."""


class SendDialog(QDialog):
    """What is proved goes with one press. What is not must be ticked, and then said once more."""

    def __init__(self, files: Sequence[Prepared], parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Hand over"))
        self.setMinimumWidth(560)
        self.ready = [f for f in files if f.goes and f.item is not None and f.item.ready]
        self.unproved = [f for f in files if f.goes and f.item is not None and not f.item.ready]
        self.rest = [f for f in files if not f.goes]
        self._asked = False
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 18, 20, 18)
        column.setSpacing(8)
        bodies = list(dict.fromkeys(f.book.body.name for f in files if f.goes))
        self.head = label(t("Hand over to {bodies}", bodies=listed(bodies, "and"))
                          if bodies else t("Nothing to hand over"), "title", wrap=True)  # fmt: skip
        column.addWidget(self.head)
        if bodies:
            column.addWidget(
                label(t("A simulated desk on this machine; nothing leaves it."), "second")
            )
        inner = QWidget()
        lines = QVBoxLayout(inner)
        lines.setContentsMargins(0, 4, 0, 4)
        lines.setSpacing(3)
        for file in [*self.ready, *self.unproved, *self.rest][:_MOST]:
            lines.addWidget(self._line(file))
        more = len(files) - _MOST
        if more > 0:
            lines.addWidget(label(t("And {n} more.", n=more), "second"))
        lines.addStretch(1)
        scroll = QScrollArea()
        scroll.setWidgetResizable(True)
        scroll.setWidget(inner)
        scroll.setMinimumHeight(min(300, 30 + 40 * min(len(files), 8)))
        column.addWidget(scroll, 1)
        n = len(self.unproved)
        self.also = QCheckBox(
            t_n("Also send the one that is not proved", "Also send the {n} that are not proved", n)
        )  # fmt: skip
        self.also.setVisible(bool(n))
        self.also.toggled.connect(self._look)
        column.addWidget(self.also)
        self.warning = label("", wrap=True)
        self.warning.setStyleSheet(
            f"color: {theme.palette().misses}; background: {theme.palette().misses_soft};"
            " padding: 8px"
        )
        self.warning.hide()
        column.addWidget(self.warning)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button("", "act", self._press)
        row.addWidget(self.act)
        column.addLayout(row)
        self._look()
        self.act.setFocus()

    def _line(self, file: Prepared) -> QWidget:
        if file.item is None:
            words, token = file.trouble, "misses"
        elif file.already is not None:
            words = t(
                "{file}: the very same file is there already: {state} {number}",
                file=file.item.name,
                state=state_said(file.already.state),
                number=file.already.number,
            )
            token = "ink2"
        else:
            state = word(file.item.verdict)
            said = "" if file.item.we_say == t("all met") else f" ({file.item.we_say})"
            words = t("{file}: we say {state}{said}", file=file.item.name, state=state, said=said)
            if file.item.replaces:
                words = joined([words, t("takes the place of {number}", number=file.item.replaces)])
            token = "ink" if file.item.ready else file.item.verdict
        if token == "ink2":
            verdict = "idle"
        elif file.item is None:
            verdict = "unknown"
        else:
            verdict = file.item.verdict
        made = label(words, wrap=True)
        made.setStyleSheet(f"color: {getattr(theme.palette(), token)}")
        made.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse)
        made.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(9)
        row.addWidget(Sign(verdict))
        row.addWidget(made, 1)
        return line

    def chosen(self) -> list[Prepared]:
        """The files that are to be sent."""
        return [*self.ready, *(self.unproved if self.also.isChecked() else [])]

    def _look(self) -> None:
        self._asked = False
        self.warning.hide()
        n = len(self.chosen())
        self.act.setText(t_n("Hand over {n} file", "Hand over {n} files", n))
        self.act.setEnabled(bool(n))

    def _press(self) -> None:
        if not self.also.isChecked() or self._asked:
            self.accept()
            return
        self._asked = True
        n = len(self.unproved)
        bodies = listed(list(dict.fromkeys(f.book.body.name for f in self.unproved)), "and")
        self.warning.setText(
            t_n(
                "{n} file is not proved to meet the rules of {bodies}, and may be held or refused. "
                "It is sent as it is if you press once more.",
                "{n} files are not proved to meet the rules of {bodies}, and may be held or "
                "refused. They are sent as they are if you press once more.",
                n,
                bodies=bodies,
            )
        )
        self.warning.show()
        self.act.setText(t_n("Send it as it is", "Send them as they are", n))
