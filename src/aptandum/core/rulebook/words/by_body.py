"""Sizes that a body makes itself: *we print at 40 x 60 cm*, *prints at the final will be 60 cm wide*. They ask for nothing."""

from __future__ import annotations

import re

from aptandum.core.rulebook.words import patterns

_I = int(re.I)

_MADE_BY_BODY = r"\b(?:we|wir)\s+(?:[^\W\d]+\s+){0,2}?(?:cut|crop|trim|scale|resize|schneiden|beschneiden|verkleinern)\s+(?:[^\W\d]+\s+){0,2}?(?:to|auf)\s+$|\b(?:will (?:all )?be|we(?:'ll| will)|werden|wird)\s+(?:\w+\s+){0,4}?(?:print(?:ed)?|exhibited?|hung|hang|produced?|made|gedruckt|drucken|gezeigt|ausgestellt)\s+(?:\w+\s+){0,4}$|\b(?:are|is|we|I)\s+(?:\w+\s+)?print(?:ed|s)?\s+(?:\w+\s+){0,4}(?:at|on|to|in|as)\s+(?:\d[^.;]*\bor\s+)?$"
_IN_FORMAT = r"\b(?:werden|wird|drucken)\s+(?:\w+\s+){0,3}?(?:in|im|auf|mit)\s+(?:\w+\s+){0,2}$"
_IS_MADE = r"[^.;,]{0,20}\b(?:gedruckt|gezeigt|ausgestellt|produziert|gefertigt|drucken)\b"
"""What tells how large a body makes what it was given: *the winning photos will be printed at 60 x 40 cm*."""
_WE_PRINT = r"^\W*(?:we|wir)\s+(?:will |werden )?(?:crop|cut|trim|scale|resize|schneiden|verkleinern)\b[^.;]*\b(?:print|drucken)\b[^.;\d]*$"
_WILL = r"\b(?:wird|werden)\s+(?:[^\W\d]+\s+){0,4}$"
_IS_CUT = r"\s*(?:px|Pixel)?\s*(?:vergrößert|gezeigt|gedruckt|ausbelichtet|abgezogen|aufgezogen|zugeschnitten|beschnitten|verkleinert|skaliert|gebracht|umgerechnet)\b"
"""What tells that a body itself brings pictures to a size."""
_MAKES_FROM_IT = r"\b(?:we|wir)\s+(?:(?:then|also|will|ourselves|selbst|dann)\s+)*(?:make|create|generate|derive|produce|erzeugen|erstellen)\b[^.;]*$|\b(?:erzeugen|erstellen|machen|rechnen|leiten) wir\b[^.;]*$"
_COMES_OUT = r"\b(?:comes?|amounts?|works? out|corresponds?)\s+(?:to|at)\s+(?:some\s+|about\s+|roughly\s+|around\s+)?$"
"""*Which comes to some 7300 pixels on a side*: what follows from something else."""
_MADE_HERE = r"[^.;]*\b(?:are|is|will be|werden|wird)\s+(?:\w+\s+)?(?:made|created|generated|derived|produced|erzeugt|erstellt|gemacht)\s+(?:here|by us|in-?house|automatically)\b|[^.;]*\b(?:werden|wird)\s+(?:von uns|bei uns|hier|automatisch)\s+(?:\w+\s+)?(?:erzeugt|erstellt|gemacht)\b"
"""What a body makes itself of what it was given: *for the web we make JPEGs of 2000 pixels*."""
_PRINTS_ARE = r"^\W*(?:the |all |our |die |alle )?(?:[\w-]+ ){0,2}?(?:prints?|enlargements?|posters?|panels|Abzüge|Drucke|Plakate|Tafeln)\b[^.;:\d]*\b(?:will be|will have|werden|are going to be)\b[^.;:\d]*$"
"""*Prints at the final will be 60 cm wide*: what comes of the pictures."""


def made_by_body(kind: str, before: str, behind: str) -> bool:
    """Whether the words round a quantity make it one of what a body makes itself."""
    if kind in ("length", "print size", "size") and patterns.search(_PRINTS_ARE, before, _I):
        return True
    if kind in ("size", "print size", "px", "ppi", "bytes") and patterns.match(
        _MADE_HERE, behind, _I
    ):
        return True  # “Derivatives, JPEG with 1500 px, are made here”
    made = f"{_MAKES_FROM_IT}|{_COMES_OUT}"
    if kind in ("px", "ppi", "size") and patterns.search(made, before, _I):
        return True
    return "size" in kind and bool(
        patterns.search(_MADE_BY_BODY, before, _I)
        or patterns.search(_WE_PRINT, before, _I)
        or (patterns.search(_IN_FORMAT, before, _I) and patterns.match(_IS_MADE, behind, _I))
        or (patterns.search(_WILL, before, _I) and patterns.match(_IS_CUT, behind, _I))
    )
