"""People in a photo: faces with their marks, found by the shipped models.

The models (:mod:`~aptandum.core.photo.networks`) look at a copy of at most :data:`LOOK` pixels, for they were made
for small pictures; all points come back in pixels of the array that was given.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import replace
from functools import cache
from typing import Any

from aptandum.core.frozen import frozen
from aptandum.core.later import cv2, np
from aptandum.core.photo import head, networks
from aptandum.core.photo.eye_cover import HALF, covered, lightness
from aptandum.core.photo.halves import Levels, back, crop, halved, near_size
from aptandum.core.photo.rims import BENEATH, FINE, NO_RIM, rim

LOOK = 2000
"""Longest side of the copy that is looked at, in pixels; it is halved until it is no longer."""

_LEAST = 12.0
"""The mesh's own score of a face: 18 and more for true ones whichever way they lie, below 9
for what is none and for a face taken upside down (measured on rendered portraits)."""

Point = tuple[float, float]

# Indices of the face mesh (468 points).
_RIGHT_EYE, _LEFT_EYE = (33, 133), (362, 263)  # corners, outer first for the person's right
_MOUTH = ((13, 14), (78, 308))  # inner lips, and their corners


@frozen
class Face:
    """One face, in pixels of the picture it was found in.

    Attributes:
        crown: top of the head with its hair, on the axis of the face.
        chin: its lowest point.
        eyes: the eye centres of ISO/IEC 19794-5 (feature points 12.1 and 12.2), which lie midway between the corners
            of each eye wherever it looks; the one on the left of the picture first.
        turn: yaw in degrees; positive looks to the right of the picture.
        confidence: 0..1.
        box: left, top, right, bottom of the face's mesh.
        eyes_open: opening over width of each eye, as in ``eyes``: open ones 0.25 to 0.39.
        mouth_open: opening over width of the mouth: closed ones below 0.1; ``None``: not read.
        irises: their centres, as ``eyes``; ``None``: not read.
        nod: pitch in degrees; positive looks down; ``None``: not read.
        skull: top of the skull without the hair, an estimate; ``None``: not read.
        sides: the widest points of the face before the ears, left of the picture first; ``None``: not read.
        cut: the ends of the head that the picture's edge cuts off: ``crown``, ``chin``, ``side``.
        doubted: marks that two ways of finding them tell differently: ``eyes``.
        bare_eyes: nothing is seen before the eyes (glasses, above all), so that they are told more exactly.
    """

    crown: Point
    chin: Point
    eyes: tuple[Point, Point]
    turn: float
    confidence: float
    box: tuple[float, float, float, float]
    eyes_open: tuple[float, float] = (0.0, 0.0)
    mouth_open: float | None = None
    irises: tuple[Point, Point] | None = None
    nod: float | None = None
    skull: Point | None = None
    sides: tuple[Point, Point] | None = None
    cut: tuple[str, ...] = ()
    doubted: tuple[str, ...] = ()
    bare_eyes: bool = False


def find_people(picture: Any) -> tuple[Face, ...]:
    """The faces of an 8-bit RGB picture of shape (h, w, 3), the largest first."""
    small, times = picture, 1.0
    while max(small.shape[:2]) > LOOK:  # exact halves cost a third of any other share
        half_high, half_wide = (max(1, side // 2) for side in small.shape[:2])
        even = small[: 2 * half_high, : 2 * half_wide]
        small = cv2.resize(even, (half_wide, half_high), interpolation=cv2.INTER_AREA)
        times *= 2
    return tuple(scaled(face, (times, times)) for face in _apart(_look(small)))


def scaled(face: Face, k: tuple[float, float]) -> Face:
    """The same person in a picture that is so many times as large."""

    def point(p: Point) -> Point:
        return p[0] * k[0], p[1] * k[1]

    a, b, c, d = face.box
    box = (a * k[0], b * k[1], c * k[0], d * k[1])

    def pair(points: tuple[Point, Point] | None) -> tuple[Point, Point] | None:
        return None if points is None else (point(points[0]), point(points[1]))

    return replace(
        face,
        crown=point(face.crown),
        chin=point(face.chin),
        eyes=(point(face.eyes[0]), point(face.eyes[1])),
        box=box,
        irises=pair(face.irises),
        skull=None if face.skull is None else point(face.skull),
        sides=pair(face.sides),
    )


def _apart(faces: list[Face]) -> list[Face]:
    """Faces that do not lie on one another, largest first."""
    kept: list[Face] = []
    for face in sorted(faces, key=lambda f: -(f.box[2] - f.box[0])):
        if all(_overlap(face.box, other.box) < 0.3 for other in kept):
            kept.append(face)
    return kept


def _overlap(a: Sequence[float], b: Sequence[float]) -> float:
    """Intersection over union of two boxes (left, top, right, bottom)."""
    wide = min(a[2], b[2]) - max(a[0], b[0])
    high = min(a[3], b[3]) - max(a[1], b[1])
    if wide <= 0 or high <= 0:
        return 0.0
    both = wide * high
    areas = (a[2] - a[0]) * (a[3] - a[1]) + (b[2] - b[0]) * (b[3] - b[1])
    return float(both / (areas - both))


# --- where faces are -----------------------------------------------------------------------


@cache
def _anchors(size: int, strides: tuple[int, ...], per: int) -> Any:
    """Centres of a detector's cells, 0..1; neighbouring layers of one stride share a grid."""
    rows, i = [], 0
    while i < len(strides):
        same = [s for s in strides[i:] if s == strides[i]]
        grid = size // strides[i]
        y, x = np.mgrid[0:grid, 0:grid]
        cells = np.stack([(x + 0.5) / grid, (y + 0.5) / grid], -1).reshape(-1, 2)
        rows.append(np.repeat(cells, per * len(same), axis=0))
        i += len(same)
    return np.concatenate(rows).astype(np.float32)


_DETECTORS = (
    (
        "face_detection_full_range",
        192,
        (4,),
        1,
        ("reshaped_regressor_face_4", "reshaped_classifier_face_4"),
    ),
    ("face_detection_short_range", 128, (8, 16, 16, 16), 2, ("regressors", "classificators")),
)


def _look(picture: Any) -> list[Face]:
    """The faces of a picture. It may lie on its side or its head: where no face is found, the
    other three turns are tried."""
    high, wide = picture.shape[:2]
    levels = halved(picture)
    for turns in (0, 1, 3, 2):
        faces: list[Face] = []
        tried: list[tuple[float, float, float, float]] = []
        for name, size, strides, per, outputs in _DETECTORS:
            small = near_size(levels, size)
            turned = np.ascontiguousarray(np.rot90(small, turns))
            k = max(high, wide) / max(small.shape[:2])
            for at in _cells(turned, name, size, _anchors(size, strides, per), outputs):
                cell = (at[0] * k, at[1] * k, at[2] * k, at[3])
                start = _turned_back(cell, turns, wide, high)
                # Both look for the same faces: what one has found is not looked for again by the other.
                if any(_same(start, other) for other in tried):
                    continue
                face = _face(levels, start)
                if face is not None:
                    faces.append(face)
                    tried.append(start)
        if faces:
            return faces
    return []


def _same(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    """Whether two starts lie on one face."""
    apart = math.hypot(one[0] - other[0], one[1] - other[1])
    return apart < 0.25 * max(one[2], other[2]) and 0.6 < one[2] / other[2] < 1.67


def _turned_back(
    start: tuple[float, float, float, float], turns: int, wide: int, high: int
) -> tuple[float, float, float, float]:
    """From a picture turned left by quarter turns back to the one before."""
    x, y, side, roll = start
    for left in range(turns, 0, -1):
        # The picture before its last quarter turn to the left was (w, h); x' = y, y' = w - x.
        w = wide if left % 2 else high
        x, y = w - y, x
        roll += math.pi / 2
    return x, y, side, roll


def _cells(
    picture: Any, name: str, size: int, anchors: Any, outputs: Sequence[str]
) -> list[tuple[float, float, float, float]]:
    high, wide = picture.shape[:2]
    k = size / max(high, wide)
    nw, nh = max(1, round(wide * k)), max(1, round(high * k))
    way = cv2.INTER_AREA if k < 1 else cv2.INTER_LINEAR
    px, py = (size - nw) // 2, (size - nh) // 2
    canvas = np.zeros((size, size, 3), np.float32)
    canvas[py : py + nh, px : px + nw] = cv2.resize(picture, (nw, nh), interpolation=way)
    boxes, scores = networks.run(name, canvas / 127.5 - 1, outputs)
    sure = 1 / (1 + np.exp(-np.clip(scores.reshape(-1), -80, 80)))
    points = boxes.reshape(-1, 8, 2) / size
    points[:, 0] += anchors
    points[:, 2:] += anchors[:, None]
    likely = np.flatnonzero(sure > 0.5)
    order: list[int] = likely[np.argsort(-sure[likely])].tolist()
    held = points[order, :2]
    boxes = np.concatenate([held[:, 0] - held[:, 1] / 2, held[:, 0] + held[:, 1] / 2], 1).tolist()
    corners = dict(zip(order, boxes, strict=True))
    found, used = [], set()
    for i in order:
        if i in used:
            continue
        group = [j for j in order if j not in used and _overlap(corners[i], corners[j]) > 0.3]
        used.update(group)
        weights = sure[group][:, None, None]
        mean = (points[group] * weights).sum(0) / weights.sum() * size
        mean[0] -= (px, py)
        mean[2:] -= (px, py)
        mean /= k
        across = mean[3] - mean[2]
        side = float(max(mean[1])) * 1.5
        found.append((float(mean[0, 0]), float(mean[0, 1]), side, math.atan2(across[1], across[0])))
    return found


# --- a face's points -----------------------------------------------------------------------


def _mesh(levels: Levels, x: float, y: float, side: float, roll: float) -> tuple[Any, float]:
    """468 points (x, y, depth) of a face, and the network's score that there is one."""
    square, matrix = crop(levels, x, y, side, roll, 192)
    points, there = networks.run("fm_face_landmark", square, ("conv2d_21", "conv2d_31"))
    flat = points.reshape(468, 3).astype(np.float64)
    placed = np.c_[back(flat[:, :2], matrix), flat[:, 2] * side / 192]
    return placed, float(there.reshape(-1)[0])


def _around(mesh: Any) -> tuple[float, float, float, float]:
    """The square for a second look, from the mesh itself."""
    across = mesh[_LEFT_EYE[1], :2] - mesh[_RIGHT_EYE[0], :2]
    roll = math.atan2(across[1], across[0])
    c, s = math.cos(-roll), math.sin(-roll)
    turn = np.array([[c, -s], [s, c]])
    upright = mesh[:, :2] @ turn.T
    low, high = upright.min(0), upright.max(0)
    x, y = turn.T @ ((low + high) / 2)
    return float(x), float(y), float(max(high - low)) * 1.5, roll


def _iris(
    levels: Levels, mesh: Any, corners: tuple[int, int], mirrored: bool
) -> tuple[Point, float]:
    """The centre of an iris, and how far the lids are open against the eye's width."""
    a, b = mesh[corners[0], :2], mesh[corners[1], :2]
    side = float(np.linalg.norm(b - a)) * 2.3
    roll = math.atan2(b[1] - a[1], b[0] - a[0])
    x, y = (a + b) / 2
    square, matrix = crop(levels, float(x), float(y), side, roll, 64)
    if mirrored:
        square = square[:, ::-1]
    wanted = "output_eyes_contours_and_brows", "output_iris"
    lids, points = networks.run("iris_landmark", square, wanted)
    # Of the lids' contour 0 to 8 are the lower lid from corner to corner, 9 to 15 the upper.
    contour = lids.reshape(-1, 3)[:16, :2].astype(np.float64)
    across = float(np.linalg.norm(contour[0] - contour[8])) or 1.0
    gaps = [float(np.linalg.norm(contour[a] - contour[b])) for a, b in ((3, 11), (4, 12), (5, 13))]
    opened = sum(gaps) / 3 / across
    flat = points.reshape(-1, 3)[:1, :2].astype(np.float64)
    if mirrored:
        flat[:, 0] = 64 - flat[:, 0]
    placed = back(flat, matrix)[0]
    return (float(placed[0]), float(placed[1])), opened


def _face(levels: Levels, start: tuple[float, float, float, float]) -> Face | None:
    mesh, score = _mesh(levels, *start)
    square = start
    for _ in range(2):
        after = _around(mesh)
        if _near(square, after):
            break
        square = after
        mesh, score = _mesh(levels, *square)
    if score < _LEAST:
        return None
    right, right_open = _iris(levels, mesh, _RIGHT_EYE, False)
    left, left_open = _iris(levels, mesh, _LEFT_EYE, True)
    mask, matrix = _person(levels, mesh)
    turn, nod = head.pose(mesh)
    ends = head.ends(levels, mesh, mask, matrix, turn)
    low, high = mesh[:, :2].min(0), mesh[:, :2].max(0)
    box = (float(low[0]), float(low[1]), float(high[0]), float(high[1]))
    sure = 1 / (1 + math.exp(_LEAST - min(score, 60.0)))
    gap, wide = (float(np.linalg.norm(mesh[a, :2] - mesh[b, :2])) for a, b in _MOUTH)
    eyes = head.eyes(mesh)
    doubted = head.doubted(eyes, (right, left))
    if not doubted and covered(_about_eyes(levels, eyes)):
        doubted = ("eyes",)
    bare = not doubted and _bare(levels, eyes)
    eyes = head.levelled(eyes, (right, left)) if bare else eyes
    skull = head.skull(mesh, nod)
    cut, size = ends.cut, levels[0].shape
    if "crown" not in cut and not (0 <= skull[0] <= size[1] and 0 <= skull[1] <= size[0]):
        cut = (*cut, "crown")  # where the skull lies outside, so does the hair on it
    return Face(
        ends.crown,
        ends.chin,
        eyes,
        turn,
        sure,
        box,
        (right_open, left_open),
        gap / wide,
        (right, left),
        nod,
        skull,
        head.sides(mesh),
        cut,
        doubted,
        bare,
    )


def _bare(levels: Levels, eyes: tuple[Point, Point]) -> bool:
    """Whether nothing is seen before the eyes: no rim beneath them, in a picture fine enough to show one."""
    (ax, ay), (bx, by) = eyes
    apart = math.hypot(bx - ax, by - ay)
    if apart < FINE:
        return False
    roll = math.atan2(by - ay, bx - ax)
    half, start, end = BENEATH
    high = end - start
    n, inner = round(100 * high), round(100 * (high / 2 - half))
    down = (start + end) / 2 * apart
    found = []
    for x, y in eyes:
        square = x - down * math.sin(roll), y + down * math.cos(roll), high * apart, roll, n
        lab = cv2.cvtColor(crop(levels, *square)[0], cv2.COLOR_RGB2LAB)
        found.append(lab[:, inner : n - inner])
    return rim((found[0], found[1])) <= NO_RIM


def _about_eyes(levels: Levels, eyes: tuple[Point, Point]) -> tuple[Any, Any]:
    """The lightness about each eye, by hundredths of their distance."""
    (ax, ay), (bx, by) = eyes
    roll, apart = math.atan2(by - ay, bx - ax), math.hypot(bx - ax, by - ay)
    half_wide, half_high = HALF
    n = round(2 * half_wide * 100)
    rows = slice(round((half_wide - half_high) * 100), round((half_wide + half_high) * 100))
    made = [
        lightness(crop(levels, x, y, 2 * half_wide * apart, roll, n)[0] * 255)[rows]
        for x, y in eyes
    ]
    return made[0], made[1]


_MOVED = 0.03
"""Share of its side by which a square moves or grows, and radians that it turns, below which another look tells no
more."""


def _near(one: tuple[float, ...], other: tuple[float, ...]) -> bool:
    side = max(one[2], 1e-6)
    moved = math.hypot(one[0] - other[0], one[1] - other[1]) / side
    turned = abs((one[3] - other[3] + math.pi) % (2 * math.pi) - math.pi)
    return max(moved, abs(other[2] / side - 1), turned) < _MOVED


def _person(levels: Levels, mesh: Any) -> tuple[Any, Any]:
    """The person's mask (256 x 256, 0..1) in a square about head and shoulders."""
    x, y, side, roll = _around(mesh)
    reach = side * 2.0
    square, matrix = crop(levels, x, y, reach, roll, 256)
    return _mask_of(square), matrix


def _mask_of(square: Any) -> Any:
    """Where a person is in a picture of 256 x 256, shape (256, 256, 3), 0..1: float32, 0..1."""
    (sure,) = networks.run("selfie_segmentation", square, ("activation_10",))
    return sure[0, :, :, 0]


def person_mask(picture: Any) -> Any:
    """How surely each pixel of an 8-bit RGB picture of shape (h, w, 3) belongs to a person:
    float32, 0..1, shape (h, w). The network looks at the whole picture, 256 x 256."""
    small = cv2.resize(picture, (256, 256), interpolation=cv2.INTER_AREA)
    flat = _mask_of(small.astype(np.float32) / 255)
    return cv2.resize(flat, picture.shape[1::-1], interpolation=cv2.INTER_LINEAR)


_SURE, _SOMEBODY, _OF_SKIN = 0.7, 0.08, 0.15
"""How surely pixels belong to a person, which share of a picture they have where somebody seems to be in it, and how
many of them have a colour of skin: the network takes a jug for a person as well."""
_SKIN = ((20, 133, 77), (255, 173, 127))
"""Colours of skin of all kinds in Y, Cr and Cb (Chai and Ngan, 1999)."""


def somebody_in(picture: Any) -> bool:
    """Whether an 8-bit RGB picture of shape (h, w, 3) seems to show a person, with or without a face."""
    body = person_mask(picture) > _SURE
    if body.mean() < _SOMEBODY:
        return False
    skin = cv2.inRange(cv2.cvtColor(picture, cv2.COLOR_RGB2YCrCb), *_SKIN) > 0
    return bool(skin[body].mean() >= _OF_SKIN)
