"""Gathers every template of the application's words into a catalogue for translators, by Babel.

    python tools/extract_words.py [FILE.pot]

A translation is made from it with any tool for gettext, compiled, and laid at
``src/aptandum/data/locale/LANGUAGE/LC_MESSAGES/aptandum.mo``.
"""

from __future__ import annotations

import sys
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po

ROOT = Path(__file__).resolve().parent.parent
KEYWORDS = {"say": None, "t": None, "say_n": (1, 2), "t_n": (1, 2)}


def gather() -> Catalog:
    """Every template with the places where it stands."""
    made = Catalog(project="Aptandum", charset="utf-8")
    found = extract_from_dir(
        str(ROOT / "src"),
        method_map=[("**.py", "python")],
        keywords=KEYWORDS,
        comment_tags=("Translators:",),
    )
    for name, line, message, comments, context in found:
        made.add(message, None, [(name, line)], auto_comments=comments, context=context)
    return made


def main() -> None:
    target = Path(sys.argv[1] if len(sys.argv) > 1 else ROOT / "build" / "aptandum.pot")
    target.parent.mkdir(parents=True, exist_ok=True)
    made = gather()
    with open(target, "wb") as stream:
        write_po(stream, made, width=100, sort_by_file=True)
    print(f"{len(made)} templates: {target}")


if __name__ == "__main__":
    main()
