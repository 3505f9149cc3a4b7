"""Begun from nothing: a blank sheet of a brief's own size."""

from __future__ import annotations

import io

import numpy as np
import pytest
from PIL import Image

from aptandum.core.conform import conform
from aptandum.core.fitting.blank import GROUNDS, NoSheet, blank_sheet, size_for
from aptandum.core.fitting.settings import Settings
from aptandum.core.photo.decode import open_photo
from aptandum.core.rulebook.shelf import read_shelf
from aptandum.core.sizes.region import allowed
from samples import brief_of, clause


@pytest.mark.parametrize(
    "name", [f"{book.body.id}/{b.id}" for book in read_shelf().rulebooks for b in book.briefs]
)
def test_a_sheet_has_a_size_that_its_brief_allows(name):
    brief = read_shelf().find(name)[1]
    size = size_for(brief)
    assert brief.template is not None or allowed(brief).contains(*size)
    assert max(size) <= 6000


@pytest.mark.parametrize("ground", [*GROUNDS, "#12ab9F"])
def test_every_ground_is_a_png_of_that_size_and_of_srgb(ground):
    made = Image.open(io.BytesIO(blank_sheet((90, 60), ground)))
    assert made.format == "PNG" and made.size == (90, 60) and made.info["icc_profile"]
    pixels = np.asarray(made.convert("RGBA"))
    if ground == "clear":
        assert not pixels[..., 3].any()
    else:
        assert (pixels[..., 3] == 255).all()
    if ground.startswith("#"):
        assert (pixels[..., :3] == (0x12, 0xAB, 0x9F)).all()


def test_what_cannot_be_is_said():
    with pytest.raises(NoSheet, match="There is no ground “mud”"):
        blank_sheet((90, 60), "mud")
    with pytest.raises(NoSheet, match="megapixels"):
        blank_sheet((900_000, 900_000), "clear")
    with pytest.raises(NoSheet, match="No size meets"):
        size_for(
            brief_of(clause("width", exactly="90 px") + clause("longest_side", at_most="80 px"))
        )


def test_a_dot_panel_with_letters_from_nothing(tmp_path):
    brief = read_shelf().find("pocketvane/bezel-panel")[1]
    path = tmp_path / "sheet.png"
    path.write_bytes(blank_sheet(size_for(brief), "#FFFFFF"))
    settings = Settings().having({
        "finish.caption.text": "GULLS", "finish.caption.colour": "#000000",
        "finish.caption.size": "40", "finish.caption.anchor": "middle",
    })  # fmt: skip
    proof = conform(open_photo(path), brief, settings)
    assert proof.findings.ready, [f.says for f in proof.findings.findings]
    pixels = np.asarray(Image.open(io.BytesIO(proof.made.data)).convert("L"))
    assert set(np.unique(pixels)) == {0, 255} and 0.02 < (pixels == 0).mean() < 0.4
