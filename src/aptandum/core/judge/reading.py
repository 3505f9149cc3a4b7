"""A reading: what the measures look at, whatever it was made from.

There are three makers: a supplied file, a live fitting, and a finished file's bytes. Each
gives the same facts; what must be computed from pixels is computed when first asked for,
once.
"""

from __future__ import annotations

import io
from collections.abc import Callable
from dataclasses import dataclass, field
from functools import cached_property
from typing import Literal

from PIL import Image

from aptandum.core.photo.decode import Photo, opaque
from aptandum.core.photo.facts import Facts, facts_of_bytes
from aptandum.core.rulebook.model import Turn, turn_of

Origin = Literal["supplied", "live", "finished"]


@dataclass(frozen=True)
class Reading:
    """One picture, ready to be measured.

    Attributes:
        origin: which maker it came from; only ``finished`` may say that a file is ready.
        facts: as of a file.
        enlargement: output over photo pixels; ``None`` where it cannot be known (a supplied
            file has not been scaled, so 1).
        estimated: names of facts that are not known before encoding (``bytes``).
        source: width and height of the supplied photo as shown, where they are known.
        see_opaque: tells whether every pixel is opaque; called at most once.
    """

    origin: Origin
    facts: Facts
    enlargement: float | None = 1.0
    estimated: frozenset[str] = frozenset()
    source: tuple[int, int] | None = None
    see_opaque: Callable[[], bool] = field(default=lambda: True, repr=False, compare=False)

    @cached_property
    def transparent(self) -> bool:
        return bool(self.facts.alpha) and not self.see_opaque()

    @property
    def turn(self) -> Turn:
        return turn_of(*self.facts.size)


def of_supplied(photo: Photo) -> Reading:
    """The supplied file as it is."""
    return Reading(
        "supplied",
        photo.facts,
        source=photo.facts.size,
        see_opaque=lambda: opaque(photo.read(), photo.facts),
    )


def of_finished(
    data: bytes,
    name: str,
    enlargement: float | None,
    source: tuple[int, int] | None = None,
) -> Reading:
    """A finished file, read back from its bytes by the second reader (Pillow), which had no
    part in making it. ``enlargement`` and the photo's own
    size (``source``) are handed on, as no file can tell them."""
    facts = facts_of_bytes(data, name)

    def see() -> bool:
        with Image.open(io.BytesIO(data)) as picture:
            return picture.convert("RGBA").getchannel("A").getextrema()[0] == 255

    return Reading("finished", facts, enlargement, source=source, see_opaque=see)
