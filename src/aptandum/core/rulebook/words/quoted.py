"""A brief's own quotes as one text, and where in it the words of each clause stand."""

from __future__ import annotations

from aptandum.core.brief.model import Brief


def quotes_of(brief: Brief) -> tuple[str, dict[str, tuple[int, int]]]:
    """The quotes of a brief one below another, each once, and by the id of a clause where its words stand,
    in characters; a clause without a quote has no place."""
    lines: list[str] = []
    begins: dict[str, int] = {}
    at = 0
    places = {}
    for clause in brief.clauses:
        quote = " ".join((clause.quote or "").split())
        if not quote:
            continue
        if quote not in begins:
            begins[quote] = at
            lines.append(quote)
            at += len(quote) + 2
        places[clause.id] = begins[quote], begins[quote] + len(quote)
    return "\n\n".join(lines), places
