"""The one place through which every word passes, so that it can be translated.

The application speaks in whole sentences. Each is written at its place of use as an English template
and handed to :func:`say`, or with its plural to :func:`say_n`; a translation is a gettext catalogue,
found once, when the process starts, by the language of the system. ``tools/extract_words.py`` gathers
the templates and compiles the translations.

``APTANDUM_LANGUAGE`` names another language than the system's: ``de``, ``es``, ``fr`` or ``en``; ``C`` is
the neutral one, in which machine output is written whatever the system's is, ``pseudo`` puts every
text in brackets, so that a bare one is seen, and ``mirrored`` is English laid out from right to left.
"""

from __future__ import annotations

import gettext
import locale
import os
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date, datetime
from importlib import resources
from pathlib import Path

from aptandum.core.frozen import frozen

NBSP = "\u00a0"
OPEN, CLOSE = "⟦", "⟧"
"""What stands round every text in the pseudo language."""

_FROM_RIGHT = frozenset({"ar", "arc", "ckb", "dv", "fa", "he", "ps", "sd", "ug", "ur", "yi"})
"""Languages that are written from right to left."""

_DOMAIN = "aptandum"


@frozen
class Customs:
    """How figures and times are written.

    Attributes:
        decimal: what stands before the decimals.
        date: a format of ``strftime`` for a day.
        group: what may group digits beside spaces where a number is read; empty: nothing.
    """

    decimal: str = "."
    date: str = "%Y-%m-%d"
    group: str = ""


NEUTRAL = Customs(group=",")
_OF = {
    "de": Customs(",", "%d.%m.%Y", "."),
    "es": Customs(",", "%d/%m/%Y", "."),
    "fr": Customs(",", "%d/%m/%Y"),
}
"""What a language has, where the system has none of its own or speaks another."""


class _Pseudo(gettext.NullTranslations):
    """Every text in brackets."""

    def gettext(self, message: str) -> str:
        return f"{OPEN}{message}{CLOSE}"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)


class _Mirrored(gettext.NullTranslations):
    """English as it is read where everything else runs from right to left: each text held in its own direction."""

    def gettext(self, message: str) -> str:
        return f"\u2066{message}\u2069"

    def ngettext(self, msgid1: str, msgid2: str, n: int) -> str:
        return self.gettext(msgid1 if n == 1 else msgid2)


_plain = gettext.NullTranslations()
_neutrally: ContextVar[bool] = ContextVar("neutrally", default=False)


def _system_customs() -> Customs:
    """As the system's locale has them. The process's own locale is left as it was but for its
    times: libraries in C read and write numbers by it."""
    before = locale.setlocale(locale.LC_NUMERIC)
    try:
        locale.setlocale(locale.LC_NUMERIC, "")
        held = locale.localeconv()
        name = locale.setlocale(locale.LC_TIME, "")
    except locale.Error:
        return NEUTRAL
    finally:
        locale.setlocale(locale.LC_NUMERIC, before)
    decimal = str(held["decimal_point"]) or "."
    group = str(held["thousands_sep"]).strip() or ("," if decimal == "." else ".")
    plain = name.split(".")[0] in ("C", "POSIX")
    return Customs(decimal, NEUTRAL.date if plain else "%x", group if group != decimal else "")


def _folder() -> Path:
    return Path(str(resources.files("aptandum.data").joinpath("locale")))


def _start() -> tuple[gettext.NullTranslations, Customs]:
    language = os.environ.get("APTANDUM_LANGUAGE", "")
    if language == "C":
        return _plain, NEUTRAL
    if language == "pseudo":
        return _Pseudo(), NEUTRAL
    if language == "mirrored":
        return _Mirrored(), NEUTRAL
    languages = [language] if language else None
    found = gettext.translation(_DOMAIN, _folder(), languages, fallback=True)
    language = found.info().get("language", "")
    system = _system_customs()
    fits = locale.setlocale(locale.LC_TIME).startswith(language)
    return found, system if fits else _OF.get(language, system)


_translation, _customs = _start()
_from_right_in_english = isinstance(_translation, _Mirrored)
_RIGHT = "\u200f"


def lend() -> None:
    """Let libraries that ask gettext themselves find their words in our catalogue, where the
    language in use has one."""
    if language := _translation.info().get("language", ""):
        os.environ["LANGUAGE"] = language
        gettext.bindtextdomain(_DOMAIN, str(_folder()))
        gettext.textdomain(_DOMAIN)


def spoken() -> str:
    """The language in use, as its catalogue names itself; empty: English, as the templates are."""
    return _now().info().get("language", "")


def from_right() -> bool:
    """Whether the language in use is written from right to left, and everything is laid out so."""
    return _from_right_in_english or spoken().split("_")[0] in _FROM_RIGHT


def customs() -> Customs:
    """How figures and times are written here and now."""
    return NEUTRAL if _neutrally.get() else _customs


def use_customs(other: Customs) -> Callable[[], None]:
    """Write figures and times otherwise from now on; gives what puts it back. For tests."""
    global _customs
    before, _customs = _customs, other

    def back() -> None:
        global _customs
        _customs = before

    return back


@contextmanager
def neutrally() -> Iterator[None]:
    """Within it, sentences and figures are those of machine output, whatever the system's language
    is."""
    token = _neutrally.set(True)
    try:
        yield
    finally:
        _neutrally.reset(token)


def told() -> list[object]:
    """The customs in force, for another process that speaks to the same person; as JSON can say them."""
    held = customs()
    return [_neutrally.get(), held.decimal, held.date, held.group]


@contextmanager
def as_told(held: Sequence[object] | None) -> Iterator[None]:
    """Within it, sentences and figures are those of the process that said so (:func:`told`)."""
    if held is None:
        yield
        return
    if list(held) == told():
        yield
        return
    neutral, decimal, date, group = held
    back = use_customs(Customs(str(decimal), str(date), str(group)))
    token = _neutrally.set(bool(neutral))
    try:
        yield
    finally:
        _neutrally.reset(token)
        back()


def speech() -> object:
    """What tells the language and customs in force from others; a part of the key of whatever keeps
    sentences."""
    return _neutrally.get(), _translation.info().get("language", ""), _customs


def _now() -> gettext.NullTranslations:
    return _plain if _neutrally.get() else _translation


def say(template: str, /, **values: object) -> str:
    """The template in the person's language, with its values put in."""
    if not template:
        return ""
    text = _now().gettext(template)
    return _begun(text.format(**values) if values else text)


def as_said(text: str) -> str:
    """A text that stands elsewhere than in the program (a page of the guide), in the language in use."""
    return _now().gettext(text)


def say_n(one: str, many: str, n: int, /, **values: object) -> str:
    """The template for a count, in the person's language; ``{n}`` is the count, grouped."""
    text = _now().ngettext(one, many, n)
    return _begun(text.format(n=grouped(n), **values))


def _begun(text: str) -> str:
    """A text that begins at the right, where all is laid out so and its words are English; what was put into it is
    a part of it."""
    return f"{_RIGHT}{text.replace(_RIGHT, '')}" if _from_right_in_english else text


def grouped(value: int) -> str:
    """A whole number with its thousands set apart by a no-break space."""
    return f"{value:,}".replace(",", NBSP)


def listed(words: Sequence[str], last: str = "or") -> str:
    """Words joined as a sentence joins them: ``a, b or c``; ``last`` is ``or`` or ``and``."""
    if len(words) < 2:
        return "".join(words)
    first = words[0]
    for word in words[1:-1]:
        first = say("{list}, {word}", list=first, word=word)
    if last == "and":
        return say("{list} and {word}", list=first, word=words[-1])
    return say("{list} or {word}", list=first, word=words[-1])


def joined(parts: Sequence[str]) -> str:
    """Facts beside one another: ``a · b``; empty ones are left out."""
    found = ""
    for part in parts:
        if part:
            found = say("{facts} · {fact}", facts=found, fact=part) if found else part
    return found


def commas(parts: Sequence[str]) -> str:
    """Things one after the other: ``a, b, c``."""
    found = ""
    for part in parts:
        if part:
            found = say("{list}, {word}", list=found, word=part) if found else part
    return found


def semicolons(parts: Sequence[str]) -> str:
    """Clauses one after the other: ``a; b``."""
    found = ""
    for part in parts:
        if part:
            found = say("{list}; {clause}", list=found, clause=part) if found else part
    return found


def sentences(parts: Sequence[str]) -> str:
    """Sentences one after the other; empty ones are left out."""
    found = ""
    for part in parts:
        if part:
            found = say("{text} {sentence}", text=found, sentence=part) if found else part
    return found


def show_day(moment: date) -> str:
    """A day, as the system writes it."""
    return moment.strftime(customs().date)


def show_moment(moment: datetime) -> str:
    """A day and a time, to the minute."""
    return say("{day} {time}", day=show_day(moment), time=f"{moment:%H:%M}")
