"""One bit: grey into dots that are black or white, for panels that show nothing between.

Grey is counted by its numbers, as a panel's maker counts it: a mean of 40 % grey comes to four
dots of ten.
"""

from __future__ import annotations

from functools import cache
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

from aptandum.core.later import Image, cv2, np

if TYPE_CHECKING:
    from numpy.typing import NDArray


Way = Literal["fixed", "found", "parted", "diffused", "ordered"]
WAYS: tuple[Way, ...] = ("found", "fixed", "parted", "diffused", "ordered")

Grey: TypeAlias = "NDArray[Any]"
"""Shape (height, width), uint8 or uint16."""


@cache
def matrix(order: int = 3) -> NDArray[np.float32]:
    """The dispersed-dot threshold matrix of 2^order (Bayer, 1973), 0..1."""
    made = np.zeros((1, 1))
    for _ in range(order):
        made = np.block([[4 * made, 4 * made + 2], [4 * made + 3, 4 * made + 1]])
    return ((made + 0.5) / made.size).astype(np.float32)


def sharpened(grey: Grey, strength: float) -> Grey:
    """With its edges raised before it is reduced; ``strength`` 0..100 %."""
    if strength <= 0:
        return grey
    top = 65535 if grey.dtype == np.uint16 else 255
    values = grey.astype(np.float32)
    raised = values + (values - cv2.GaussianBlur(values, (0, 0), 1.0)) * (strength / 50)
    made: Grey = np.clip(np.rint(raised), 0, top).astype(grey.dtype)
    return made


def dots(grey: Grey, way: Way, threshold: float = 50.0, invert: bool = False) -> NDArray[np.uint8]:
    """Grey as dots, 0 or 255, of the same shape.

    Args:
        way: ``fixed``: what is at least ``threshold`` (0..100 %) bright is white. ``found``: the
            threshold at which as many dots are white as the mean grey says. ``parted``: the one
            that parts the histogram best in two (Otsu, 1979). ``diffused``: the rounding of
            each dot is handed on to its neighbours (Floyd and Steinberg, 1976). ``ordered``: a
            pattern of thresholds.
    """
    top = 65535.0 if grey.dtype == np.uint16 else 255.0
    share = grey.astype(np.float32) / top
    if way == "fixed":
        white = share >= threshold / 100
    elif way == "found":
        white = _found(share)
    elif way == "parted":
        eight = np.rint(share * 255).astype(np.uint8)
        value, _made = cv2.threshold(eight, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
        if eight.size and eight.min() == eight.max():  # there is nothing to part: dark is black
            value = 127.0
        white = eight > value
    elif way == "ordered":
        white = share > _tiled(share.shape)
    else:
        eight = np.rint(share * 255).astype(np.uint8)
        white = np.asarray(Image.fromarray(eight).convert("1", dither=Image.Dither.FLOYDSTEINBERG))
    made = white if not invert else ~white
    return np.where(made, 255, 0).astype(np.uint8)


def _tiled(shape: tuple[int, ...]) -> NDArray[np.float32]:
    n = len(matrix())
    return np.tile(matrix(), (-(-shape[0] // n), -(-shape[1] // n)))[: shape[0], : shape[1]]


def _found(share: NDArray[np.float32]) -> NDArray[np.bool_]:
    """The brightest so many that their count is the mean grey; equal greys are parted by the
    pattern, so that the count is met where large parts are one grey."""
    count = round(float(share.mean()) * share.size)
    rank = np.lexsort((-_tiled(share.shape).ravel(), share.ravel()))
    white = np.zeros(share.size, bool)
    if count:
        white[rank[-count:]] = True
    return white.reshape(share.shape)


def found_threshold(grey: Grey) -> float:
    """Where ``found`` parts the greys, 0..100 %."""
    top = 65535.0 if grey.dtype == np.uint16 else 255.0
    share = grey.astype(np.float32) / top
    return float(np.quantile(share, 1 - float(share.mean()))) * 100
