"""A head told from the mesh of its face: its ends, its eyes and how it is held.

A mesh has 468 points (x, y, depth) in the picture's pixels, by the numbers of MediaPipe's face mesh. Constants were
measured over rendered heads whose truth is known (``tools/measure_portrait.py``; docs/portrait.md).
"""

from __future__ import annotations

import math
from functools import cache
from importlib import resources
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np
from aptandum.core.photo.halves import Levels

Point = tuple[float, float]

_RIGHT_EYE, _LEFT_EYE = (33, 133), (362, 263)  # corners, outer first for the person's right
_CHIN, _FOREHEAD, _SIDES = 152, 10, (234, 454)

CHIN_LOW, CHIN_EDGE = 0.004, 0.8
"""How far below the mesh's chin the true one lies, in distances of the eyes: so much, and this share of where colours
change most below it."""
_CHIN_NEAR, _CHIN_ABOUT, _CHIN_LEAST = 0.08, 0.08, 0.02
"""Where that is looked for: how far below the mesh's chin it is likeliest, its standard deviation, and how far it is at
least: above that lies the shade that light from above casts on the chin itself."""

_STRIP = 0.35
"""Half the strip about the head's axis in which its top is looked for, of the face's width."""
_ROWS, _COLUMNS = 300, 64
_FROM, _TO = 0.7, 2.4
"""Where that strip begins and ends along the axis, in lengths from the chin to the forehead."""
_RIM, _EVEN = 8, 1e-3
"""Rows over which the mask follows the picture, and the variance of lightness (0..1) below which it does not."""
_HAIR = 97
"""Per cent of the strip's columns that a crown is higher than: single hairs are none."""
_LEAVING = 0.2
"""Share of the strip's columns that may leave the picture before the crown counts as cut."""
_ROOM = 0.03
"""Of the head's height: how far its crown and its chin must lie inside the picture. Where hair ends at the edge, the
mask of the person ends a little before it."""
_ROOM_BESIDE, _ROOM_TURNED = 0.1, 0.004
"""The same of its sides, of the width between them; and how much more for each degree that it is turned: the mesh of a
turned face draws in before the edge."""
_LINES = 4.0
"""Degrees by which the line of the irises may differ from that of the eyes' corners."""


@frozen
class Ends:
    """Crown and chin of a head; ``cut``: which of ``crown``, ``chin`` and ``side`` the picture's edge cuts off."""

    crown: Point
    chin: Point
    cut: tuple[str, ...]


def ends(levels: Levels, mesh: Any, mask: Any, matrix: Any, turn: float) -> Ends:
    """Where a head begins and ends along its axis.

    The crown is where the person's mask ends in a strip about the axis, with the hair. The mask's own pixels are a
    hundredth of a head, so that it is first made to follow the picture's edges (a guided filter: He, Sun and Tang,
    2013).

    Args:
        levels: the picture, 8-bit RGB, shape (h, w, 3), and its halves.
        mask: of the person, 0..1, in a square about head and shoulders.
        matrix: 2 x 3, from the square's pixels to the picture's.
        turn: yaw in degrees.
    """
    picture = levels[0]
    chin, up, length = axis(mesh)
    aside = np.array([-up[1], up[0]])
    wide = float(np.linalg.norm(mesh[_SIDES[0], :2] - mesh[_SIDES[1], :2]))
    along = np.linspace(_FROM * length, _TO * length, _ROWS)
    strip = np.linspace(-_STRIP * wide, _STRIP * wide, _COLUMNS)
    spots = chin + along[:, None, None] * up + strip[None, :, None] * aside
    inverse = cv2.invertAffineTransform(matrix)
    at = (spots.reshape(-1, 2) - 0.5) @ inverse[:, :2].T + inverse[:, 2]
    there = _read(mask, at.reshape(spots.shape), cv2.BORDER_CONSTANT)
    guide = _read(picture, spots - 0.5, cv2.BORDER_REPLICATE).mean(2)
    there = _guided(guide.astype(np.float32) / 255, there)
    high, broad = picture.shape[:2]
    x, y = spots[..., 0], spots[..., 1]
    inside = (x >= 0) & (x < broad) & (y >= 0) & (y < high)
    clear = (there < 0.5) | ~inside
    first = np.where(clear.any(0), clear.argmax(0), _ROWS - 1)
    leaves = ~inside[first, np.arange(_COLUMNS)]
    top = float(np.percentile(along[first], _HAIR))
    crown = chin + up * top
    low = chin - up * float(np.linalg.norm(_across(mesh))) * _low(levels, mesh)
    tall = top + float(np.linalg.norm(low - chin))
    cut = []
    if leaves.mean() > _LEAVING or _out(crown + up * _ROOM * tall, broad, high):
        cut.append("crown")
    if _out(low - up * _ROOM * tall, broad, high):
        cut.append("chin")
    one, other = (np.array(side) for side in sides(mesh))
    beyond = (other - one) * (_ROOM_BESIDE + _ROOM_TURNED * abs(turn))
    if _out(one - beyond, broad, high) or _out(other + beyond, broad, high):
        cut.append("side")
    return Ends((float(crown[0]), float(crown[1])), (float(low[0]), float(low[1])), tuple(cut))


def axis(mesh: Any) -> tuple[Any, Any, float]:
    """The mesh's chin, the unit vector from it to the forehead, and how far that is."""
    chin, brow = mesh[_CHIN, :2], mesh[_FOREHEAD, :2]
    up = brow - chin
    length = float(np.linalg.norm(up)) or 1.0
    return chin, up / length, length


def _read(array: Any, at: Any, border: int) -> Any:
    x, y = at[..., 0].astype(np.float32), at[..., 1].astype(np.float32)
    return cv2.remap(array, x, y, cv2.INTER_LINEAR, borderMode=border, borderValue=0)


def _out(point: Any, wide: int, high: int) -> bool:
    return not (0 <= point[0] <= wide and 0 <= point[1] <= high)


def _guided(guide: Any, mask: Any) -> Any:
    """A mask that follows the edges of a guide of the same shape, both 0..1."""

    def mean(array: Any) -> Any:
        return cv2.blur(array, (2 * _RIM + 1,) * 2, borderType=cv2.BORDER_REPLICATE)

    of_guide, of_mask = mean(guide), mean(mask)
    slope = (mean(guide * mask) - of_guide * of_mask) / (
        mean(guide * guide) - of_guide * of_guide + _EVEN
    )
    return mean(slope) * guide + mean(of_mask - slope * of_guide)


def _low(levels: Levels, mesh: Any) -> float:
    """How far below the mesh's chin the head ends, in distances of the eyes.

    The picture is looked at along the lower edge of the mesh's jaw, as it bends, so that the edge of a chin lies in one row.
    Colours tell it better than lightness does, which light from above and beards mislead.
    """
    chin, up, _length = axis(mesh)
    aside = np.array([-up[1], up[0]])
    unit = float(np.linalg.norm(_across(mesh)))
    level = min(len(levels) - 1, max(0, math.floor(math.log2(max(unit, 1.0) / _CHIN_FINE) + 0.5)))
    jaw = (mesh[list(_JAW), :2] - chin) / unit
    order = np.argsort(jaw @ aside)
    across = np.linspace(-_CHIN_HALF, _CHIN_HALF, 13)
    bend = np.interp(across, (jaw @ aside)[order], -(jaw @ up)[order])
    down = np.linspace(-0.16, 0.34, 101)
    spots = chin - (bend + down[:, None])[..., None] * unit * up + (across * unit)[:, None] * aside
    seen = _read(levels[level], spots / 2**level - 0.5, cv2.BORDER_REPLICATE)
    lab = cv2.cvtColor(seen.astype(np.float32) / 255, cv2.COLOR_RGB2LAB)
    lab[..., 0] *= _CHIN_LIGHT
    lab = cv2.GaussianBlur(lab, (3, 13), 0.8, sigmaY=2.0)
    change = np.linalg.norm(np.gradient(lab, down, axis=0), axis=2).mean(1)
    likely = np.exp(-(((down - _CHIN_NEAR) / _CHIN_ABOUT) ** 2) / 2)
    weights = (change * likely / max(float((change * likely).max()), 1e-9)) ** _CHIN_PEAK
    edge = float((weights * down).sum() / max(float(weights.sum()), 1e-9))
    return CHIN_LOW + CHIN_EDGE * max(edge, _CHIN_LEAST)


_JAW = (172, 136, 150, 149, 176, 148, 152, 377, 400, 378, 379, 365, 397)
"""The mesh's points along the jaw, from one side to the other."""
_CHIN_HALF = 0.3
"""Half of how much of it is looked at, in distances of the eyes."""
_CHIN_PEAK = 8
"""The power of a change by which places weigh: of two that are nearly alike the middle is taken, for which is the stronger
may change with a pixel."""
_CHIN_FINE = 200.0
"""Pixels for a distance of the eyes, of the picture in which it is looked for."""
_CHIN_LIGHT = 0.5
"""How much a change of L* counts against one of a* and b*."""


# --- eyes, sides, skull ---------------------------------------------------------------------


def eyes(mesh: Any) -> tuple[Point, Point]:
    """The middle between the corners of each eye, the one on the left of the picture first."""
    right, left = (mesh[list(corners), :2].mean(0) for corners in (_RIGHT_EYE, _LEFT_EYE))
    return (float(right[0]), float(right[1])), (float(left[0]), float(left[1]))


def _across(mesh: Any) -> Any:
    return np.subtract(*eyes(mesh))


def doubted(centres: tuple[Point, Point], irises: tuple[Point, Point]) -> tuple[str, ...]:
    """``eyes`` where the line of the irises and that of the corners differ: one of them lies on something else."""

    return ("eyes",) if abs(_apart(centres, irises)) > _LINES else ()


def _apart(centres: tuple[Point, Point], irises: tuple[Point, Point]) -> float:
    """Degrees from the line of the irises to that of the eyes' corners."""

    def angle(pair: tuple[Point, Point]) -> float:
        return math.degrees(math.atan2(pair[1][1] - pair[0][1], pair[1][0] - pair[0][0]))

    return (angle(centres) - angle(irises) + 180) % 360 - 180


def levelled(centres: tuple[Point, Point], irises: tuple[Point, Point]) -> tuple[Point, Point]:
    """Eye centres whose line lies between that of the corners and that of the irises: two ways of telling it, of which
    neither is the better one where nothing lies before the eyes. Their middle and their distance stay."""
    turn = math.radians(_apart(centres, irises) / 2)
    c, s = math.cos(turn), math.sin(turn)
    (ax, ay), (bx, by) = centres
    x, y, half_x, half_y = (ax + bx) / 2, (ay + by) / 2, (bx - ax) / 2, (by - ay) / 2
    across, down = half_x * c + half_y * s, half_y * c - half_x * s
    return (x - across, y - down), (x + across, y + down)


WIDER = 1 / 0.966
"""The head's width before the ears against that of the mesh."""


def sides(mesh: Any) -> tuple[Point, Point]:
    """The widest points of a face before the ears, the one on the left of the picture first."""
    one, other = mesh[_SIDES[0], :2], mesh[_SIDES[1], :2]
    middle, half = (one + other) / 2, (other - one) / 2 * WIDER
    a, b = middle - half, middle + half
    return (float(a[0]), float(a[1])), (float(b[0]), float(b[1]))


SKULL, SKULL_BY_NOD = 0.273, 0.0092
"""How far the top of the skull lies above the forehead's point, in lengths from chin to forehead; and by how much more
for each degree that the head is bent down."""


def skull(mesh: Any, nod: float) -> Point:
    """The top of the skull without the hair, told from the face alone."""
    _chin, up, length = axis(mesh)
    top = mesh[_FOREHEAD, :2] + up * length * (SKULL + SKULL_BY_NOD * max(-20.0, min(nod, 20.0)))
    return float(top[0]), float(top[1])


# --- pose -----------------------------------------------------------------------------------

_TURN, _NOD = (0.92, 1.0), 0.92
"""From the turn of the mesh to that of the head: slope and degrees at none; of the nod the slope."""


@cache
def _canonical() -> tuple[Any, Any]:
    path = resources.files("aptandum.data").joinpath("models/canonical_face.npz")
    with path.open("rb") as stream, np.load(stream) as held:
        weights = held["w"].astype(float)
        return held["v"][:, :3].astype(float), weights / weights.sum()


def pose(mesh: Any) -> tuple[float, float]:
    """Yaw and pitch of a head in degrees, to the right of the picture and down above zero: weighted Procrustes of the
    mesh, its roll taken out, on the canonical face."""
    across = mesh[_LEFT_EYE[1], :2] - mesh[_RIGHT_EYE[0], :2]
    roll = math.atan2(across[1], across[0])
    c, s = math.cos(roll), math.sin(roll)
    points = mesh.copy()
    points[:, :2] = mesh[:, :2] @ np.array([[c, -s], [s, c]])
    points = points * np.array([1, -1, -1.0])
    model, weights = _canonical()
    w = weights[:, None]
    a, b = (w * model).sum(0), (w * points).sum(0)
    u, _s, vt = np.linalg.svd(((model - a) * w).T @ (points - b))
    sign = np.diag([1, 1, np.sign(np.linalg.det(vt.T @ u.T))])
    turn = vt.T @ sign @ u.T
    yaw = math.degrees(math.atan2(turn[0, 2], turn[2, 2]))
    pitch = math.degrees(math.atan2(-turn[1, 2], math.hypot(turn[0, 2], turn[2, 2])))
    return _TURN[0] * yaw + _TURN[1], _NOD * pitch
