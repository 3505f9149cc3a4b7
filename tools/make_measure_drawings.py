"""Draws what each measure measures: one small SVG of 120 x 80 for each, from a few strokes.

    python tools/make_measure_drawings.py

Ink is what is there, the accent is what is measured, the soft colour is the picture. No words, so that a drawing needs no
translation; the application draws them in the colours of the palette in use.
"""

from __future__ import annotations

import math
from pathlib import Path

INK, ACCENT, SOFT, PAPER = "#3A414B", "#27508C", "#D5DCE4", "#FFFFFF"
FOLDER = Path(__file__).resolve().parent.parent / "src/aptandum/data/drawings"


def line(*at: float, colour: str = INK, wide: float = 1.5, dash: str = "") -> str:
    points = " ".join(f"{x:g},{y:g}" for x, y in zip(at[::2], at[1::2], strict=True))
    dashed = f' stroke-dasharray="{dash}"' if dash else ""
    return f'<polyline points="{points}" fill="none" stroke="{colour}" stroke-width="{wide:g}"{dashed}/>'


def box(x: float, y: float, w: float, h: float, fill: str = SOFT, stroke: str = INK, wide: float = 1.5) -> str:  # fmt: skip
    return f'<rect x="{x:g}" y="{y:g}" width="{w:g}" height="{h:g}" fill="{fill}" stroke="{stroke}" stroke-width="{wide:g}"/>'


def oval(x: float, y: float, rx: float, ry: float, fill: str = "none", stroke: str = INK, wide: float = 1.5) -> str:  # fmt: skip
    return f'<ellipse cx="{x:g}" cy="{y:g}" rx="{rx:g}" ry="{ry:g}" fill="{fill}" stroke="{stroke}" stroke-width="{wide:g}"/>'


def shape(path: str, fill: str = "none", stroke: str = INK, wide: float = 1.5) -> str:
    solid = "" if len(fill) < 9 else f' fill-opacity="{int(fill[7:], 16) / 255:.2f}"'
    return f'<path d="{path}" fill="{fill[:7]}"{solid} stroke="{stroke}" stroke-width="{wide:g}"/>'


def sign(x: float, y: float, words: str, size: float = 11, colour: str = INK) -> str:
    return f'<text x="{x:g}" y="{y:g}" font-family="monospace" font-size="{size:g}" fill="{colour}" text-anchor="middle">{words}</text>'


def turned(angle: float, x: float, y: float, *parts: str) -> str:
    return f'<g transform="rotate({angle:g} {x:g} {y:g})">{"".join(parts)}</g>'


def across(x0: float, x1: float, y: float) -> str:
    """A length from left to right."""
    return line(x0, y, x1, y, colour=ACCENT) + line(x0 + 4, y - 3, x0, y, x0 + 4, y + 3, colour=ACCENT) + line(x1 - 4, y - 3, x1, y, x1 - 4, y + 3, colour=ACCENT)  # fmt: skip


def up(x: float, y0: float, y1: float) -> str:
    """A length from top to bottom."""
    return line(x, y0, x, y1, colour=ACCENT) + line(x - 3, y0 + 4, x, y0, x + 3, y0 + 4, colour=ACCENT) + line(x - 3, y1 - 4, x, y1, x + 3, y1 - 4, colour=ACCENT)  # fmt: skip


def level(y: float, x0: float = 30, x1: float = 90, colour: str = ACCENT) -> str:
    return line(x0, y, x1, y, colour=colour, wide=1.2, dash="4 3")


def eye(x: float, y: float, r: float = 2.2, opened: bool = True, iris: str = INK, look: float = 0) -> str:  # fmt: skip
    if not opened:
        return line(x - r * 1.6, y, x, y + 1, x + r * 1.6, y)
    return oval(x, y, r * 1.7, r, PAPER, INK, 1) + oval(x + look, y, r * 0.75, r * 0.75, iris, "none", 0)  # fmt: skip


def head(x: float = 60, y: float = 39, r: float = 15, *, face: str = PAPER, eyes: str = "", mouth: str = "", more: str = "", body: bool = True, lean: float = 0) -> str:  # fmt: skip
    """A head with shoulders: face, eyes and mouth may be given."""
    shoulders = shape(f"M{x - r * 1.6:g},72 C{x - r * 1.5:g},{y + r * 1.55 + lean:g} {x - r * 0.6:g},{y + r * 1.5:g} {x:g},{y + r * 1.5:g} C{x + r * 0.6:g},{y + r * 1.5:g} {x + r * 1.5:g},{y + r * 1.55 - lean:g} {x + r * 1.6:g},72", PAPER)  # fmt: skip
    hair = shape(f"M{x - r * 0.95:g},{y - r * 0.1:g} C{x - r * 1.1:g},{y - r * 1.7:g} {x + r * 1.1:g},{y - r * 1.7:g} {x + r * 0.95:g},{y - r * 0.1:g} C{x + r * 0.6:g},{y - r:g} {x - r * 0.6:g},{y - r:g} {x - r * 0.95:g},{y - r * 0.1:g}Z", INK)  # fmt: skip
    eyes = eyes or eye(x - r * 0.4, y) + eye(x + r * 0.4, y)
    mouth = mouth or line(x - r * 0.3, y + r * 0.7, x + r * 0.3, y + r * 0.7)
    return (shoulders if body else "") + oval(x, y + r * 0.1, r * 0.92, r * 1.2, face) + hair + eyes + mouth + more  # fmt: skip


def portrait(*parts: str, **kinds: object) -> str:
    """A head in its frame."""
    return box(34, 6, 52, 67) + head(**kinds) + "".join(parts)  # type: ignore[arg-type]


def large(*parts: str, **kinds: object) -> str:
    """A face by itself, so large that its features are seen."""
    return head(60, 38, 27, body=False, **kinds) + "".join(parts)  # type: ignore[arg-type]


EYES = (49.2, 38), (70.8, 38)


def spectacles(colour: str = INK, y: float = 39, r: float = 8) -> str:
    return oval(49.2, y, r, r * 0.8, "none", colour) + oval(70.8, y, r, r * 0.8, "none", colour) + line(49.2 + r, y, 70.8 - r, y, colour=colour)  # fmt: skip


def picture(x: float = 30, y: float = 14, w: float = 60, h: float = 46) -> str:
    """A picture with a jug in it."""
    k = min(w, h) / 46
    cx, cy = x + w / 2, y + h / 2
    jug = shape(f"M{cx - 8 * k:g},{cy - 14 * k:g} h{14 * k:g} c{-2 * k:g},{8 * k:g} {6 * k:g},{10 * k:g} {4 * k:g},{20 * k:g} q{-2 * k:g},{8 * k:g} {-11 * k:g},{8 * k:g} q{-9 * k:g},0 {-11 * k:g},{-8 * k:g} c{-2 * k:g},{-10 * k:g} {6 * k:g},{-12 * k:g} {4 * k:g},{-20 * k:g}Z", PAPER)  # fmt: skip
    return box(x, y, w, h) + jug


def paper(words: str = "", x: float = 38, y: float = 8, w: float = 44, h: float = 62) -> str:
    """A file: a sheet with its corner folded."""
    made = shape(f"M{x:g},{y:g} h{w - 11:g} l11,11 v{h - 11:g} h{-w:g}Z", PAPER) + line(x + w - 11, y, x + w - 11, y + 11, x + w, y + 11)  # fmt: skip
    return made + (sign(x + w / 2, y + h / 2 + 7, words) if words else "")


def name(before: str, marked: str, behind: str) -> str:
    """A file's name with a part of it marked."""
    whole = before + marked + behind
    wide, start = 6.6, 60 - len(whole) * 3.3
    bar = box(start + len(before) * wide - 1, 50, len(marked) * wide + 2, 4, ACCENT, "none", 0)
    return paper("", 48, 6, 24, 30) + sign(60, 47, whole) + bar


def cells(fill: dict[tuple[int, int], str], n: int = 6, m: int = 4, side: float = 12) -> str:
    x, y = 60 - n * side / 2, 40 - m * side / 2
    return "".join(
        box(x + i * side, y + j * side, side, side, fill.get((i, j), PAPER), INK, 0.8)
        for j in range(m)
        for i in range(n)
    )


def bar(share: float, y: float = 60, colour: str = ACCENT) -> str:
    return box(30, y, 60, 7, PAPER) + box(30, y, 60 * share, 7, colour, "none", 0)


def greys(n: int, x: float = 24, y: float = 30, w: float = 72, h: float = 20) -> str:
    side = w / n
    made = "".join(
        f'<rect x="{x + i * side:g}" y="{y:g}" width="{side:g}" height="{h:g}" fill="#{round(255 * i / (n - 1)):02X}{round(255 * i / (n - 1)):02X}{round(255 * i / (n - 1)):02X}"/>'
        for i in range(n)
    )
    return made + box(x, y, w, h, "none")


def gamut(inner: str = ACCENT) -> str:
    return shape("M60,8 L104,70 L16,70Z", SOFT) + shape("M58,26 L86,64 L32,64Z", "none", inner, 2)


def angle(cx: float, cy: float, r: float, a0: float, a1: float) -> str:
    x0, y0 = cx + r * math.cos(math.radians(a0)), cy + r * math.sin(math.radians(a0))
    x1, y1 = cx + r * math.cos(math.radians(a1)), cy + r * math.sin(math.radians(a1))
    return shape(f"M{x0:.1f},{y0:.1f} A{r:g},{r:g} 0 0 {int(a1 > a0)} {x1:.1f},{y1:.1f}", "none", ACCENT, 2)  # fmt: skip


def stack(n: int = 3) -> str:
    return "".join(picture(28 + i * 10, 12 + i * 8, 44, 34) for i in range(n))


def inch(n: int) -> str:
    """So many pixels to a length."""
    side = 60 / n
    return "".join(box(30 + i * side, 24, side, 22, SOFT, INK, 0.8) for i in range(n)) + across(30, 90, 56)  # fmt: skip


def told(mark: str) -> str:
    """Something that stands in the file beside the picture."""
    return paper("", 22, 8, 40, 60) + picture(28, 22, 28, 20) + line(62, 52, 76, 52, colour=ACCENT) + mark  # fmt: skip


def clock(x: float = 92, y: float = 52) -> str:
    return oval(x, y, 13, 13, PAPER, ACCENT) + line(x, y - 8, x, y, x + 6, y + 3, colour=ACCENT)


def calendar(x: float = 80, y: float = 40) -> str:
    return box(x, y, 26, 24, PAPER, ACCENT) + line(x, y + 7, x + 26, y + 7, colour=ACCENT) + line(x + 7, y - 3, x + 7, y + 3, colour=ACCENT) + line(x + 19, y - 3, x + 19, y + 3, colour=ACCENT)  # fmt: skip


def pin(x: float = 92, y: float = 46) -> str:
    return shape(f"M{x},{y + 20} C{x - 16},{y} {x - 8},{y - 12} {x},{y - 12} C{x + 8},{y - 12} {x + 16},{y} {x},{y + 20}Z", PAPER, ACCENT) + oval(x, y - 1, 3.5, 3.5, ACCENT, "none", 0)  # fmt: skip


def waves(x: float, y: float, n: int, colour: str = ACCENT) -> str:
    return "".join(line(x, y + 6 * i, x + 24, y + 6 * i, colour=colour) for i in range(n))


WHITE = ({(i, j): SOFT for i in range(6) for j in range(4)})  # fmt: skip
CHECK = {(i, j): "#9BA6B3" for i in range(6) for j in range(4) if (i + j) % 2}
BACK = box(34, 6, 52, 67, SOFT, ACCENT, 2.5)

DRAWINGS: dict[str, str] = {
    "alterations": picture(10, 20, 38, 38) + line(52, 39, 66, 39, colour=ACCENT) + line(62, 35, 66, 39, 62, 43, colour=ACCENT) + picture(72, 20, 38, 38) + box(72, 20, 38, 38, "none", ACCENT, 2.5),
    "aspect": picture(24, 12, 72, 48) + across(24, 96, 68) + up(14, 12, 60) + line(24, 60, 96, 12, colour=ACCENT, wide=1, dash="3 3"),
    "backdrop_lightness": BACK + head() + greys(6, 92, 12, 20, 8) + line(102, 24, 102, 34, colour=ACCENT),
    "backdrop_plainness": BACK + head() + oval(44, 16, 3, 3, SOFT, ACCENT) + oval(76, 18, 3, 3, SOFT, ACCENT) + oval(42, 42, 3, 3, SOFT, ACCENT) + oval(79, 44, 3, 3, SOFT, ACCENT),
    "backdrop_contrast": portrait() + oval(60, 40, 19, 24, "none", ACCENT, 1.2) + oval(60, 40, 14, 18, "none", ACCENT, 1.2),
    "backdrop_shadow": box(34, 6, 52, 67) + shape("M70,72 C66,40 72,16 80,20 C88,26 84,60 86,72Z", "#8E99A6", ACCENT) + head(),
    "backdrop_colour": BACK + head() + box(94, 14, 14, 12, "#B0413E", INK, 1) + box(94, 30, 14, 12, "#3F7D57", INK, 1) + box(94, 46, 14, 12, ACCENT, INK, 1),
    "colour_space": gamut(),
    "profile": paper("", 38, 8, 44, 62) + shape("M60,26 L74,52 L46,52Z", "none", ACCENT, 2),
    "channels": box(26, 16, 34, 34, "#B0413E") + box(43, 23, 34, 34, "#3F7D57") + box(60, 30, 34, 34, ACCENT),
    "bits": greys(4, 20, 18, 80, 16) + greys(16, 20, 46, 80, 16),
    "transparency": cells(CHECK) + shape("M60,20 L82,56 L38,56Z", ACCENT, INK),
    "enlargement": picture(14, 30, 26, 20) + picture(54, 12, 56, 56) + box(54, 12, 56, 56, "none", ACCENT, 2.5) + line(40, 30, 54, 12, colour=ACCENT, dash="3 3") + line(40, 50, 54, 68, colour=ACCENT, dash="3 3"),
    "eyes_open": large(eyes=eye(*EYES[0], 4) + eye(*EYES[1], 4)) + up(36, 33, 43),
    "mouth_closed": large(mouth=shape("M50,58 Q60,52 70,58 Q60,66 50,58Z", PAPER)) + up(78, 54, 63),
    "red_eye": large(eyes=eye(*EYES[0], 4, iris="#C62828") + eye(*EYES[1], 4, iris="#C62828")),
    "face_colour": large(face="#E8CFA6") + box(6, 10, 22, 22, "#E8CFA6", INK, 1) + box(92, 10, 22, 22, PAPER, INK, 1) + line(32, 21, 88, 21, colour=ACCENT, dash="3 3"),
    "face_compression": large() + "".join(line(36 + 8 * i, 8, 36 + 8 * i, 72, colour=ACCENT, wide=0.8) + line(34, 10 + 8 * i, 86, 10 + 8 * i, colour=ACCENT, wide=0.8) for i in range(7)),
    "face_light": large(face=PAPER) + shape("M60,8 C84,8 90,40 78,60 Q70,70 60,70Z", "#3A414B55", "none", 0) + line(60, 4, 60, 76, colour=ACCENT, dash="4 3") + line(32, 40, 88, 40, colour=ACCENT, dash="4 3"),
    "face_sharpness": large() + box(40, 28, 18, 18, "none", ACCENT, 2) + oval(98, 30, 12, 12, PAPER, ACCENT) + line(107, 39, 114, 48, colour=ACCENT, wide=3),
    "face_tones": large() + greys(12, 12, 70, 96, 7),
    "hot_spots": large(more=oval(50, 26, 6, 4, "#FFFFFF", ACCENT, 2) + oval(61, 47, 2.5, 4, "#FFFFFF", ACCENT, 2)),
    "file_bytes": paper("kB") + bar(0.7, 72),
    "name_pattern": name("", "a-01", ".jpg") + sign(60, 68, "a-00", 10, ACCENT),
    "name_length": name("", "harbour", ".jpg") + across(24, 70, 60),
    "name_whole": name("", "a-01.jpg", ""),
    "name_begins": name("", "pass", "-7.jpg"),
    "name_ends": name("quay", "-7", ".jpg"),
    "name_holds": name("a", "-b-", "c.jpg"),
    "name_ending": name("quay-7", ".jpg", ""),
    "format": paper("", 14, 8, 40, 60) + sign(34, 44, "jpg", 12, ACCENT) + paper("", 66, 8, 40, 60) + sign(86, 44, "png", 12, ACCENT),
    "frames": "".join(picture(18 + 14 * i, 14 + 4 * i, 36, 28) for i in range(4)) + across(20, 100, 70),
    "gaze": large(eyes=eye(*EYES[0], 4, look=3) + eye(*EYES[1], 4, look=3)) + line(76, 38, 98, 38, colour=ACCENT) + line(94, 34, 98, 38, 94, 42, colour=ACCENT),
    "glasses": large(more=spectacles(ACCENT)),
    "glasses_glare": large(more=spectacles() + shape("M44,42 L52,34 M47,44 L55,36", "none", ACCENT, 2) + shape("M66,42 L74,34 M69,44 L77,36", "none", ACCENT, 2)),
    "frames_over_eyes": large(more=spectacles(INK, 44) + line(40, 38, 58, 38, colour=ACCENT, wide=2.5) + line(62, 38, 80, 38, colour=ACCENT, wide=2.5)),
    "hair_over_eyes": large(more="".join(line(62 + 4 * i, 14, 66 + 4 * i, 46, colour=ACCENT, wide=2) for i in range(4))),
    "eye_distance": large() + across(49, 71, 50) + line(49, 38, 49, 53, colour=ACCENT, wide=1) + line(71, 38, 71, 53, colour=ACCENT, wide=1),
    "head_width": portrait() + across(46, 74, 54),
    "packing": paper("", 10, 8, 40, 60) + line(54, 38, 66, 38, colour=ACCENT) + line(62, 34, 66, 38, 62, 42, colour=ACCENT) + paper("", 74, 26, 22, 26) + line(74, 39, 96, 39, colour=ACCENT, wide=3),
    "quality": picture(14, 12, 40, 34) + picture(66, 12, 40, 34) + "".join(line(66 + 8 * i, 12, 66 + 8 * i, 46, colour=ACCENT, wide=0.8) for i in range(6)) + bar(0.9, 58),
    "chroma": cells(WHITE, 4, 2, 14) + box(32, 26, 28, 28, "none", ACCENT, 2.5) + box(60, 26, 28, 28, "none", ACCENT, 2.5),
    "compression": box(16, 16, 44, 48, SOFT) + box(84, 52, 16, 12, ACCENT) + line(64, 40, 80, 54, colour=ACCENT, dash="3 3"),
    "bits_per_pixel": box(16, 28, 22, 22, SOFT) + line(42, 39, 54, 39, colour=ACCENT) + "".join(box(58 + 6 * i, 30, 6, 18, SOFT if i % 2 else PAPER, ACCENT, 1) for i in range(8)),
    "colours": "".join(box(20 + 14 * (i % 6), 18 + 16 * (i // 6), 12, 14, c, INK, 0.8) for i, c in enumerate(("#B0413E", "#C77F3A", "#D6B94C", "#3F7D57", "#27508C", "#64417F") * 3)),
    "duration": picture(16, 20, 44, 36) + line(30, 30, 44, 38, 30, 46, 30, 30) + clock(88, 40),
    "frame_rate": "".join(box(14 + 16 * i, 20, 13, 26, SOFT, INK, 1) for i in range(6)) + across(14, 107, 58) + clock(60, 68).replace('rx="13" ry="13"', 'rx="8" ry="8"'),
    "kept_empty": box(24, 14, 32, 24) + box(64, 14, 32, 24) + box(24, 46, 32, 24) + box(64, 46, 32, 24) + shape("M56,14 h8 v24 h32 v8 h-32 v24 h-8 v-24 h-32 v-8 h32Z", "none", ACCENT, 2),
    "keyline_width": picture(26, 12, 68, 54) + box(29, 15, 62, 48, "none", ACCENT, 6),
    "keyline_share": picture(26, 12, 68, 54) + box(28, 14, 64, 50, "none", ACCENT, 4) + up(14, 12, 66),
    "edge_colour": picture(26, 12, 68, 54) + box(27, 13, 66, 52, "none", ACCENT, 2),
    "legible_at": picture(10, 10, 62, 46) + sign(41, 52, "ABC", 12) + picture(84, 30, 28, 22) + sign(98, 50, "ABC", 6) + across(84, 112, 62),
    "location": told(pin()),
    "megapixels": cells({**WHITE, (5, 3): ACCENT}, 6, 4, 13),
    "credit": told(oval(92, 42, 7, 7, PAPER, ACCENT) + shape("M78,66 C80,50 104,50 106,66", PAPER, ACCENT)),
    "copyright": told(oval(92, 52, 13, 13, PAPER, ACCENT) + shape("M97,47 A7,7 0 1 0 97,57", "none", ACCENT, 2)),
    "caption": told(waves(80, 42, 4)),
    "date": told(calendar()),
    "camera": told(box(78, 42, 30, 20, PAPER, ACCENT) + oval(93, 52, 6, 6, PAPER, ACCENT) + line(86, 42, 88, 37, 98, 37, 100, 42, colour=ACCENT)),
    "place_name": told(pin(92, 40) + waves(80, 66, 2)),
    "metadata": told(box(78, 36, 30, 32, PAPER, ACCENT) + waves(81, 43, 4)),
    "set_count": stack() + sign(104, 70, "3", 16, ACCENT),
    "set_bytes": stack() + sign(100, 24, "kB", 12, ACCENT),
    "orientation": picture(12, 22, 50, 34) + picture(74, 12, 32, 50) + up(112, 12, 62),
    "progressive": cells(CHECK, 4, 4, 8).replace("<rect", "<rect", 1) + "",
    "head_height": portrait() + level(18) + level(57) + up(96, 18, 57),
    "headroom": portrait() + level(18) + up(96, 6, 18),
    "eye_line": portrait() + level(39) + up(96, 39, 73),
    "head_offset": portrait(x=67) + line(60, 6, 60, 73, colour=INK, wide=1, dash="3 3") + line(67, 10, 67, 73, colour=ACCENT, wide=1.2, dash="4 3") + across(60, 67, 66),
    "head_tilt": box(34, 6, 52, 67) + turned(12, 60, 40, head()) + level(40, 36, 96, INK) + turned(12, 60, 40, level(40, 36, 96)) + angle(60, 40, 32, 0, 12),
    "head_turn": large(eyes=eye(54, 38) + eye(74, 38), mouth=line(60, 58, 72, 58)) + angle(60, 46, 44, 172, 196) + angle(60, 46, 44, 8, -16) + line(66, 42, 70, 50, 65, 51),
    "head_nod": shape("M48,12 C74,6 84,30 80,40 L86,50 L79,52 L78,66 C64,70 52,66 52,56 C40,48 38,20 48,12Z", PAPER) + oval(73, 36, 2, 2, INK, "none", 0) + angle(58, 40, 42, -28, 22),
    "people": head(42, 40, 12) + head(80, 40, 12) + oval(42, 41, 15, 20, "none", ACCENT) + oval(80, 41, 15, 20, "none", ACCENT),
    "ppi": inch(8),
    "print_width": picture(26, 10, 68, 46) + across(26, 94, 66) + "".join(line(26 + 6.8 * i, 62, 26 + 6.8 * i, 60, colour=ACCENT, wide=1) for i in range(11)),
    "print_height": picture(36, 8, 48, 64) + up(24, 8, 72) + "".join(line(28, 8 + 6.4 * i, 30, 8 + 6.4 * i, colour=ACCENT, wide=1) for i in range(11)),
    "print_longest": picture(16, 24, 52, 36) + across(16, 68, 68) + picture(78, 12, 28, 50) + up(112, 12, 62) + line(16, 64, 16, 72, colour=ACCENT),
    "print_shortest": picture(16, 24, 52, 36) + up(9, 24, 60) + picture(78, 12, 28, 50) + across(78, 106, 70) + line(5, 24, 13, 24, colour=ACCENT),
    "print_size": picture(30, 10, 62, 46) + across(30, 92, 66) + up(20, 10, 56) + "".join(line(30 + 6.2 * i, 62, 30 + 6.2 * i, 60, colour=ACCENT, wide=1) for i in range(11)),
    "sharpness": picture(14, 14, 50, 50) + oval(86, 34, 17, 17, PAPER, ACCENT, 2) + line(98, 46, 110, 60, colour=ACCENT, wide=3) + line(80, 24, 80, 44) + line(86, 24, 86, 44) + line(92, 24, 92, 44),
    "clipped": shape("M16,66 L22,16 L28,50 C48,20 68,34 92,50 L98,16 L104,66Z", SOFT) + line(20, 70, 20, 10, colour=ACCENT, wide=3) + line(100, 70, 100, 10, colour=ACCENT, wide=3),
    "clipped_channel": shape("M16,66 C36,10 60,60 104,66Z", "#B0413E66") + shape("M16,66 C50,20 80,30 98,14 L104,66Z", "#27508C66") + line(100, 70, 100, 10, colour=ACCENT, wide=3),
    "shot_age": told(clock()),
    "shot_date": told(calendar() + oval(93, 56, 3, 3, ACCENT, "none", 0)),
    "shoulders": portrait(y=34) + oval(41, 66, 7, 6, "none", ACCENT, 2) + oval(79, 66, 7, 6, "none", ACCENT, 2),
    "shoulder_tilt": portrait(y=34, lean=6) + line(36, 68, 84, 58, colour=ACCENT, dash="4 3") + level(63, 30, 96, INK),
    "width": picture() + across(30, 90, 70),
    "height": picture() + up(18, 14, 60),
    "longest_side": picture(12, 26, 50, 32) + across(12, 62, 66) + picture(76, 10, 28, 48) + up(110, 10, 58),
    "shortest_side": picture(18, 26, 46, 32) + up(10, 26, 58) + picture(76, 10, 28, 48) + across(76, 104, 66),
    "size": picture() + across(30, 90, 70) + up(18, 14, 60),
    "subject_fill": picture(26, 8, 68, 64) + box(44, 19, 32, 44, "none", ACCENT, 2) + up(104, 19, 63),
    "visible_part": cells(CHECK) + box(36, 16, 48, 48, "none", ACCENT, 2) + shape("M60,22 L78,58 L42,58Z", SOFT),
    "zones_clear": box(38, 6, 44, 68) + box(38, 6, 44, 14, "#9BA6B3") + oval(60, 42, 9, 11, PAPER, ACCENT, 2) + box(38, 62, 44, 12, "#9BA6B3"),
}  # fmt: skip
DRAWINGS["progressive"] = (
    cells({(0, 0): SOFT, (1, 1): SOFT}, 2, 2, 18).replace("<rect", '<rect transform="translate(-34 0)"')
    + cells({k: v for k, v in CHECK.items() if k[0] < 4}, 4, 4, 9).replace("<rect", '<rect transform="translate(28 0)"')
    + line(46, 40, 66, 40, colour=ACCENT) + line(62, 36, 66, 40, 62, 44, colour=ACCENT)
)  # fmt: skip


def drawn(parts: str) -> str:
    return f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 120 80">{parts}</svg>\n'


def main() -> None:
    FOLDER.mkdir(parents=True, exist_ok=True)
    for old in FOLDER.glob("*.svg"):
        if old.stem not in DRAWINGS:
            old.unlink()
    for measure, parts in DRAWINGS.items():
        (FOLDER / f"{measure}.svg").write_text(drawn(parts), "utf-8")
    print(f"{len(DRAWINGS)} drawings in {FOLDER}")


if __name__ == "__main__":
    main()
