"""At what size the words on a picture still read."""

from __future__ import annotations

import math
from dataclasses import replace

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief
from aptandum.core.figures import show_number
from aptandum.core.judge import legibility
from aptandum.core.judge.legibility import Stroke, grounds_of, ink_in, measured
from aptandum.core.judge.lettering_mends import mends_of
from aptandum.core.judge.measure import (
    NEEDS_PIXELS,
    CannotMeasure,
    DoesNotApply,
    Measure,
    Mend,
    Miss,
)
from aptandum.core.judge.reading import Reading
from aptandum.core.judge.zones import zones_of
from aptandum.core.photo.picture import Lettering, Picture
from aptandum.core.quantity import PIXELS, Kind
from aptandum.core.words import listed, say, semicolons


class ReadsFrom(float):
    """The least width of the whole picture in pixels at which all of its words read; infinite: at none.

    Attributes:
        words: each of the picture's words with what was measured of it.
        wide: the picture's own width.
    """

    words: tuple[tuple[Lettering, Stroke, tuple[str, ...]], ...] = ()
    wide: int = 1

    def why(self, asked: float) -> list[tuple[str, Lettering, Stroke, tuple[str, ...]]]:
        """Of each of the words that do not read at a width the cause: ``cut``, ``covered``, ``pale``, ``small``,
        ``thin``."""
        found = []
        for one, stroke, zones in self.words:
            cause = "cut" if one.cut else "covered" if zones else stroke.why(asked / self.wide)
            if cause:
                found.append((cause, one, stroke, zones))
        return found


def _alone(reading: Reading) -> ReadsFrom:
    raise CannotMeasure(say("Where the picture is seen is told by a brief."))


def _take(reading: Reading, brief: Brief) -> ReadsFrom:
    look = reading.look()
    if not look.lettering:
        raise DoesNotApply(
            say("No caption was set here, and no words of the photo are marked as to be read.")
        )
    found = [_one(look.picture, one, brief) for one in look.lettering]
    wide = look.picture.size[0]
    least = 0.0
    for one, stroke, zones in found:
        least = max(least, math.inf if one.cut or zones else stroke.least() * wide)
    value = ReadsFrom(math.ceil(least - 1e-6) if math.isfinite(least) else math.inf)
    value.words, value.wide = tuple(found), wide
    return value


def _one(
    picture: Picture, words: Lettering, brief: Brief
) -> tuple[Lettering, Stroke, tuple[str, ...]]:
    share = words.share if words.share is not None else ink_in(picture, words.box)
    if share is None or not share.size:
        return words, Stroke(0.0, 0.0, {}, {}), ()
    if not words.own:
        words = replace(words, share=share, cut=words.cut or _touching(picture, words, share))
    grounds = grounds_of(brief, picture.alpha)
    stroke = measured(picture, words.box, share, grounds, words.upright)
    return words, stroke, _zones_on(picture, words, brief)


def _touching(picture: Picture, words: Lettering, share: object) -> tuple[str, ...]:
    """The edges of the picture at which a photo's own letters end."""
    ink = legibility.solid(share)
    left, top, across, up = words.box
    wide, high = picture.size
    ends = (
        ("left", left <= 0 and ink[:, 0].any()),
        ("top", top <= 0 and ink[0].any()),
        ("right", left + across >= wide and ink[:, -1].any()),
        ("bottom", top + up >= high and ink[-1].any()),
    )
    return tuple(edge for edge, ends_there in ends if ends_there)


def _zones_on(picture: Picture, words: Lettering, brief: Brief) -> tuple[str, ...]:
    """The zones of the places where the picture is seen that lie on some of the letters."""
    ink = legibility.solid(words.share)
    left, top, _across, _up = words.box
    wide, high = picture.size
    found = []
    for zone in zones_of(brief):
        x0, y0 = zone.left * wide - left, zone.top * high - top
        x1, y1 = x0 + zone.width * wide, y0 + zone.height * high
        part = ink[max(0, round(y0)) : max(0, round(y1)), max(0, round(x0)) : max(0, round(x1))]
        if part.any():
            found.append(zone.name)
    return tuple(found)


def _allows(limit: Limit, value: ReadsFrom) -> bool:
    """The clause names the smallest size at which the words are seen; they may read at less."""
    return value <= _asked(limit)


def _asked(limit: Limit) -> float:
    bounds = [b for b in (limit.at_least, limit.at_most, *limit.one_of) if b is not None]
    return float(min(bounds)) if bounds else float("inf")


EDGES = {
    "left": say("the left edge"),
    "top": say("the upper edge"),
    "right": say("the right edge"),
    "bottom": say("the lower edge"),
    "panel": say("the outline of its panel"),
}


def _outside(limit: Limit, value: ReadsFrom, kind: Kind) -> str:
    """What keeps which words from being read."""
    asked = _asked(limit)
    return semicolons([_said(each, asked, value.wide, kind) for each in value.why(asked)])


def _said(
    each: tuple[str, Lettering, Stroke, tuple[str, ...]], asked: float, wide: int, kind: Kind
) -> str:
    cause, words, stroke, zones = each
    named = say("“{words}”", words=words.said) if words.own else words.said
    at = kind.show(round(asked))
    if cause == "cut":
        edges = listed([EDGES[edge] for edge in words.cut], "and")
        return say("{words} is cut by {edges}", words=named, edges=edges)
    if cause == "covered":
        over = listed([say("“{zone}”", zone=zone) for zone in zones], "and")
        return say("{words} is covered by {zones}", words=named, zones=over)
    if cause == "pale":
        if not stroke.ratios:
            return say("{words} is too pale: no letters part from what is behind them", words=named)
        return say(
            "{words} is too pale on {ground}: {n} : 1, and {least} : 1 is needed",
            words=named,
            ground=stroke.palest(),
            n=show_number(stroke.ratios[stroke.palest()], 1),
            least=show_number(legibility.CONTRAST, 0),
        )
    k = asked / wide
    if cause == "small":
        return say(
            "{words} is too small: {n} px high where the picture is {at} wide, and {least} px is needed",
            words=named,
            n=show_number(stroke.height * k, 1),
            at=at,
            least=show_number(legibility.SMALLEST, 0),
        )
    return say(
        "{words} is too thin: its strokes are {n} px where the picture is {at} wide, and {least} px is needed on {ground}",
        words=named,
        n=show_number(stroke.width * k, 2),
        at=at,
        least=show_number(max(stroke.needs.values()), 2),
        ground=stroke.palest(),
    )


def _mend(miss: Miss) -> Mend | None:
    value, asked = miss.value, _asked(miss.limit)
    own = [each for each in value.why(asked) if each[1].own]
    if not own:
        return Mend(say("The photo's own letters stay as they are: another photo, or a closer cut"))
    return mends_of(miss.reading.look().picture, own[0], asked / value.wide, miss.brief)


def _show(value: float) -> str:
    return PIXELS.show(round(value)) if math.isfinite(value) else say("at no size")


MEASURE = Measure(
    "legible_at",
    say("Legible at"),
    "finish",
    replace(PIXELS, show=_show),
    say(
        "The smallest width of the whole picture at which its captions still read, and the words of the photo that "
        "are marked as to be read. At the size at which they are seen, letters must be at least 4 px high (the middle "
        "height of the letters), and part from what is round them by a ratio of luminances of 3 (WCAG) on every "
        "ground on which the brief shows the picture, as opaque as it is there; a stroke thinner than a pixel keeps "
        "only that part of its contrast. Words that an edge cuts, or that lie under a zone, read at no size. A clause "
        "names the width at which the picture is seen; what reads at that or less meets it."
    ),
    _alone,
    by_brief=_take,
    allows=_allows,
    outside=_outside,
    mend=_mend,
    read_as=lambda limit: Limit(("at_most",), at_most=_asked(limit)),
    limit_says=lambda limit, kind: say("seen at {n}", n=kind.show(round(_asked(limit)))),
    station="finish",
    needs=NEEDS_PIXELS,
    finish="caption",
    seen=("corner", "strip", "tint"),
)
