"""What a brief's allowed sizes come to, in words."""

from __future__ import annotations

from aptandum.core.quantity import show_aspect, show_factor, show_size
from aptandum.core.rulebook.model import Brief
from aptandum.core.rulebook.sizes import Cell, allowed
from aptandum.core.words import say


def _cell_words(cell: Cell) -> str:
    parts: list[str] = [cell.turn]
    if cell.w_lo == cell.w_hi and cell.h_lo == cell.h_hi:
        return say("{turn}: {size}", turn=cell.turn, size=show_size((cell.w_lo, cell.h_lo)))
    if cell.aspect is not None:
        parts.append(show_aspect(cell.aspect))
    if cell.fixed_shape is not None:
        bounds = cell.along(cell.fixed_shape)
        low, high = bounds.smallest(), bounds.largest(10**6)
        if low and high:
            parts.append(say("from {low} to {high}", low=show_size(low), high=show_size(high)))
    else:
        top = 65_500
        for name, lo, hi in (("width", cell.w_lo, cell.w_hi), ("height", cell.h_lo, cell.h_hi)):
            if lo > 1:
                parts.append(say("{side} at least {n}", side=name, n=lo))
            if hi < top:
                parts.append(say("{side} at most {n}", side=name, n=hi))
    return ", ".join(parts)


def describe(brief: Brief, photo: tuple[int, int] | None = None) -> list[str]:
    """Sentences on the sizes that a brief allows, and what a photo of a size can give."""
    sizes = allowed(brief)
    if not sizes.cells:
        return [say("No size meets all of its clauses: they contradict one another.")]
    said = [_cell_words(cell) for cell in sizes.cells]
    if photo is not None:
        target = sizes.cut(*photo)
        if target is None:
            said.append(say("No size can be cut from this photo."))
        else:
            line = say(
                "From {photo}: {size}, {shape}",
                photo=show_size(photo),
                size=show_size(target.size),
                shape=show_aspect(target.shape),
            )
            if target.enlargement > 1 + 1e-9:
                line += ", " + say("enlarged {n}", n=show_factor(target.enlargement))
            said.append(line)
    return said
