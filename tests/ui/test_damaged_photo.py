"""A photo whose data are damaged: shown, said, and asked about before a file is made of it."""

from __future__ import annotations

import io
from pathlib import Path

import pytest
from PIL import Image
from PyQt6.QtWidgets import QMessageBox

from aptandum.core.rulebook.shelf import read_shelf
from driving import drop, wait
from samples import PATIENCE, jpeg, scene


@pytest.fixture
def damaged(tmp_path: Path) -> Path:
    data = bytearray(jpeg(scene(640, 800, 3)))
    del data[len(data) // 2 : len(data) // 2 + 200]
    path = tmp_path / "IMG_2041.jpg"
    path.write_bytes(data)
    return path


@pytest.mark.parametrize("answer", ["Make the file all the same", "Make no file"])
@pytest.mark.long
def test_it_is_said_and_asked_about(qtbot, shell, damaged: Path, answer: str, monkeypatch):
    asked: list[str] = []
    pressed: list[str] = []

    def exec_(box: QMessageBox) -> int:
        asked.append(box.text())
        pressed.append(answer)
        return 0

    def clicked(box: QMessageBox):
        return next(b for b in box.buttons() if b.text() == answer)

    monkeypatch.setattr(QMessageBox, "exec", exec_)
    monkeypatch.setattr(QMessageBox, "clickedButton", clicked)
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, damaged)
    wait(qtbot, shell)
    bench = shell.session.bench
    qtbot.waitUntil(lambda: bool(bench.damage), timeout=PATIENCE)
    assert bench.damage == "IMG_2041.jpg is damaged: some of its picture data are wrong."
    assert not asked
    shell.session.making.prove()
    qtbot.waitUntil(lambda: bool(pressed), timeout=PATIENCE)
    assert asked == [bench.damage]
    wait(qtbot, shell)
    if answer == "Make no file":
        assert shell.session.bench.proof is None
        assert not shell.session.bench.fitting.settings.source.damaged
        return
    qtbot.waitUntil(lambda: shell.session.bench.proof is not None, timeout=PATIENCE)
    assert any("may be damaged" in act.says for act in shell.session.bench.proof.record)
    shell.session.store.undo()
    assert not shell.session.bench.fitting.settings.source.damaged


def test_another_fitting_of_it_says_it_as_well(qtbot, shell, damaged: Path):
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, damaged)
    wait(qtbot, shell)
    qtbot.waitUntil(lambda: bool(shell.session.bench.damage), timeout=PATIENCE)
    said, photo = shell.session.bench.damage, shell.session.docket.photos[0].id
    shell.session.model.start_fitting(photo, "orrin-moor/" + _first(shell, "orrin-moor"))
    assert shell.session.bench.damage == said
    wait(qtbot, shell)


def _first(shell, body: str) -> str:
    return str(read_shelf().named(body).briefs[0].id)


def test_the_board_makes_no_file_of_it_and_says_why(qtbot, shell, damaged: Path, tmp_path: Path):
    from aptandum.core.docket import batch

    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, damaged)
    wait(qtbot, shell)
    docket = shell.session.docket
    fitting = docket.fittings[0]
    job = batch.Job(fitting, docket.photo(fitting.photo), shell.session.bench.brief, str(tmp_path))
    outcome = batch.make_one(job)
    assert not outcome.written and "unless you say that it is to be used" in outcome.trouble


@pytest.mark.parametrize("kind", ["JPEG", "PNG"])
def test_what_is_there_of_one_that_is_cut_short_is_shown(qtbot, shell, tmp_path: Path, kind: str):
    path = tmp_path / f"short.{kind.lower()}"
    held = io.BytesIO()
    Image.fromarray(scene(640, 800, 3)).save(held, kind)
    data = held.getvalue()
    path.write_bytes(data[: len(data) * 3 // 5])
    shell.start.choose("vessary-ferries/deck-pass")
    drop(shell, path)
    wait(qtbot, shell)
    bench = shell.session.bench
    assert bench.preview is not None and not bench.trouble
    qtbot.waitUntil(lambda: bool(bench.damage), timeout=PATIENCE)
    assert bench.damage.endswith("is cut short: the end of its picture is missing.")
