"""A caption is taken hold of on the sheet and moved."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF

from aptandum.ui.session import Session
from aptandum.ui.strings import t


class CaptionDrag:
    """What is held of the caption while it is dragged."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._from: tuple[QPointF, float, float, float] | None = None
        self._key = ""

    def take(self, at: QPointF, picture: QRectF) -> bool:
        """Take hold of the caption where it lies under a point; whether it does.

        Args:
            picture: where the finished picture lies on the sheet.
        """
        bench = self._session.bench
        look = bench.look if bench is not None and bench.draft_is_current else None
        if bench is None or look is None:
            return False
        zoom = picture.width() / bench.line.frame.output[0]
        for one in reversed(look.lettering):  # the one on top
            left, top, wide, high = (value * zoom for value in one.box)
            box = QRectF(picture.left() + left, picture.top() + top, wide, high)
            if one.own and box.adjusted(-6, -6, 6, 6).contains(at):
                wish = bench.fitting.settings.finish.caption.each()[one.number - 1]
                self._from = at, wish.right, wish.down, zoom
                self._key = f"finish.caption.{one.number}."
                self._session.requests.caption.emit(one.number)
                return True
        return False

    def move(self, at: QPointF) -> bool:
        """Bring it along; whether one is held."""
        if self._from is None:
            return False
        start, right, down, zoom = self._from
        by = (at - start) / zoom
        changes = {
            self._key + "right": round(right + by.x(), 1),
            self._key + "down": round(down + by.y(), 1),
        }
        self._session.model.set(changes, t("Move the caption"), "caption drag")
        return True

    def let_go(self) -> None:
        """It stays where it is: the whole drag is one step."""
        if self._from is not None:
            self._from = None
            self._session.store.settle()
