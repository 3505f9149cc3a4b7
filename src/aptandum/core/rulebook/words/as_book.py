"""What was read as a rulebook's text, and as objects for machines."""

from __future__ import annotations

import re
import unicodedata
from typing import Any

from aptandum.core.later import tomlkit
from aptandum.core.rulebook import write
from aptandum.core.rulebook.words.draft import Draft, Reading

_SPELT = str.maketrans({"ä": "ae", "ö": "oe", "ü": "ue", "ß": "ss", "æ": "ae", "ø": "oe", "œ": "oe", "ł": "l", "đ": "d", "ð": "d", "þ": "th"})  # fmt: skip
"""Letters that are spelt with two others, or that have no mark that can be taken off."""


def ident(name: str, default: str = "") -> str:
    """An id made from a name: small letters without marks, digits and hyphens; *Schülerticket* becomes
    *schuelerticket*."""
    spelt = unicodedata.normalize("NFC", name).lower().translate(_SPELT)
    bare = "".join(c for c in unicodedata.normalize("NFKD", spelt) if not unicodedata.combining(c))
    made = re.sub(r"[^a-z0-9]+", "-", bare).strip("-")[:60].strip("-")
    return made or default


def rulebook_text(reading: Reading, body: str = "", title: str = "") -> str:
    """A rulebook in TOML, with each clause's own words; what is doubtful has a remark above it.

    Args:
        body: the body's name.
        title: of a brief without a heading.
    """
    text = write.fresh(ident(body, "body"), body or "Body")
    if reading.briefs != ("",):  # what stands before the headings holds for all of them
        named: set[str] = set()
        for draft in reading.drafts:
            if draft.brief not in reading.briefs:
                fields = _fields(draft)
                if _said_by_each(draft, reading):
                    fields["id"] = _free(f"{draft.fields['measure']}-of-all", named)
                text = write.add_clause(text, write.ALL, fields)
    taken: set[str] = set()
    for i, heading in enumerate(reading.briefs):
        said = heading or title or body or "Picture"
        text = write.add_brief(text, _free(ident(said, "brief"), taken), said)
        for draft in reading.drafts:
            if draft.brief == heading:
                text = write.add_clause(text, i, _fields(draft))
    return tomlkit.dumps(tomlkit.parse(text))


def _said_by_each(draft: Draft, reading: Reading) -> bool:
    """Whether every brief has a clause of its own on what a draft holds of all: without an id that somebody wrote it would
    stand in none of them, and nobody would be told."""
    measure = draft.fields.get("measure")
    own = {d.brief for d in reading.drafts if d.fields.get("measure") == measure}
    return measure is not None and own >= set(reading.briefs)


def _fields(draft: Draft) -> dict[str, Any]:
    fields = {**draft.fields, "quote": " ".join(draft.quote.split())}
    if draft.certainty != "sure":
        fields["note"] = "To be looked at: it can be read in another way."
    return fields


def _free(name: str, taken: set[str]) -> str:
    made, n = name, 2
    while made in taken:
        made, n = f"{name}-{n}", n + 1
    taken.add(made)
    return made


def contract(draft: Draft) -> dict[str, Any]:
    """A draft clause for machines, one object."""
    fields = dict(draft.fields)
    limit = {
        k: v
        for k, v in fields.items()
        if k not in ("measure", "strength", "applies", "ask", "when")
    }
    return {
        "brief": draft.brief or None,
        "measure": fields.get("measure"),
        "limit": limit or None,
        "ask": fields.get("ask"),
        "strength": fields.get("strength", "must"),
        "applies": fields.get("applies"),
        "when": fields.get("when"),
        "quote": draft.quote,
        "start": draft.start,
        "end": draft.end,
        "certainty": draft.certainty,
        "readings": [dict(one) for one in draft.readings],
    }
