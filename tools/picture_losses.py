"""Draw docs/pictures/losses.png: one photo under four rules, by the application's own resolving.

python tools/picture_losses.py
"""

from __future__ import annotations

from pathlib import Path

from PIL import Image, ImageDraw, ImageFont

from aptandum.core.brief.model import Brief
from aptandum.core.fitting.resolve import resolve
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.rulebook.toml import parse_rulebook

ROOT = Path(__file__).resolve().parent.parent
PHOTO = ROOT / "src/aptandum/data/demo/lantern_quay_dusk.jpg"
BOX, GAP, WORDS = 300, 24, 44
PAPER, INK, LINE = "#E9E9E7", "#1D2630", "#27508C"


def brief_of(clauses: str, more: str = "") -> Brief:
    head = 'format = 1\n[body]\nid = "a"\nname = "A"\n[[brief]]\nid = "b"\ntitle = "B"\n'
    return parse_rulebook(head + more + clauses).briefs[0]


def clause(measure: str, limit: str) -> str:
    return f'[[brief.clause]]\nmeasure = "{measure}"\n{limit}\n'


CASES = (
    ("as it came", brief_of(clause("format", 'exactly = "jpeg"'))),
    ("at most 1 080 high: whole", brief_of(clause("height", "at_most = 1080"))),
    ("1:1: cut", brief_of(clause("aspect", 'exactly = "1:1"'))),
    ("1:1, no cutting: padded",
     brief_of(clause("aspect", 'exactly = "1:1"'), 'allows = ["pad", "scale"]\n')),
)  # fmt: skip


def main() -> None:
    photo = open_photo(PHOTO)
    font = ImageFont.load_default(15)
    wide = len(CASES) * (BOX + GAP) + GAP
    sheet = Image.new("RGB", (wide, BOX + 2 * GAP + WORDS), PAPER)
    draw = ImageDraw.Draw(sheet)
    with Image.open(PHOTO) as opened:
        picture = opened.convert("RGB")
    for n, (said, brief) in enumerate(CASES):
        frame = resolve(photo.facts, brief, Settings()).frame
        window, (pw, ph) = frame.window, photo.facts.size
        whole = max(pw, ph, window.width, window.height)
        k = BOX / whole
        x0, y0 = GAP + n * (BOX + GAP), GAP
        left = x0 + (BOX - pw * k) / 2
        top = y0 + (BOX - ph * k) / 2
        small = picture.resize((round(pw * k), round(ph * k)), Image.Resampling.LANCZOS)
        box = [left + window.left * k, top + window.top * k,
               left + window.right * k, top + window.bottom * k]  # fmt: skip
        if frame.ground is not None:
            draw.rectangle(box, fill="#FFFFFF")
        sheet.paste(small, (round(left), round(top)))
        for x in range(int(left), int(left + pw * k), 7):  # what goes is hatched
            if not box[0] <= x <= box[2]:
                draw.line([(x, top), (x, top + ph * k)], fill=PAPER, width=3)
        draw.rectangle(box, outline=LINE, width=3)
        size = f"{frame.output[0]} x {frame.output[1]}"
        draw.text((x0, y0 + BOX + 8), said, INK, font)
        draw.text((x0, y0 + BOX + 28), size, LINE, font)
    out = ROOT / "docs/pictures/losses.png"
    out.parent.mkdir(exist_ok=True)
    sheet.save(out, optimize=True)


if __name__ == "__main__":
    main()
