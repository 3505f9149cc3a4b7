"""Where a finished file goes, and under which name."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.file.free_name import free
from aptandum.ui.strings import t
from aptandum.ui.widgets import button, label


class WriteDialog(QDialog):
    """Asks for folder and name, and says beforehand what will be written."""

    def __init__(
        self,
        folder: Path,
        name: str,
        supplied: list[str],
        ready: str,
        counted: str = "",
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.setWindowTitle(t("Write file"))
        self.setMinimumWidth(520)
        self.counted = counted
        self.supplied = {str(Path(path)) for path in supplied}
        self.folder = QLineEdit(str(folder))
        self.folder.setAccessibleName(t("Folder"))
        self.name = QLineEdit(name)
        self.name.setAccessibleName(t("File name"))
        self.replace = QCheckBox(t("Replace the file of that name"))
        self.says = label("", "second", wrap=True)
        self.act = button(t("Write file"), "act", self.accept)
        self.act.setDefault(True)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(20, 18, 20, 18)
        layout.setSpacing(8)
        layout.addWidget(label(t("Write file"), "title"))
        if ready:
            layout.addWidget(label(ready, wrap=True))
        layout.addWidget(label(t("Folder"), "second"))
        row = QHBoxLayout()
        row.addWidget(self.folder, 1)
        row.addWidget(button(t("Choose…"), "", self._choose))
        layout.addLayout(row)
        layout.addWidget(label(t("Name"), "second"))
        layout.addWidget(self.name)
        layout.addWidget(self.replace)
        layout.addWidget(self.says)
        layout.addSpacing(8)
        acts = QHBoxLayout()
        acts.addStretch(1)
        acts.addWidget(button(t("Cancel"), "", self.reject))
        acts.addWidget(self.act)
        layout.addLayout(acts)
        self.folder.textChanged.connect(self._look)
        self.name.textChanged.connect(self._look)
        self.replace.toggled.connect(self._look)
        self.name.setFocus()
        self.name.setSelection(0, len(Path(name).stem))
        self._look()

    def target(self) -> Path:
        """The path that the fields name."""
        return Path(self.folder.text()) / self.name.text()

    def _choose(self) -> None:
        found = QFileDialog.getExistingDirectory(self, t("Folder for the file"), self.folder.text())
        if found:
            self.folder.setText(found)

    def _look(self) -> None:
        """Say what a press will do; a supplied photo can never be the target."""
        target, name = self.target(), self.name.text().strip()
        taken = target.exists()
        self.replace.setVisible(taken or self.replace.isChecked())
        ok = True
        if not name or "/" in name:
            words, ok = t("A name without a folder in it is needed."), False
        elif not Path(self.folder.text()).is_dir():
            words, ok = t("There is no folder {name}.", name=self.folder.text()), False
        elif str(target) in self.supplied and self.replace.isChecked():
            words, ok = t("{file} is a supplied photo and is never written to.", file=name), False
        elif taken and self.replace.isChecked():
            words = t("{file} will be replaced.", file=name)
        elif taken:
            words = t(
                "{file} is taken; this one becomes {other}.",
                file=name,
                other=free(target, self.counted).name,
            )
        else:
            words = t("{file} will be written.", file=name)
        self.says.setText(words)
        self.act.setEnabled(ok)
