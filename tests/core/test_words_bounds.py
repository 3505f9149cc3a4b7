"""To which number a word in published rules belongs, and what a refusal is of."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read


def told(text: str, language: str = "en") -> list[dict[str, object]]:
    return [
        dict(draft.fields) for draft in read(text, language).drafts if "ask" not in draft.fields
    ]


def of(measure: str, **limit: object) -> dict[str, object]:
    return {"measure": measure, **limit}


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Width: 1080px Height: 1350px", [of("width", exactly="1080"), of("height", exactly="1350")]),
        ("Height: 20 cm Width: 30 cm", [of("print_height", exactly="20 cm"), of("print_width", exactly="30 cm")]),
        ("1280 x 720 (minimum width of 640 pixels)", [of("size", exactly="1280 x 720"), of("width", at_least="640")]),
        ("1280 x 720 (minimum)", [of("size", at_least="1280 x 720")]),
        (
            "At least 1000 pixels on the longest side and 500 pixels on the shortest side.",
            [of("longest_side", at_least="1000"), of("shortest_side", at_least="500")],
        ),
        ("The photo must be 413 by 531 pixels with a tolerance of 2 pixels.", [of("size", exactly="413 x 531")]),
        ("Compression ratio must be 20:1 or lower.", [of("compression", at_most="20")]),
        ("No rounded corners, PNG.", [of("format", exactly="png")]),
        ("Not accepted: GIF, PNG.", [of("format", none_of=["gif", "png"])]),
        ("Formats not allowed: BMP, GIF.", [of("format", none_of=["bmp", "gif"])]),
        ("Rejected: HEIC, TIFF.", [of("format", none_of=["tiff"])]),
        ("Accepted formats: JPEG, PNG.", [of("format", one_of=["jpeg", "png"])]),
        ("No GIFs: JPEG only.", [of("format", none_of=["gif"]), of("format", exactly="jpeg")]),
    ],
)  # fmt: skip
def test_english(text, rules):
    assert told(text) == rules


@pytest.mark.parametrize(
    ("text", "rules"),
    [
        ("Breite: 800 px Höhe: 600 px", [of("width", exactly="800"), of("height", exactly="600")]),
        (
            "Mindestens 1000 px an der langen Seite und 500 px an der kurzen Seite.",
            [of("longest_side", at_least="1000"), of("shortest_side", at_least="500")],
        ),
        ("Nicht erlaubt: GIF, BMP.", [of("format", none_of=["gif", "bmp"])]),
        ("Zulässig: JPEG, PNG.", [of("format", one_of=["jpeg", "png"])]),
    ],
)  # fmt: skip
def test_german(text, rules):
    assert told(text, "de") == rules
