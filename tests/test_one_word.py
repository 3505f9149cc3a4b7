"""Each word of the glossary is used for one thing only in what a person reads, and each thing has one word."""

from __future__ import annotations

import re
import sys
from pathlib import Path

import pytest

sys.path.insert(0, str(Path(__file__).resolve().parent.parent / "tools"))

import extract_words

# What the house calls a thing, and what it therefore does not: of these none is in any text.
OTHER_WORDS = {
    "photo, picture": "images?|photographs?|snapshots?",
    "docket": "projects?|albums?|workspaces?",
    "brief": "specs?|specifications?|presets?",
    "rule, clause": "requirements?|regulations?|criteri(?:on|a)|guidelines?",
    "cut": "crop(?:s|ped|ping)?|trim(?:s|med|ming)?",
    "turn, straighten": "rotat(?:e|es|ed|ing|ion)",
    "made smaller, scaled": "shr[iu]nk(?:s|ing)?|downsampl(?:e|ed|ing)",
    "backdrop": "backgrounds?",
    "caption": "watermarks?|overlays?",
    "mark": "landmarks?|markers?|keypoints?",
    "verdict": "pass(?:es|ed)?(?= the)|fail(?:s|ed|ure)? (?:the|a) (?:check|rule)|warnings|compliant|compliance",
    "proof": "validat(?:e|es|ed|ion)|verif(?:y|ies|ied|ication)",
    "hand over": "submit(?:s|ted|ting)?|submissions?|deliver(?:s|ed|y)?",
    "batch, all": "queues?|pipelines?|workflows?",
    "card, page": "tabs?|panes?|sidebars?|toolbars?|docks?",
    "transparent": "alpha channels?|see-through",
    "ground": "canvas(?:es)?",
    "place of the shot": "gps|geotags?|locations?",
}

# Words that would easily be used for two things: wherever they stand, it is in one of these ways.
ONE_THING = {
    "clear": r"keep[s-]*(?: a box)?[ -]clear|kept clear|stay clear|zones clear|^clear$|clears it|keep-clear|^edge, clear",
    "figures?": r"a figure|^figure|\{figure\}",
    "stations?": r"station|\{stations?\}",
    "dockets?": r"docket",
}


def templates() -> list[str]:
    """Every text that a person may read, in English."""
    found = []
    for message in extract_words.translation("de"):
        if message.id:
            found += [message.id] if isinstance(message.id, str) else list(message.id)
    return found


@pytest.mark.parametrize("thing", OTHER_WORDS)
def test_a_thing_has_one_word(thing):
    pattern = re.compile(rf"(?<![-{{/.])\b(?:{OTHER_WORDS[thing]})\b(?![}}=/])", re.IGNORECASE)
    assert [text for text in templates() if pattern.search(text)] == []


@pytest.mark.parametrize("word", ONE_THING)
def test_a_word_is_one_thing(word):
    used = [text for text in templates() if re.search(rf"\b{word}\b", text, re.IGNORECASE)]
    assert used, "the word is not used at all: take it out of this test"
    meant = re.compile(ONE_THING[word], re.IGNORECASE)
    assert [text for text in used if not meant.search(text)] == []


def test_every_word_of_the_glossary_that_a_person_meets_is_used(request):
    """A word that no text uses is no word of the house."""
    glossary = (Path(__file__).resolve().parent.parent / "docs/glossary.md").read_text()
    part = glossary.split("**What a person meets**")[1].split("**What only the code says**")[0]
    words = re.findall(r"^\| ([^|]+) \| ", part, re.MULTILINE)[1:]
    assert len(words) > 40
    everything = " ".join(templates()).lower()
    for entry in words:
        for word in entry.split(", "):
            stem = re.sub(r"(y|e)$", "", word.strip().lower())
            assert stem in everything, f"“{word}” stands in the glossary and in no text"
