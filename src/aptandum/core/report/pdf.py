"""The report as a PDF of A4 pages."""

from __future__ import annotations

import io
from collections.abc import Iterable
from functools import lru_cache
from importlib import resources
from typing import Any
from xml.sax.saxutils import escape

from fontTools.ttLib import TTFont
from reportlab.graphics.shapes import Drawing, Polygon, PolyLine, String
from reportlab.lib.colors import HexColor
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfbase.ttfonts import TTFont as PdfFont
from reportlab.platypus import (
    Flowable,
    HRFlowable,
    Image,
    KeepTogether,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
    Table,
    TableStyle,
)

from aptandum.core.report import drawn
from aptandum.core.report.drawn import Shape
from aptandum.core.report.entry import Entry, Report
from aptandum.core.words import commas, joined, say, sentences

SANS, BOLD, MONO = "PlexSans", "PlexSans-SemiBold", "PlexMono"
_FILES = {SANS: "IBMPlexSans-Regular", BOLD: "IBMPlexSans-SemiBold", MONO: "IBMPlexMono-Medium"}
_WIDE = A4[0] - 32 * mm - 12  # the frame of a page keeps 6 points free on either side


@lru_cache(maxsize=1)
def _fonts() -> bool:
    """Register the shipped fonts, which lie packed for screens."""
    folder = resources.files("aptandum.data").joinpath("fonts")
    for name, file in _FILES.items():
        font = TTFont(io.BytesIO(folder.joinpath(f"{file}.woff").read_bytes()))
        font.flavor = None
        out = io.BytesIO()
        font.save(out)
        out.seek(0)
        pdfmetrics.registerFont(PdfFont(name, out))
    pdfmetrics.registerFontFamily(SANS, normal=SANS, bold=BOLD, italic=SANS, boldItalic=BOLD)
    return True


def _style(
    size: float, font: str = SANS, tone: str = drawn.INK, after: float = 0, before: float = 0
) -> ParagraphStyle:
    return ParagraphStyle(
        f"{font}{size}{tone}{after}{before}",
        fontName=font,
        fontSize=size,
        leading=size * 1.32,
        textColor=HexColor(tone),
        spaceAfter=after,
        spaceBefore=before,
        splitLongWords=1,
    )


def _text(words: str, style: ParagraphStyle) -> Paragraph:
    return Paragraph(escape(words), style)


def _drawing(shapes: Iterable[Shape], wide: float, high: float, scale: float = 1.0) -> Drawing:
    """Shapes, turned over: a page's coordinates run up."""
    made = Drawing(wide * scale, high * scale)
    for shape in shapes:
        points = [v for x, y in shape.points for v in (x * scale, (high - y) * scale)]
        if shape.fill:
            made.add(Polygon(points, fillColor=HexColor(shape.fill), strokeColor=None))
        else:
            made.add(
                PolyLine(
                    points, strokeColor=HexColor(shape.stroke), strokeWidth=shape.width * scale
                )
            )
    return made


def _sign(verdict: str, scale: float = 0.75) -> Drawing:
    shapes = drawn.sign(verdict)
    made = _drawing(shapes, 14, 14, scale)
    if not shapes:
        made.add(
            String(
                3 * scale,
                3 * scale,
                "?",
                fontName=BOLD,
                fontSize=12 * scale,
                fillColor=HexColor(drawn.TONES[verdict]),
            )
        )
    return made


class _Framed(Flowable):  # type: ignore[misc]
    """The supplied photo, with the frame drawn on it."""

    def __init__(self, entry: Entry, wide: float, high: float) -> None:
        super().__init__()
        self.entry = entry
        across, up = entry.supplied_size
        scale = min(wide / across, high / up)
        self.width, self.height = across * scale, up * scale
        self.inner = Image(io.BytesIO(entry.supplied), self.width, self.height)

    def wrap(self, *_room: float) -> tuple[float, float]:
        return self.width, self.height

    def draw(self) -> None:
        self.inner.drawOn(self.canv, 0, 0)
        left, top, across, up = self.entry.frame
        box = (
            left * self.width,
            (1 - top - up) * self.height,
            across * self.width,
            up * self.height,
        )
        for tone, width in (("#FFFFFF", 2.4), ("#27508C", 1.1)):
            self.canv.setStrokeColor(HexColor(tone))
            self.canv.setLineWidth(width)
            self.canv.rect(*box)


_PLAIN = TableStyle(
    [
        ("VALIGN", (0, 0), (-1, -1), "TOP"),
        ("LEFTPADDING", (0, 0), (-1, -1), 0),
        ("RIGHTPADDING", (0, 0), (-1, -1), 8),
        ("TOPPADDING", (0, 0), (-1, -1), 1),
        ("BOTTOMPADDING", (0, 0), (-1, -1), 1.5),
    ]
)


def _pairs(pairs: Iterable[tuple[str, str]], wide: float, mono: bool = False) -> Table | Spacer:
    name, value = _style(8, tone=drawn.INK2), _style(8, MONO if mono else SANS)
    rows = [[_text(title, name), _text(words, value)] for title, words in pairs]
    if not rows:
        return Spacer(1, 1)
    name_wide = min(wide * 0.34, 92.0)
    return Table(rows, [name_wide, wide - name_wide], style=_PLAIN, hAlign="LEFT", splitInRow=1)


_LONG = 300
"""Letters of a text beside the pictures; a longer one is told whole below them, where pages may part it."""


def _begun(words: str, whole: list[str]) -> str:
    if len(words) <= _LONG:
        return words
    whole.append(words)
    return words[:_LONG] + "…"


def _heading(words: str) -> list[Any]:
    return [
        _text(words, _style(9, BOLD, before=9, after=2)),
        HRFlowable(width="100%", thickness=0.6, color=HexColor(drawn.HAIRLINE), spaceAfter=3),
    ]


def _findings(entry: Entry) -> Table:
    small, plain = _style(7.5, tone=drawn.INK2), _style(8.5)
    head = ["", say("Verdict"), say("Rule"), say("Measured"), "", say("Asked")]
    rows: list[list[Any]] = [[_text(words, small) for words in head]]
    for row in entry.rows:
        rule = [_text(row.title, plain)]
        if row.quote:
            rule.append(_text(row.quote, small))
        if row.verdict in ("unknown", "idle", "asks") or not row.figure:
            rule.append(_text(row.says, small))
        limit = say("advised: {limit}", limit=row.limit) if row.advised and row.limit else row.limit
        rows.append(
            [
                _sign(row.verdict),
                _text(drawn.word(row.verdict), _style(8, tone=drawn.TONES[row.verdict])),
                rule,
                _text(row.figure or "–", _style(8, MONO)),
                _drawing(drawn.gauge(row.scale, row.verdict), 100, 12, 0.72) if row.scale else "",
                _text(limit or "–", _style(8, MONO)),
            ]
        )
    widths = [14, 44, _WIDE - 14 - 44 - 92 - 82 - 118, 92, 82, 118]
    style = TableStyle(
        [
            *_PLAIN.getCommands(),
            ("LINEBELOW", (0, 0), (-1, -1), 0.4, HexColor("#E9E9E7")),
            ("TOPPADDING", (0, 0), (-1, -1), 3.5),
            ("BOTTOMPADDING", (0, 0), (-1, -1), 3.5),
        ]
    )
    return Table(rows, widths, style=style, repeatRows=1, hAlign="LEFT", splitInRow=1)


def _words(entry: Entry, wide: float) -> tuple[list[Any], list[str]]:
    """What stands beside the pictures, and those of its texts that are told whole below them."""
    whole: list[str] = []
    words: list[Any] = [_pairs(entry.facts, wide, mono=True)]
    words += _heading(say("The rules"))
    words.append(
        _pairs(((say("Body"), entry.body), (say("Brief"), entry.brief), *entry.source), wide)
    )
    words += _heading(say("What was done to the photo"))
    acts = [_begun(act, whole) for act in entry.acts or (say("Nothing."),)]
    words += [_text(act, _style(8, after=1)) for act in acts]
    if entry.told:
        words += _heading(say("What the file tells"))
        words.append(_pairs([(name, _begun(text, whole)) for name, text in entry.told], wide))
    if entry.prints:
        words += _heading(say("Sheets of prints"))
        words += [_text(_begun(one, whole), _style(8, after=1)) for one in entry.prints]
    notes = [_begun(note, whole) for note in entry.notes]
    words += [_text(note, _style(7.5, tone=drawn.INK2, before=3)) for note in notes]
    return words, whole


def _entry(entry: Entry) -> list[Any]:
    tone = drawn.TONES[entry.sign]
    left, right = _WIDE * 0.44, _WIDE * 0.52
    across, up = entry.picture_size
    scale = min(left / across, 82 * mm / up)
    pictures = [
        Image(io.BytesIO(entry.picture), across * scale, up * scale, hAlign="LEFT"),
        _text(say("The finished file, reduced for this page"), _style(7, tone=drawn.INK2)),
        Spacer(1, 7),
        _Framed(entry, left * 0.6, 42 * mm),
        _text(say("As supplied, with the frame"), _style(7, tone=drawn.INK2)),
    ]
    words, whole = _words(entry, right)
    verdict = Table(
        [[_sign(entry.sign, 1.0), _text(entry.verdict, _style(13, BOLD, tone))]],
        [20, _WIDE - 20],
        style=_PLAIN,
        hAlign="LEFT",
    )
    summary = entry.summary[:1].upper() + entry.summary[1:] + "."
    story: list[Any] = [
        _text(entry.name, _style(15, BOLD)),
        _text(joined([entry.body, entry.brief]), _style(9, tone=drawn.INK2, after=5)),
        verdict,
        _text(summary, _style(9, tone=drawn.INK2, after=7)),
        Table([[pictures, words]], [_WIDE * 0.47, _WIDE * 0.53], style=_PLAIN, hAlign="LEFT"),
        *_heading(say("Findings")),
        _findings(entry),
    ]
    if whole:
        story += _heading(say("In full"))
        story += [_text(words, _style(8, after=3)) for words in whole]
    if entry.answers:
        story.append(
            KeepTogether([*_heading(say("What a person has said")), _pairs(entry.answers, _WIDE)])
        )
    story.append(
        KeepTogether(
            [
                *_heading(say("Which files these are")),
                _pairs(
                    (
                        (say("Finished file"), entry.name),
                        ("SHA-256", entry.file_hash),
                        (say("Supplied photo"), entry.photo),
                        ("SHA-256", entry.photo_hash),
                    ),
                    _WIDE,
                ),
            ]
        )
    )
    return story


def pdf(report: Report) -> bytes:
    """The pages of a report."""
    _fonts()
    story: list[Any] = [
        _text(say("Conformity report"), _style(20, BOLD)),
        _text(joined([report.title, report.when]), _style(9, tone=drawn.INK2, after=6)),
        _text(
            sentences([report.tally, say("Every value below was measured on the finished bytes, read back by a reader "
                  "that had no part in making them. What only a person can say is said with a "
                  "name and a time.")]),
            _style(9, after=8),
        ),
    ]  # fmt: skip
    if len(report.entries) > 1:
        rows = [
            [_sign(e.sign), _text(e.name, _style(8.5)),
             _text(commas([e.body, e.brief]), _style(8, tone=drawn.INK2)),
             _text(e.summary, _style(8))]
            for e in report.entries
        ]  # fmt: skip
        story.append(
            Table(
                rows,
                [14, _WIDE * 0.36, _WIDE * 0.34, _WIDE * 0.3 - 14],
                style=_PLAIN,
                hAlign="LEFT",
            )
        )
    for n, entry in enumerate(report.entries):
        story.append(PageBreak() if n or len(report.entries) > 1 else Spacer(1, 8))
        story += _entry(entry)
    out = io.BytesIO()

    def foot(canvas: Any, document: Any) -> None:
        canvas.saveState()
        canvas.setFont(SANS, 7.5)
        canvas.setFillColor(HexColor(drawn.INK2))
        canvas.drawString(16 * mm, 10 * mm, joined([report.title, report.when]))
        canvas.drawRightString(A4[0] - 16 * mm, 10 * mm, say("Page {n}", n=document.page))
        canvas.restoreState()

    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=16 * mm, rightMargin=16 * mm, topMargin=15 * mm,
        bottomMargin=18 * mm, title=say("{title}: conformity report", title=report.title),
        author="Aptandum",
    )  # fmt: skip
    document.build(story, onFirstPage=foot, onLaterPages=foot)
    return out.getvalue()
