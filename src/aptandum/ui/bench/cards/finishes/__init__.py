"""The parts of the Finish card: one module a finish, in their fixed order."""

from aptandum.ui.bench.cards.finishes.backdrop import BackdropPart
from aptandum.ui.bench.cards.finishes.border import BorderPart
from aptandum.ui.bench.cards.finishes.caption import CaptionPart
from aptandum.ui.bench.cards.finishes.clear import ClearPart
from aptandum.ui.bench.cards.finishes.keyline import KeylinePart
from aptandum.ui.bench.cards.finishes.panels import PanelsPart
from aptandum.ui.bench.cards.finishes.part import Part
from aptandum.ui.bench.cards.finishes.shade import ShadePart
from aptandum.ui.bench.cards.finishes.sharpening import SharpeningPart

PARTS: tuple[type[Part], ...] = (
    SharpeningPart,
    BackdropPart,
    ClearPart,
    PanelsPart,
    ShadePart,
    BorderPart,
    CaptionPart,
    KeylinePart,
)

__all__ = ["PARTS", "ClearPart", "PanelsPart", "Part"]
