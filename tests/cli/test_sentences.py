"""What the command line says where something is wrong: one sentence, the right status, and nothing
written that was not asked for."""

from __future__ import annotations

import os
import re
import stat
from pathlib import Path

import pytest
from test_cli import call

from aptandum.core.docket.model import Docket
from aptandum.core.docket.store import save
from aptandum.core.rulebook.shelf import shipped_paths
from samples import jpeg, scene

ITEM, DECK = "quayside-exchange/item-picture", "vessary-ferries/deck-pass"


@pytest.fixture
def pier(tmp_path: Path) -> Path:
    path = tmp_path / "in" / "pier.jpg"
    path.parent.mkdir()
    path.write_bytes(jpeg(scene(1900, 1500, 6), quality=85))
    return path


def plain(text: str) -> str:
    """Without line ends and thin spaces."""
    return re.sub(r"\s+", " ", re.sub(r"[\u00a0\u202f]", " ", text)).strip()


@pytest.mark.parametrize(
    "change, said",
    [
        ("frame.outptu=10x10", "There is no setting “frame.outptu”. Is frame.output meant?"),
        ("file.zzz=1", "There is no setting “file.zzz”; of file there are file.format,"),
        (
            "zzz=1",
            "a setting is named as frame.output, after source, frame, colour, finish or file.",
        ),
        ("frame.output=wide", 'expected a size in pixels, width first, such as "630 x 840".'),
        ("file.quality=101", "file.quality cannot be “101”; expected a number of at most 100."),
        ("file.quality=good", "file.quality cannot be “good”; expected a whole number."),
        ("finish.keyline.colour=red", "expected a colour such as #1F5A7A."),
        ("file.format=sketch", "expected one of jpeg, png, tiff, webp, avif, gif or bmp."),
        ("file.progressive=maybe", "expected true or false."),
        ("quality", "--set takes station.key=value, not “quality”."),
    ],
)
def test_a_setting_that_cannot_be_is_told_before_any_file_is_read(
    capsys, pier, tmp_path, change, said
):
    out = tmp_path / "out"
    status, _, text = call(capsys, "conform", pier, "--brief", ITEM, "--out", out, "--set", change)
    assert status == 2 and said in plain(text) and "Traceback" not in text
    assert not out.exists() or not any(out.iterdir())


def test_what_is_not_there_is_named_once(capsys, pier, tmp_path, monkeypatch):
    status, _, text = call(capsys, "check", tmp_path / "nowhere.jpg", "--brief", ITEM)
    assert status == 2 and plain(text) == f"{tmp_path}/nowhere.jpg: nowhere.jpg was not found."
    monkeypatch.chdir(tmp_path)
    status, _, text = call(capsys, "check", "nowhere.jpg", "nope*.png", "--brief", ITEM)
    assert status == 2
    lines = text.strip().splitlines()
    assert lines[0] == "nowhere.jpg was not found."
    assert lines[1] == "nope*.png was not found."


def test_a_brief_that_is_on_no_shelf_says_which_are(capsys, pier, tmp_path):
    status, _, text = call(capsys, "check", pier, "--brief", "quayside-exchange/nope")
    assert status == 2
    assert "There is no brief “quayside-exchange/nope”" in plain(text) and ITEM in plain(text)
    status, _, text = call(capsys, "check", pier, "--brief", "nobody/x")
    assert status == 2 and "There is no rulebook “nobody”" in plain(text)


def test_what_could_not_be_measured_says_of_which_rule(capsys, pier):
    status, _, text = call(capsys, "check", pier, "--brief", DECK)
    assert status == 1
    lines = [line for line in plain(text.replace("\n  ", "\n@")).split("@") if "unknown" in line]
    titles = [line.split("unknown ")[1].split(":")[0] for line in lines]
    assert {"Head height", "Headroom", "Eye line", "Head tilt"} <= set(titles)
    assert len(set(titles)) == len(titles)
    assert "People: 0. Asked: exactly 1; 1 too few." in plain(text)


def test_a_folder_that_cannot_be_one_is_said_and_nothing_is_made(capsys, pier, tmp_path):
    file = tmp_path / "taken"
    file.write_text("somebody's own")
    status, _, text = call(capsys, "conform", pier, "--brief", ITEM, "--out", file)
    assert status == 2 and "taken cannot be made a folder" in plain(text)
    assert file.read_text() == "somebody's own"


def test_lists_and_reports_that_cannot_be_written_say_why(capsys, pier, tmp_path):
    target = tmp_path / "nowhere" / "list.csv"
    status, _, text = call(
        capsys, "audit", pier.parent, "--brief", ITEM, "--quick", "--out", target
    )
    assert status == 2
    assert "list.csv was not written: there is no folder nowhere." in plain(text)
    docket = tmp_path / "autumn.docket"
    save(Docket(title="Autumn"), docket)
    status, _, text = call(capsys, "report", docket, "--out", tmp_path / "nowhere" / "r.pdf")
    assert status == 2 and "Traceback" not in text
    status, _, text = call(capsys, "report", tmp_path / "none.docket", "--out", tmp_path / "r.pdf")
    assert status == 2 and plain(text) == "none.docket was not found."
    assert not (tmp_path / "r.pdf").exists()
    status, _, text = call(
        capsys,
        "conform",
        pier,
        "--brief",
        ITEM,
        "--out",
        tmp_path / "o",
        "--report",
        tmp_path / "r.doc",
    )
    assert status == 2 and "a report is written as .html or as .pdf" in plain(text)


@pytest.mark.skipif(os.geteuid() == 0, reason="whoever may do anything is refused nothing")
def test_a_folder_without_permission_is_said(capsys, pier, tmp_path):
    closed = tmp_path / "closed"
    closed.mkdir()
    closed.chmod(stat.S_IRUSR | stat.S_IXUSR)
    status, _, text = call(capsys, "conform", pier, "--brief", ITEM, "--out", closed)
    assert status == 2 and "may not be written to" in plain(text)


def test_a_supplied_photo_is_never_the_target_whatever_it_is_called(capsys, pier):
    """The name that the file would get is the photo's own, and the folder is the photo's."""
    before = pier.read_bytes()
    status, rows, _ = call(
        capsys,
        "conform",
        pier,
        "--brief",
        ITEM,
        "--out",
        pier.parent,
        "--set",
        "file.name=pier",
        "--json",
    )
    assert status in (0, 1)
    written = Path(rows[0]["written"])
    assert written.parent == pier.parent and written != pier and written.exists()
    assert pier.read_bytes() == before
    # once more: what was made is not overwritten either
    made = written.read_bytes()
    _, rows, _ = call(
        capsys,
        "conform",
        pier,
        "--brief",
        ITEM,
        "--out",
        pier.parent,
        "--set",
        "file.name=pier",
        "--set",
        "file.quality=50",
        "--json",
    )
    assert Path(rows[0]["written"]) not in (pier, written)
    assert written.read_bytes() == made and pier.read_bytes() == before


def test_a_rulebook_is_packed_and_used_as_one_file(capsys, tmp_path: Path, monkeypatch):
    monkeypatch.chdir(tmp_path)
    source = next(path for path in shipped_paths() if path.name == "keepers-hall.toml")
    assert call(capsys, "rulebook", "pack", source)[0] == 0
    status, _, text = call(capsys, "rulebook", "pack", source)
    assert status == 2 and "is there already" in plain(text)
    assert call(capsys, "rulebook", "lint", "keepers-hall.zip")[0] == 0
    _, lines, _ = call(capsys, "rulebook", "list", "--rulebook", "keepers-hall.zip", "--json")
    assert "keepers-hall/plaque" in [line["brief"] for line in lines]
