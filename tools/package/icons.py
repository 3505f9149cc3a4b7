"""The application's icon and those of ``packaging/icons`` in all sizes of the icon theme, as drawings and as PNG.

icons.py SOURCES FOLDER_OF_THE_THEME
"""

from __future__ import annotations

import os
import shutil
import sys
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

from PyQt6.QtGui import QGuiApplication, QImage, QPainter
from PyQt6.QtSvg import QSvgRenderer

SIZES = (16, 22, 24, 32, 48, 64, 128, 256, 512)
WHERE = {"aptandum": "apps", "aptandum-docket": "mimetypes", "aptandum-rulebook": "mimetypes"}


def main() -> None:
    """Draw them."""
    sources, theme = Path(sys.argv[1]), Path(sys.argv[2])
    own, others = sources / "src/aptandum/data/icons", sources / "packaging/icons"
    _application = QGuiApplication(["icons"])
    for name, kind in WHERE.items():
        source = (own if name == "aptandum" else others) / f"{name}.svg"
        drawing = QSvgRenderer(str(source))
        for size in SIZES:
            image = QImage(size, size, QImage.Format.Format_ARGB32_Premultiplied)
            image.fill(0)
            painter = QPainter(image)
            drawing.render(painter)
            painter.end()
            target = theme / f"{size}x{size}" / kind / f"{name}.png"
            target.parent.mkdir(parents=True, exist_ok=True)
            if not image.save(str(target)):
                raise SystemExit(f"{target} could not be written")
        (theme / "scalable" / kind).mkdir(parents=True, exist_ok=True)
        shutil.copyfile(source, theme / "scalable" / kind / f"{name}.svg")
    (theme / "symbolic/apps").mkdir(parents=True, exist_ok=True)
    shutil.copyfile(others / "aptandum-symbolic.svg", theme / "symbolic/apps/aptandum-symbolic.svg")


if __name__ == "__main__":
    main()
