"""The proof says why a recommendation is not followed."""

from __future__ import annotations

from pathlib import Path

from PIL import Image
from PyQt6.QtCore import Qt

from aptandum.core.rulebook.toml import read_rulebook
from samples import PATIENCE, clause, scene

BOOK = (
    'format = 1\n[body]\nid = "pier"\nname = "Pier"\n[[brief]]\nid = "notice"\ntitle = "Notice"\n'
)


def test_a_format_that_gives_way_is_told_where_the_file_is_proved(qtbot, shell, tmp_path: Path):
    photo, book = tmp_path / "photo.jpg", tmp_path / "pier.toml"
    Image.fromarray(scene(600, 400, 7)).save(photo, quality=95)
    wish = clause("format", exactly="png", strength="should")
    book.write_text(BOOK + wish + clause("file_bytes", at_most="60 kB"))
    session = shell.session
    session.library.put_on_shelf(read_rulebook(book))
    [known] = session.photos.take([str(photo)]).ids
    session.model.start_fitting(str(known), "pier/notice")
    qtbot.waitUntil(lambda: session.bench is not None, timeout=PATIENCE)
    shell.bench.open_station("proof")
    card = shell.bench.cards["proof"]
    qtbot.mouseClick(shell.bench.act, Qt.MouseButton.LeftButton)
    qtbot.waitUntil(lambda: session.bench.proof is not None, timeout=PATIENCE)
    qtbot.waitUntil(lambda: "PNG is only recommended" in card.state.text(), timeout=PATIENCE)
    assert session.bench.proof.made.format == "jpeg"
