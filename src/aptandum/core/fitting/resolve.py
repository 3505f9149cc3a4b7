"""Resolving: every station's numbers from photo, brief and settings, without a pixel.

What is shown while a person drags and what is written come from here both, so they cannot
differ.
"""

from __future__ import annotations

from dataclasses import replace

from aptandum.core.brief.binding import (
    DEPTH,
    TRANSPARENCY,
)
from aptandum.core.brief.bundles import courses
from aptandum.core.brief.model import Brief, turn_of
from aptandum.core.figures import show_size
from aptandum.core.fitting.finish import FINISHES, Given
from aptandum.core.fitting.finish import border as border_finish
from aptandum.core.fitting.finish.glyphs import missing
from aptandum.core.fitting.live import live_reading
from aptandum.core.fitting.losses import Loss, loss_of
from aptandum.core.fitting.not_carried import not_carried
from aptandum.core.fitting.plan import (
    ColourStation,
    FinishStation,
    FrameStation,
    Line,
    SourceStation,
)
from aptandum.core.fitting.resolve_colour import resolve_colour
from aptandum.core.fitting.resolve_file import resolve_file
from aptandum.core.fitting.resolve_frame import resolve_frame
from aptandum.core.fitting.resolve_options import with_ratio
from aptandum.core.fitting.settings import Settings
from aptandum.core.judge.findings import judge
from aptandum.core.photo.depth import WITH_OPACITY
from aptandum.core.photo.facts import Facts
from aptandum.core.sizes.conflicts import changes, contradiction
from aptandum.core.sizes.said import change_said
from aptandum.core.words import listed, say

_CLEAR = ("png", "webp", "avif", "tiff", "gif")
"""Formats of :data:`WRITABLE` that hold transparency."""


_THIN = {"keyline", "caption"}
"""Finishes that draw thin colour, which halved chroma would smear."""


def resolve(facts: Facts, brief: Brief | None, settings: Settings) -> Line:
    """Every station's numbers. Pure, and fast enough to run while a frame is dragged.

    Where a brief leaves a choice, or depends on what is made, the way is taken that misses the fewest
    rules and of those the one that changes the photo least.

    Args:
        facts: of a photo whose header could be read.
        brief: the rules to follow; ``None``: none, so that nothing is asked.

    Raises:
        PhotoError: the photo could not be read.
    """
    if brief is None or brief.plain:
        return _resolved(facts, brief, settings)
    return plans(facts, brief, settings)[0]


def plans(facts: Facts, brief: Brief, settings: Settings) -> tuple[Line, ...]:
    """The plan of every course of a brief, the one that is taken first.

    Raises:
        PhotoError: the photo could not be read.
    """
    lines = [_resolved(facts, course, settings) for course in courses(brief)]
    if len(lines) == 1:
        return (lines[0],)
    return tuple(sorted(lines, key=lambda line: _worth(facts, line)))


def _worth(facts: Facts, line: Line) -> tuple[bool, int, int, Loss]:
    """Whether no size at all meets its own course, what it misses of it as far as figures tell, and
    what the photo loses by it."""
    assert line.course is not None
    found = judge(live_reading(facts, line), line.course, mends=False).counts()
    never = bool(contradiction(line.course))
    return never, found["misses"], found["advises"], loss_of(line)


def course_of(facts: Facts, brief: Brief, settings: Settings) -> Brief:
    """The plain brief that a fitting follows."""
    return resolve(facts, brief, settings).course or brief


def _resolved(facts: Facts, brief: Brief | None, settings: Settings) -> Line:
    notes: list[str] = []
    shown = facts.size
    stored = facts.width or shown[0], facts.height or shown[1]
    source = SourceStation(
        stored, shown, facts.orientation or 1, facts.bytes, facts.turn, facts.format or "",
        settings.source.done, settings.source.damaged, settings.source.words,
    )  # fmt: skip
    keeps_clear = bool(facts.clear_rim) and _holds_clear(facts, brief, settings)
    bordered = border_finish.FINISH.on(settings.finish.border, given_by(brief))
    frame = resolve_frame(shown, brief, settings, notes, keeps_clear, bordered)
    ways = changes(brief, shown) if brief is not None else ()
    if ways:
        said = listed([change_said(way, shown) for way in ways])
        notes.append(say("This photo cannot meet the brief. What would: {ways}.", ways=said))
    lying = brief.lying(turn_of(*frame.output)) if brief is not None else None
    file = resolve_file(facts, lying, settings, frame.output, notes)
    colour = resolve_colour(facts, lying, settings, file.format, notes)
    finish = _finish(facts, lying, settings, frame, file.format, notes)
    notes += not_carried(facts, lying, settings, colour, file)
    file = with_ratio(file, lying, frame.output, _bits_of(colour, facts, finish))
    if file.format in ("jpeg", "avif") and file.subsampling is None and _THIN & set(finish.on):
        file = replace(file, subsampling="4:4:4")
    return Line(source, frame, colour, finish, file, tuple(notes), course=brief)


def _bits_of(colour: ColourStation, facts: Facts, finish: FinishStation) -> int:
    """Bits of a pixel as the file stores it."""
    channels = 1 if colour.target == "grey" else 3
    clear = bool(facts.alpha) and finish.ground is None
    return colour.bits * (channels + (1 if clear else 0))


def _holds_clear(facts: Facts, brief: Brief | None, settings: Settings) -> bool:
    """Whether the file will hold transparency."""
    brief = brief.lying(turn_of(*facts.size)) if brief is not None else None
    format_ = resolve_file(facts, brief, settings, facts.size, []).format
    return format_ in _CLEAR and not _forbids_transparency(brief)


def given_by(brief: Brief | None) -> Given:
    """What a brief gives to lay on."""
    if brief is None:
        return Given()
    template = brief.template
    shade = brief.beside(template.shade) if template is not None else None
    return Given(brief.beside(brief.border), shade, template)


_FEW = 8
"""Of letters that no font has, so many are named."""


def _finish(
    facts: Facts,
    brief: Brief | None,
    settings: Settings,
    frame: FrameStation,
    format_: str,
    notes: list[str],
) -> FinishStation:
    given = given_by(brief)
    parts = settings.finish
    on = [f for f in FINISHES if f.on(getattr(parts, f.name), given)]
    if any(f.name == "border" for f in on):
        trouble = border_finish.trouble(parts.border, given, frame.output)
        if trouble:
            notes.append(trouble)
            on = [f for f in on if f.name != "border"]
    if given.template is not None and frame.output != given.template.size:
        notes.append(
            say(
                "The template has {size}; in a picture of {output} every panel lands elsewhere.",
                size=show_size(given.template.size),
                output=show_size(frame.output),
            )
        )
    captions = parts.caption.each()
    lost = tuple(dict.fromkeys(c for one in captions for c in missing(one.text, one.font)))
    if lost:
        letters = listed([f"“{c}”" for c in lost[:_FEW]], "and")
        notes.append(
            say("No shipped font has {letters}: an empty box is drawn there.", letters=letters)
        )
    panels = {panel.name for panel in given.template.panels} if given.template else set()
    for name in dict.fromkeys(one.panel for one in captions if one.text.strip() and one.panel):
        if name not in panels:
            notes.append(
                say(
                    "There is no panel “{name}”: the caption stands in the whole picture.",
                    name=name,
                )
            )
    names = tuple(f.name for f in on)
    made = FinishStation(
        None, parts, given, names, any(f.needs_mask(getattr(parts, f.name)) for f in on)
    )
    keeps = format_ in _CLEAR and not _forbids_transparency(brief)
    if (facts.alpha or frame.ground == "clear" or made.clear) and not keeps:
        made = replace(made, ground=parts.ground)
    return made


def _forbids_transparency(brief: Brief | None) -> bool:
    limit = brief.bound(TRANSPARENCY) if brief else None
    depth = brief.bound(DEPTH) if brief else None
    if depth is not None and not any(map(depth.allows, WITH_OPACITY)):
        return True
    return limit is not None and not limit.allows("present")
