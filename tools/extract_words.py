"""Gathers every template of the application's words, and brings the translations up to date with them.

    python tools/extract_words.py

Templates are read from the calls of ``say``, ``t``, ``say_n``, ``t_n`` and ``noted`` in the program and from the
pages of the reports; paragraphs from the pages of the guide. ``translations/LANGUAGE.po`` are what people translate, with any tool for
gettext; what is compiled from them is laid at
``src/aptandum/data/locale/LANGUAGE/LC_MESSAGES/aptandum.mo``. A template that has no translation yet
is printed, and stands in English until it has one.
"""

from __future__ import annotations

import ast
import io
import re
from collections.abc import Iterator
from datetime import UTC, datetime
from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.mofile import write_mo
from babel.messages.pofile import read_po, write_po

from aptandum.core.pages import reworded

ROOT = Path(__file__).resolve().parent.parent
SOURCES = ROOT / "src" / "aptandum"
TRANSLATIONS = ROOT / "translations"
LANGUAGES = ("de", "es", "fr")

_FORMS = {"say": 1, "t": 1, "noted": 1, "say_n": 2, "t_n": 2}
_NO_DAY = datetime(2026, 1, 1, tzinfo=UTC)
_ON_A_PAGE = re.compile(r'\bsay\("((?:[^"\\]|\\.)*)"')

Template = str | tuple[str, str]


def _of_code(text: str) -> Iterator[tuple[int, Template]]:
    """Babel's own reading of Python passes over a call within another's arguments; this does not."""
    for node in ast.walk(ast.parse(text)):
        if not isinstance(node, ast.Call) or not isinstance(node.func, ast.Name):
            continue
        wanted = _FORMS.get(node.func.id, 0)
        forms = [
            given.value
            for given in node.args[:wanted]
            if isinstance(given, ast.Constant) and isinstance(given.value, str)
        ]
        if wanted and len(forms) == wanted and forms[0]:
            yield node.lineno, forms[0] if wanted == 1 else (forms[0], forms[1])


def _of_page(text: str) -> Iterator[tuple[int, Template]]:
    for found in _ON_A_PAGE.finditer(text):
        yield text.count("\n", 0, found.start()) + 1, found[1]


def _of_guide(text: str) -> Iterator[tuple[int, Template]]:
    found: list[str] = []
    reworded(text, lambda words: (found.append(words), words)[1])
    for words in found:
        yield 0, words


def gather() -> Catalog:
    """Every template with the files where it stands."""
    made = Catalog(project="Aptandum", charset="utf-8")
    kinds = {".py": _of_code, ".html": _of_page, ".md": _of_guide}
    pages = [*SOURCES.rglob("data/report/*.html"), *SOURCES.rglob("data/guide/*.md")]
    for path in sorted([*SOURCES.rglob("*.py"), *pages]):
        read = kinds[path.suffix]
        for _line, template in read(path.read_text("utf-8")):
            held = made.get(template if isinstance(template, str) else template[0])
            if held is not None and isinstance(held.id, tuple) and isinstance(template, str):
                continue  # the word alone, whose plural is asked for elsewhere: one entry says both
            # Without lines: a translation does not change because a line was added above.
            made.add(template, None, [(str(path.relative_to(SOURCES)), None)])
    return made


def translation(language: str) -> Catalog:
    """What stands for the language, brought up to date with the templates of now."""
    path = TRANSLATIONS / f"{language}.po"
    with open(path, "rb") as stream:
        held = read_po(stream, locale=language)
    held.update(gather(), no_fuzzy_matching=True)
    held.obsolete.clear()
    return held


def _undated(catalogue: Catalog) -> Catalog:
    """Without the dates and names that Babel writes: the files change with the words only."""
    catalogue.creation_date = catalogue.revision_date = _NO_DAY
    catalogue.last_translator = catalogue.language_team = ""
    catalogue.header_comment = "# Aptandum, made of its own words; under its licence."
    return catalogue


def written(catalogue: Catalog) -> bytes:
    """A catalogue as the text that people translate."""
    stream = io.BytesIO()
    write_po(stream, _undated(catalogue), width=100, sort_output=True)
    return stream.getvalue()


def compiled(catalogue: Catalog) -> bytes:
    """A catalogue as the application reads it."""
    stream = io.BytesIO()
    write_mo(stream, _undated(catalogue))
    return stream.getvalue()


def compiled_path(language: str) -> Path:
    """Where the application looks for a language."""
    return SOURCES / "data" / "locale" / language / "LC_MESSAGES" / "aptandum.mo"


def main() -> None:
    for language in LANGUAGES:
        held = translation(language)
        (TRANSLATIONS / f"{language}.po").write_bytes(written(held))
        target = compiled_path(language)
        target.parent.mkdir(parents=True, exist_ok=True)
        target.write_bytes(compiled(held))
        for message in held:
            forms = message.string if isinstance(message.string, tuple) else (message.string,)
            if message.id and not all(forms):
                print(f"{language}: {message.id!r}")
        print(f"{language}: {len(held)} templates")


if __name__ == "__main__":
    main()
