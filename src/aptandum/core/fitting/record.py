"""The alteration record: everything that a line does to a photo, in words."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from typing import Any

from aptandum.core.figures import grouped, show_factor, show_number, show_size
from aptandum.core.fitting.causes import Cause, Why, by_hand
from aptandum.core.fitting.finish import FINISHES, FinishError, border
from aptandum.core.fitting.plan import ColourStation, Line
from aptandum.core.fitting.resolve_colour import inks_taken_as
from aptandum.core.frozen import frozen
from aptandum.core.judge.reading import Additions
from aptandum.core.photo.backdrop import Cover, Mask
from aptandum.core.photo.depth import gains_opacity
from aptandum.core.photo.facts import Facts
from aptandum.core.photo.inside import Inside
from aptandum.core.photo.picture import Lettering, Picture
from aptandum.core.photo.profile import SPACE_NAMES
from aptandum.core.photo.turning import MIRRORED, swung_box
from aptandum.core.words import say, say_n, sentences

_OVER = 0.5
"""Pixels by which a box may lie outside the picture before its words are cut."""


@frozen
class Act:
    """One thing that was done.

    Attributes:
        word: as a rulebook's ``allows`` writes it; empty for what is done round the picture.
        does: a sentence.
        cause: why; ``None`` where that was not asked for.
    """

    word: str
    does: str
    cause: Cause | None = None

    @property
    def says(self) -> str:
        """What was done and why, in a sentence."""
        if self.cause is None:
            return self.does
        return say("{act}: {cause}.", act=self.does.rstrip("."), cause=self.cause.says)

    def contract(self) -> dict[str, Any]:
        """As the command line prints it."""
        cause = self.cause
        return {
            "word": self.word or None,
            "does": self.does,
            "cause": cause.says if cause else None,
            "clauses": list(cause.clauses) if cause else [],
        }


def acts(facts: Facts, line: Line, why: Why | None = None) -> tuple[Act, ...]:
    """What the line does to a photo with these facts, in the order in which it does it.

    Applying the orientation that the file itself states is no alteration: every viewer does it.

    Args:
        why: also tell the cause of each.
    """
    done = _before(line)
    if line.way == "anew":
        done += _acts(facts, line)
    return done if why is None else tuple(replace(act, cause=_cause(act, why)) for act in done)


def _before(line: Line) -> tuple[Act, ...]:
    """What a person says was done to the photo before it came here."""
    said = []
    if line.source.damaged:
        said.append(Act("", say("Used although its data may be damaged, as a person says.")))
    if "dust" in line.source.done:
        said.append(Act("dust", say("Dust and scratches taken out before, as a person says.")))
    if "retouch" in line.source.done:
        said.append(Act("retouch", say("Retouched before, as a person says.")))
    return tuple(said)


def _cause(act: Act, why: Why) -> Cause:
    if act.word in ("cut", "pad"):
        return why.of_frame()
    if act.word == "scale":
        return why.of_scale()
    if act.word in ("convert", "one-bit"):
        depth = act in _of_depth(why.facts, why.line.colour)
        found = why.of_depth() if depth else why.of_colour()
        if found is not None:
            return found
        return why.of_encoding(())
    given = why.line.finish.given
    laid = {"border": given.border, "shade": given.shade, "panels": given.template}
    if laid.get(act.word) is not None:
        return Cause(say("the brief lays it on"))
    return by_hand()


def _acts(facts: Facts, line: Line) -> tuple[Act, ...]:
    frame, colour, finish = line.frame, line.colour, line.finish
    found: list[Act] = []
    if facts.turn != 1:
        mirrored = facts.turn in MIRRORED
        found.append(Act("turn", say("Mirrored by hand.") if mirrored else say("Turned by hand.")))
    if frame.angle:
        degrees = show_number(abs(frame.angle), 2)
        way = say("clockwise") if frame.angle > 0 else say("anticlockwise")
        found.append(Act("turn", say("Straightened by {n}° {way}.", n=degrees, way=way)))
    if frame.kept < 1 - 1e-6:
        kept = (round(frame.window.width), round(frame.window.height))
        found.append(
            Act("cut", say("Cut to {part} of {whole}.", part=show_size(kept),
                           whole=show_size(line.source.shown)))
        )  # fmt: skip
    if frame.ground is not None and not _under_border(line):
        ground = {"edge": say("the edge's own colour"), "clear": say("nothing")}
        found.append(
            Act("pad", say("Padded with {what}.", what=ground.get(frame.ground, frame.ground)))
        )
    if not frame.exact and abs(frame.scale - 1) > 1e-9:
        found.append(
            Act("scale", say("Scaled by {n} to {size}.", n=show_factor(frame.scale),
                             size=show_size(frame.output)))
        )  # fmt: skip
    changed = colour.target != colour.source or (
        colour.target == "other" and colour.icc != facts.icc_bytes
    )
    if changed and colour.bits != 1:
        said = say("Colours converted from {a} to {b}.", a=SPACE_NAMES[colour.source],
                   b=SPACE_NAMES[colour.target])  # fmt: skip
        if facts.mode == "cmyk" and not facts.icc_bytes:
            said = sentences([said, inks_taken_as()])
        if colour.intent == "hue":
            said = sentences([said, say("What lies outside is brought to its edge, hue kept.")])
        found.append(Act("convert", said))
    found += _of_depth(facts, colour)
    found += _of_light(colour)
    for one in FINISHES:
        if one.name in finish.on and not one.after_dots:
            found.append(_act(one.name, line))
    if colour.bits == 1:
        found.append(Act("one-bit", say("Made one bit: black or white dots.")))
    for one in FINISHES:
        if one.name in finish.on and one.after_dots:
            found.append(_act(one.name, line))
    return tuple(found)


def _of_light(colour: ColourStation) -> list[Act]:
    """What was done to the light of the whole picture."""
    found = []
    if colour.exposure:
        n = show_number(abs(colour.exposure), 2)
        lighter = say("The whole picture made lighter by {n} stops.", n=n)
        darker = say("The whole picture made darker by {n} stops.", n=n)
        found.append(Act("light", lighter if colour.exposure > 0 else darker))
    if colour.warmth:
        n = show_number(abs(colour.warmth), 2)
        warmer = say("The whole picture made warmer: red by {n} stops against blue.", n=n)
        colder = say("The whole picture made colder: blue by {n} stops against red.", n=n)
        found.append(Act("light", warmer if colour.warmth > 0 else colder))
    return found


def _of_depth(facts: Facts, colour: ColourStation) -> list[Act]:
    """That another number of bits is written, if so; dots say so themselves."""
    was, now = _bits(facts), colour.bits
    if now in (1, was):
        return []
    if now < was and not colour.relit:
        said = say("Reduced from {a} to {b} bit; gentle slopes are dithered.", a=was, b=now)
    else:
        said = say("Brought from {a} to {b} bit.", a=was, b=now)
    return [Act("convert", said)]


def _bits(facts: Facts) -> int:
    """Bits of a photo's colours: those of a palette have eight, however few its index has."""
    return 8 if facts.mode == "palette" else facts.bits or 8


def _under_border(line: Line) -> bool:
    """Whether all padding lies under the border, so that the opening shows nothing but photo."""
    if "border" not in line.finish.on:
        return False
    path = border.file_of(line.finish.settings.border, line.finish.given)
    try:
        opening = border.opening_of(path or "")
    except FinishError:
        return False
    window, (pw, ph) = line.frame.window, line.source.shown
    (wide, high), (left, top, across, up) = opening.size, opening.box
    kx, ky = window.width / wide, window.height / high
    slack = 1.0  # photo pixels: the edge of a photo falls on whole output pixels
    return (
        window.left + left * kx >= -slack
        and window.top + top * ky >= -slack
        and window.left + (left + across) * kx <= pw + slack
        and window.top + (top + up) * ky <= ph + slack
    )


def _act(name: str, line: Line) -> Act:
    finish = next(one for one in FINISHES if one.name == name)
    settings = getattr(line.finish.settings, name)
    return Act(finish.alteration(settings), finish.says(settings, line.finish.given))


def words(facts: Facts, line: Line) -> tuple[str, ...]:
    """The alterations' words in a rulebook, each once."""
    return tuple(dict.fromkeys(act.word for act in acts(facts, line)))


def laid(
    facts: Facts,
    line: Line,
    picture: Picture | None = None,
    see_mask: Callable[[], Mask] | None = None,
    see_supplied: Callable[[], Inside] | None = None,
) -> Additions:
    """What a reading is told of the way of a picture.

    Args:
        see_supplied: looks into the supplied photo's file.
    """
    frame = line.frame
    box = (frame.window.left, frame.window.top, frame.window.width, frame.window.height)

    def cover(size: tuple[int, int]) -> Cover:
        assert see_mask is not None
        return see_mask().window(box, size, frame.angle)

    return Additions(
        words(facts, line),
        picture.rim if picture is not None else None,
        (*(picture.lettering if picture is not None else ()), *words_in(line)),
        cover if see_mask is not None else None,
        see_supplied,
    )


def of_islands(picture: Picture | None) -> tuple[Act, ...]:
    """What became of the areas of a cleared colour that are not connected with where clearing began."""
    islands = picture.islands if picture is not None else None
    if islands is None:
        return ()
    size = grouped(islands.pixels)
    stayed = say_n(
        "{n} area of that colour inside stays as it is ({size} px).",
        "{n} areas of that colour inside stay as they are ({size} px).",
        islands.count,
        size=size,
    )
    went = say_n(
        "{n} area of that colour inside was made transparent too ({size} px).",
        "{n} areas of that colour inside were made transparent too ({size} px).",
        islands.count,
        size=size,
    )
    return (Act("", stayed if islands.stay else went),)


def of_clear(picture: Picture | None, line: Line, why: Why) -> tuple[Act, ...]:
    """What became of parts that were clear, where the file cannot have them so."""
    if picture is None:
        return ()
    if picture.ground is not None:
        said = say("Transparent parts filled with {colour}.", colour=picture.ground)
        return (Act("", said, why.of_ground()),)
    if line.file.format == "gif" and picture.alpha:
        cover = picture.pixels[..., -1]
        if ((cover > 0) & (cover < picture.top)).any():
            said = say("Partly transparent edges made fully transparent or solid.")
            return (Act("", said, Cause(say("GIF has no partial transparency"))),)
    return ()


def of_stored(picture: Picture | None, line: Line, why: Why) -> tuple[Act, ...]:
    """That an opacity is stored which hides nothing, because a rule asks for so many bits."""
    if picture is None or line.file.format != "png" or line.way != "anew":
        return ()
    if not gains_opacity(picture, line.file.stored):
        return ()
    said = say("An opacity that hides nothing is stored with every pixel.")
    return (Act("", said, why.of_stored()),)


def words_in(line: Line) -> tuple[Lettering, ...]:
    """The boxes of a photo whose words must be read, in the pixels of the file."""
    frame, (wide, high) = line.frame, line.frame.output
    found = []
    for n, box in enumerate(line.source.words, start=1):
        left, top, across, down = swung_box(box, frame.angle, line.source.shown)
        x0, y0 = (left - frame.window.left) * frame.scale, (top - frame.window.top) * frame.scale
        x1, y1 = x0 + across * frame.scale, y0 + down * frame.scale
        edges = (("left", -x0), ("top", -y0), ("right", x1 - wide), ("bottom", y1 - high))
        cut = tuple(edge for edge, over in edges if over > _OVER)
        inner = max(0, round(x0)), max(0, round(y0)), min(wide, round(x1)), min(high, round(y1))
        size = max(0, inner[2] - inner[0]), max(0, inner[3] - inner[1])
        said = say("box {n}", n=n)
        found.append(Lettering((inner[0], inner[1], *size), None, said, cut, own=False))
    return tuple(found)
