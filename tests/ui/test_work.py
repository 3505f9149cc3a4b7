from __future__ import annotations

import numpy as np
import pytest

from aptandum.core.brief.limit import Limit
from aptandum.core.brief.model import Clause
from aptandum.core.judge.findings import Finding
from aptandum.ui.bench.gauge import scale_of
from aptandum.ui.images import to_image
from samples import PATIENCE, clause, jpeg, scene


@pytest.mark.parametrize("bands", [1, 2, 3, 4])
def test_arrays_become_images_of_the_same_colours(bands: int):
    pixels = np.zeros((5, 7, bands), np.uint8)
    pixels[2, 3] = [10, 200, 30, 255][:bands] if bands > 2 else [90, 255][:bands]
    image = to_image(pixels)
    seen = image.pixelColor(3, 2).getRgb()[:3]
    assert (image.width(), image.height()) == (7, 5)
    assert seen == ((10, 200, 30) if bands > 2 else (90, 90, 90))


@pytest.mark.parametrize(
    ("limit", "value", "inside"),
    [
        (Limit(("at_most",), at_most=1600), 1500, True),
        (Limit(("at_most",), at_most=1600), 9000, False),
        (Limit(("at_least",), at_least=1440), 1280, False),
        (Limit(("at_least",), at_least=1440), 2000, True),
        (Limit(("between",), 100, 200), 150, True),
        (Limit(("between",), 100, 200), 20, False),
        (Limit(("between",), 100, 200), 10**7, False),
        (Limit(("exactly",), one_of=(630,)), 630, True),
    ],
)
def test_a_gauge_points_inside_its_band_exactly_when_the_limit_is_met(limit, value, inside):
    scale = scale_of(Finding(Clause("width", "width", limit), "meets", value))
    assert 0 <= scale.at <= 1
    low = scale.low if scale.low is not None else 0.0
    high = scale.high if scale.high is not None else 1.0
    assert (low - 1e-9 <= scale.at <= high + 1e-9) == inside == limit.allows(value)


def test_words_have_no_gauge():
    limit = Limit(("exactly",), one_of=("jpeg",))
    assert scale_of(Finding(Clause("format", "format", limit), "meets", "jpeg")) is None


def test_a_photo_that_changes_on_disk_is_said(qtbot, shell, tmp_path):
    path = tmp_path / "sea.jpg"
    path.write_bytes(jpeg(scene(900, 1200)))
    book = tmp_path / "pier.toml"
    book.write_text(
        'format = 1\n[body]\nid = "pier"\nname = "Pier"\n[[brief]]\nid = "b"\ntitle = "B"\n'
        + clause("width", at_most=500)
    )
    shell.session.library.add_rulebooks([str(book)])
    shell.start.fill()
    shell.start.choose("pier/b")
    shell.take_photos([str(path)])
    qtbot.waitUntil(lambda: shell.session.bench.draft_is_current, timeout=PATIENCE)
    path.write_bytes(jpeg(scene(90, 120)))
    shell.session.model.set({"frame.window": "10, 10, 600, 800"}, "x")
    qtbot.waitUntil(lambda: "changed on disk" in shell.message.text.text(), timeout=PATIENCE)
    assert "sea.jpg" in shell.message.text.text()
