"""Whether the gaps of a template have stayed empty."""

from __future__ import annotations

from aptandum.core.brief.model import Brief
from aptandum.core.figures import grouped, show_size
from aptandum.core.judge.measure import NEEDS_PIXELS, CannotMeasure, Measure, Mend, Miss
from aptandum.core.judge.measures.alterations import SAID
from aptandum.core.judge.polygons import gaps
from aptandum.core.judge.reading import Reading
from aptandum.core.later import np
from aptandum.core.quantity import words
from aptandum.core.words import listed, say


class Gaps(str):
    """``empty`` or ``filled``, with how many pixels are not empty."""

    pixels: int = 0


def _take(reading: Reading, brief: Brief) -> Gaps:
    template = brief.template
    if template is None:
        raise CannotMeasure(say("The brief has no template."))
    size = reading.facts.size
    if size != template.size:
        raise CannotMeasure(
            say(
                "The template has {template}, the picture {size}: the gaps lie elsewhere.",
                template=show_size(template.size),
                size=show_size(size),
            )
        )
    empty = gaps(template)
    picture = reading.look().picture
    alpha = picture.pixels[..., -1] if picture.alpha else np.ones(empty.shape, np.uint8)
    filled = int((alpha[empty] > 0).sum())
    made = Gaps("filled" if filled else "empty")
    made.pixels = filled
    return made


def _alone(reading: Reading) -> Gaps:
    raise CannotMeasure(say("Gaps belong to a brief's template."))


def _said(value: object) -> str:
    n = getattr(value, "pixels", 0)
    if n:
        return say("{n} px filled", n=grouped(n))
    return {"empty": say("empty"), "filled": say("filled")}.get(str(value), str(value))


def _mend(miss: Miss) -> Mend:
    if "panels" not in miss.reading.done:
        return Mend(
            say("Lay the photo into the template's panels, in a file that holds transparency")
        )
    over = [SAID[word] for word in ("caption", "keyline", "border") if word in miss.reading.done]
    if over:
        return Mend(say("Remove what fills the gaps: {what}", what=listed(over, "and")))
    return Mend(say("Write it in a format that holds transparency: PNG, WebP or TIFF"))


_KIND = words("empty", "filled")

MEASURE = Measure(
    "kept_empty",
    say("Gaps empty"),
    "finish",
    type(_KIND)(_KIND.name, _KIND.parse, _said, False, _KIND.choices),
    say(
        "Every pixel whose middle lies in no panel of the template is wholly transparent (alpha 0)."
    ),
    _alone,
    mend=_mend,
    station="finish",
    by_brief=_take,
    needs=NEEDS_PIXELS,
    finish="panels",
)
