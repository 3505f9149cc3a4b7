"""What rules in words say of the metadata: kept, there, or none; what is only allowed asks for nothing."""

from __future__ import annotations

import pytest

from aptandum.core.rulebook.words import read

ENGLISH = {
    "kept": (
        "EXIF metadata must be preserved.",
        "Do not strip EXIF data.",
        "Don't remove the EXIF data.",
        "Please leave EXIF data intact.",
        "Metadata must not be removed.",
        "Keep the original metadata.",
        "JPEG with EXIF intact, at most 5 MB.",
    ),
    "present": ("EXIF data must be present.", "Files without EXIF data will be rejected."),
    "none": (
        "Remove all EXIF data before uploading.",
        "The file must contain no metadata.",
        "All metadata must be removed.",
        "Images should be free of metadata.",
    ),
    "": (
        "We strip all metadata on upload.",
        "Metadata is optional.",
        "Metadata may be removed.",
        "The EXIF data may be checked by the judges.",
        "Remove all location metadata.",
        "Keep your name out of the metadata.",
    ),
}
GERMAN = {
    "kept": (
        "EXIF-Daten müssen erhalten bleiben.",
        "Die Metadaten dürfen nicht entfernt werden.",
        "EXIF-Daten bitte nicht löschen.",
    ),
    "present": ("Metadaten müssen vorhanden sein.",),
    "none": ("Bitte alle Metadaten entfernen.", "Die Datei darf keine Metadaten enthalten."),
    "": ("Die EXIF-Daten dürfen entfernt werden.", "Metadaten sind freiwillig."),
}
EVERY = [
    (language, what, text)
    for language, table in (("en", ENGLISH), ("de", GERMAN))
    for what, texts in table.items()
    for text in texts
]


@pytest.mark.parametrize(("language", "what", "text"), EVERY)
def test_metadata(language, what, text):
    found = [dict(draft.fields) for draft in read(text, language).drafts]
    told = [one["exactly"] for one in found if one.get("measure") == "metadata"]
    assert told == ([what] if what else [])
