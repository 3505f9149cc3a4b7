"""A badge from one master at each size at which a brief shows it, over each film: a table at true size."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from PyQt6.QtCore import QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter

from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_number
from aptandum.core.judge.findings import Findings
from aptandum.core.judge.legibility import SMALLEST, Stroke
from aptandum.core.judge.measures.legible_at import ReadsFrom
from aptandum.core.mockup.effects import over, reduced, stands_out
from aptandum.core.photo.luminance import FOOTAGE, footage
from aptandum.ui import theme
from aptandum.ui.images import to_image
from aptandum.ui.strings import joined, t

_ROUND = 10
"""Pixels of film about a badge on every side."""


@dataclass(frozen=True, eq=False)
class Cell:
    """A badge at one size on one film.

    Attributes:
        size: its longer side in pixels.
        out: by how much it stands out (CIEDE2000).
        reads: whether its words read there; ``None``: it has none, or that was not measured.
    """

    size: int
    film: str
    image: QImage
    out: float
    reads: bool | None


def sizes_of(brief: Brief, as_: str) -> tuple[int, ...]:
    """The sizes at which a brief shows a picture in a kind of place, the smallest first."""
    return tuple(sorted({place.at for place in brief.seen if place.as_ == as_ and place.at}))


def table(
    pixels: np.ndarray, sizes: Sequence[int], opacity: float, findings: Findings, moment: float = 0
) -> list[list[Cell]]:
    """For each size a row with a cell for each film.

    Args:
        pixels: of the finished file, RGBA, shape (h, w, 4).
        opacity: of the badge, 0..1.
    """
    high, wide = pixels.shape[:2]
    rows = []
    for size in sizes:
        k = size / max(wide, high)
        badge = reduced(pixels, max(1, round(wide * k)), max(1, round(high * k)))
        frame = badge.shape[1] + 2 * _ROUND, badge.shape[0] + 2 * _ROUND
        row = []
        for film in FOOTAGE:
            under = footage(film, (320, 180), moment)
            ground = np.ascontiguousarray(under[-frame[1] :, -frame[0] :])
            at = (max(0, ground.shape[1] - badge.shape[1]) // 2, _ROUND)
            laid = over(ground, badge, at, opacity)
            out = stands_out(ground, laid, badge, at)
            row.append(Cell(size, film, to_image(laid), out, _reads(findings, film, k)))
        rows.append(row)
    return rows


def _reads(findings: Findings, film: str, k: float) -> bool | None:
    """Whether all words read on a film at a share of the file's own size, by the ledger's own formula."""
    value = next((f.value for f in findings.findings if isinstance(f.value, ReadsFrom)), None)
    if value is None or not value.words:
        return None
    return all(_stroke_reads(stroke, film, k) and not one.cut for one, stroke, _z in value.words)


def _stroke_reads(stroke: Stroke, film: str, k: float) -> bool:
    needs = [need for name, need in stroke.needs.items() if name.startswith(film)]
    worst = max(needs or stroke.needs.values(), default=2.0)
    return worst <= 1 and stroke.height * k >= SMALLEST - 1e-9 and stroke.width * k >= worst - 1e-9


def said(cell: Cell) -> str:
    """What is told under a cell."""
    parts = [t("stands out {n}", n=show_number(cell.out, 0))]
    if cell.reads is not None:
        parts.append(t("words read") if cell.reads else t("words do not read"))
    return joined(parts)


def draw(
    painter: QPainter, rows: list[list[Cell]], names: dict[str, str], wide: float, ratio: float
) -> None:
    """The table, each badge in as many pixels of the screen as its size says."""
    columns = len(FOOTAGE)
    step = (wide - 40) / columns
    top = 16.0
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform, False)
    for row in rows:
        painter.setPen(QColor("#E6E6E4"))
        painter.setFont(theme.tight(12, bold=True))
        heading = t("{n} px", n=row[0].size)
        painter.drawText(QRectF(20, top, wide, 18), Qt.AlignmentFlag.AlignLeft, heading)
        high = 0.0
        for column, cell in enumerate(row):
            size = cell.image.width() / ratio, cell.image.height() / ratio
            box = QRectF(20 + column * step, top + 22, *size)
            painter.drawImage(box, cell.image)
            painter.setFont(theme.tight(12))
            painter.setPen(QColor("#FFFFFF" if cell.reads is not False else "#FFD9A0"))
            words = joined([names[cell.film], said(cell)])
            under = QRectF(box.left(), box.bottom() + 3, step - 10, 34)
            painter.drawText(
                under, Qt.AlignmentFlag.AlignLeft.value | Qt.TextFlag.TextWordWrap.value, words
            )
            high = max(high, size[1])
        top += 22 + high + 46
