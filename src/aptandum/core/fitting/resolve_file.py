"""Resolving the file: format, limits, resolution, name and metadata."""

from __future__ import annotations

from fractions import Fraction
from functools import partial
from math import ceil, floor

from aptandum.core.brief.binding import (
    BITS,
    BYTES,
    CHANNELS,
    PROGRESSIVE,
    TRANSPARENCY,
    Bind,
)
from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Brief, Strength, Turn, turn_of
from aptandum.core.brief.registry import binds_of
from aptandum.core.fitting.filenames import file_name
from aptandum.core.fitting.own_format import LOSSLESS, limit_on_format, roomier
from aptandum.core.fitting.plan import LOSSY, WRITABLE, FileStation
from aptandum.core.fitting.resolve_options import told_by, with_options
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.facts import FORMAT_NAMES, Facts, shown_name
from aptandum.core.sizes.binds import PRINTED, RESOLUTION, Printed
from aptandum.core.sizes.prints import lengths
from aptandum.core.words import listed, say


def resolve_file(
    facts: Facts,
    brief: Brief | None,
    settings: Settings,
    output: tuple[int, int],
    notes: list[str],
) -> FileStation:
    """Settle the file station: format, quality or budget, density and data."""
    at_least = at_most = None
    strengths: tuple[Strength, ...] = ("should", "must")
    for strength in strengths:
        limit = brief.bound(BYTES, strength) if brief else None
        if limit is not None:
            at_least = int(limit.at_least) if limit.at_least is not None else None
            at_most = int(limit.at_most) if limit.at_most is not None else None
            if limit.exact:
                at_least = at_most = int(limit.one_of[0])
    options = settings.file
    if options.at_least is not None:
        at_least = max(at_least or 0, options.at_least)
    if options.at_most is not None:
        at_most = min(at_most, options.at_most) if at_most is not None else options.at_most
    limit = limit_on_format(facts, brief, settings, output, at_most, notes)
    format_ = settings.file.format or _asked_format(facts, brief, settings, limit, notes)
    if settings.file.format is None and format_ in LOSSLESS and options.colours is None:
        format_ = roomier(facts, brief, settings, output, at_most) or format_
    ppi = options.ppi
    if ppi is None and brief is not None:
        ppi = _asked_ppi(facts, brief, output)
    if ppi is None:
        ppi = _own_ppi(facts, format_)
    progressive = options.progressive
    if progressive is None:
        progressive = _passes(facts, brief, format_)
    named = partial(file_name, shown_name(facts.file), brief, format_, options.name, size=output)
    name, counted = named(), named(n=None)
    made = FileStation(
        format_,
        options.quality if format_ in LOSSY else None,
        options.subsampling if format_ in ("jpeg", "avif") else None,
        progressive,
        at_least,
        at_most,
        ppi,
        name,
        options.compression if format_ == "tiff" else None,
        options.colours if format_ in ("png", "gif") else None,
        bool(options.lossless) and format_ in ("webp", "avif"),
        counted if counted != name else "",
        told_by(brief, settings),
        options.floor,
    )
    return with_options(made, brief, settings)


def _asked_ppi(facts: Facts, brief: Brief, output: tuple[int, int]) -> float | None:
    """The pixels per inch that the ppi and print clauses leave for a size, nearest to the
    photo's own (or 300), a whole number where there is one; ``None`` where nothing is asked.

    A side of n px prints at a length L with n / L pixels per inch; an exact length is met to
    half a pixel.
    """
    turn = turn_of(*output)
    every = brief.bounding(*PRINTED, RESOLUTION)
    live = [(clause, limit) for clause, limit in every if clause.holds_for(turn)]
    if not live:
        return None
    live.sort(key=lambda one: one[0].strength != "must")  # a wish gives way to a rule
    near = Fraction(str(facts.ppi_x or 300.0))
    low, high = Fraction(0), _MOST_PPI
    for clause, limit in live:
        spans = _densities(binds_of(clause.measure), limit, output, turn)
        left = [(max(low, a), min(high, b)) for a, b in spans]
        open_ = [(a, b) for a, b in left if a <= b]
        if open_:  # where the clauses pull against each other the first stands
            # A JPEG states whole numbers, so a run that holds one goes before a nearer one that does not.
            low, high = min(
                open_, key=lambda run: (ceil(run[0]) > run[1], max(run[0] - near, near - run[1], 0))
            )
    ppi = min(max(near, low), high)
    whole = next((n for n in (round(ppi), ceil(ppi), floor(ppi)) if n and low <= n <= high), ppi)
    return float(whole)


LEAST_STATED, MOST_STATED = 1.0, 65535.0
"""Pixels per inch that every format can state, JPEG (JFIF 1.02) in whole numbers."""


def _passes(facts: Facts, brief: Brief | None, format_: str) -> bool | None:
    """Whether a file is progressive: as it is asked for; where either will do, as the photo is; ``None``: as it comes."""
    asked = brief.bound(PROGRESSIVE, None) if brief else None
    if asked is not None and not asked.allows("baseline"):
        return True
    if asked is None or asked.allows("progressive"):
        if facts.progressive and format_ == facts.format and format_ in ("jpeg", "png"):
            return True
    return None if asked is None else False


def _own_ppi(facts: Facts, format_: str) -> float | None:
    """What the photo states, for what nobody asks to be changed stays; ``None`` where there is no one such number."""
    own = facts.ppi_x
    if own is None or own != facts.ppi_y or not LEAST_STATED <= own <= MOST_STATED:
        return None
    return float(round(own)) if format_ == "jpeg" else own


_MOST_PPI = Fraction(10**6)


def _densities(
    bind: Bind | None, limit: Limit, output: tuple[int, int], turn: Turn
) -> list[tuple[Fraction, Fraction]]:
    """The runs of pixels per inch at which a size in pixels meets a limit on density or print."""
    if not isinstance(bind, Printed):
        ends = [(v, v) for v in limit.one_of] or [(limit.at_least, limit.at_most)]
        return [
            (Fraction(str(low or 0)), _MOST_PPI if high is None else Fraction(str(high)))
            for low, high in ends
        ]
    runs = []
    for sides in lengths(bind, limit, turn):
        low, high = Fraction(0), _MOST_PPI
        for axis, length in sides:
            side = output[axis]
            if length.high is not None:
                low = max(low, (side - length.slack) / length.high)
            if length.low is not None:
                high = min(high, (side + length.slack) / length.low)
        runs.append((low, high))
    return runs


_KEPT = ("jpeg", "png", "tiff", "webp", "avif")
"""Formats in which a picture can be made anew without losing more than it has to."""

_FEW = ("gif", "bmp")
"""Formats that would cost colours, or the profile: PNG loses nothing of them."""

_HOLD_CLEAR, _HOLD_DEEP, _HOLD_DOTS = (
    ("png", "tiff", "webp", "avif"),
    ("png", "tiff"),
    ("png", "tiff"),
)


def _asked_format(
    facts: Facts, brief: Brief | None, settings: Settings, limit: Limit | None, notes: list[str]
) -> str:
    clear = brief.bound(TRANSPARENCY) if brief else None
    wants_clear = clear is not None and not clear.allows("none")
    wide = brief.bound(BITS) if brief else None
    mono = brief.wanted(CHANNELS) if brief else None
    dotted = settings.colour.bits == 1 or (mono is not None and set(mono.one_of) == {"mono"})
    freed = settings.finish.clear.by is not None and (clear is None or clear.allows("present"))
    # The photo's own format, unless what is asked of the picture cannot be held by it.
    own = facts.format if facts.format in _KEPT else "png" if facts.format in _FEW else "jpeg"
    seen_through = (
        limit is None and facts.seen_through and (clear is None or clear.allows("present"))
    )
    needed = (
        (dotted, _HOLD_DOTS),
        (wide is not None and not wide.allows(8), _HOLD_DEEP),
        (wants_clear or freed or seen_through, _HOLD_CLEAR),
    )
    first = "png" if any(asked and own not in holding for asked, holding in needed) else own
    if limit is None:
        return first
    named = sorted(limit.one_of or WRITABLE, key=lambda f: f in _FEW and f != facts.format)
    order = [first, *named, *WRITABLE]  # “GIF, JPEG or PNG” costs no photo its colours
    choice = next((f for f in order if f in WRITABLE and limit.allows(f)), None)
    if choice is None:
        notes.append(
            say(
                "The brief asks for {formats}, which cannot be written yet.",
                formats=listed([FORMAT_NAMES[f] for f in limit.one_of]),
            )
        )
        return "jpeg"
    return str(choice)
