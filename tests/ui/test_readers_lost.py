"""A reader is killed while the window reads: one photo is named, and everything else goes on."""

from __future__ import annotations

import shutil
from pathlib import Path

import pytest
from PIL import Image

from driving import drop, wait
from killing import killing
from samples import DEMO, PATIENCE

LOST = "could not be read: the process that read it was ended (SIGKILL)"


@pytest.fixture
def large(tmp_path: Path) -> Path:
    """A photo that takes a moment to decode."""
    path = tmp_path / "doomed.png"
    Image.effect_noise((2600, 3400), 90).convert("RGB").save(path, compress_level=6)
    return path


@pytest.mark.long
def test_killed_in_the_middle_of_the_first_picture(qtbot, shell, large: Path, tmp_path: Path):
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, large)
    with killing() as killer:
        # One of several that read the photo is lost first and says so; the picture itself follows.
        qtbot.waitUntil(
            lambda: LOST in shell.message.text.text() and LOST in shell.session.bench.trouble,
            timeout=PATIENCE,
        )
    assert killer.killed and "doomed.png" in shell.message.text.text()
    assert "doomed.png" in shell.session.bench.trouble
    good = tmp_path / "good.jpg"
    shutil.copy(DEMO / "tobin_oar_0212.jpg", good)
    drop(shell, good)
    wait(qtbot, shell)
    assert not shell.session.bench.trouble and shell.session.bench.draft is not None


@pytest.mark.long
def test_killed_in_the_middle_of_a_draft(qtbot, shell, large: Path):
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, large)
    wait(qtbot, shell)
    assert shell.session.bench.draft is not None and not shell.session.bench.trouble
    window = shell.session.bench.fitting.settings.frame.window
    with killing() as killer:
        shell.session.model.set({"frame.window": "100,100,1700,2200"}, "Move")
        qtbot.waitUntil(lambda: LOST in shell.session.bench.trouble, timeout=PATIENCE)
    assert killer.killed
    shell.session.store.undo()
    wait(qtbot, shell)
    assert shell.session.bench.fitting.settings.frame.window == window
    qtbot.waitUntil(lambda: not shell.session.bench.trouble, timeout=PATIENCE)
    assert shell.session.bench.draft_is_current


@pytest.mark.long
def test_killed_in_the_middle_of_the_boards_rows(qtbot, shell, tmp_path: Path):
    paths = []
    for i in range(6):
        path = tmp_path / f"photo_{i}.png"
        Image.effect_noise((1400 + i, 1900), 90).convert("RGB").save(path, compress_level=1)
        paths.append(path)
    shell.go("board")
    with killing() as killer:
        drop(shell, *paths)
        qtbot.waitUntil(lambda: killer.killed > 12, timeout=PATIENCE)
    # Those that were lost are named, or were looked at again; the board itself goes on.
    qtbot.waitUntil(
        lambda: not shell.session.jobs.busy and not shell.board.judging.busy, timeout=PATIENCE
    )
    assert shell.pages.currentWidget() is shell.board and shell.isVisible()
    kept = [Path(entry.path).name for entry in shell.session.docket.photos]
    said = shell.message.text.text()
    for path in paths:
        assert path.name in kept or f"{path.name} {LOST}" in said or "more" in said
    drop(shell, *paths)
    qtbot.waitUntil(lambda: len(shell.session.docket.photos) == 6, timeout=PATIENCE)
