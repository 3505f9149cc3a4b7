"""Rules in a language that is not read here: nothing that was not understood is held to be sure."""

from __future__ import annotations

import subprocess
import sys

import pytest

from aptandum.core.rulebook.words import read
from aptandum.core.rulebook.words.settled import Decisions, settled

TEXTS = [
    "Les images doivent être au format JPEG, 1920 px sur le grand côté, 72 dpi, moins de 1 Mo.",
    "Las fotos deben medir 1024 x 768 píxeles como mínimo y pesar menos de 500 KB.",
    "De foto moet minstens 600 pixels breed zijn en mag niet groter zijn dan 2 MB.",
    "Le immagini devono essere in formato JPEG, 1920 px sul lato lungo.",
    "Bilden ska vara minst 1200 px bred och högst 2 MB.",
]


@pytest.mark.parametrize("text", TEXTS)
def test_every_rule_of_it_is_doubted_and_asked_of_a_person_until_answered(text):
    found = read(text)
    assert found.foreign and found.drafts
    assert {draft.certainty for draft in found.drafts} == {"doubtful"}
    assert all("ask" in draft.fields for draft in settled(found, text, Decisions()).drafts)


@pytest.mark.parametrize(
    "text",
    [
        "600 x 600 as PNG, or 1200 x 1200 as JPEG.",
        "JPEG, 300 dpi, 2400 px, sRGB",
        "Export as PDF; photos alone as JPEG, 300 dpi.",
        "Lange Kante 2400 px, höchstens 5 MB.",
        "2000 px",
    ],
)
def test_short_rules_without_a_language_are_none_of_another(text):
    assert not read(text).foreign


def test_the_command_line_says_so(tmp_path):
    path = tmp_path / "reglas.txt"
    path.write_text(TEXTS[1])
    call = [sys.executable, "-m", "aptandum", "rulebook", "read", str(path)]
    done = subprocess.run(call, capture_output=True, text=True, check=False)
    assert done.returncode == 1 and "neither English nor German" in done.stderr
    assert done.stdout.count("To be looked at") == 2
