"""Sizes without a unit that are none in pixels: *photos should be 4 by 3*, *Passbild 35x45*."""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns

_I = int(re.I)

_MOST_OF_SHAPE = 24
"""A size whose sides are no longer is a shape, where they differ."""
_LEAST_OF_CARD, _MOST_OF_CARD = 25, 75
"""The sides between which one may be in millimetres."""
_OF_CARD = r"\d ?mm\b|\b(?:passports?|visas?|identity|ID (?:card|photo|picture)|licen[cs]es?|biometri\w*)\b|\b\w*(?:ausweis|führerschein|lichtbild)\w*|\b(?:Pass|Ausweis|Führerschein|Bewerbungs)\w*"
"""What makes it so."""
_HAS_UNIT = r"""\W{0,2}\(?(?:px|pixels?|pixeln?|mm\b|cm\b|in(?:ch(?:es)?)?\b|"|”|″|grid|matrix|raster|\s+(?!prints|photos|pictures|images|pixels|is\b|was\b|as\b)[a-z]+s\b)"""
"""What stands behind one that has a unit, or counts things: *5 x 4 thumbnails*."""
ANOTHER = r"(?:jpe?g|png|tiff?|gif|webp|avif|bmp|s?rgb|cmyk|adobe|display|gr[ea]y|grau|colou?r|farbe|max|min|up to|under|unter|not older|nicht älter|quality|qualität|\d+ ?(?:dpi|ppi|bit|[kKmM]B)\b|\d+-bit|(?!(?:{unit})\b|{counted})[^\W\d]{{2,}}\b)"
"""What is typed behind a side that is no unit of it: *long side 1920 cmyk max 5 MB*."""
COUNTED = (
    r"\w*(?:met(?:er|re)s?|inch(?:es)?|zoll|f[eo]{2}t|feet|yards?|miles?|points?|punkte?|picas?|twips)\b|per ?cent|prozent|degrees?|grad\b|"
    r"mill\w+|mega\w*|kilo\w*|years?|days?|months?|weeks?|hours?|minutes?|seconds?|jahre?|tage?|monate?|stunden?|people|persons?|visitors|personen|"
    r"words?|letters?|characters?|zeichen|wörter|buchstaben|zeilen|lines?|rows?|columns|spalten|tiles?|dots?|leds?|lamps?|times|mal\b|by\b|x\b|"
    r"frames?|colou?rs?|farben|gr[ae]ms?|gramm|kg|euros?|crowns|kronen|photos?|pictures?|images?|files?|fotos?|bilder|dateien|to\b|bis\b(?! zu)|or\b|oder\b"
)
"""What a number before it counts, or is of: *a height of 1800 metres*."""


def as_meant(
    values: tuple[str, ...], before: str, own: str, behind: str
) -> tuple[str, tuple[str, ...]]:
    """The kind of a size that was read as pixels, and its values: ``ratio``, ``print size``, or as it was, ``size``.

    Args:
        values: *4 x 3*.
        before, own, behind: the text before it, its own and behind it.
    """
    unit = re.search(r"[^\W\d]{2,}$", own.strip())  # “8 x 10 px”
    unit = unit or patterns.match(_HAS_UNIT, behind, _I)
    if unit or patterns.search(r"\b(?:for|für|von)\s+$", before, _I):
        return "size", values  # “1200 ppi for 9 x 12 plates”
    sides = [one.split(" x ") for one in values]
    pairs = [(_number(a), _number(b)) for a, b in sides]
    if all(_LEAST_OF_CARD <= a < b <= _MOST_OF_CARD for a, b in pairs) and patterns.search(
        _OF_CARD, before + own + behind, _I
    ):
        return "print size", tuple(f"{a} x {b} mm" for a, b in sides)
    if all(0 < a <= _MOST_OF_SHAPE >= b > 0 and a != b for a, b in pairs):
        return "ratio", tuple(f"{a}:{b}" for a, b in sides)
    return "size", values


def _number(said: str) -> float:
    return float(said) if re.fullmatch(r"\d+(?:\.\d+)?", said) else 0.0
