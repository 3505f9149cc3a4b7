"""The backdrop: what is behind the person or thing in a photo, as a mask that can be corrected.

The model's mask of a person is small and soft; a guided filter (He, Sun and Tang, 2010) draws
its edge to the picture's own. A thing is cut out by GrabCut from the box of what stands out
from the rim. A person's strokes with a round brush are laid on last, and stand.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any, Literal, TypeAlias

from pydantic import BaseModel, ConfigDict, Field

from aptandum.core.errors import AptandumError
from aptandum.core.later import cv2, np
from aptandum.core.photo.turning import moved
from aptandum.core.words import say

if TYPE_CHECKING:
    from numpy.typing import NDArray

LOOK = 1200
"""Longest side of the copy that is looked at, in pixels."""

_RADIUS, _SOFT = 12, 1e-3  # of the guided filter, at LOOK
_SURE = (0.12, 0.88)  # the mask's values taken for certainly behind and certainly before
_EDGE = 3.5 / 800  # depth of the edge within the subject, of the longest side
_THING = 420  # longest side at which GrabCut works

Cover: TypeAlias = "NDArray[np.float32]"
"""Shape (height, width), 0 (backdrop) to 1 (person or thing)."""


class NoMask(AptandumError):
    """Nothing stands out from a backdrop; the message says so."""


class Stroke(BaseModel):
    """One stroke of the round brush, in photo pixels as shown.

    Attributes:
        adds: to what stands before the backdrop; else it is taken away from it.
        radius: of the brush.
        points: the way of its middle.
    """

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)

    adds: bool = True
    radius: float = Field(gt=0, le=20_000)
    points: tuple[tuple[float, float], ...] = Field(min_length=1, max_length=5000)

    def turned(self, code: int, size: tuple[int, int]) -> Stroke:
        """On the photo turned by an EXIF code; ``size`` is the photo's before."""
        points = tuple(moved((*at, 0.0, 0.0), code, size)[:2] for at in self.points)
        return self.model_copy(update={"points": points})


@dataclass(frozen=True, eq=False)
class Mask:
    """What stands before the backdrop.

    Attributes:
        cover: at most :data:`LOOK` on its longest side, over the whole photo as shown.
        size: width and height of the photo in pixels.
        of: ``person``, ``thing``, or ``hand`` where nothing was found and strokes alone tell.
    """

    cover: Cover
    size: tuple[int, int]
    of: Literal["person", "thing", "hand"]

    def brushed(self, strokes: Iterable[Stroke]) -> Mask:
        """The mask with strokes laid on it, each with an edge as soft as one pixel of it."""
        made = self.cover.copy()
        high, wide = made.shape
        k = wide / self.size[0]
        for stroke in strokes:
            points = np.array(stroke.points, np.float64) * k
            layer = np.zeros((high, wide), np.uint8)
            thick = max(1, round(2 * stroke.radius * k))
            fixed = np.rint((points - 0.5) * 16).astype(np.int32)
            cv2.polylines(layer, [fixed], False, 255, thick, cv2.LINE_AA, 4)
            radius = max(1, round(stroke.radius * k * 16))
            for x, y in fixed:
                cv2.circle(layer, (int(x), int(y)), radius, 255, -1, cv2.LINE_AA, 4)
            share = layer.astype(np.float32) / 255
            made = np.maximum(made, share) if stroke.adds else np.minimum(made, 1 - share)
        return replace(self, cover=made)

    def window(
        self,
        box: tuple[float, float, float, float],
        size: tuple[int, int],
        angle: float = 0.0,
    ) -> Cover:
        """A window of the mask at ``size`` (width, height): left, top, width and height in
        photo pixels, on the photo straightened by ``angle`` degrees. Beyond the photo the
        mask's edge goes on."""
        wide, high = size
        k = self.cover.shape[1] / self.size[0], self.cover.shape[0] / self.size[1]
        kx, ky = box[2] / wide, box[3] / high
        c, s = math.cos(math.radians(-angle)), math.sin(math.radians(-angle))
        pw, ph = self.size
        x0, y0 = box[0] + 0.5 * kx - pw / 2, box[1] + 0.5 * ky - ph / 2
        matrix = np.array(
            [
                [c * kx * k[0], -s * ky * k[0], (pw / 2 + c * x0 - s * y0) * k[0] - 0.5],
                [s * kx * k[1], c * ky * k[1], (ph / 2 + s * x0 + c * y0) * k[1] - 0.5],
            ]
        )
        source: Any = self.cover
        shrink = max(kx * k[0], ky * k[1])
        if shrink > 1.02:  # fewer pixels than the mask has: average first
            small = (
                max(1, round(source.shape[1] / shrink)),
                max(1, round(source.shape[0] / shrink)),
            )
            fx, fy = small[0] / source.shape[1], small[1] / source.shape[0]
            source = cv2.resize(source, small, interpolation=cv2.INTER_AREA)
            matrix[0] = (matrix[0] + [0, 0, 0.5]) * fx - [0, 0, 0.5]
            matrix[1] = (matrix[1] + [0, 0, 0.5]) * fy - [0, 0, 0.5]
        made: Any = cv2.warpAffine(
            source,
            matrix,
            (wide, high),
            flags=cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP,
            borderMode=cv2.BORDER_REPLICATE,
        )
        # What is nearly certain is certain, or the warp's own rounding would touch the subject.
        cover: Cover = np.clip((made - 0.004) / 0.992, 0, 1).astype(np.float32)
        return cover


def find_mask(
    picture: Any,
    size: tuple[int, int],
    person: bool,
    thing: tuple[float, float, float, float] | None = None,
) -> Mask:
    """The mask of what stands before the backdrop in an 8-bit RGB picture of shape (h, w, 3).

    Args:
        picture: the whole photo as shown; a copy of at most :data:`LOOK` pixels is looked at.
        size: of the photo itself.
        person: whether a face was found in it.
        thing: where there is none, the box of what stands out (left, top, width, height in
            the picture's pixels).

    Raises:
        NoMask: neither a person nor a thing stands out.
    """
    high, wide = picture.shape[:2]
    k = min(1.0, LOOK / max(high, wide))
    small = np.ascontiguousarray(picture)
    if k < 1:
        at = (max(8, round(wide * k)), max(8, round(high * k)))
        small = cv2.resize(small, at, interpolation=cv2.INTER_AREA)
    if person:
        from aptandum.core.photo.people import person_mask

        rough = person_mask(small)
        return Mask(_refined(small, rough), size, "person")
    if thing is None:
        raise NoMask(say("Neither a person nor a thing stands out from the backdrop; brush it in."))
    box = (thing[0] * k, thing[1] * k, thing[2] * k, thing[3] * k)
    return Mask(_refined(small, _cut_out(small, box)), size, "thing")


def blank(size: tuple[int, int]) -> Mask:
    """A mask in which nothing stands before the backdrop, to be brushed in."""
    k = min(1.0, LOOK / max(size))
    shape = (max(8, round(size[1] * k)), max(8, round(size[0] * k)))
    return Mask(np.zeros(shape, np.float32), size, "hand")


def _refined(picture: Any, rough: Cover) -> Cover:
    """The mask drawn to the picture's edges, and certain where it is nearly so."""
    radius = max(2, round(_RADIUS * max(picture.shape[:2]) / LOOK))
    fine = guided(picture.astype(np.float32) / 255, rough, radius, _SOFT)
    low, high = _SURE
    fine = np.clip((fine - low) / (high - low), 0, 1)
    # Well inside and well outside the rough mask, a pattern must not show through.
    kernel = cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (2 * radius + 1,) * 2)
    inside = cv2.erode((rough > 0.5).astype(np.uint8), kernel)
    outside = cv2.erode((rough < 0.5).astype(np.uint8), kernel)
    fine = np.where(inside > 0, 1, np.where(outside > 0, 0, fine)).astype(np.float32)
    return _deep(_no_specks(fine), _EDGE * max(picture.shape[:2]))


def _deep(cover: Cover, reach: float) -> Cover:
    """Whole where it lies deeper than ``reach`` pixels within its own outline: no pattern of the
    subject is ever taken for its edge."""
    solid = (cover > 0.5).astype(np.uint8)
    padded = cv2.copyMakeBorder(solid, 1, 1, 1, 1, cv2.BORDER_REPLICATE)
    depth = cv2.distanceTransform(padded, cv2.DIST_L2, 5)[1:-1, 1:-1]
    made: Cover = np.where(depth > reach, np.float32(1), cover)
    return made


def _no_specks(cover: Cover) -> Cover:
    """Without islands of less than a hundredth of what stands there, and holes of the same."""
    made = cover.copy()
    for empty in (False, True):
        solid = (made < 0.5 if empty else made >= 0.5).astype(np.uint8)
        count, labels, stats, _ = cv2.connectedComponentsWithStats(solid)
        least = 0.01 * float((cover >= 0.5).sum())
        small = [i for i in range(1, count) if stats[i, cv2.CC_STAT_AREA] < least]
        if small and not empty:
            made[np.isin(labels, small)] = 0.0
        elif small:
            edge = _touching(labels)  # a gap at the picture's rim may be narrow and true
            holes = [i for i in small if i not in edge and stats[i, cv2.CC_STAT_AREA] < least / 8]
            made[np.isin(labels, holes)] = 1.0
    return made


def _touching(labels: Any) -> set[int]:
    rims = (labels[0], labels[-1], labels[:, 0], labels[:, -1])
    return {int(v) for rim in rims for v in np.unique(rim)}


def guided(guide: Any, values: Cover, radius: int, eps: float) -> Cover:
    """The guided filter: ``values`` follow the edges of a colour ``guide``.

    ``guide`` has shape (h, w, 3), 0..1; ``radius`` is that of the window in pixels.
    """

    def mean(x: Any) -> Any:
        side = (2 * radius + 1,) * 2
        return cv2.blur(x, side, borderType=cv2.BORDER_REFLECT)

    p = values.astype(np.float32)
    m, mp = mean(guide), mean(p)
    cov = mean(guide * p[..., None]) - m * mp[..., None]
    # The symmetric 3 x 3 matrix of the guide's covariance, inverted by its cofactors.
    r, g, b = guide[..., 0], guide[..., 1], guide[..., 2]
    rr = mean(r * r) - m[..., 0] ** 2 + eps
    gg = mean(g * g) - m[..., 1] ** 2 + eps
    bb = mean(b * b) - m[..., 2] ** 2 + eps
    rg = mean(r * g) - m[..., 0] * m[..., 1]
    rb = mean(r * b) - m[..., 0] * m[..., 2]
    gb = mean(g * b) - m[..., 1] * m[..., 2]
    c00, c01, c02 = gg * bb - gb * gb, rb * gb - rg * bb, rg * gb - rb * gg
    det = np.maximum(rr * c00 + rg * c01 + rb * c02, 1e-12)
    c11, c12, c22 = rr * bb - rb * rb, rg * rb - rr * gb, rr * gg - rg * rg
    x, y, z = cov[..., 0], cov[..., 1], cov[..., 2]
    a = np.stack(
        [
            (c00 * x + c01 * y + c02 * z) / det,
            (c01 * x + c11 * y + c12 * z) / det,
            (c02 * x + c12 * y + c22 * z) / det,
        ],
        -1,
    )
    offset = mp - (a * m).sum(-1)
    made: Cover = ((mean(a) * guide).sum(-1) + mean(offset)).astype(np.float32)
    return made


def _cut_out(picture: Any, box: tuple[float, float, float, float]) -> Cover:
    """A thing inside its box, by GrabCut (Rother, Kolmogorov and Blake, 2004) on a small copy."""
    high, wide = picture.shape[:2]
    k = min(1.0, _THING / max(high, wide))
    size = (max(8, round(wide * k)), max(8, round(high * k)))
    small = cv2.resize(picture, size, interpolation=cv2.INTER_AREA)
    left, top, across, up = (v * k for v in box)
    room = 0.04 * max(across, up)
    x0, y0 = max(1, int(left - room)), max(1, int(top - room))
    x1, y1 = (
        min(size[0] - 1, math.ceil(left + across + room)),
        min(size[1] - 1, math.ceil(top + up + room)),
    )
    mask = np.full(small.shape[:2], cv2.GC_BGD, np.uint8)
    mask[y0:y1, x0:x1] = cv2.GC_PR_FGD
    behind, before = np.zeros((1, 65)), np.zeros((1, 65))
    cv2.setRNGSeed(1)
    found = np.ascontiguousarray(small[..., ::-1])
    made = cv2.grabCut(
        found, mask, (x0, y0, x1 - x0, y1 - y0), behind, before, 4, cv2.GC_INIT_WITH_RECT
    )[0]
    solid = np.isin(made, (cv2.GC_FGD, cv2.GC_PR_FGD)).astype(np.float32)
    made = cv2.resize(solid, (wide, high), interpolation=cv2.INTER_LINEAR)
    return made.astype(np.float32)


__all__ = ["LOOK", "Mask", "NoMask", "Stroke", "blank", "find_mask", "guided"]
