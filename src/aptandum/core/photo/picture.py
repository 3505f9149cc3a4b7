"""A picture in memory: pixels, the profile that their numbers are in, and what was laid on it."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any

from aptandum.core.later import np
from aptandum.core.photo import engine
from aptandum.core.photo.engine import Lab, Pixels

if TYPE_CHECKING:
    from numpy.typing import NDArray


@dataclass(frozen=True, eq=False)
class Rim:
    """The outer pixels of a picture before a keyline was drawn on them.

    Attributes:
        depth: how many rings of pixels are kept, from the edge inwards.
        drawn: how many of them were drawn on.
        top, bottom: shape (depth, width, bands); left, right: (height, depth, bands).
    """

    depth: int
    top: Pixels
    bottom: Pixels
    left: Pixels
    right: Pixels
    drawn: int = 0

    @classmethod
    def of(cls, pixels: Pixels, depth: int, drawn: int = 0) -> Rim:
        """The rim of a picture, ``depth`` pixels deep or half the picture where that is less."""
        high, wide = pixels.shape[:2]
        deep = max(1, min(depth, high // 2 or 1, wide // 2 or 1))
        return cls(
            deep,
            pixels[:deep].copy(),
            pixels[high - deep :].copy(),
            pixels[:, :deep].copy(),
            pixels[:, wide - deep :].copy(),
            min(deep, drawn),
        )


@dataclass(frozen=True, eq=False)
class Lettering:
    """Words on a picture that must be read.

    Attributes:
        box: left, top, width and height in the picture's pixels.
        share: how much of each pixel of the box the letters cover, 0..1, shape (h, w); ``None`` for words that the
            photo has: they are told from its pixels.
        said: the words, or what the box is called.
        cut: the edges of the picture that cut them: ``left``, ``top``, ``right``, ``bottom``.
        own: they were set here; else the photo has them.
        number: of the caption, from 1.
        made_by: the settings that they were set by, where they were set here.
        fits: where an edge cuts them, the largest size of their font at which none does; ``None``: there is none.
        upright: of words that are turned, their coverage before they were; else ``None``.
    """

    box: tuple[int, int, int, int]
    share: NDArray[np.float32] | None
    said: str = ""
    cut: tuple[str, ...] = ()
    own: bool = True
    number: int = 1
    made_by: Any = field(default=None, repr=False)
    fits: float | None = None
    upright: NDArray[np.float32] | None = None


@dataclass(frozen=True, eq=False)
class Islands:
    """Areas of the colour that was made clear that are not connected with where that began.

    Attributes:
        count: how many there are.
        pixels: in all of them.
        where: shape (h, w), True in them.
        stay: they were left as they were; else they were made clear as well.
    """

    count: int
    pixels: int
    where: NDArray[np.bool_]
    stay: bool


@dataclass(frozen=True, eq=False)
class Picture:
    """A rendered picture.

    Attributes:
        pixels: see :data:`aptandum.core.photo.engine.Pixels`; colours in the space of ``icc``.
        icc: the profile that the numbers are in.
        alpha: the last band is an alpha channel.
        bits: of a channel in the file that it is made for; 1: every pixel is black or white.
        rim: where a keyline was drawn, the outer pixels as they were before.
        lettering: where a caption was set.
        islands: where a colour was made clear, its areas inside; ``None``: there are none.
        ground: the colour that parts that were clear were laid on, and that is seen; ``None``: nothing was.
    """

    pixels: Pixels
    icc: bytes
    alpha: bool
    bits: int = 8
    rim: Rim | None = field(default=None, repr=False)
    lettering: tuple[Lettering, ...] = field(default=(), repr=False)
    islands: Islands | None = field(default=None, repr=False)
    ground: str | None = None

    @property
    def size(self) -> tuple[int, int]:
        return self.pixels.shape[1], self.pixels.shape[0]

    @property
    def depth(self) -> int:
        """The bits of a channel as they are written: 1, 8 or 16."""
        return 16 if self.pixels.dtype == np.uint16 else self.bits

    @property
    def top(self) -> int:
        """The largest number of a channel: 255 or 65 535."""
        return 65535 if self.pixels.dtype == np.uint16 else 255

    @property
    def colour(self) -> Pixels:
        """The pixels without alpha."""
        return self.pixels[..., :-1] if self.alpha else self.pixels

    def lab(self) -> Lab:
        """CIELAB of every pixel, as :func:`aptandum.core.photo.engine.to_lab`."""
        return engine.to_lab(self.pixels, self.icc, self.alpha)

    def numbers(self, colour: str) -> Any:
        """A colour such as ``#F2F2F0`` (sRGB) in the picture's own numbers; shape (bands,)."""
        made = engine.in_profile(colour, self.icc, 16 if self.top == 65535 else 8)
        return made[: self.colour.shape[2]]
