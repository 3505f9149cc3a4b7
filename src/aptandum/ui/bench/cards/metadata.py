"""What the file tells beside its pixels: each group kept, left out, or set; all listed before."""

from __future__ import annotations

from PyQt6.QtWidgets import QGridLayout, QLineEdit, QVBoxLayout, QWidget

from aptandum.core.photo.metadata_groups import GROUPS, HOLDING, Credit, Group, chosen, lines
from aptandum.ui.bench.cards.fields import ChoiceRow
from aptandum.ui.session import Bench, Session
from aptandum.ui.strings import t
from aptandum.ui.widgets import Elided, label

_SET = "="


class GroupRow(ChoiceRow):
    """One group: keep what the photo tells, leave it out, or a text of one's own."""

    def __init__(self, session: Session, group: Group) -> None:
        usual = t("As usual: kept") if group.kept else t("As usual: left out")
        choices = [(None, usual), ("keep", t("Keep")), ("drop", t("Leave out"))]
        if group.typed:
            choices.append((_SET, t("Set to …")))
        super().__init__(session, f"file.metadata.{group.name}", group.title, choices)
        self.group = group
        self.choice.activated.disconnect()
        self.choice.activated.connect(self._chosen)
        self.text = QLineEdit()
        self.text.setAccessibleName(t("{group} to write", group=group.title))
        self.text.setPlaceholderText("2026-11-02 17:40" if group.name == "date" else group.title)
        self.text.editingFinished.connect(self._typed)
        self.text.hide()

    def _chosen(self) -> None:
        if self.choice.currentData() == _SET:
            self.text.show()
            self.text.setFocus()
        else:
            self.text.hide()
            self.put(self.choice.currentData())

    def _typed(self) -> None:
        if not self.text.isModified():
            return
        self.text.setModified(False)
        self.put(_SET + self.text.text().strip())

    def take(self, value: str | None) -> None:
        """Show one thing that happened on the way to the file."""
        own = value is not None and value.startswith(_SET)
        if own or not self.text.hasFocus():
            super().take(_SET if own else value)
            self.text.setVisible(own)
        if own and value is not None and not self.text.isModified():
            self.text.setText(value[1:])
            self.text.setModified(False)


class MetadataGroups(QWidget):
    """The groups, and the list of what will be written."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        column.addWidget(label(t("What the file tells"), "second"))
        self.list = QGridLayout()
        self.list.setHorizontalSpacing(10)
        self.list.setVerticalSpacing(2)
        self.list.setColumnStretch(1, 1)
        column.addLayout(self.list)
        self.none = label("", wrap=True)
        column.addWidget(self.none)
        self.rows = [GroupRow(session, group) for group in GROUPS]
        for row in self.rows:
            column.addWidget(row)
            column.addWidget(row.text)
        self._shown: object = None

    def show_bench(self, bench: Bench) -> None:
        """Show all that is done to the photo, station by station."""
        file = bench.line.file
        told: Credit = chosen(self.session.pixels.credit(), file.metadata)
        said = lines(told, file.format)
        wishes = bench.fitting.settings.file.metadata
        for row in self.rows:
            row.take(getattr(wishes, row.group.name))
            row.setEnabled(file.format in HOLDING)
        if (said, file.format) == self._shown:
            return
        self._shown = (said, file.format)
        while self.list.count():
            item = self.list.takeAt(0)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for n, (title, words) in enumerate(said):
            self.list.addWidget(label(title, "second"), n, 0)
            line = Elided(role="")
            line.setText(words)
            self.list.addWidget(line, n, 1)
        if file.format not in HOLDING:
            self.none.setText(t("Nothing: this format holds no metadata."))
        else:
            self.none.setText(t("Nothing but its pixels and their profile."))
        self.none.setVisible(not said)
