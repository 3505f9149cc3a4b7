"""Made-up places rendered with NumPy alone: a harbour at dusk, a glazed jug, a night sky.

Each function returns linear light, float32 of shape (height, width, 3), before the camera:
:mod:`render_photos` adds lens, grain and tone. Units are metres, y up, z away from the camera.
"""

from __future__ import annotations

import math

import numpy as np
from scipy import ndimage

F = np.float32


def smooth(a, b, x):
    t = np.clip((x - a) / (b - a), 0, 1)
    return t * t * (3 - 2 * t)


def unit(v):
    return v / np.maximum(np.linalg.norm(v, axis=-1, keepdims=True), 1e-9)


def _hash(ix, iy, seed):
    h = (ix.astype(np.int64) * 374761393 + iy.astype(np.int64) * 668265263 + seed * 974711) & 0xFFFFFFFF
    h = ((h ^ (h >> 13)) * 1274126177) & 0xFFFFFFFF
    return ((h ^ (h >> 16)) & 0xFFFFFF).astype(F) / F(0xFFFFFF)


def noise(x, y, seed=0):
    """Value noise with smooth steps, 0..1, period one."""
    ix, iy = np.floor(x), np.floor(y)
    fx, fy = (x - ix).astype(F), (y - iy).astype(F)
    fx, fy = fx * fx * (3 - 2 * fx), fy * fy * (3 - 2 * fy)
    a, b = _hash(ix, iy, seed), _hash(ix + 1, iy, seed)
    c, d = _hash(ix, iy + 1, seed), _hash(ix + 1, iy + 1, seed)
    return (a * (1 - fx) + b * fx) * (1 - fy) + (c * (1 - fx) + d * fx) * fy


def fbm(x, y, octaves=5, seed=0, gain=0.5):
    total, amp, norm = 0, 1.0, 0.0
    for i in range(octaves):
        total = total + amp * noise(x * 2**i + 17.3 * i, y * 2**i - 9.1 * i, seed + i)
        norm += amp
        amp *= gain
    return total / norm


def rays(width, height, origin, yaw, pitch, fov, jitter):
    """Directions of shape (h, w, 3) of a pinhole camera; fov is across, in degrees."""
    f = 0.5 / math.tan(math.radians(fov) / 2)
    x, y = np.meshgrid(
        (np.arange(width) + 0.5 + jitter[0]) / width - 0.5,
        (np.arange(height) + 0.5 + jitter[1]) / width - 0.5 * height / width,
    )
    d = unit(np.stack([x, -y, np.full_like(x, f)], -1).astype(F))
    cp, sp = math.cos(math.radians(pitch)), math.sin(math.radians(pitch))
    cy, sy = math.cos(math.radians(yaw)), math.sin(math.radians(yaw))
    rx = np.array([[1, 0, 0], [0, cp, sp], [0, -sp, cp]], F)
    ry = np.array([[cy, 0, sy], [0, 1, 0], [-sy, 0, cy]], F)
    return d @ (ry @ rx).T


# --- harbour at dusk -----------------------------------------------------------------------

_LAMP = np.array([1.62, 2.62, 5.2], F)
_LAMP_COLOUR = np.array([1.0, 0.52, 0.19], F)


def _dusk(d):
    """Sky, clouds and two far shores by direction."""
    el = np.arcsin(np.clip(d[..., 1], -1, 1))
    az = np.arctan2(d[..., 0], d[..., 2])
    up = np.maximum(el, 0)
    glow = np.exp(-((az + 0.42) ** 2) / 0.5)
    high = np.array([0.035, 0.062, 0.135], F)
    mid = np.array([0.17, 0.17, 0.24], F)
    low = np.array([0.95, 0.42, 0.16], F)
    k = np.exp(-up / 0.10)[..., None]
    m = np.exp(-up / 0.28)[..., None]
    sky = high * (1 - m) + mid * m * (1 - k) + low * k * (0.35 + 0.65 * glow)[..., None]
    # cloud bars, lit from below near the glow
    p = 1 / (np.maximum(d[..., 1], 0.02) + 0.06)
    c = fbm(d[..., 0] * p * 0.9 + 3, d[..., 2] * p * 2.3, 6, 5)
    cover = smooth(0.47, 0.72, c) * smooth(0.015, 0.09, up)
    lit = (np.array([1.0, 0.36, 0.20], F) * (np.exp(-up / 0.13) * (0.25 + glow))[..., None] * 0.9
           + np.array([0.05, 0.06, 0.10], F))
    sky = sky * (1 - 0.78 * cover[..., None]) + lit * 0.78 * cover[..., None]
    for height, fine, dark, haze, seed in ((0.050, 3.2, 0.10, 0.55, 31), (0.026, 7.0, 0.045, 0.25, 41)):
        ridge = height * (0.35 + 1.1 * fbm(az * fine + seed, az * 0 + 0.5, 6, seed))
        ridge = ridge * smooth(1.6, 0.6, np.abs(az - 0.15 * (seed - 36)))
        land = smooth(0.0012, -0.0012, el - ridge)[..., None]
        tone = np.array([0.55, 0.62, 1.0], F) * dark + low * haze * 0.25 * glow[..., None]
        tone = tone * (0.8 + 0.5 * fbm(az * 60, el * 160, 4, seed)[..., None])
        sky = sky * (1 - land) + tone * land
        if seed == 41:
            spots = _hash(np.floor(az * 260), np.floor(el * 420), 77)
            near = np.abs((az * 260) % 1 - 0.5) + np.abs((el * 420) % 1 - 0.5)
            on = (spots > 0.972) & (near < 0.16) & (el < ridge * 0.6) & (el > 0.001)
            sky = np.where(on[..., None], np.array([2.2, 1.2, 0.5], F), sky)
    return sky.astype(F)


def _box(o, d, low, high):
    """Ray against an axis-aligned box: distance and normal; inf where it misses."""
    inv = 1 / np.where(np.abs(d) < 1e-7, 1e-7, d)
    a, b = (np.array(low, F) - o) * inv, (np.array(high, F) - o) * inv
    near, far = np.minimum(a, b), np.maximum(a, b)
    t0, t1 = near.max(-1), far.min(-1)
    hit = (t1 > np.maximum(t0, 1e-3)) & (t0 > 1e-3)
    axis = near.argmax(-1)
    n = -np.sign(np.take_along_axis(d, axis[..., None], -1)) * np.eye(3, dtype=F)[axis]
    return np.where(hit, t0, np.inf).astype(F), n.astype(F)


def _cone(o, d, cx, cz, y0, y1, r0, r1):
    """Ray against an upright frustum, sides only: distance and normal."""
    k = (r1 - r0) / (y1 - y0)
    ox, oz, oy = o[..., 0] - cx, o[..., 2] - cz, o[..., 1]
    base = r0 + k * (oy - y0)
    a = d[..., 0] ** 2 + d[..., 2] ** 2 - (k * d[..., 1]) ** 2
    b = ox * d[..., 0] + oz * d[..., 2] - k * base * d[..., 1]
    c = ox**2 + oz**2 - base**2
    disc = b * b - a * c
    t = (-b - np.sqrt(np.maximum(disc, 0))) / np.where(np.abs(a) < 1e-9, 1e-9, a)
    y = oy + t * d[..., 1]
    hit = (disc > 0) & (t > 1e-3) & (y >= y0) & (y <= y1)
    p = o + t[..., None] * d
    n = unit(np.stack([p[..., 0] - cx, -k * (r0 + k * (y - y0)), p[..., 2] - cz], -1))
    return np.where(hit, t, np.inf).astype(F), n.astype(F)


_STONE, _IRON, _GLASS, _WOOD, _ROPE = range(5)


def _solids():
    x, z = float(_LAMP[0]), float(_LAMP[2])
    out = [
        ("box", ((0.72, -2, 1.2), (9, 0.92, 15.5)), _STONE),
        ("box", ((3.4, 0.92, 6.5), (9, 1.45, 15.5)), _STONE),
        ("cone", (x, z, 0.92, 1.06, 0.17, 0.13), _IRON),
        ("cone", (x, z, 1.06, 1.14, 0.10, 0.055), _IRON),
        ("cone", (x, z, 1.14, 2.36, 0.050, 0.036), _IRON),
        ("cone", (x, z, 2.30, 2.40, 0.05, 0.11), _IRON),
        ("box", ((x - 0.13, 2.40, z - 0.13), (x + 0.13, 2.43, z + 0.13)), _IRON),
        ("cone", (x, z, 2.80, 2.96, 0.20, 0.03), _IRON),
        ("cone", (x, z, 2.96, 3.04, 0.022, 0.012), _IRON),
        ("cone", (1.05, 3.15, 0.92, 1.26, 0.13, 0.105), _IRON),
        ("cone", (1.05, 3.15, 1.26, 1.33, 0.155, 0.16), _IRON),
        ("cone", (1.05, 3.15, 1.33, 1.36, 0.16, 0.05), _IRON),
        ("box", ((2.25, 0.92, 6.2), (2.95, 1.42, 6.9)), _WOOD),
        ("box", ((2.35, 1.42, 6.3), (2.80, 1.80, 6.8)), _WOOD),
        ("box", ((2.75, 0.92, 5.0), (3.35, 1.36, 5.6)), _WOOD),
    ]
    for dx, dz in ((-1, -1), (1, -1), (-1, 1), (1, 1)):
        cx, cz = x + dx * 0.112, z + dz * 0.112
        out.append(("box", ((cx - 0.012, 2.43, cz - 0.012), (cx + 0.012, 2.81, cz + 0.012)), _IRON))
    out.append(("box", ((x - 0.10, 2.43, z - 0.10), (x + 0.10, 2.79, z + 0.10)), _GLASS))
    # two moored boats: hull, wheelhouse, mast
    for bx, bz, s in ((-5.2, 27.0, 0.95), (-14.5, 41.0, 1.2), (-1.8, 52.0, 1.05)):
        out += [
            *(
                ("box", ((bx - a * s, y0 * s, bz - 0.55 * s), (bx + b * s, y1 * s, bz + 0.55 * s)), _WOOD)
                for a, b, y0, y1 in (
                    (1.30, 1.05, 0.00, 0.10), (1.36, 1.20, 0.10, 0.19), (1.42, 1.36, 0.19, 0.28),
                    (1.46, 1.52, 0.28, 0.37), (1.50, 1.68, 0.37, 0.46), (-0.55, 1.80, 0.46, 0.54),
                    (-1.20, 1.92, 0.54, 0.61),
                )
            ),
            ("box", ((bx - 1.15 * s, 0.46 * s, bz - 0.36 * s), (bx - 0.45 * s, 1.02 * s, bz + 0.36 * s)), _WOOD),
            ("box", ((bx - 1.25 * s, 1.02 * s, bz - 0.42 * s), (bx - 0.36 * s, 1.08 * s, bz + 0.42 * s)), _IRON),
            ("cone", (bx + 0.55 * s, bz, 0.5 * s, 3.6 * s, 0.045, 0.025), _IRON),
            ("box", ((bx + 0.52 * s, 1.5 * s, bz - 0.02), (bx + 1.7 * s, 1.55 * s, bz + 0.02)), _IRON),
        ]
    return out


def _trace(o, d, solids):
    best = np.full(d.shape[:-1], np.inf, F)
    normal, what = np.zeros_like(d), np.full(d.shape[:-1], -1, np.int8)
    for kind, args, material in solids:
        t, n = _box(o, d, *args) if kind == "box" else _cone(o, d, *args)
        nearer = t < best
        best = np.where(nearer, t, best)
        normal[nearer] = n[nearer]
        what[nearer] = material
    return best, normal, what


def _blocked(p, solids, rng):
    """Whether the lamp is hidden; its glass and cage do not count."""
    aim = _LAMP + rng.normal(0, 0.03, p.shape).astype(F)
    way = aim - p
    far = np.linalg.norm(way, axis=-1)
    d = way / far[..., None]
    dark = np.zeros(p.shape[:-1], bool)
    for kind, args, material in solids:
        if material == _GLASS or (kind == "box" and args[0][1] > 2.3) or (kind == "cone" and args[2] > 2.25):
            continue
        t = _box(p, d, *args)[0] if kind == "box" else _cone(p, d, *args)[0]
        dark |= t < far - 0.05
    return dark


def _shade(o, d, solids, rng, depth=0):
    shape = d.shape[:-1]
    t, n, what = _trace(o, d, solids)
    sea = np.where(d[..., 1] < -1e-4, -o[..., 1] / np.minimum(d[..., 1], -1e-4), np.inf).astype(F)
    water = (sea < t) & (sea > 1e-3)
    out = _dusk(d)
    hit = (what >= 0) & ~water
    if hit.any():
        p = (o + t[..., None] * d)[hit] if o.ndim > 1 else (o + t[..., None] * d)[hit]
        out[hit] = _surface(p, n[hit], d[hit], what[hit], solids, rng)
        haze = np.exp(-t[hit] / 90)[..., None]
        out[hit] = out[hit] * haze + np.array([0.16, 0.13, 0.14], F) * (1 - haze)
    if water.any() and depth == 0:
        p = (o + sea[..., None] * d)[water]
        out[water] = _sea(p, d[water], sea[water], solids, rng)
    assert out.shape[:-1] == shape
    return out


def _surface(p, n, d, what, solids, rng):
    x, y, z = p[:, 0], p[:, 1], p[:, 2]
    u = np.where(np.abs(n[:, 1]) > 0.5, x, np.where(np.abs(n[:, 0]) > 0.5, z, x))
    v = np.where(np.abs(n[:, 1]) > 0.5, z, y)
    albedo = np.zeros_like(p)
    gloss = np.zeros(len(p), F)
    bump = np.zeros_like(p)
    grain = fbm(u * 34, v * 34, 5, 3)
    # dressed stone in courses
    row = np.floor(v / 0.46)
    uu = u + 0.37 * _hash(row, row * 0, 9) + 0.06 * fbm(u * 3, v * 3, 3, 8)
    vv = v + 0.03 * fbm(u * 4, v * 4, 3, 6)
    col = np.floor(uu / 0.78)
    fu, fv = (uu / 0.78) % 1, (vv / 0.46) % 1
    edge = np.minimum(np.minimum(fu, 1 - fu) * 0.78, np.minimum(fv, 1 - fv) * 0.46)
    joint = smooth(0.022, 0.004, edge)
    tone = 0.75 + 0.45 * _hash(col, row, 4)
    stone = np.array([0.30, 0.285, 0.26], F) * (tone * (0.55 + 0.75 * grain) * (1 - 0.62 * joint))[:, None]
    wet = smooth(0.55, 0.1, y) + 0.8 * smooth(0.52, 0.66, fbm(u * 1.6, v * 1.6, 4, 12))
    wet = np.clip(wet, 0, 1)
    is_stone = what == _STONE
    albedo[is_stone] = (stone * (1 - 0.5 * wet)[:, None])[is_stone]
    gloss[is_stone] = (0.05 + 0.5 * wet * (1 - joint))[is_stone]
    s = 0.9
    gx = fbm((u + 0.01) * 34, v * 34, 5, 3) - grain
    gz = fbm(u * 34, (v + 0.01) * 34, 5, 3) - grain
    flat = np.abs(n[:, 1]) > 0.5
    lift = s * (1 - 0.55 * wet)
    bump[:, 0] = -gx * lift * np.where(flat | (np.abs(n[:, 2]) > 0.5), 1, 0)
    bump[:, 2] = -gz * lift * np.where(flat, 1, 0)
    bump[:, 1] = -gz * lift * np.where(flat, 0, 1)
    wood = what == _WOOD
    plank = np.floor(v / 0.115)
    line = smooth(0.010, 0.003, np.minimum((v / 0.115) % 1, 1 - (v / 0.115) % 1) * 0.115)
    fibre = fbm(u * 5 + 7 * plank, v * 70, 4, 22)
    brown = np.array([0.20, 0.125, 0.07], F) * ((0.6 + 0.5 * _hash(plank, plank * 0, 2)) * (0.5 + fibre) * (1 - 0.8 * line))[:, None]
    albedo[wood] = brown[wood]
    gloss[wood] = 0.05
    iron = what == _IRON
    albedo[iron] = (np.array([0.030, 0.032, 0.034], F) * (0.6 + grain)[:, None])[iron]
    gloss[iron] = 0.35
    nn = unit(n + np.where((is_stone | wood)[:, None], bump, 0))
    way = _LAMP - p
    far = np.linalg.norm(way, axis=-1)
    light = way / far[:, None]
    seen = np.mean([~_blocked(p + n * 2e-3, solids, rng) for _ in range(4)], axis=0)
    power = 3.4 * seen / np.maximum(far, 0.25) ** 2
    diffuse = np.clip((nn * light).sum(-1), 0, 1) * power
    half = unit(light - d)
    spec = np.clip((nn * half).sum(-1), 0, 1) ** 46 * gloss * power * 2.2
    sky = (0.45 + 0.55 * nn[:, 1])[:, None] * np.array([0.070, 0.085, 0.135], F)
    west = np.clip(-0.42 * nn[:, 0] + 0.75 * nn[:, 2] + 0.05, 0, 1)[:, None] * np.array([0.30, 0.13, 0.05], F)
    ao = (0.45 + 0.55 * smooth(0, 0.35, np.where(flat, 0.35, y - 0.92 + 0.03)))[:, None]
    mirror = d - 2 * (d * nn).sum(-1, keepdims=True) * nn
    mirror[:, 1] = np.abs(mirror[:, 1])
    fres = (0.03 + 0.97 * (1 - np.clip(-(d * nn).sum(-1), 0, 1)) ** 5) * gloss
    col = albedo * (diffuse[:, None] * _LAMP_COLOUR + (sky + west) * ao * 1.15)
    col += spec[:, None] * _LAMP_COLOUR + fres[:, None] * _dusk(mirror) * 0.8
    glass = what == _GLASS
    if glass.any():
        h = (p[glass, 1] - 2.43) / 0.36
        core = np.exp(-((p[glass, 0] - _LAMP[0]) ** 2) / 0.003) * np.exp(-((h - 0.42) ** 2) / 0.05)
        col[glass] = (np.array([2.6, 1.15, 0.32], F) * (0.55 + 0.3 * fbm(p[glass, 0] * 40, h * 9, 3, 2))[:, None]
                      + np.array([26, 16, 7], F) * core[:, None])
    return col.astype(F)


def _slope(x, z, far):
    """Slope of the water: long swell, chop and ripples, the fine ones gone with distance."""
    sx, sz = np.zeros_like(x), np.zeros_like(x)
    for i, (length, amp, seed) in enumerate(((3.1, 0.050, 1), (1.2, 0.045, 2), (0.46, 0.040, 3), (0.17, 0.034, 4))):
        fade = np.exp(-far * (0.0012 + 0.010 * i / 3 / length))
        f = 1 / length
        warp = 0.6 * noise(x * f * 0.4, z * f * 0.4, seed + 60)
        a = fbm(x * f * 0.6 + warp, z * f * 1.5 + warp, 2, seed)
        e = 0.04 * length
        sx += amp * fade * (fbm((x + e) * f * 0.6 + warp, z * f * 1.5 + warp, 2, seed) - a) / 0.04
        sz += amp * fade * (fbm(x * f * 0.6 + warp, (z + e) * f * 1.5 + warp, 2, seed) - a) / 0.04
    return sx, sz


def _sea(p, d, far, solids, rng):
    sx, sz = _slope(p[:, 0], p[:, 2], far)
    n = unit(np.stack([-sx, np.ones_like(sx), -sz], -1)).astype(F)
    cosine = np.clip(-(d * n).sum(-1), 0.02, 1)
    fres = 0.02 + 0.98 * (1 - cosine) ** 5
    r = d + 2 * cosine[:, None] * n
    r[:, 1] = np.abs(r[:, 1]) + 0.004
    r = unit(r).astype(F)
    back = _shade(p, r, solids, rng, depth=1)
    body = np.array([0.010, 0.022, 0.028], F) * (0.8 + 0.5 * fbm(p[:, 0] * 0.3, p[:, 2] * 0.3, 3, 4)[:, None])
    col = back * fres[:, None] + body
    way = _LAMP - p
    dist = np.linalg.norm(way, axis=-1)
    half = unit(way / dist[:, None] - d)
    spark = np.clip((n * half).sum(-1), 0, 1) ** 520 * 60 / dist**2
    col += spark[:, None] * _LAMP_COLOUR
    haze = np.exp(-far / 260)[:, None]
    flat = d.copy()
    flat[:, 1] = 0.012
    return (col * haze + _dusk(unit(flat)) * 0.55 * (1 - haze)).astype(F)


def harbour(width=1560, height=1040, samples=3, seed=4):
    """A quay at dusk with a lit lantern, boats and a far shore."""
    rng = np.random.default_rng(seed)
    solids = _solids()
    total = np.zeros((height, width, 3), F)
    for _ in range(samples):
        d = rays(width, height, None, -6.0, -4.0, 58, rng.uniform(-0.5, 0.5, 2))
        o = np.broadcast_to(np.array([0.25, 2.05, -0.6], F), d.shape)
        for rows in np.array_split(np.arange(height), 8):
            total[rows] += _shade(o[rows].copy(), d[rows], solids, rng)
    img = total / samples
    glow = sum(ndimage.gaussian_filter(np.minimum(img, 30), (s, s, 0)) * w
               for s, w in ((width / 400, 0.05), (width / 90, 0.035), (width / 24, 0.022)))
    return img * 0.95 + glow.astype(F)


# --- a glazed jug --------------------------------------------------------------------------


def _jug_radius(y):
    """Outer radius of the body by height, and how far up it goes (metres)."""
    ys = [0.0, 0.006, 0.02, 0.06, 0.11, 0.155, 0.19, 0.22, 0.24, 0.252]
    rs = [0.052, 0.058, 0.066, 0.088, 0.098, 0.086, 0.062, 0.050, 0.054, 0.060]
    from scipy.interpolate import PchipInterpolator

    return PchipInterpolator(ys, rs)(np.clip(y, 0, 0.252)).astype(F)


def _jug(p, table):
    """Signed distance to jug (body with a lip, hollow neck, handle), first order."""
    x, y, z = p[..., 0], p[..., 1], p[..., 2]
    spout = smooth(0.205, 0.255, y) * 0.035 * np.exp(-((np.arctan2(z, -x)) / 0.42) ** 2)
    r = np.hypot(x, z)
    rad = np.interp(np.clip(y, 0, 0.252), table[0], table[1]).astype(F) + spout
    rad += 0.00016 * np.sin(y * 520) * smooth(0.01, 0.03, y)
    outer = np.maximum((r - rad) * 0.72, np.maximum(y - 0.252, -y))
    inner = np.maximum((rad - 0.0055) - r, 0.03 - y)
    body = np.maximum(outer, inner * 0.72)
    # handle: a bent tube in the plane z = 0
    hx, hy = x - 0.070, y - 0.143
    a = np.arctan2(hy, hx * 1.28)
    ring = np.hypot(hx * 1.28, hy)
    thick = 0.0105 + 0.002 * np.cos(a * 2)
    tube = np.sqrt(((ring - 0.070) * 0.9) ** 2 + (z * 0.72) ** 2) - thick
    tube = np.where(x < 0.045, np.maximum(tube, 0.045 - x), tube)
    k = 0.014
    h = np.clip(0.5 + 0.5 * (tube - body) / k, 0, 1)
    return tube * (1 - h) + body * h - k * h * (1 - h)


def _march(o, d, table, far=2.2, steps=110):
    t = np.full(d.shape[:-1], 0.25, F)
    live = np.ones(t.shape, bool)
    for _ in range(steps):
        idx = np.flatnonzero(live)
        if not len(idx):
            break
        p = o[idx] + t[idx, None] * d[idx]
        near = _jug(p, table)
        t[idx] += np.maximum(near, 2e-4) * 0.85
        done = (near < 2.5e-4) | (t[idx] > far)
        live[idx[done]] = False
    return t, t < far


def _normal(p, table):
    e = 6e-4
    g = [_jug(p + e * k, table) - _jug(p - e * k, table) for k in np.eye(3, dtype=F)]
    return unit(np.stack(g, -1)).astype(F)


def _studio(d):
    """What the glaze mirrors: a large soft window, a fill card, a warm room."""
    room = np.array([0.34, 0.33, 0.32], F) * (0.55 + 0.45 * d[:, 1:2])
    f = unit(np.array([-0.75, 0.62, -0.55], F))
    u = unit(np.cross(np.array([0, 1, 0], F), f))
    v = np.cross(f, u)
    c = np.maximum(d @ f, 1e-3)
    a, b = (d @ u) / c, (d @ v) / c
    pane = smooth(0.46, 0.42, np.abs(a)) * smooth(0.58, 0.54, np.abs(b)) * (d @ f > 0)
    bars = smooth(0.012, 0.020, np.abs(a)) * smooth(0.012, 0.02, np.abs(b - 0.05))
    card = smooth(0.25, 0.55, d @ unit(np.array([0.95, 0.15, -0.3], F)))
    out = room + (pane * bars)[:, None] * np.array([7.6, 7.9, 8.3], F) + card[:, None] * 0.55
    return out.astype(F)


def jug(width=1280, height=960, samples=3, seed=2):
    """A blue glazed jug on an almost white table by a window."""
    rng = np.random.default_rng(seed)
    ys = np.linspace(0, 0.252, 400)
    table = (ys, _jug_radius(ys))
    key = unit(np.array([-0.75, 0.62, -0.55], F))
    u = unit(np.cross(np.array([0, 1, 0], F), key))
    v = np.cross(key, u)
    total = np.zeros((height * width, 3), F)
    for _ in range(samples):
        d = rays(width, height, None, 0, -15.5, 32, rng.uniform(-0.5, 0.5, 2)).reshape(-1, 3)
        o = np.broadcast_to(np.array([0.015, 0.33, -0.80], F), d.shape)
        t, hit = _march(o, d, table)
        floor = np.where(d[:, 1] < -1e-3, -o[:, 1] / np.minimum(d[:, 1], -1e-3), 9).astype(F)
        hit &= t < floor
        p = o + np.where(hit, t, floor)[:, None] * d
        n = np.tile(np.array([0, 1, 0], F), (len(d), 1))
        n[hit] = _normal(p[hit], table)
        # soft light from points on the window, with occlusion
        lit = np.zeros(len(d), F)
        near = hit | ((np.abs(p[:, 0]) < 0.75) & (np.abs(p[:, 2]) < 0.75))
        idx = np.flatnonzero(near)
        shots = 7
        lamp = np.zeros(len(idx), F)
        for _ in range(shots):
            aim = unit(key + 0.36 * (rng.uniform(-1, 1, (len(idx), 1)) * u + rng.uniform(-1, 1, (len(idx), 1)) * v)).astype(F)
            facing = (n[idx] * aim).sum(-1)
            s, blocked = _march(p[idx] + n[idx] * 2.5e-3 - aim * 0.247, aim, table, far=0.62, steps=44)
            lamp += np.where(blocked, 0.0, np.clip(facing, 0, 1))
        lit[idx] = lamp / shots
        lit[~near] = np.clip(n[~near] @ key, 0, 1)
        sky_n = 0.55 + 0.45 * n[:, 1]
        contact = np.ones(len(d), F)
        g = np.flatnonzero(near & ~hit)
        for reach, weight in ((0.012, 0.34), (0.035, 0.26), (0.09, 0.22)):
            above = p[g] + np.array([0, 1, 0], F) * reach
            contact[g] -= weight * np.clip(1 - _jug(above, table) / reach, 0, 1)
        contact[hit] = 0.62 + 0.38 * smooth(0.0, 0.05, p[hit, 1])
        wood = 0.955 + 0.03 * fbm(p[:, 0] * 9, p[:, 2] * 70, 4, 4) + 0.02 * fbm(p[:, 0] * 2, p[:, 2] * 5, 3, 9)
        albedo = np.array([0.80, 0.79, 0.765], F) * wood[:, None]
        jx, jy = np.arctan2(p[:, 2], p[:, 0]), p[:, 1]
        run = fbm(jx * 2.2 + 5, jy * 12, 5, 7)
        edge = 0.060 + 0.022 * fbm(jx * 1.7, jx * 0 + 1, 3, 2)
        glaze = np.array([0.025, 0.085, 0.23], F) * (0.55 + 0.9 * run)[:, None]
        pool = smooth(0.05, 0.0, np.abs(jy - edge - 0.012))[:, None]
        glaze = glaze * (1 - 0.45 * pool) + np.array([0.07, 0.16, 0.22], F) * smooth(0.236, 0.25, jy)[:, None]
        clay = np.array([0.44, 0.31, 0.21], F) * (0.75 + 0.5 * fbm(jx * 30, jy * 260, 4, 5))[:, None]
        bare = smooth(0.004, -0.004, jy - edge)[:, None]
        speck = (fbm(jx * 60, jy * 620, 2, 33) > 0.79)[:, None]
        body = glaze * (1 - bare) + clay * bare
        body = np.where(speck, body * 0.55, body)
        albedo = np.where(hit[:, None], body, albedo)
        col = albedo * ((lit * 1.05)[:, None] * np.array([1.0, 1.02, 1.05], F)
                        + (sky_n * contact)[:, None] * np.array([0.30, 0.295, 0.29], F))
        # a little of the table's light under the belly, and of the jug on the table
        col[hit] += albedo[hit] * (np.clip(-n[hit, 1], 0, 1) * 0.30)[:, None]
        r = d - 2 * (d * n).sum(-1, keepdims=True) * n
        cosine = np.clip(-(d * n).sum(-1), 0, 1)
        rough = 0.012 * rng.standard_normal(r.shape).astype(F)
        fres = 0.045 + 0.955 * (1 - cosine) ** 5
        shine = np.where(hit, 1 - 0.9 * bare[:, 0], 0.0)
        below = smooth(0.02, -0.08, r[:, 1])[:, None]
        env = _studio(unit(r + rough)) * (1 - below) + np.array([0.62, 0.61, 0.59], F) * below
        col += (fres * shine)[:, None] * env
        sheen = np.flatnonzero(near & ~hit)
        mt, mhit = _march(p[sheen] - r[sheen] * 0.247 + n[sheen] * 2e-3, r[sheen], table, far=0.7, steps=50)
        mp = p[sheen] + (mt[:, None] - 0.247) * r[sheen]
        fade = np.exp(-np.maximum(mp[:, 1], 0) / 0.05)
        col[sheen] += (fres[sheen] * 0.16 * np.where(mhit, -fade, 0.0))[:, None] * 0.9
        back = smooth(0.55, 2.6, p[:, 2])[:, None] * (~hit)[:, None]
        wall = np.array([0.78, 0.78, 0.77], F) * (1.02 - 0.10 * d[:, :1])
        col = col * (1 - back) + wall * back
        total += col.astype(F)
    return (total / samples).reshape(height, width, 3)


# --- a night sky ---------------------------------------------------------------------------


def night(width=3000, height=2000, seed=9):
    """Stars and the band of the galaxy over a moor, with a small dome on the ridge."""
    rng = np.random.default_rng(seed)
    y, x = np.mgrid[0:height, 0:width].astype(F)
    x, y = x / width, y / width
    h = height / width
    # the galaxy's band, with dust
    ang = math.radians(-58)
    along = (x - 0.60) * math.cos(ang) + (y - 0.30) * math.sin(ang)
    across = -(x - 0.60) * math.sin(ang) + (y - 0.30) * math.cos(ang)
    wobble = 0.035 * (fbm(along * 4 + 3, along * 0, 4, 2) - 0.5)
    a = across + wobble
    cloud = fbm(x * 7, y * 7, 7, 11, 0.55)
    dust = fbm(along * 8 + 2, a * 17 + 5, 7, 21, 0.58)
    band = np.exp(-((a / 0.062) ** 2)) * (0.10 + 1.6 * cloud**1.6) * (0.65 + 0.6 * np.exp(-((along - 0.04) ** 2) / 0.05))
    lane = smooth(0.46, 0.68, dust) * np.exp(-(((a - 0.012) / 0.05) ** 2))
    band *= 1 - 0.86 * lane
    core = np.array([0.034, 0.029, 0.025], F)
    sky = np.array([0.0028, 0.0042, 0.0085], F) + band[..., None] * core
    low = np.exp(-np.maximum(h * 0.80 - y, 0) / 0.10)[..., None]
    sky = sky + low * np.array([0.010, 0.0135, 0.0105], F) + np.exp(-(((x - 0.16) / 0.17) ** 2))[..., None] * low**2 * np.array([0.040, 0.021, 0.010], F)
    # stars by magnitude, more of them in the band; each a Moffat spot
    stars = np.zeros((height, width, 3), F)
    n = 34000
    mag = -np.log(rng.uniform(1e-6, 1, n)) * 0.95
    flux = 0.010 * np.exp(mag * 0.98)
    flux = np.minimum(flux, 14)
    px, py = rng.uniform(0, width, n), rng.uniform(0, height, n)
    weight = band[np.clip(py.astype(int), 0, height - 1), np.clip(px.astype(int), 0, width - 1)]
    keep = rng.uniform(0, 1, n) < 0.30 + 1.5 * weight
    temp = rng.normal(0, 1, n)
    for i in np.flatnonzero(keep):
        warm = temp[i]
        colour = np.array([1 + 0.22 * warm, 1.0, 1 - 0.26 * warm], F)
        r = 3 if flux[i] < 0.25 else 14
        cx, cy = int(px[i]), int(py[i])
        x0, x1, y0, y1 = max(0, cx - r), min(width, cx + r + 1), max(0, cy - r), min(height, cy + r + 1)
        gy, gx = np.mgrid[y0:y1, x0:x1]
        spot = (1 + ((gx - px[i]) ** 2 + (gy - py[i]) ** 2) / 1.35) ** -2.6
        stars[y0:y1, x0:x1] += (flux[i] * spot)[..., None] * colour
    fade = smooth(h * 0.83, h * 0.62, y)[..., None]
    sky = sky + stars * (0.25 + 0.75 * fade)
    # moor: three ridges, heather catching the last light
    for i, (base, rough, tone) in enumerate(((0.79, 0.115, 0.0040), (0.865, 0.105, 0.0022), (0.95, 0.11, 0.0011))):
        ridge = h * base - rough * (fbm(x[:1] * (3 + 2 * i) + 5 * i, x[:1] * 0, 6, 50 + i) - 0.45)
        ridge = ridge - 0.0022 * fbm(x[:1] * 260, x[:1] * 0, 3, 70 + i)
        if i == 0:
            dome = np.sqrt(np.maximum(0.0105**2 - (x[:1] - 0.305) ** 2, 0))
            wall = (np.abs(x[:1] - 0.305) < 0.0110) * 0.009
            ridge = np.minimum(ridge, h * 0.787 - wall - dome * (dome > 0))
        land = smooth(-0.0006, 0.0006, y - ridge)[..., None]
        grass = fbm(x * 130, y * (60 + 30 * i), 5, 90 + i)
        ground = np.array([0.95, 1.0, 1.05], F) * (tone * (0.35 + 1.1 * grass))[..., None]
        ground = ground + np.array([0.004, 0.0042, 0.004], F) * np.exp(-np.maximum(y - ridge, 0) / 0.012)[..., None] * (1 - 0.3 * i)
        sky = sky * (1 - land) + ground * land
        if i == 0:
            door = smooth(0.0016, 0.0011, np.abs(x - 0.3022)) * smooth(0.0030, 0.0024, np.abs(y - (h * 0.7865 - 0.0035)))
            sky += door[..., None] * np.array([1.6, 0.55, 0.14], F)
    corner = 1 - 0.55 * (((x - 0.5) ** 2 + (y - h / 2) ** 2) / (0.25 + h * h / 4))
    out = sky * corner[..., None]
    glow = ndimage.gaussian_filter(np.minimum(out, 4), (width / 240, width / 240, 0))
    return (out * 0.94 + 0.06 * glow).astype(F)
