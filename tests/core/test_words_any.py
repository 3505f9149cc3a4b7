"""Rules in words: whatever a text says, it is read without an error, and what is kept of it is a sound rulebook."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from aptandum.core.rulebook.slips import slips
from aptandum.core.rulebook.toml import parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from aptandum.core.rulebook.words.settled import Decisions, settled

SUBJECTS = (
    "Images", "JPEG files", "The head", "Width", "The long edge", "Bilder", "Der Kopf", "Upright pictures", "A border",
    "The corner", "The midpoint between the eyes", "Face width", "Number:", "Compression", "We", "For a page", "Screens:", "",
)  # fmt: skip
BOUNDS = ("under", "over", "at least", "at most", "between 5 and", "unter", "über", "mindestens", "max.", "better", "besser", "≥", "not", "+/-", "ab", "")  # fmt: skip
QUANTITIES = (
    "600 px", "1200 x 800 px", "35 x 45 mm", "2 MB", "1.024 KB", "300 dpi", "16:9", "70 %", "12 megapixels", "8 bit", "quality 80",
    "16 colours", "5 photos", "10 s", "20 characters", "4 cm", "10 frames", "5°", "A4", "20:1", "two thirds",
)  # fmt: skip
VERBS = (
    "will be rejected", "are fine", "get marked yellow", "markieren wir gelb", "bounce", "is preferred", "werden abgelehnt",
    "we will not print", "have less chance", "(150 dpi)", "or more", "of the height", "wide", "from the top", "must stay free",
    "for all three", "instead", "sind das", "look blurry", "wirken unscharf", "cost extra", "",
)  # fmt: skip
MARKS = (". ", "; ", ", ", ": ", " – ", "\n", "\n- ", " (", ") ", "? ")

sentences = st.tuples(*map(st.sampled_from, (SUBJECTS, BOUNDS, QUANTITIES, VERBS, MARKS)))
texts = st.lists(sentences, min_size=1, max_size=4).map(
    lambda said: "".join(" ".join(filter(None, one[:-1])) + one[-1] for one in said)
)


@given(texts)
def test_whatever_is_said_is_read_and_what_is_kept_is_a_sound_rulebook(text: str):
    reading = settled(read(text), text, Decisions())
    if reading.drafts:
        for brief in parse_rulebook(rulebook_text(reading, "Vessary Ferries")).briefs:
            slips(brief)


def test_what_is_told_of_pictures_in_words_not_understood_may_be_either():
    """It was an error, for of a resolution a rulebook has no “below”."""
    [draft] = read("Bilder unter 150 dpi markieren wir gelb.").drafts
    assert draft.certainty == "doubtful"
    assert {"measure": "ppi", "at_least": "150"} in [draft.fields, *draft.readings]


def test_a_length_of_a_head_is_asked_where_the_printed_side_is_thrown_out():
    text = "JPEG. The photo measures 35 x 45 mm. The head is 32 to 36 mm high."
    reading = read(text)
    size = next(d for d in reading.drafts if d.fields.get("measure") == "size")
    left = settled(reading, text, Decisions().answer(size.key, None))
    assert [d.fields for d in left.drafts if "head_height" in str(d.fields)] == []
    assert {"ask": "The head is 32 to 36 mm high."} in [dict(d.fields) for d in left.drafts]
    parse_rulebook(rulebook_text(left, "Vessary Ferries"))
