"""The proved file as a thing: dragged out of the window, copied, found in its folder."""

from __future__ import annotations

from PyQt6.QtCore import QMimeData, QPoint, QPointF, QRectF, QSize, Qt, QUrl
from PyQt6.QtGui import QColor, QDrag, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPixmap
from PyQt6.QtWidgets import QApplication, QWidget

from aptandum.core.figures import show_bytes
from aptandum.ui import theme
from aptandum.ui.images import to_image
from aptandum.ui.painting import Painter
from aptandum.ui.session import Session
from aptandum.ui.strings import t


def mime_of(session: Session) -> QMimeData | None:
    """The proved file for another program, as a file; ``None`` where there is none."""
    path = session.making.file_to_hand()
    if path is None:
        return None
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(path))])
    data.setText(str(path))
    return data


class FileChip(QWidget):
    """The file, small: a drag takes it out of the window, a double press opens its folder."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.session = session
        self._from: QPoint | None = None
        self._small: tuple[object, QPixmap] | None = None
        self.setFixedHeight(58)
        self.setCursor(Qt.CursorShape.OpenHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)

    def sizeHint(self) -> QSize:
        return QSize(248, 58)

    def refresh(self) -> None:
        """Show the finished file where there is one."""
        bench = self.session.bench
        proof = bench.proof if bench is not None else None
        self.setVisible(proof is not None)
        if proof is not None:
            self.setAccessibleName(t("{file}: drag it to another program", file=proof.suggested))
            self.setToolTip(t("Drag it to another program, or copy it"))
        self.update()

    def picture(self) -> QPixmap:
        """The finished file, small."""
        bench = self.session.bench
        assert bench is not None
        if self._small is None or self._small[0] is not bench.fitted:
            made = QImage() if bench.fitted is None else to_image(bench.fitted)
            small = (
                QPixmap.fromImage(
                    made.scaled(
                        88,
                        88,
                        Qt.AspectRatioMode.KeepAspectRatio,
                        Qt.TransformationMode.SmoothTransformation,
                    )
                )
                if not made.isNull()
                else QPixmap(1, 1)
            )
            small.setDevicePixelRatio(2)
            self._small = bench.fitted, small
        return self._small[1]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        bench = self.session.bench
        if bench is None or bench.proof is None:
            return
        painter = Painter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        box = QRectF(self.rect()).adjusted(0.5, 0.5, -0.5, -0.5)
        painter.setBrush(theme.colour("field"))
        painter.setPen(QPen(theme.colour("blue" if self.hasFocus() else "hairline"), 1))
        painter.drawRoundedRect(box, 4, 4)
        small = self.picture()
        size = small.size() / 2
        painter.drawPixmap(
            QPointF(round(8 + (44 - size.width()) / 2), round((58 - size.height()) / 2)), small
        )
        painter.setPen(theme.colour("ink"))
        painter.setFont(theme.tight(13, bold=True))
        room = self.width() - 68
        name = painter.fontMetrics().elidedText(
            bench.proof.suggested, Qt.TextElideMode.ElideMiddle, room
        )
        painter.drawText(QRectF(60, 10, room, 18), Qt.AlignmentFlag.AlignVCenter, name)
        painter.setFont(theme.figures(11))
        painter.setPen(theme.colour("ink2"))
        words = t("{n} · drag it out", n=show_bytes(len(bench.proof.made.data)))
        painter.drawText(QRectF(60, 30, room, 16), Qt.AlignmentFlag.AlignVCenter, words)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        self.setFocus()
        self._from = event.position().toPoint()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        if self._from is None:
            return
        far = (event.position().toPoint() - self._from).manhattanLength()
        if far >= QApplication.startDragDistance():
            self._from = None
            self.start_drag()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from = None

    def start_drag(self) -> None:
        """Begin to drag the finished file to another program."""
        data = mime_of(self.session)
        if data is None:
            return
        drag = QDrag(self)
        drag.setMimeData(data)
        picture = self.picture()
        ground = QPixmap(picture.size())
        ground.setDevicePixelRatio(picture.devicePixelRatio())
        ground.fill(QColor("#F6F6F4"))
        painter = QPainter(ground)
        painter.drawPixmap(0, 0, picture)
        painter.end()
        drag.setPixmap(ground)
        drag.exec(Qt.DropAction.CopyAction)
