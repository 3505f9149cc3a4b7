"""Between arrays of NumPy and images of libvips."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from aptandum.core.later import np, pyvips

if TYPE_CHECKING:
    from numpy.typing import NDArray


def memory_of(image: pyvips.Image) -> NDArray[Any]:
    """One band of an image as an array of shape (height, width)."""
    made: NDArray[Any] = np.asarray(image.numpy())
    return made[..., 0] if made.ndim == 3 else made


def from_array(array: NDArray[Any]) -> pyvips.Image:
    """A libvips image over an array of shape (height, width, bands), uint8 or uint16."""
    image = pyvips.Image.new_from_array(np.ascontiguousarray(array))
    bands = array.shape[2] if array.ndim == 3 else 1
    wide = array.dtype == np.uint16
    names = {1: "grey16" if wide else "b-w", 2: "grey16" if wide else "b-w"}
    space = names.get(bands, "rgb16" if wide else "srgb")
    return image.copy(interpretation=space)
