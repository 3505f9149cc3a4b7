"""The drawing sheet: the photo on neutral grey, and what the brief asks drawn on it. ``view`` knows where
things lie, ``drawing`` how they look, ``hand`` what is done with them."""

from aptandum.ui.bench.sheet.image import to_image
from aptandum.ui.bench.sheet.pointer import Sheet
from aptandum.ui.bench.sheet.view import DOTS, FITTED, SIDES, SUPPLIED

__all__ = ["DOTS", "FITTED", "SIDES", "SUPPLIED", "Sheet", "to_image"]
