"""A look at a picture's pixels: what several measures need of them, found once and kept."""

from __future__ import annotations

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING, Any

from aptandum.core.errors import AptandumError
from aptandum.core.later import cv2, np
from aptandum.core.photo.backdrop import Cover
from aptandum.core.photo.engine import Lab, difference, difference_to
from aptandum.core.photo.picture import Lettering, Picture, Rim

if TYPE_CHECKING:
    from numpy.typing import NDArray

_ALONE = 0.02  # a pixel of which less stands before the backdrop is backdrop alone
_WITHIN = 0.98
_BAND = 6 / 800  # width of the bands on both sides of the subject's edge, of the height
_SMEARED = 2
"""Pixels round a line or letters into which coding carries them."""
_UNMASKED = ("sharpness", "clipped", "edge line", "channels")
"""What was made of the pixels whatever stands before the backdrop."""
MOST = 3_000_000
"""Pixels beyond which a backdrop is looked at on a smaller copy."""


class PixelStatistics:
    """One picture's pixels, and what has been found in them so far.

    Args:
        picture: the pixels with their profile.
        see_cover: how much of each pixel stands before the backdrop; raises ``NoMask``.
        rim: the outer pixels as they were before a keyline was drawn.
        lettering: words that must be read; those of its own are no part of the photo.
        see_native: gives every pixel, where ``picture`` is a smaller copy of it.
    """

    def __init__(
        self,
        picture: Picture,
        see_cover: Callable[[tuple[int, int]], Cover] | None = None,
        rim: Rim | None = None,
        lettering: tuple[Lettering, ...] = (),
        see_native: Callable[[], Picture] | None = None,
    ) -> None:
        self.picture = picture
        self.see_cover = see_cover
        self.rim = rim
        self.lettering = lettering
        self.see_native = see_native
        self.told: dict[str, Any] = {}  # what the measures made of it, by their names

    def again(self, see_cover: Callable[[tuple[int, int]], Cover] | None) -> PixelStatistics:
        """The same pixels with another mask; their colours need not be found anew."""
        made = PixelStatistics(self.picture, see_cover, self.rim, self.lettering, self.see_native)
        for name in ("lab", "opaque"):
            if name in self.__dict__:
                made.__dict__[name] = self.__dict__[name]
        made.told = {name: value for name, value in self.told.items() if name in _UNMASKED}
        return made

    def native(self) -> Picture:
        """Every pixel of the picture; it is not kept, since it may be very large.

        Raises:
            PhotoError: they cannot be read.
        """
        return self.picture if self.see_native is None else self.see_native()

    @cached_property
    def own(self) -> NDArray[np.bool_]:
        """Where a line or letters were laid on here, and what coding smears of them: no part of the photo."""
        high, wide = self.picture.pixels.shape[:2]
        made = np.zeros((high, wide), bool)
        if self.rim is not None and self.rim.drawn:
            deep = self.rim.drawn + _SMEARED
            made[:] = True
            made[deep : high - deep, deep : wide - deep] = False
        for one in self.lettering:
            if not one.own:
                continue
            left, top, across, down = one.box
            made[
                max(0, top - _SMEARED) : top + down + _SMEARED,
                max(0, left - _SMEARED) : left + across + _SMEARED,
            ] = True
        return made if not made.all() else np.zeros((high, wide), bool)

    @cached_property
    def lab(self) -> Lab:
        """CIELAB (D50) of every pixel."""
        return self.picture.lab()

    @cached_property
    def opaque(self) -> NDArray[np.bool_]:
        """Where at least half of a pixel is opaque."""
        if not self.picture.alpha:
            return np.ones(self.picture.pixels.shape[:2], bool)
        seen: NDArray[np.bool_] = self.picture.pixels[..., -1] > self.picture.top // 2
        return seen

    # -- the backdrop -----------------------------------------------------------------------

    @cached_property
    def small(self) -> tuple[Lab, Cover]:
        """CIELAB and cover, of a smaller copy where the picture is very large.

        Raises:
            NoMask: nothing stands out from a backdrop.
        """
        wide, high = self.picture.size
        step = max(1, int(np.ceil((wide * high / MOST) ** 0.5)))
        lab = self.lab
        if step > 1:
            some = np.ascontiguousarray(self.picture.pixels[::step, ::step])
            lab = Picture(some, self.picture.icc, self.picture.alpha).lab()
        assert self.see_cover is not None
        cover = self.see_cover((lab.shape[1], lab.shape[0]))
        if self.picture.alpha:  # what is clear has no colour to be judged
            cover = np.where(self.opaque[::step, ::step], cover, np.float32(0.5))
        if self.own.any():  # nor is what was laid on here a backdrop, or a subject
            cover = np.where(self.own[::step, ::step], np.float32(0.5), cover)
        return lab, cover

    @cached_property
    def behind(self) -> NDArray[np.bool_]:
        """Where there is backdrop alone."""
        alone: NDArray[np.bool_] = self.small[1] < _ALONE
        return alone

    @cached_property
    def middle(self) -> NDArray[np.float32]:
        """The backdrop's median L*, a*, b*; not a number where no backdrop is seen."""
        lab = self.small[0]
        if not self.behind.any():
            return np.full(3, np.nan, np.float32)
        return np.median(lab[self.behind], axis=0).astype(np.float32)

    @cached_property
    def spread(self) -> NDArray[np.float32]:
        """CIEDE2000 of every pixel to the backdrop's middle; shape (h, w)."""
        return difference_to(self.small[0], self.middle)

    @cached_property
    def edge(self) -> tuple[NDArray[np.bool_], NDArray[np.float32]]:
        """Where the subject's edge runs, and at each place CIEDE2000 between the mean colours
        of the bands on both sides of it."""
        lab, cover = self.small
        reach = max(1, round(_BAND * lab.shape[0]))
        side = (4 * reach + 1,) * 2

        def mean(where: NDArray[np.bool_]) -> tuple[Any, Any]:
            weight = cv2.blur(where.astype(np.float32), side)
            held = cv2.blur(lab * where[..., None].astype(np.float32), side)
            return held / np.maximum(weight, 1e-6)[..., None], weight

        inner, n_in = mean(cover > _WITHIN)
        outer, n_out = mean(cover < _ALONE)
        solid = (cover > 0.5).astype(np.uint8)
        rim = (solid > 0) & (cv2.erode(solid, np.ones((3, 3), np.uint8), borderValue=1) == 0)
        rim &= (n_in > 0.02) & (n_out > 0.02)
        apart = difference(inner.astype(np.float32), outer.astype(np.float32))
        return rim, apart

    @cached_property
    def box(self) -> tuple[float, float, float, float] | None:
        """The box of what stands before the backdrop, as shares of the picture: left, top,
        width, height; ``None`` where nothing of it is seen."""
        cover = self.small[1] > 0.5
        rows, columns = np.flatnonzero(cover.any(1)), np.flatnonzero(cover.any(0))
        if not rows.size:
            return None
        high, wide = cover.shape
        left, right = columns[0] / wide, (columns[-1] + 1) / wide
        top, bottom = rows[0] / high, (rows[-1] + 1) / high
        return float(left), float(top), float(right - left), float(bottom - top)


class NoPixels(AptandumError):
    """The pixels are not at hand; the message says why."""
