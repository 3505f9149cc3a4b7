"""The order of losses: of all files that meet every rule, and of those as many recommendations as can
be met together, the one is made that changes the photo least.

This is the one place where the order stands, in words and in code; ``docs/losses.md`` explains it with
pictures. What a person sets by hand comes before all of it.
"""

from __future__ import annotations

from dataclasses import dataclass

from aptandum.core.fitting.plan import Line
from aptandum.core.words import say

WAYS = ("supplied", "around", "anew")


@dataclass(frozen=True, order=True)
class Loss:
    """What a file loses of its photo; the first part that differs decides between two.

    Attributes:
        way: 0 where the supplied bytes go out, 1 where the compressed picture does and only what
            lies around it is changed, 2 where it is encoded anew.
        changed: the picture is cut or padded.
        lost: photo pixels that are cut away, or that padding adds.
        angle: degrees by which it is straightened.
        enlarged: output over photo pixels, where that is above 1.
        resampled: its pixels are not the photo's own.
        reduced: how much smaller than the photo's own pixels it is, 0..1.
        moved: its colours are converted.
        form: it is written in another format than the photo's own.
        quality: 100 less the quality at which it is written; 0 where nothing is lost.
    """

    way: int
    changed: bool
    lost: int
    angle: float
    enlarged: float
    resampled: bool
    reduced: float
    moved: bool
    form: bool
    quality: int


def loss_of(line: Line, quality: int | None = None) -> Loss:
    """What a plan loses.

    Args:
        quality: of the file that was made; ``None`` where it loses nothing by it.
    """
    frame, colour = line.frame, line.colour
    (pw, ph), window = line.source.shown, frame.window
    inside = window.within(pw, ph) if not frame.angle else window
    cut = round(pw * ph - inside.width * inside.height)
    padded = round(window.width * window.height - inside.width * inside.height)
    lost = max(0, cut) + (max(0, padded) if frame.ground is not None else 0)
    return Loss(
        WAYS.index(line.way),
        lost > 0 and (frame.kept < 1 - 1e-6 or frame.ground is not None),
        lost,
        abs(frame.angle),
        max(1.0, frame.scale),
        not frame.exact,
        max(0.0, 1 - frame.scale),
        line.way == "anew" and colour.source != colour.target,
        line.file.format != line.source.format,
        0 if quality is None else 100 - quality,
    )


ORDER = (
    say("The supplied file itself, byte for byte."),
    say("The same compressed picture, and only what lies around it changed."),
    say("The whole picture, neither cut nor padded."),
    say("The least of it cut away; padded only where that is asked for or cannot be seen."),
    say("The least straightening."),
    say("No enlargement, then no resampling, then the least reduction."),
    say("The colours moved least, and the photo's own format kept."),
    say("The highest quality inside the limits."),
)
"""The order in words, the smallest loss first."""
