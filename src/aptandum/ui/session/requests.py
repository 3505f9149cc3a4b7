"""What one part of the window asks of another, without knowing it."""

from __future__ import annotations

from PyQt6.QtCore import QObject, pyqtSignal


class Requests(QObject):
    """Each signal is a wish; the window grants it.

    Signals:
        tool: that the next click on the sheet belong to a tool (given).
        finish: that what belongs to a finish be seen on the sheet (its name).
        caption: that one of several captions be the one that is set (its number from 1).
        panel: that a panel of the template be chosen (its name).
        layer: that something that lies over a panel be chosen (the panel's name, and its number from 1; 0: its ground).
        loss: that the picture before and after encoding be shown.
        copy, folder, report, hand_over: as the buttons of the same names.
        doubted: that it be asked whether a file is made of a photo whose data are damaged (a sentence).
        outcome: that what came of a fitting in a batch be held (an ``Outcome``).
    """

    surround = 1
    """The tone of the sheet's ground, of ``theme.SURROUNDS``."""

    tool = pyqtSignal(object)
    panel = pyqtSignal(str)
    layer = pyqtSignal(str, int)
    finish = pyqtSignal(str)
    caption = pyqtSignal(int)
    loss = pyqtSignal()
    copy = pyqtSignal()
    folder = pyqtSignal()
    report = pyqtSignal()
    hand_over = pyqtSignal()
    doubted = pyqtSignal(str)
    outcome = pyqtSignal(object)
