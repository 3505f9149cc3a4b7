"""The report as one HTML file that needs nothing beside it: pictures and fonts lie within."""

from __future__ import annotations

import base64
from collections.abc import Iterable
from importlib import resources

from jinja2 import Environment, FunctionLoader, StrictUndefined
from markupsafe import Markup

from aptandum.core.report import drawn
from aptandum.core.report.drawn import Shape
from aptandum.core.report.entry import Entry, Report
from aptandum.core.words import say

FONTS = (
    ("IBM Plex Sans", 400, "IBMPlexSans-Regular"),
    ("IBM Plex Sans", 600, "IBMPlexSans-SemiBold"),
    ("IBM Plex Mono", 500, "IBMPlexMono-Medium"),
)


def template(name: str) -> str:
    """The text of one of the shipped pages."""
    return resources.files("aptandum.data").joinpath(f"report/{name}").read_text("utf-8")


def _encoded(data: bytes) -> str:
    return base64.b64encode(data).decode("ascii")


def fonts() -> list[tuple[str, int, str]]:
    """Family, weight and bytes (base64) of the fonts that a page carries."""
    folder = resources.files("aptandum.data").joinpath("fonts")
    return [
        (family, weight, _encoded(folder.joinpath(f"{file}.woff").read_bytes()))
        for family, weight, file in FONTS
    ]


def _svg(shapes: Iterable[Shape], wide: int, high: int, shown: float, says: str) -> Markup:
    """Shapes as an inline drawing, named for those who cannot see it."""
    parts = []
    for shape in shapes:
        points = " ".join(f"{x:.2f},{y:.2f}" for x, y in shape.points)
        kind = "polygon" if shape.fill else "polyline"
        parts.append(
            Markup('<{k} points="{p}" fill="{f}" stroke="{s}" stroke-width="{w}"/>').format(
                k=Markup(kind),
                p=points,
                f=shape.fill or "none",
                s=shape.stroke or "none",
                w=shape.width,
            )
        )
    head = Markup(
        '<svg viewBox="0 0 {w} {h}" width="{shown}" height="{tall}" role="img" aria-label="{says}">'
    ).format(w=wide, h=high, shown=round(shown, 1), tall=round(shown * high / wide, 1), says=says)
    return head + Markup("").join(parts) + Markup("</svg>")


def sign(verdict: str) -> Markup:
    """The verdict's sign as a drawing inside the page."""
    shapes = drawn.sign(verdict)
    if not shapes:
        return Markup('<b class="q">?</b>')
    return _svg(shapes, 14, 14, 14, drawn.word(verdict))


def _frame(entry: Entry) -> Markup:
    """Where the frame lies on the supplied photo."""
    wide, high = entry.supplied_size
    left, top, across, up = entry.frame
    box = (left * wide, top * high, (left + across) * wide, (top + up) * high)
    points = (
        (box[0], box[1]),
        (box[2], box[1]),
        (box[2], box[3]),
        (box[0], box[3]),
        (box[0], box[1]),
    )
    shapes = [Shape(points, "#FFFFFF", 4.5), Shape(points, "#27508C", 2)]
    return _svg(shapes, wide, high, wide, say("The frame on the supplied photo"))


def html(report: Report) -> str:
    """The whole page."""
    environment = Environment(
        loader=FunctionLoader(template),
        autoescape=True,
        undefined=StrictUndefined,
        trim_blocks=True,
        lstrip_blocks=True,
    )
    environment.globals.update(
        say=say,
        sign=sign,
        word=drawn.word,
        tones=drawn.TONES,
        frame=_frame,
        encoded=_encoded,
        gauge=lambda row: _svg(drawn.gauge(row.scale, row.verdict), 100, 12, 120, row.says),
    )
    return environment.get_template("report.html").render(report=report, fonts=fonts())
