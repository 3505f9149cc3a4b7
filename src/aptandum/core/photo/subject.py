"""The subject of a photo of a thing: the box of what stands before a plain backdrop."""

from __future__ import annotations

from typing import Any

from aptandum.core.later import cv2, np

Box = tuple[float, float, float, float]
"""Left, top, width and height."""

LOOK = 480
"""Longest side of the copy that is looked at, in pixels."""

_LEAST, _MOST = 0.004, 0.9  # shares of the picture that a subject may take
_SHADE = 0.4  # lightness counts for less than colour: a shadow is darker, and is not the thing
_APART = 9.0  # CIELAB units from the backdrop at which something is certainly not it


def find_subject(picture: Any) -> Box | None:
    """The box round the largest thing that stands out from the backdrop of an 8-bit RGB picture
    of shape (h, w, 3), in its pixels; ``None`` where the rim is too mixed to be a backdrop, or
    nothing stands out.

    The backdrop is the middle colour of the picture's rim; what differs from it by more than
    the rim itself does (CIE76, for a rough cut) belongs to a thing.
    """
    high, wide = picture.shape[:2]
    k = min(1.0, LOOK / max(high, wide))
    size = (max(8, round(wide * k)), max(8, round(high * k)))
    small = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    lab = cv2.cvtColor(small.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    lab = cv2.GaussianBlur(lab, (0, 0), 1.2)
    lab[..., 0] *= _SHADE
    rim = max(2, round(min(size) * 0.03))
    edge = np.concatenate(
        [part.reshape(-1, 3) for part in (lab[:rim], lab[-rim:], lab[:, :rim], lab[:, -rim:])]
    )
    middle = np.median(edge, axis=0)
    spread = float(np.percentile(np.linalg.norm(edge - middle, axis=1), 90))
    if spread > _APART:
        return None
    off = np.linalg.norm(lab - middle, axis=2)
    mask = (off > max(_APART, 1.5 * spread)).astype(np.uint8)
    round_ = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (5, 5))
    mask = cv2.morphologyEx(mask, cv2.MORPH_OPEN, round_)
    mask = cv2.morphologyEx(mask, cv2.MORPH_CLOSE, round_, iterations=2)
    count, _labels, stats, _centres = cv2.connectedComponentsWithStats(mask)
    if count < 2:
        return None
    best = 1 + int(np.argmax(stats[1:, cv2.CC_STAT_AREA]))
    left, top, across, up, area = (int(v) for v in stats[best])
    share = area / (size[0] * size[1])
    if not _LEAST <= share <= _MOST:
        return None
    edges = (left <= 1, top <= 1, left + across >= size[0] - 1, top + up >= size[1] - 1)
    if sum(edges) > 2:  # what reaches round the picture is not before a backdrop
        return None
    fx, fy = wide / size[0], high / size[1]
    return left * fx, top * fy, across * fx, up * fy
