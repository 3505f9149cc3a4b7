"""Pictures of a folder that take the place of an audit's, each seen before and after."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from aptandum.core.docket import audit
from aptandum.core.docket.audit import Checked
from aptandum.core.docket.audit_swap import Swap, matched
from aptandum.core.docket.thumbs import Thumbs
from aptandum.core.errors import AptandumError
from aptandum.core.photo.decode import open_photo
from aptandum.core.photo.facts import shown_name
from aptandum.ui import theme
from aptandum.ui.desk.audit_rows import worst_of
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.session.audited import AuditRun
from aptandum.ui.signs import word
from aptandum.ui.strings import sentences, t, t_n
from aptandum.ui.widgets import button, label

_SWAP = Qt.ItemDataRole.UserRole
_SIDE, _WIDE = 130, 210
"""Of a picture, and of what is said of it."""
_LINES = 4
"""Of what is said of a picture; the whole is in its tool tip."""


def _nothing(_why: object) -> None:
    """What cannot be shown is left blank."""


class ReplaceDialog(QDialog):
    """Asks which of the pictures that were found take the place of which."""

    def __init__(
        self,
        session: Session,
        run: AuditRun,
        places: Sequence[int],
        folder: str,
        parent: QWidget | None = None,
    ) -> None:
        super().__init__(parent)
        self.session, self.run, self.places, self.folder = session, run, places, folder
        self.after: dict[int, Checked] = {}
        self._thumbs, self._open = Thumbs(), True
        self.setWindowTitle(t("Replace from a folder"))
        self.resize(860, 560)
        column = QVBoxLayout(self)
        column.setContentsMargins(20, 16, 20, 16)
        column.setSpacing(8)
        column.addWidget(label(t("Replace from a folder"), "title"))
        self.says = label(
            t("Looking through {name} …", name=shown_name(folder)), "second", wrap=True
        )
        column.addWidget(self.says)
        both = QHBoxLayout()
        self.list = QTreeWidget()
        self.list.setAccessibleName(t("Pictures that are replaced"))
        self.list.setHeaderLabels([t("Item"), t("Now"), t("New picture"), t("Then")])
        self.list.setRootIsDecorated(False)
        self.list.setUniformRowHeights(True)
        self.list.setStyleSheet(
            f"QTreeWidget {{ background: {theme.palette().panel}; border: 1px solid {theme.palette().hairline}; }}"
            f"QTreeWidget::item {{ padding: 6px 4px; color: {theme.palette().ink}; }}"
            f"QTreeWidget::item:selected {{ background: {theme.palette().blue_soft}; }}"
            f"QHeaderView::section {{ background: {theme.palette().panel}; color: {theme.palette().ink2};"
            f" border: none; border-bottom: 1px solid {theme.palette().hairline}; padding: 5px 8px; }}"
        )
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(self._show_pictures)
        self.list.itemChanged.connect(self._look)
        both.addWidget(self.list, 1)
        both.addLayout(self._pictures())
        column.addLayout(both, 1)
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(button(t("Cancel"), "", self.reject))
        self.act = button(t("Replace"), "act", self.accept)
        self.act.setDefault(True)
        row.addWidget(self.act)
        column.addLayout(row)
        self._look()
        self._find()

    def _pictures(self) -> QGridLayout:
        grid = QGridLayout()
        self.shown: dict[str, QLabel] = {}
        self.why: dict[str, QLabel] = {}
        for n, (key, words) in enumerate((("now", t("Now")), ("then", t("Then")))):
            grid.addWidget(label(words, "second"), 3 * n, 0)
            picture = QLabel()
            picture.setFixedSize(_SIDE, _SIDE)
            picture.setAlignment(Qt.AlignmentFlag.AlignLeading | Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(picture, 3 * n + 1, 0)
            why = label("", "second", wrap=True)
            why.setFixedSize(_WIDE, _LINES * why.fontMetrics().lineSpacing())
            why.setAlignment(Qt.AlignmentFlag.AlignTop | Qt.AlignmentFlag.AlignLeading)
            grid.addWidget(why, 3 * n + 2, 0)
            self.shown[key], self.why[key] = picture, why
        grid.setRowStretch(6, 1)
        return grid

    # -- what was found --------------------------------------------------------------------------

    def _find(self) -> None:
        items, places, folder = self.run.items, list(self.places), self.folder

        def work(late: Any) -> tuple[list[Swap], list[str]]:
            return matched(items, places, folder)

        self.session.jobs.latest("replacements", work, self._found, self.says.setText)

    def _found(self, found: tuple[list[Swap], list[str]]) -> None:
        swaps, left = found
        self.list.blockSignals(True)
        for swap in swaps:
            now = self.run.checked.get(swap.at)
            verdict = "" if now is None else word("misses" if now.in_danger else now.standing)
            file = Path(swap.file).name if swap.file else t("several fit")
            row = QTreeWidgetItem([swap.item.name, verdict, file, ""])
            row.setData(0, _SWAP, swap)
            row.setToolTip(2, swap.file or "\n".join(swap.others))
            row.setCheckState(0, Qt.CheckState.Checked if swap.file else Qt.CheckState.Unchecked)
            row.setDisabled(not swap.file)
            self.list.addTopLevelItem(row)
        self.list.blockSignals(False)
        for at in range(4):
            self.list.resizeColumnToContents(at)
            self.list.setColumnWidth(at, min(220, self.list.columnWidth(at) + 12))
        said = [
            t_n(
                "{n} picture of the folder fits.",
                "{n} pictures of the folder fit.",
                sum(bool(s.file) for s in swaps),
            )
        ]
        several = sum(not one.file for one in swaps)
        if several:
            said.append(t_n("For {n} item several fit, and none is taken.", "For {n} items several fit, and none is taken.", several))  # fmt: skip
        if left:
            said.append(t_n("{n} is for no item.", "{n} are for no item.", len(left)))
        said.append(t("The old pictures stay where they are."))
        self.says.setText(sentences(said))
        self.says.setToolTip("\n".join(left[:20]))
        first = self.list.topLevelItem(0)
        if first is not None:
            self.list.setCurrentItem(first)
        self._look()
        self._check([one for one in swaps if one.file])

    def _check(self, swaps: list[Swap]) -> None:
        """See how each new picture stands, one after the other."""
        try:
            brief = self.session.library.find(self.run.brief)[1]
        except AptandumError as error:
            self.says.setText(str(error))
            return

        def work(late: Any) -> None:
            for swap in swaps:
                if late():
                    return
                found = audit.check_one(audit.Task(audit.with_file(swap.item, swap.file), brief))
                self.session.jobs.post(partial(self._checked, swap, found))

        self.session.jobs.latest("replacements checked", work, _nothing)

    def _checked(self, swap: Swap, found: Checked) -> None:
        if not self._open:
            return
        self.after[swap.at] = found
        for row in self._rows():
            if row.data(0, _SWAP).at == swap.at:
                self.list.blockSignals(True)
                row.setText(3, word("misses" if found.in_danger else found.standing))
                said = [m.says for m in found.misses] or [found.trouble]
                row.setToolTip(3, "\n".join(said))
                self.list.blockSignals(False)
                if row is self.list.currentItem():
                    self._say_why(swap)

    # -- what is chosen --------------------------------------------------------------------------

    def _rows(self) -> list[QTreeWidgetItem]:
        rows = (self.list.topLevelItem(n) for n in range(self.list.topLevelItemCount()))
        return [row for row in rows if row is not None]

    def files(self) -> dict[int, str]:
        """The files that are ticked, by the places of the items that they are for."""
        swaps = [row.data(0, _SWAP) for row in self._rows() if row.checkState(0) == Qt.CheckState.Checked]  # fmt: skip
        return {one.at: one.file for one in swaps if one.file}

    def _look(self) -> None:
        n = len(self.files())
        self.act.setEnabled(n > 0)
        self.act.setText(
            t_n("Replace {n} picture", "Replace {n} pictures", n) if n else t("Replace")
        )

    def _show_pictures(self, row: QTreeWidgetItem | None, _before: object = None) -> None:
        if row is None:
            return
        swap: Swap = row.data(0, _SWAP)
        for key, path in (("now", swap.item.file), ("then", swap.file)):
            place = self.shown[key]
            place.setPixmap(QPixmap())
            place.setText(t("no picture"))
            if path:
                self.session.jobs.latest(
                    f"replacement {key}",
                    partial(self._small, path),
                    partial(self._put, place),
                    _nothing,
                )

        self._say_why(swap)

    def _say_why(self, swap: Swap) -> None:
        """What is said of the picture that is there, and of the one that would take its place."""
        for key, found in (
            ("now", self.run.checked.get(swap.at)),
            ("then", self.after.get(swap.at)),
        ):
            self.why[key].setText("" if found is None else worst_of(found))
            self.why[key].setToolTip(
                "" if found is None else "\n".join(m.says for m in found.misses)
            )

    def _small(self, path: str, _late: Any) -> Any:
        return self._thumbs.of(open_photo(path))

    def done(self, result: int) -> None:
        """End: what is still being looked at is not wanted any more."""
        self._open = False
        for kind in ("replacements", "replacements checked", "replacement now", "replacement then"):
            self.session.jobs.drop(kind)
        super().done(result)

    def _put(self, place: QLabel, found: Any) -> None:
        if not self._open:
            return
        ratio = self.devicePixelRatioF()
        side = int(_SIDE * ratio)
        small = to_image(found).scaled(
            side, side, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        )  # fmt: skip
        small.setDevicePixelRatio(ratio)
        place.setText("")
        place.setPixmap(QPixmap.fromImage(small))
