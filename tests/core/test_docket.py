from __future__ import annotations

import json
from pathlib import Path

import pytest

from aptandum.core.docket.history import History
from aptandum.core.docket.model import Answer, Docket
from aptandum.core.docket.store import DocketError, load, save
from aptandum.core.fitting.settings import Settings
from samples import DEMO


def sample(folder: Path) -> Docket:
    docket, photo = Docket(title="Autumn").with_photo(str(folder / "a.jpg"))
    docket, fitting_id = docket.with_fitting(photo, "pier-office/notice")
    fitting = docket.fitting(fitting_id)
    answer = Answer(clause="ask", by="Tobin Oar", at="2026-11-25T10:00+00:00")
    made = Settings().having({"frame.window": "1.5, 2, 30, 40"})
    return docket.replacing(fitting.model_copy(update={"settings": made, "answers": (answer,)}))


def test_a_docket_reads_back_equal_and_moves_with_its_photos(tmp_path: Path):
    docket = sample(tmp_path)
    save(docket, tmp_path / "x.docket")
    assert load(tmp_path / "x.docket") == docket
    assert json.loads((tmp_path / "x.docket").read_text())["photos"][0]["path"] == "a.jpg"
    moved = tmp_path / "elsewhere"
    moved.mkdir()
    (tmp_path / "x.docket").rename(moved / "x.docket")
    assert load(moved / "x.docket").photos[0].path == str(moved / "a.jpg")


@pytest.mark.parametrize("text", ["", "[]", '{"format": 2}', '{"surprise": 1}', "\udcff"])
def test_what_is_no_docket_is_said(tmp_path: Path, text: str):
    (tmp_path / "x.docket").write_bytes(text.encode("utf-8", "surrogateescape"))
    with pytest.raises(DocketError, match=r"x\.docket is not a docket"):
        load(tmp_path / "x.docket")
    with pytest.raises(DocketError, match="not found"):
        load(tmp_path / "y.docket")


def test_the_same_photo_and_fitting_are_not_taken_twice(tmp_path: Path):
    docket = sample(tmp_path)
    again, photo = docket.with_photo(str(tmp_path / "a.jpg"))
    assert again == docket
    assert again.with_fitting(photo, "pier-office/notice")[0] == docket


def test_undo_and_redo_reach_everything_and_a_drag_is_one_step():
    history = History(Docket())
    for n in range(3):
        history.do("drag", Docket(title=f"d{n}"), merge="drag")
    history.settle()
    history.do("drag", Docket(title="second"), merge="drag")
    assert not history.do("nothing", history.docket)
    assert history.undo() and history.docket.title == "d2"
    assert history.undo() and history.docket == Docket()
    assert not history.undo()
    assert history.redo() and history.redo() and history.docket.title == "second"
    assert not history.redo()
    history.undo()
    history.do("other way", Docket(title="other"))
    assert history.redo_label == ""


def test_the_demo_docket_opens_and_all_its_photos_are_there():
    docket = load(DEMO / "vessary.docket")
    assert len(docket.fittings) >= 4
    assert all(Path(entry.path).is_file() for entry in docket.photos)
