"""The one place through which every sentence passes, so that it can be translated.

The core speaks in whole sentences (findings, errors, mends). Each is written at its place
of use as an English template and handed to :func:`say`; a translation is a mapping from
template to template, set once at start.
"""

from __future__ import annotations

from collections.abc import Mapping

_catalogue: dict[str, str] = {}

NBSP = "\u00a0"


def use_catalogue(catalogue: Mapping[str, str]) -> None:
    """Replace the translation catalogue: English template to translated template."""
    _catalogue.clear()
    _catalogue.update(catalogue)


def say(template: str, /, **values: object) -> str:
    """Return the template, translated where a translation is known, with its values put in."""
    text = _catalogue.get(template, template)
    return text.format(**values) if values else text


def listed(words: list[str] | tuple[str, ...], last: str = "or") -> str:
    """Join words as a sentence does: ``a, b or c``."""
    if len(words) < 2:
        return "".join(words)
    return f"{', '.join(words[:-1])} {last} {words[-1]}"
