"""The drawing sheet: the photo on neutral grey, and what the brief asks drawn on it. ``view`` knows where
things lie, ``drawing`` how they look, ``pointer`` what is done with them."""

from aptandum.ui.bench.sheet.pointer import Sheet

__all__ = ["Sheet"]
