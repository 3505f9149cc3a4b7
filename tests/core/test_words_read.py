"""Published words become draft clauses: what is meant is read, and nothing is invented."""

from __future__ import annotations

import io
import json
import random
import re
import tomllib
from pathlib import Path

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from reportlab.pdfgen import canvas

from aptandum.cli.main import run as command
from aptandum.core.rulebook.slips import slips
from aptandum.core.rulebook.toml import check_clause, parse_rulebook
from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.as_book import rulebook_text
from aptandum.core.rulebook.words.bleed import bleed_in
from aptandum.core.rulebook.words.grammar import lexicon_of
from aptandum.core.rulebook.words.sources import (
    SourceError,
    of_bytes,
    of_html,
    of_markdown,
    text_of,
)
from pages_read import PAGES, compared
from samples import examples

TEXTS = [
    of_bytes(page["text"].encode())
    for path in sorted(PAGES.glob("*.toml"))
    for page in tomllib.loads(path.read_text())["page"]
]


@pytest.mark.long
def test_the_pages_are_read_as_they_are_meant():
    right = wrong = lost = 0
    for path in PAGES.glob("*.toml"):
        one, more, less, _doubted = compared(path)
        right, wrong, lost = right + one, wrong + len(more), lost + len(less)
    assert right / (right + wrong) >= 0.985 and right / (right + lost) >= 0.97


def sound(text: str) -> None:
    """What holds of every text: the same again, every number in its quote, nothing lost."""
    found = read(text)
    assert found == read(text)
    used = []
    for draft in found.drafts:
        assert check_clause(draft.fields)[0] is not None
        assert text[draft.start : draft.end] == draft.quote
        for start, end in draft.numbers:
            assert draft.start <= start <= end <= draft.end
            used += [text[start:end]]
        for value in re.findall(
            r"\d+", json.dumps({**draft.fields, "tolerance": ""}, ensure_ascii=False)
        ):
            if "ask" not in draft.fields and draft.fields["measure"] not in (
                "shot_age",
                "set_count",
            ):
                bare = re.sub(r"[\s.,\u00a0\u202f]", "", draft.quote)
                spelt = [w for w, n in lexicon_of(draft.quote).numerals.items() if str(n) == value]
                told = value in bare or value in ("0", "1")
                sheet = re.search(r"\bA[2-6]\b", draft.quote)  # “A4 upright” has its millimetres
                cut_off = len(draft.readings) == 1 and bleed_in(draft.quote) is not None
                if draft.fields["measure"] == "eye_line" and value.isdigit():
                    told = told or str(100 - int(value)) in bare  # counted from the upper edge
                spelt += ["half", "hälfte", "third", "drittel", "quarter", "viertel"]
                assert told or sheet or cut_off or any(w in draft.quote.lower() for w in spelt), (
                    value,
                    draft,
                )
    digits = {hit.start() for hit in re.finditer(r"\d", text)}
    for draft in found.drafts:
        for start, end in draft.numbers:
            digits -= set(range(start, end))
    for aside in found.asides:
        digits -= set(range(aside.start, aside.end))
    assert not digits, [text[d] for d in digits]


@pytest.mark.parametrize("place", range(len(TEXTS)))
def test_every_number_of_a_page_is_accounted_for(place):
    sound(TEXTS[place])


@pytest.mark.parametrize("place", range(len(TEXTS)))
@pytest.mark.long
def test_what_a_page_says_is_never_held_for_a_slip(place):
    """A slip is a limit that differs from its quote; one that was read out of its quote does not."""
    reading = read(TEXTS[place])
    if reading.drafts:
        book = parse_rulebook(rulebook_text(reading, "Body"))
        assert not [slip.says for brief in book.briefs for slip in slips(brief)]


def mutated(text: str, rng: random.Random) -> str:
    for _ in range(rng.randint(1, 5)):
        at = rng.randrange(len(text) + 1)
        to = min(len(text), at + rng.choice((1, 3, 9, 40)))
        other = rng.choice(TEXTS)
        piece = other[rng.randrange(len(other)) :][: rng.choice((1, 6, 30))]
        text = (
            text[:at] + rng.choice(("", piece, "\n", "0", " x ", "–", '"', "\x00", "½")) + text[to:]
        )
    return text


def test_mutated_pages_raise_nothing_and_lose_no_number():
    rng = random.Random(4)
    for _ in range(examples(1200)):
        sound(mutated(rng.choice(TEXTS), rng))


@given(st.text(max_size=300))
@settings(max_examples=examples(200), deadline=None)
def test_any_text_at_all_is_read_without_a_mistake(text):
    sound(text)


# --- where words come from ---------------------------------------------------------------------

TABLE = """<!doctype html><html><head><title>x</title><style>p{}</style></head><body><nav>12 px</nav>
<h2>Header picture</h2><table><tr><th>Width</th><td>at least 1150 px</td></tr>
<tr><th>Size of the file</th><td>max. 300&nbsp;KB</td></tr></table>
<ul><li>JPEG or PNG<li>no borders</ul></body></html>"""


def measures(text: str) -> set[str]:
    return {str(draft.fields.get("measure", "ask")) for draft in read(text).drafts}


def test_tables_and_lists_of_a_page_are_read_as_such(tmp_path):
    wanted = {"width", "file_bytes", "format", "keyline_width"}
    assert measures(of_html(TABLE)) == wanted
    assert read(of_html(TABLE)).briefs == ("Header picture",)
    (tmp_path / "page.html").write_text(TABLE)
    assert measures(text_of(tmp_path / "page.html")) == wanted
    marked = "# Header picture\n\n| what | how |\n|---|---|\n| Width | **at least** 1150 px |\n"
    assert measures(of_markdown(marked)) == {"width"}


def test_a_pdf_in_two_columns_is_read(tmp_path):
    out = io.BytesIO()
    page = canvas.Canvas(out)
    for x, lines in (
        (50, ("Width at least 1150 px.", "JPEG only.")),
        (320, ("At most 300 KB.", "No borders.")),
    ):
        for i, line in enumerate(lines):
            page.drawString(x, 780 - 18 * i, line)
    page.save()
    (tmp_path / "leaflet.pdf").write_bytes(out.getvalue())
    assert measures(text_of(tmp_path / "leaflet.pdf")) == {
        "width",
        "file_bytes",
        "format",
        "keyline_width",
    }


@pytest.mark.parametrize("data", [b"%PDF-1.7 broken", b"\0\1\2\3" * 9, b"   \n"])
def test_what_gives_no_text_is_told_in_a_sentence(tmp_path, data):
    path = tmp_path / "page"
    path.write_bytes(data)
    with pytest.raises(SourceError, match="page"):
        text_of(path)
    with pytest.raises(SourceError):
        text_of(tmp_path / "gone.txt")
    with pytest.raises(SourceError):
        text_of(tmp_path)
    assert of_bytes("Größe".encode("cp1252")) == "Größe"


# --- what becomes of them ------------------------------------------------------------------------


def test_a_line_of_words_is_a_rulebook():
    text = "413 x 531 px, jpeg, at most 200 kB"
    (brief,) = parse_rulebook(rulebook_text(read(text), "Pier Office")).briefs
    size, count, form = brief.clauses
    assert size.limit.one_of == ((413, 531),) and count.limit.at_most == 200_000
    assert form.limit.one_of == ("jpeg",) and all(c.quote == text for c in brief.clauses)


@pytest.mark.parametrize("place", range(len(TEXTS)))
@pytest.mark.long
def test_what_is_read_is_a_sound_rulebook(place):
    found = read(TEXTS[place])
    if found.drafts:
        book = parse_rulebook(rulebook_text(found, "Pier Office"))
        own = sum(not c.whole_body for brief in book.briefs for c in brief.clauses)
        shared = max(sum(c.whole_body for c in brief.clauses) for brief in book.briefs)
        assert own + shared == len(found.drafts)


def test_the_command_prints_a_rulebook_or_objects_and_says_what_is_open(capsys, tmp_path):
    path = tmp_path / "page.txt"
    path.write_text("Width: at least 1150 pixels. Files of 300 kB. Call 0417 22.")
    assert command(["rulebook", "read", str(path)], lambda *_: 0) == 1
    assert len(parse_rulebook(capsys.readouterr().out).briefs[0].clauses) == 2
    assert command(["rulebook", "read", str(path), "--json"], lambda *_: 0) == 1
    rows = [json.loads(line) for line in capsys.readouterr().out.splitlines()]
    assert [row["certainty"] for row in rows] == ["sure", "doubtful", "aside"]
    assert rows[0]["limit"] == {"at_least": "1150"} and rows[1]["readings"]
    path.write_text("The office opens at nine.")
    assert command(["rulebook", "read", str(path)], lambda *_: 0) == 2
    assert "No rule was found" in capsys.readouterr().err
    assert command(["rulebook", "read", str(Path("/nowhere"))], lambda *_: 0) == 2
