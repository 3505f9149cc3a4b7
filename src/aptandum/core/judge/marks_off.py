"""By how much what was found of a head may be off: of 20 heads 19 at least are off by no more than this.

Measured by ``tools/measure_portrait.py`` over made-up portraits whose truth is known (docs/portrait.md). What a person sets
by hand is taken as it is.
"""

from __future__ import annotations

from aptandum.core.photo.marks import Marks

OFF: dict[str, tuple[float, float]] = {
    "height": (0.017, 0.017),
    "crown": (0.0115, 0.0115),
    "skull": (0.066, 0.088),
    "eye line": (0.0075, 0.03),
    "across": (0.0065, 0.015),
    "eye distance": (0.014, 0.0225),
    "head width": (0.0325, 0.04),
    "tilt": (1.4, 3.0),
    "turn": (2.8, 4.0),
    "nod": (5.8, 9.3),
}
"""Shares of the head's height, and degrees: where nothing is seen before the eyes, and where something may be: behind glasses
they are told less exactly."""


def off(name: str, marks: Marks) -> float:
    """What :data:`OFF` says of one thing for a head's marks."""
    bare, behind = OFF[name]
    return bare if marks.bare_eyes else behind
