"""Questions and their answers: *Must I name the photographer? Yes, in the file.*"""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from aptandum.core.rulebook.toml import check_clause
from aptandum.core.rulebook.words import patterns
from aptandum.core.rulebook.words.draft import Draft
from aptandum.core.rulebook.words.parts import Part
from aptandum.core.rulebook.words.sentence import Sentence

_I = int(re.I)

MUST, _MAY = (
    r"\b(?:must|should|has to|have to|needs? to|do I need|muss|müssen|soll\w*)\b",
    r"\b(?:may|can|could|do you (?:take|accept|want|use)|allowed|permitted|accepted|darf|dürfen|kann|können|erlaubt|nehm\w+ (?:Sie|ihr))\b",
)
_YES = r"\W*(?:(?:A|Answer|Antwort)\s*[:.]\s*)?(?:Yes|Always|Ja|Immer)\b"
_NO = r"\W*(?:(?:A|Answer|Antwort)\s*[:.]\s*)?(?:No\b|Never|Only\b|Sorry|Unfortunately|Nein|Nie|Nur\b|Leider)"


_OF_HEAD = r"\b(?:head|face|Kopf|Gesicht)\b"
_LEAST = r"\b(?:smallest|minimum|at least|how small|least|kleinste\w*|mindest\w*|wie klein)\b"
_MOST = r"\b(?:largest|maximum|biggest|limit|how (?:large|big|heavy|long|much) (?:can|may|is)|größte\w*|höchst\w*|maximal\w*|wie (?:groß|schwer) (?:darf|kann|dürfen))\b"


def as_asked(found: list[Draft], question: str) -> list[Draft]:
    """The drafts of an answer, with the bound that the question speaks of: *Is there a smallest size? 200 by 200.*"""
    bound = next((key for key, said in (("at_least", _LEAST), ("at_most", _MOST)) if patterns.search(said, question, _I)), "")  # fmt: skip
    made = []
    for draft in found:
        if draft.fields.get("measure") == "print_longest" and patterns.search(
            _OF_HEAD, question, _I
        ):
            fields = {
                **draft.fields,
                "measure": "head_height",
            }  # “How big should my head be? 30 to 36 mm.”
            draft = replace(draft, fields=fields, certainty="sure", readings=())
        value = draft.fields.get("exactly")
        if bound in draft.fields and draft.readings:
            draft = replace(draft, certainty="sure", readings=())  # “How big can it be? 500 MB.”
        if bound and isinstance(value, str) and re.match(r"\d", value):
            fields = {bound if key == "exactly" else key: v for key, v in draft.fields.items()}
            draft = replace(draft, fields=fields) if check_clause(fields)[0] is not None else draft
        made.append(draft)
    return made


_OF_LOOKS = r"expression|pose|clothes|clothing|outfit|jewell?ery|make-?up|hair|kleidung|haltung|schmuck|frisur"
_FEW = 3
"""So many words has a question at most that is a heading: *Background? Plain, light grey.*"""


def is_heading(question: str) -> bool:
    """Whether a question is only the name of what its answer is about: *Glasses? No tinted ones.*"""
    few = len(re.findall(r"\w+", question)) <= _FEW
    return few or patterns.match(r"\W*(?:how old|how recent|wie alt)\b", question, _I) is not None


_OF_COURSE = r"\W*(?:(?:A|Answer|Antwort)\s*[:.]\s*)?(?:You (?:can|may)|Sure|Of course|Certainly|Gern|Klar|Natürlich)\b"
_ABLE = r"\W*(?:do|can|could|are) (?:you|we|I)\b|\W*(?:könnt|können|kann|druckt|drucken|macht|machen|gibt)\b"


def only_able(found: list[Draft], question: str, answer: str) -> list[Draft]:
    """The drafts of an answer, doubted where the question is what a body can do: *Do you print A0? Yes: 841 x 1189 mm.*"""
    may = patterns.search(_MAY, question, _I) and patterns.match(
        rf"{_YES}|{_OF_COURSE}", answer, _I
    )
    if may:  # what may be is not asked for
        found = [d for d in found if d.fields.get("measure") not in ("transparency", "progressive")]
    able = patterns.match(_ABLE, question, _I) and patterns.match(_YES, answer, _I)
    return [replace(d, certainty="doubtful") for d in found] if able else found


def with_question(found: list[Draft], question: str) -> list[Draft]:
    """The drafts of an answer; what it asks of a person with its question, without which nobody knows what it is about."""
    if not is_heading(question):
        return found
    name = " ".join(question.split())
    return [
        replace(d, fields={**d.fields, "ask": f"{name} {d.fields['ask']}"}) if "ask" in d.fields else d
        for d in found
    ]  # fmt: skip


def _named(question: Sentence, asked: str, said: str, answer: Part) -> Iterator[Draft]:
    """*Background? Plain, light grey.*: an answer that is a rule by the name that its question is."""
    of_looks = rf"\b(?:{question.words.asks}|{_OF_LOOKS})"
    told = re.search(r"[^\W\d]", said) and not re.search(r"\d", said)
    if is_heading(asked) and told and patterns.search(of_looks, asked, _I):
        text = question.text
        quote = text[question.start : answer.end].rstrip()
        at = question.start, question.start + len(quote)
        yield Draft({"ask": " ".join(quote.split()).rstrip(".")}, quote, *at, question.brief)


_LABELLED = r"(?:(?:A|Answer|Antwort)\s*[:.]\s*)?"
_HOW_MANY = r"\W*(?:(?:Q|F|Question|Frage)\s*\d*\s*[:.)]\s*)?(?:how many|wie ?viele)\b(?! (?:pixels?|bytes?|letters|characters|colou?rs|dpi|ppi|people|mega\w*|Pixel|Farben|Zeichen|Personen|Leute))"


def _counted(question: Sentence, said: str, answer: Part) -> Iterator[Draft]:
    """*How many? 3 to 30.*"""
    words = question.words
    number = r"\d{1,3}|" + "|".join(words.numerals)
    bounds = "|".join(
        f"(?P<{name}>{words.before[name]})" for name in ("at_least", "at_most", "exactly")
    )
    hit = patterns.fullmatch(
        rf"\W*{_LABELLED}(?:(?:{bounds})\s*)?(?:(?P<low>{number})\s*(?:{words.to}|or|oder)\s*)?(?P<high>{number})(?:\s+(?:{words.pictures}|pieces|in all))?\W*(?:[,;–-]\s[^\d.]*\W*)?",
        said, _I,
    )  # fmt: skip
    if hit is None:
        return
    low, high = (str(words.numerals.get((hit[k] or "").lower(), hit[k])) for k in ("low", "high"))
    name = next((n for n in ("at_least", "at_most") if hit[n]), "exactly")
    limit = {"between": [low, high]} if hit["low"] else {name: high}
    at = answer.start + hit.start("low" if hit["low"] else "high"), answer.start + hit.end("high")
    quote = question.text[question.start : answer.end].rstrip()
    start = question.start
    fields = {"measure": "set_count", **limit}
    yield Draft(fields, quote, start, start + len(quote), question.brief, numbers=(at,))


def answered(question: Sentence, answer: Part) -> Iterator[Draft]:
    """What a question and its answer ask for, where the answer by itself says no rule: *Must it be a JPEG? Yes*, *Must I name
    the photographer? Yes, in the file.* What only may be asks for nothing.

    Args:
        question: with a lead where it asks whether something may be.
    """
    text = question.text
    asked, said = text[question.start : question.end], text[answer.start : answer.end]
    if patterns.match(_HOW_MANY, asked, _I):
        yield from _counted(question, said, answer)
        return
    bound = (patterns.search(MUST, asked, _I) and patterns.match(_YES, said, _I)) or (
        patterns.search(_MAY, asked, _I) and patterns.match(_NO, said, _I)
    )
    if not bound:
        yield from _named(question, asked, said, answer)
        return
    bare = patterns.fullmatch(rf"(?:{_YES}|{_NO})\W*", said.strip(), _I)
    held = [d for d in question.drafts() if "ask" not in d.fields] if bare else []
    yield from held
    if not held:
        quote = text[question.start : answer.end].rstrip()
        at = question.start, question.start + len(quote)
        yield Draft({"ask": " ".join(quote.split())}, quote, *at, question.brief)
