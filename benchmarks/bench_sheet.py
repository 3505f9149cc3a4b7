"""The sheet's speed on a 60-megapixel photo, side by side with what the library alone needs.

    python benchmarks/bench_sheet.py

* first picture: opening the photo to a picture ready to be painted, against pyvips' own
  reduced decode to that size with the same profile conversion; reach 1.15.
* frame time while the frame is dragged at 1280 x 800: one mouse move with everything that
  follows from it, painted; reach 6 ms at the median, 12 ms at the 99th percentile.
"""

from __future__ import annotations

import os
import statistics
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

import numpy as np
import pyvips
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest

from aptandum.core.fitting.screen import for_screen, shown_on
from aptandum.core.photo.decode import from_array, open_photo
from aptandum.core.photo.profile import shipped
from aptandum.ui.app import application
from aptandum.ui.images import to_image
from aptandum.ui.session import Session
from aptandum.ui.session.drafts import PREVIEW
from aptandum.ui.shell import Shell

ROUNDS = 7


def large_photo(path: Path) -> None:
    """A 9000 x 6667 wide-gamut JPEG with photographic detail, turned by EXIF."""
    rng = np.random.default_rng(1)
    small = rng.integers(0, 255, (84, 113, 3)).astype(np.uint8)
    image = from_array(small).resize(80, kernel="cubic").crop(0, 0, 9000, 6667)
    noise = pyvips.Image.gaussnoise(9000, 6667, sigma=5)
    image = (image + noise).cast("uchar").copy(interpretation="srgb")
    image = image.copy()
    image.set_type(pyvips.GValue.gint_type, "orientation", 6)
    image.set_type(pyvips.GValue.blob_type, "icc-profile-data", shipped("adobe-rgb"))
    image.jpegsave(str(path), Q=90)


def library(path: Path) -> None:
    """What pyvips alone needs for the same picture: reduced decode, resize, profile, turn."""
    data = path.read_bytes()
    image = pyvips.Image.new_from_buffer(data, "", access="sequential", shrink=4)
    image = image.resize(PREVIEW / max(image.width, image.height))
    image = image.icc_transform("srgb", embedded=True, black_point_compensation=True, pcs="lab")
    image.copy_memory().autorot().numpy()


def median_of(act) -> float:
    spent = []
    for _ in range(ROUNDS):
        start = time.perf_counter()
        act()
        spent.append(time.perf_counter() - start)
    return statistics.median(spent)


def main() -> None:
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "vast.jpg"
        large_photo(path)
        ours = median_of(lambda: to_image(for_screen(shown_on(open_photo(path), PREVIEW))))
        theirs = median_of(lambda: library(path))
        print(
            f"first picture, 60 MP: {ours * 1e3:.0f} ms, library {theirs * 1e3:.0f} ms, "
            f"ratio {ours / theirs:.2f} (reach 1.15)"
        )
        drag(path)


def drag(path: Path) -> None:
    app = application()
    shell = Shell(Session())
    shell.resize(1280, 800)
    shell.show()
    shell.start.choose("vessary-ferries/deck-pass")
    shell.take_photos([str(path)])
    session = shell.session
    end = time.monotonic() + 60
    while time.monotonic() < end:
        app.processEvents()
        time.sleep(0.01)
        bench = session.bench
        if bench is not None and bench.preview is not None and bench.draft_is_current:
            break
    shell.bench.open_station("frame")
    session.model.set({"frame.window": "1500, 1500, 3000, 4000"}, "start")
    app.processEvents()
    sheet = shell.bench.sheet
    middle = sheet.frame_rect().center()
    QTest.mousePress(sheet, Qt.MouseButton.LeftButton, pos=middle)
    spent = []
    for i in range(300):
        spot = middle + QPoint(int(60 * np.sin(i / 9)), int(80 * np.cos(i / 11)))
        start = time.perf_counter()
        QTest.mouseMove(sheet, spot)
        app.processEvents()  # paints the sheet and all that followed from the move
        spent.append((time.perf_counter() - start) * 1e3)
    QTest.mouseRelease(sheet, Qt.MouseButton.LeftButton, pos=middle)
    print(
        f"drag, 60 MP at 1280 x 800: median {statistics.median(spent):.1f} ms, "
        f"p99 {np.percentile(spent, 99):.1f} ms (reach 6 and 12)"
    )
    session.stop()
    session.store.saved = session.docket
    shell.close()


if __name__ == "__main__":
    main()
