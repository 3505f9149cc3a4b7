"""Asking a person where something goes, and whether what is there may be replaced."""

from __future__ import annotations

from pathlib import Path

from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from aptandum.core.photo.facts import shown_name
from aptandum.ui.strings import t


def where_to_save(parent: QWidget, title: str, first: str, endings: dict[str, str]) -> Path | None:
    """A file's place as a person names it; ``None`` where they name none.

    The file dialog asks before it gives the name of a file that is there. A name without an ending
    gets the one of the chosen kind, and then is another name: so it is asked about here.

    Args:
        first: where to begin.
        endings: each kind of file with its ending: ``{"Docket": ".docket"}``.
    """
    kinds = ";;".join(f"{name} (*{ending})" for name, ending in endings.items())
    found, kind = QFileDialog.getSaveFileName(parent, title, first, kinds)
    if not found:
        return None
    path = Path(found)
    if path.suffix.lower() in endings.values():
        return path
    chosen = (ending for ending in endings.values() if f"*{ending})" in kind)
    path = path.with_name(path.name + next(chosen, next(iter(endings.values()))))
    return path if not path.exists() or may_replace(parent, path) else None


def may_replace(parent: QWidget, path: Path) -> bool:
    """Ask whether a file that is there already is to be replaced."""
    box = QMessageBox(parent)
    box.setText(t("{file} is there already.", file=shown_name(path)))
    replace = box.addButton(t("Replace it"), QMessageBox.ButtonRole.DestructiveRole)
    box.addButton(t("Leave it"), QMessageBox.ButtonRole.RejectRole)
    box.exec()
    return box.clickedButton() is replace
