"""Whose rules a text has: the body's name, guessed from the words or from the file's name."""

from __future__ import annotations

import re
from pathlib import Path

from aptandum.core.rulebook.words.patterns import finditer, search

_KINDS = (
    "office|registry|hall|society|guild|council|club|museum|library|exchange|observatory|authority|"
    "ministry|department|agency|institute|university|college|school|academy|association|federation|"
    "committee|board|bureau|service|services|market|gallery|archive|archives|union|company|ferries|"
    "railway|prize|contest|competition|awards?|salon|exhibition|festival|press|fair|channel|trust|court|harbour|port|theatre|foundation|league|"
    r"\w*preis|\w*wettbewerb|\w*ausstellung|\w*amt|\w*verein|\w*behörde|\w*ministerium|\w*gesellschaft|\w*schule|\w*verband|\w*werke?|"
    r"\w*archiv|\w*museum|\w*bibliothek|\w*börse|\w*hafen"
)
_WORD = r"[A-ZÄÖÜ][\w'’äöüß-]+"
_COMPOUND = r"[A-ZÄÖÜ][a-zäöüß]+(?:amt|behörde|ministerium|gesellschaft|verband|verein|archiv)\b"
_NAME = (
    rf"{_WORD}(?: (?:(?:of|for|the|and|der|des|für|von|zu|&) ){{0,2}}{_WORD}){{1,5}}|{_COMPOUND}"
)
_PLAIN = (
    "the|a|an|of|for the|please|all|your|photo|photos|photograph|photographs|picture|pictures|image|images|files?|"
    "der|die|das|bitte|alle|ihr|foto|fotos|bild|bilder|dateien|for|für|to|rules|requirements|guidelines"
)
_MOST_LETTERS = 20_000


def whose(text: str, file: str = "") -> str:
    """The name of the body that a text is probably of; empty where nothing tells it.

    A name is several words with capitals of which one is a kind of body (*Office*, *Hafenamt*); that
    named most often is taken, of several the first. Else the words of the file's name.
    """
    counts: dict[str, int] = {}
    for hit in finditer(_NAME, text[:_MOST_LETTERS]):
        name = hit.group(0)
        while search(rf"^(?:{_PLAIN}) ", name, int(re.I)):
            name = name.split(" ", 1)[1]
        cut = list(finditer(rf"\b(?:{_KINDS})\b", name, int(re.I)))
        if not cut or (" " not in name and not search(rf"^{_COMPOUND}", name)):
            continue
        # "Vessary Harbour Registry Photo Rules" ends where the kind of body is named; "Guild of Potters"
        # and "Office for Piers" go on.
        end = cut[-1].end()
        after = search(
            rf"^ (?:of|for|der|des|für|von|zu) (?:the )?{_WORD}(?: {_WORD})*", name[end:]
        )
        name = name[: end + (after.end() if after else 0)]
        counts[name] = counts.get(name, 0) + 1
    if counts:
        return max(counts, key=lambda name: counts[name])
    stem = " ".join(re.sub(r"[_\-.+]+", " ", Path(file).stem).split())
    words = [
        w
        for w in stem.split()
        if not search(r"^(?:v?\d+|rules?|page|photos?|spec\w*|guidelines)$", w, int(re.I))
    ]
    return " ".join(words)[:60].strip().capitalize() if words else ""
