"""What a report says of one file, gathered from its proof; no markup."""

from __future__ import annotations

import hashlib
import io
from collections.abc import Iterable
from dataclasses import field, replace
from datetime import datetime
from typing import Any, Protocol

from aptandum.core.brief.model import Brief, Rulebook
from aptandum.core.conform import Proof
from aptandum.core.figures import show_exact_bytes, show_length, show_ppi, show_size
from aptandum.core.fitting.live import picture_of
from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.frozen import frozen
from aptandum.core.judge.findings import Confirmation, Finding, Findings
from aptandum.core.judge.measures.alterations import MEASURE as ALTERATIONS
from aptandum.core.judge.measures.alterations import SAID
from aptandum.core.judge.reading import pixels_of
from aptandum.core.judge.scale import Scale, scale_of
from aptandum.core.later import Image, np
from aptandum.core.mockup.effects import flat
from aptandum.core.photo.apart import credit_of, facts_of_bytes
from aptandum.core.photo.decode import Photo
from aptandum.core.photo.facts import shown_name
from aptandum.core.photo.metadata_groups import lines
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.core.sizes.said import clause_said
from aptandum.core.words import commas, listed, say, say_n, sentences, show_day, show_moment

_PICTURE, _SUPPLIED = 900, 420
"""Longest sides of the pictures in a report, in pixels."""


@frozen
class Row:
    """One finding.

    Attributes:
        figure: what was measured; empty where nothing was.
        quote: the body's own words, or the author's remark.
        scale: where it lies on its gauge; ``None`` where it has none.
    """

    verdict: str
    title: str
    figure: str
    limit: str
    says: str
    quote: str
    advised: bool
    scale: Scale | None


@frozen
class Entry:
    """One proved file.

    Attributes:
        picture, supplied: JPEG bytes for showing, with their sizes in pixels.
        frame: the part of the supplied photo that was kept, as shares: left, top, width, height.
        sign: the verdict's sign for the whole: meets, asks where something is left to be
            confirmed, or misses.
        facts: of the file, name and words.
        answers: what a person has said, with name and time.
        told: what the file's metadata tell.
        prints: the sheets of prints that were written of it, each in a sentence.
    """

    photo: str
    photo_hash: str
    name: str
    file_hash: str
    brief: str
    body: str
    source: tuple[tuple[str, str], ...]
    sign: str
    verdict: str
    summary: str
    ready: bool
    facts: tuple[tuple[str, str], ...]
    rows: tuple[Row, ...]
    answers: tuple[tuple[str, str], ...]
    acts: tuple[str, ...]
    notes: tuple[str, ...]
    told: tuple[tuple[str, str], ...]
    prints: tuple[str, ...]
    picture: bytes = field(repr=False)
    picture_size: tuple[int, int]
    supplied: bytes = field(repr=False)
    supplied_size: tuple[int, int]
    frame: tuple[float, float, float, float]


@frozen
class Report:
    """Entries under a title. ``made_at``: when, in the reader's own time."""

    title: str
    entries: tuple[Entry, ...]
    made_at: datetime

    @property
    def when(self) -> str:
        return show_moment(self.made_at)

    @property
    def tally(self) -> str:
        """How many of the files are ready, in words."""
        ready = sum(entry.ready for entry in self.entries)
        n = len(self.entries)
        asked = sum(entry.sign == "asks" for entry in self.entries)
        if n == 1:
            said = say("The file meets every rule that can be measured.")
            said = said if ready else say("The file does not meet every rule.")
        else:
            said = say_n(
                "{ready} of {n} file meets every rule that can be measured.",
                "{ready} of {n} files meet every rule that can be measured.",
                n,
                ready=ready,
            )
        if not asked:
            return said
        left = say("Questions are left to confirm.")
        if n > 1:
            left = say_n(
                "Questions are left to confirm in {n} of them.",
                "Questions are left to confirm in {n} of them.",
                asked,
            )
        return sentences([said, left])


def entry_of(
    photo: Photo,
    book: Rulebook,
    brief: Brief,
    proof: Proof,
    confirmed: Iterable[Confirmation] = (),
    name: str | None = None,
    printed: Iterable[Printed] = (),
) -> Entry:
    """Gather what a report says of one file.

    Args:
        printed: the sheets of prints that were written of the fitting.
        name: under which the file was written; ``None``: as suggested.

    Raises:
        PhotoError: the supplied photo cannot be read any more.
    """
    data = proof.made.data
    facts = facts_of_bytes(data, proof.suggested)
    picture, picture_size = _shown(for_screen(pixels_of(data, facts)), _PICTURE)
    supplied, supplied_size = _shown(for_screen(shown_on(photo, _SUPPLIED)), _SUPPLIED)
    shown, window = proof.line.source.shown, proof.line.frame.window
    return Entry(
        photo=shown_name(photo.facts.file),
        photo_hash=hashlib.sha256(photo.read()).hexdigest(),
        name=name or proof.suggested,
        file_hash=hashlib.sha256(data).hexdigest(),
        brief=brief.title,
        body=book.body.name,
        source=_source(book),
        facts=_facts(proof, facts),
        answers=tuple(_answer(brief, a) for a in confirmed if a.stands(picture_of(proof.line))),
        acts=_acts(proof),
        notes=tuple(
            note for note in (*proof.line.notes, proof.made.statement, proof.made.trouble) if note
        ),
        told=lines(credit_of(data), proof.made.format),
        prints=tuple(_print_said(sheet, hashlib.sha256(data).hexdigest()) for sheet in printed),
        picture=picture,
        picture_size=picture_size,
        supplied=supplied,
        supplied_size=supplied_size,
        frame=window.shares(*shown),
        **_judged(proof.findings),
    )


def _judged(findings: Findings) -> dict[str, Any]:
    """What an entry says of findings."""
    sign, verdict = "misses", say("Not ready")
    if findings.ready and findings.counts()["asks"]:
        sign, verdict = "asks", say("Ready, once you confirm")
    elif findings.ready:
        sign, verdict = "meets", say("Ready")
    rows = tuple(_row(finding) for finding in findings.findings)
    return {
        "sign": sign,
        "verdict": verdict,
        "summary": findings.summary(),
        "ready": findings.ready,
        "rows": rows,
    }


def renamed(entry: Entry, name: str, findings: Findings) -> Entry:
    """The same file under another name, with what is found of it under that."""
    return replace(entry, name=name, **_judged(findings))


class Printed(Protocol):
    """A sheet of prints as a docket remembers it (:class:`aptandum.core.docket.model.PrintedSheet`)."""

    @property
    def file(self) -> str: ...
    @property
    def paper(self) -> str: ...
    @property
    def prints(self) -> tuple[tuple[int, float, float], ...]: ...
    @property
    def digest(self) -> str: ...
    @property
    def at(self) -> str: ...


def _print_said(sheet: Printed, digest: str) -> str:
    sizes = [
        say_n(
            "{n} print of {a} × {b}",
            "{n} prints of {a} × {b}",
            n,
            a=show_length(wide),
            b=show_length(high),
        )
        for n, wide, high in sheet.prints
    ]
    at = sheet.at.replace("T", " ")[:16]
    said = say("{prints} on {paper}: {file}, {at}.", prints=listed(sizes, "and"), paper=sheet.paper,
               file=sheet.file, at=at)  # fmt: skip
    if sheet.digest == digest:
        return said
    return sentences([said, say("It was printed from an earlier file, not from this one.")])


def _acts(proof: Proof) -> tuple[str, ...]:
    if proof.line.way == "supplied":
        return (say("Nothing: the file is the supplied photo, byte for byte; both have one hash."),)
    return tuple(act.says for act in proof.record)


def _source(book: Rulebook) -> tuple[tuple[str, str], ...]:
    body = book.body
    parts = (
        (say("Published"), body.source),
        (say("Edition"), body.edition),
        (say("Read on"), show_day(body.read_on) if body.read_on else ""),
        (say("Address"), body.url),
    )
    return tuple((title, words) for title, words in parts if words)


def _facts(proof: Proof, facts: Any) -> tuple[tuple[str, str], ...]:
    space = SPACE_NAMES.get(facts.colour_space or "", facts.colour_space or "")
    parts = (
        (say("Written as"), proof.made.says()),
        (say("Pixels"), show_size(facts.size)),
        (say("Bytes"), show_exact_bytes(len(proof.made.data))),
        (say("Colour"), say("{space}, {n} bit", space=space, n=facts.bits)),
        (say("Pixels per inch"), show_ppi(facts.ppi_x) if facts.ppi_x else say("not stated")),
        (say("Read back by"), "Pillow"),
    )
    return tuple((title, words) for title, words in parts if words)


def _row(finding: Finding) -> Row:
    clause = finding.clause
    return Row(
        finding.verdict,
        finding.title,
        _figure(finding),
        finding.limit,
        finding.says,
        f"“{clause.quote}”" if clause.quote else clause.note,
        clause.strength == "should",
        scale_of(finding) if finding.verdict in ("meets", "misses", "advises") else None,
    )


def _figure(finding: Finding) -> str:
    """What was measured; a record that a ledger shortens in full."""
    if finding.clause.measure == ALTERATIONS.name and finding.value:
        return commas([SAID.get(word, word) for word in finding.value])
    return finding.measured


def _answer(brief: Brief, answer: Confirmation) -> tuple[str, str]:
    asked = next((clause_said(c) for c in brief.clauses if c.id == answer.clause), answer.clause)
    yes = say("it is so") if answer.met else say("it is not so")
    return asked, say("{yes}: {by}, {when}", yes=yes, by=answer.by, when=answer.when)


def _shown(pixels: Any, longest: int) -> tuple[bytes, tuple[int, int]]:
    """A small JPEG for showing; what is clear lies on white."""
    if pixels.shape[2] in (1, 2):
        colour = np.repeat(pixels[..., :1], 3, 2)
        pixels = np.concatenate([colour, pixels[..., 1:]], 2)
    image = Image.fromarray(np.ascontiguousarray(flat(pixels)))
    image.thumbnail((longest, longest), Image.Resampling.LANCZOS)
    out = io.BytesIO()
    image.save(out, "JPEG", quality=88)
    return out.getvalue(), image.size
