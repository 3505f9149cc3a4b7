"""A telephone's photo by every door: the dialog, a drop, a folder; and on to the file."""

from __future__ import annotations

import io
from pathlib import Path

import pillow_heif
import pytest
from PIL import Image
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QLineEdit

from driving import drop, wait
from samples import PATIENCE, scene


@pytest.fixture(scope="module")
def photo(tmp_path_factory) -> Path:
    path = tmp_path_factory.mktemp("telephone") / "IMG_0417.HEIC"
    held = io.BytesIO()
    made = pillow_heif.HeifFile()
    made.add_from_pillow(Image.fromarray(scene(420, 560)))
    made.save(held, quality=80)
    path.write_bytes(held.getvalue())
    return path


@pytest.mark.parametrize("door", ["dialog", "drop", "folder"])
@pytest.mark.long
def test_it_is_opened_and_fitted(qtbot, shell, photo: Path, door: str):
    shell.start.choose("vessary-ferries/deck-pass")
    if door == "dialog":
        asked: list[str] = []

        def answer() -> None:
            dialog = QApplication.activeModalWidget()
            assert isinstance(dialog, QFileDialog)
            asked.extend(dialog.nameFilters())
            dialog.findChild(QLineEdit).setText(str(photo))
            dialog.accept()

        QTimer.singleShot(0, answer)
        shell.ask_photo()
        assert "*.HEIC" in asked[0] and "*.heic" in asked[0]
    elif door == "drop":
        drop(shell, photo)
    else:
        drop(shell, photo.parent)
        qtbot.waitUntil(lambda: bool(shell.session.docket.photos), timeout=PATIENCE)
        shell.session.model.start_fitting(
            shell.session.docket.photos[0].id, "vessary-ferries/deck-pass"
        )
    wait(qtbot, shell)
    bench = shell.session.bench
    assert bench.photo.facts.format == "heic" and not bench.trouble
    with Image.open(io.BytesIO(bench.draft.data)) as picture:
        assert picture.format == "JPEG"
