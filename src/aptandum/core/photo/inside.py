"""What a file holds that its header's facts do not tell: how it is packed, how finely, how long it
runs, and what its metadata say. Each is looked for when it is first asked for."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Protocol

from aptandum.core.photo import apart
from aptandum.core.photo.facts import Facts, NotInside
from aptandum.core.photo.metadata_groups import GROUPS, Credit
from aptandum.core.words import say

PACKINGS = ("none", "lzw", "deflate", "packbits", "fax", "jpeg", "lossless", "lossy")
"""Kinds of compression by their names in rulebooks; the last two are what each of them comes to."""


class Inside(Protocol):
    """What measures of a file's inside look at."""

    @property
    def packing(self) -> tuple[str, ...]: ...
    @property
    def quality(self) -> int: ...
    @property
    def chroma(self) -> str: ...
    @property
    def bits_per_pixel(self) -> int: ...
    @property
    def colours(self) -> int: ...
    @property
    def seconds(self) -> float: ...
    @property
    def frames(self) -> int: ...
    @property
    def told(self) -> Credit: ...
    @property
    def speaks(self) -> bool: ...


class OfFile:
    """The inside of a file, which a reader looks into.

    Args:
        read: gives its bytes.
        facts: what its header says.
    """

    def __init__(self, read: Callable[[], bytes], facts: Facts) -> None:
        self._read, self._facts = read, facts
        self._held: dict[str, Any] = {}

    def _ask(self, what: str) -> Any:
        if what not in self._held:
            self._held |= apart.inside(self._read(), self._facts, what)
        value, why = self._held[what]
        if why is not None:
            raise NotInside(str(why))
        return value

    @property
    def packing(self) -> tuple[str, ...]:
        """How it is compressed, and whether that loses anything."""
        return tuple(str(word) for word in self._ask("packing"))

    @property
    def quality(self) -> int:
        """Of a JPEG: the quality, 1..100, at which the common scaling of table K.1 comes nearest to it."""
        return int(self._ask("quality"))

    @property
    def chroma(self) -> str:
        """How finely colour is kept beside brightness."""
        told = self._facts.subsampling
        if told is None:
            if self._facts.format in ("png", "gif", "bmp", "tiff"):
                return "4:4:4"
            raise NotInside(say("The file does not tell how finely it keeps colour."))
        return told

    @property
    def bits_per_pixel(self) -> int:
        """Bits that a stored pixel has before it is compressed, with its transparency."""
        return int(self._ask("bits_per_pixel"))

    @property
    def colours(self) -> int:
        """Different colours that the picture has; more than 65 536 are not told apart any more."""
        return int(self._ask("colours"))

    @property
    def seconds(self) -> float:
        """How long an animation runs once through; 0 for a still picture."""
        return float(self._ask("times")[1])

    @property
    def frames(self) -> int:
        """Frames of an animation."""
        return int(self._ask("times")[0])

    @property
    def told(self) -> Credit:
        """What its metadata say, group by group."""
        told: Credit = self._ask("told")
        return told

    @property
    def speaks(self) -> bool:
        """Whether it has any metadata that tell more than how the picture is coded."""
        return bool(self._ask("speaks"))


def groups_of(told: Credit) -> frozenset[str]:
    """The names of the groups that metadata tell."""
    return frozenset(group.name for group in GROUPS if getattr(told, group.part))


class Foreseen:
    """The inside of a file that is not made yet, as far as its plan settles it.

    Args:
        told: what its metadata will say; ``None`` where that is not known.
    """

    def __init__(
        self,
        packing: tuple[str, ...],
        quality: int | None,
        chroma: str | None,
        bits_per_pixel: int,
        told: Credit | None,
    ) -> None:
        self.packing, self.bits_per_pixel = packing, bits_per_pixel
        self._quality, self._chroma, self._told = quality, chroma, told
        self.seconds, self.frames = 0.0, 1

    @property
    def quality(self) -> int:
        """As set."""
        return self._known(self._quality)  # type: ignore[no-any-return]

    @property
    def chroma(self) -> str:
        """As set."""
        return self._known(self._chroma)  # type: ignore[no-any-return]

    @property
    def colours(self) -> int:
        """Known of a file alone."""
        return self._known(None)  # type: ignore[no-any-return]

    @property
    def told(self) -> Credit:
        """As the fitting keeps, drops or sets it."""
        return self._known(self._told)  # type: ignore[no-any-return]

    @property
    def speaks(self) -> bool:
        """Whether anything is told."""
        return bool(self.told)

    @staticmethod
    def _known(value: Any) -> Any:
        if value is None:
            raise NotInside(say("The file has not been made yet."))
        return value
