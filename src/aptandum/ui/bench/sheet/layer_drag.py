"""A figure or a photo that lies over a panel is taken hold of on the sheet and moved."""

from __future__ import annotations

from PyQt6.QtCore import QPointF, QRectF

from aptandum.core.fitting.finish.panels import Fill
from aptandum.core.judge.polygons import bounds
from aptandum.ui.session import Session
from aptandum.ui.strings import t


class LayerDrag:
    """What is held of a panel's layer while it is dragged."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self._from: tuple[QPointF, QRectF, str, int, tuple[float, float]] | None = None
        self._chosen: tuple[str, int] = ("", 0)
        session.requests.layer.connect(self._choose)

    def _choose(self, panel: str, number: int) -> None:
        self._chosen = panel, number

    def take(self, at: QPointF, picture: QRectF) -> bool:
        """Take hold of the layer that lies under a point, of two the chosen one; whether there is one.

        Args:
            picture: where the finished picture lies on the sheet.
        """
        bench = self._session.bench
        template = bench.line.finish.given.template if bench is not None else None
        if bench is None or template is None:
            return False
        zoom = picture.width() / template.size[0]
        for panel in template.panels:
            left, top, wide, high = bounds(panel.outline, template.size)
            box = QRectF(
                picture.left() + left * zoom, picture.top() + top * zoom, wide * zoom, high * zoom
            )
            if not box.contains(at):
                continue
            fill = bench.fitting.settings.finish.panels.of(panel.name)
            number = self._under(fill, at, box)
            if number:
                self._from = at, box, panel.name, number, fill.layers[number - 1].at
                self._session.requests.layer.emit(panel.name, number)
                return True
        return False

    def _under(self, fill: Fill, at: QPointF, box: QRectF) -> int:
        """The number of the layer under a point; 0: none. Its shape is as wide as it is set, and taken for as high."""
        chosen = self._chosen[1] if self._chosen[0] == fill.panel else 0
        order: list[int] = [chosen, *range(len(fill.layers), 0, -1)]
        for number in order:
            if not 0 < number <= len(fill.layers):
                continue
            layer = fill.layers[number - 1]
            if layer.kind not in ("figure", "photo"):
                continue
            middle = QPointF(
                box.left() + layer.at[0] * box.width(), box.top() + layer.at[1] * box.height()
            )
            reach = max(12.0, layer.wide * box.width() / 2)
            away = at - middle
            if max(abs(away.x()), abs(away.y())) <= reach:
                return number
        return 0

    def move(self, at: QPointF) -> bool:
        """Bring it along; whether one is held."""
        bench = self._session.bench
        if self._from is None or bench is None:
            return False
        start, box, panel, number, (x, y) = self._from
        panels = bench.fitting.settings.finish.panels
        fill = panels.of(panel)
        if number > len(fill.layers):
            return True
        by = at - start
        to = (
            round(min(max(x + by.x() / box.width(), -1.0), 2.0), 4),
            round(min(max(y + by.y() / box.height(), -1.0), 2.0), 4),
        )
        fills = panels.having(fill.with_layer(number, at=to))
        self._session.model.set({"finish.panels.fills": fills}, t("Move a figure"), "layer drag")
        return True

    def let_go(self) -> None:
        """It stays where it is: the whole drag is one step."""
        if self._from is not None:
            self._from = None
            self._session.store.settle()
