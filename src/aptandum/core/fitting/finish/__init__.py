"""Finishes: what is laid on the picture, each a module, always in this order.

Sharpening is of the photo alone, a border can never end under the photo, nor a keyline under the border. To add a finish: a
module with its settings and a ``FINISH``, an entry here, one in
:class:`aptandum.core.fitting.settings.FinishSettings`, and a card.
"""

from aptandum.core.fitting.finish import (
    backdrop,
    border,
    caption,
    clear,
    keyline,
    panels,
    shade,
    sharpening,
)
from aptandum.core.fitting.finish.base import Canvas, Finish, FinishError, FinishPart, Given, Others

FINISHES: tuple[Finish, ...] = (
    sharpening.FINISH,
    backdrop.FINISH,
    clear.FINISH,
    panels.FINISH,
    shade.FINISH,
    border.FINISH,
    caption.FINISH,
    keyline.FINISH,
)

__all__ = ["FINISHES", "Canvas", "Finish", "FinishError", "FinishPart", "Given", "Others"]
